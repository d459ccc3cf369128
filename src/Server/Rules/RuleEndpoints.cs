using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Register;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Rules;

internal static class RuleEndpoints
{
    private const int MostExamples = 12;

    public static void MapRules(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/rules").WithTags("Rules").RequireAuthorization(Policies.Read);
        api.MapGet("", Look)
            .WithName("rules")
            .WithSummary(
                "The rule book: every rule with its scope, its demand and how many sites break it, within the viewer's scope."
            );
        api.MapPost("/try", Try)
            .Previews()
            .WithName("tryRule")
            .WithSummary(
                "What a rule would find now, compared with a rule in force, within the viewer's scope; nothing is stored. 400 names the part, the column and what was expected there."
            );
    }

    private static async Task<Ok<RuleBookResponse>> Look(SeenRegister register, Database database)
    {
        var (state, seen) = (register.State, register.Visible);
        var all = await database.Read(connection => connection.AllRules());
        return TypedResults.Ok(new RuleBookResponse([.. all.Select(rule => Numbered(rule, state, seen))]));
    }

    private static Results<Ok<TriedRuleResponse>, BadRequest<FilterProblem>, ProblemHttpResult> Try(
        TryRuleRequest request,
        SeenRegister register
    )
    {
        var (state, seen) = (register.State, register.Visible);
        if (request.Rule is { } compared && state.Rules.Find(new RuleId(compared)) is null)
        {
            return TypedResults.Problem(statusCode: 404, title: $"No rule {compared} is in force.");
        }

        try
        {
            var tried = TriedRule.Of(
                seen,
                request.Scope.Trim(),
                request.Demand.Trim(),
                request.Rule is { } rule ? new RuleId(rule) : null
            );
            var breaks = tried.Breaks.Certainly();
            var untold = Untold(tried, seen);
            return TypedResults.Ok(
                new TriedRuleResponse(
                    tried.Covers.CountYes,
                    breaks.CountYes,
                    untold.CountYes,
                    tried.Added.CountYes,
                    tried.Cleared.CountYes,
                    Parts(seen, "unit", breaks, code => state.PeopleDirectory.Find(new UnitCode(code))?.Name ?? code, "no unit"),
                    Parts(seen, "host", breaks, host => host, "no host"),
                    [
                        .. seen.Lines(tried.Added.CountYes > 0 ? tried.Added : breaks, [new SortKey("title", false)])
                            .Take(MostExamples)
                            .Select(line => new RuleExample(
                                line.Id.Value,
                                line.Title,
                                [
                                    .. tried.Reads.Select(attribute => new Evidence(
                                        attribute.Name,
                                        AttributeLabels.Of(attribute.Name),
                                        CellText.Of(line, attribute, state)
                                    )),
                                ]
                            )),
                    ],
                    [
                        .. tried
                            .Reads.Select(attribute => new MissingForRule(
                                attribute.Name,
                                AttributeLabels.Of(attribute.Name),
                                seen.Columns.Of(attribute).IsPresent().CountUnknownOf(untold)
                            ))
                            .Where(missing => missing.Sites > 0)
                            .OrderByDescending(missing => missing.Sites),
                    ],
                    request.Scope.Trim() is { Length: > 0 } scope
                        ? $"({scope}) and not ({request.Demand.Trim()})"
                        : $"not ({request.Demand.Trim()})"
                )
            );
        }
        catch (RuleError error)
        {
            return TypedResults.BadRequest(new FilterProblem(error.Part, error.Column, error.Message));
        }
    }

    private static RuleOfBook Numbered(Rule rule, LedgerState state, VisibleRegister seen)
    {
        var isInForce = state.Rules.Find(rule.Id) is not null;
        var tried = TriedRule.Of(seen, rule.Scope, rule.Demand.Expression, isInForce ? rule.Id : null);
        var excepted = Core.Filters.Filter.Parse($"excepted eq \"{rule.Id.Value}\"", JudgedSite.Attributes);
        var exceptions = seen.Where(excepted).Certainly();
        return new RuleOfBook(
            new RuleResponse(rule.Id.Value, rule.Title, rule.Short, rule.Level),
            rule.Scope,
            rule.Demand.Expression,
            rule.From,
            isInForce,
            tried.Covers.CountYes,
            tried.Breaks.Certainly().And(exceptions.Not()).CountYes,
            exceptions.CountYes,
            Untold(tried, seen).CountYes
        );
    }

    // Rows out of scope are never unknown: they are not there.
    private static Mask Untold(TriedRule tried, VisibleRegister seen) => tried.Breaks.Untold().And(seen.All);

    private static List<CountedPart> Parts(
        VisibleRegister seen,
        string attribute,
        Mask of,
        Func<string, string> name,
        string none
    ) =>
        [
            .. ((Column<string>)seen.Columns.Of(attribute))
                .Counts(of)
                .Select(pair =>
                    pair.Value.Has(out var key) ? new CountedPart(key, name(key), pair.Count)
                    : pair.Value.IsNone ? new CountedPart(null, none, pair.Count)
                    : new CountedPart(null, "not known", pair.Count)
                )
                .OrderByDescending(part => part.Count)
                .ThenBy(part => part.Name, StringComparer.OrdinalIgnoreCase),
        ];
}
