using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Register;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Rules;

using WriteAnswer = Results<Ok<RuleDone>, Conflict<RulePlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>The rule book: its numbers, its versions, rules that are tried out, and rules that are written.</summary>
internal static class RuleEndpoints
{
    public static void MapRules(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/rules").WithTags("Rules").RequireAuthorization(Policies.Read);
        api.MapGet("", Look)
            .WithName("rules")
            .WithSummary(
                "The rule book: every rule that is in force or will be, with its scope, its demand and how many sites break it, within the viewer's scope."
            );
        api.MapGet("/{rule}", History)
            .WithName("ruleHistory")
            .WithSummary("The versions of a rule, with who wrote each and what it changed.");
        api.MapPost("/try", Try)
            .Previews()
            .WithName("tryRule")
            .WithSummary(
                "What a rule would find now, compared with a rule in force, within the viewer's scope; nothing is stored. 400 names the part, the column and what was expected there."
            );
        var write = app.MapGroup("/api/rules").WithTags("Rules").RequireAuthorization(Policies.Administer);
        write
            .MapPost("/plan", Plan)
            .Previews()
            .WithName("planRule")
            .WithSummary("What a new rule, another version of one, or switching one off would do; nothing is stored.");
        write
            .MapPost("", Write)
            .Carries(ActionName.RuleWrite)
            .WithName("writeRule")
            .WithSummary(
                "Writes a rule or another version of one, or switches one off, as planned; 409 with the new plan where the rule book has changed."
            );
        write
            .MapPost("/undo", Undo)
            .Carries(ActionName.RuleUndo)
            .WithName("undoRule")
            .WithSummary(
                "Undoes the last version of a rule: what it said before is written again, or it is switched off; 422 where it has changed since."
            );
    }

    private static async Task<Ok<RuleBookResponse>> Look(SeenRegister register, Database database)
    {
        var numbers = new RuleNumbers(register.State, register.Visible);
        var (all, today) = (await database.Read(connection => connection.AllRules()), register.State.Rules.Today.Day);
        var shown = RuleActions.FromOn(all, today).ToList();
        return TypedResults.Ok(
            new RuleBookResponse(
                [.. shown.Select(numbers.OfBook)],
                [
                    .. all.Where(rule => shown.TrueForAll(one => one.Id != rule.Id))
                        .GroupBy(rule => rule.Id)
                        .Select(its => Named(its.MaxBy(rule => rule.Version)!)),
                ],
                today
            )
        );
    }

    private static async Task<Results<Ok<RuleHistoryResponse>, ProblemHttpResult>> History(
        string rule,
        SeenRegister register,
        Database database
    )
    {
        var state = register.State;
        var versions = await database.Read(connection => connection.RuleVersions(new RuleId(rule)));
        if (versions.Count == 0)
        {
            return ActionEndpoint.NotThere("rule");
        }

        var inForce = state.Rules.Find(new RuleId(rule));
        return TypedResults.Ok(
            new RuleHistoryResponse(
                Named(versions[^1].Rule),
                RuleActions.FromOn([.. versions.Select(row => row.Rule)], state.Rules.Today.Day).FirstOrDefault() is { } shown
                    ? new RuleNumbers(state, register.Visible).OfBook(shown)
                    : null,
                [
                    .. versions
                        .Select(
                            (row, at) =>
                                new RuleVersionResponse(
                                    row.Rule.Version,
                                    row.Rule.Title,
                                    row.Rule.Short,
                                    row.Rule.Level,
                                    row.Rule.Scope,
                                    row.Rule.Demand.Expression,
                                    row.Rule.Enforcement,
                                    row.Rule.From,
                                    row.Rule.IsOff,
                                    row.Rule == inForce,
                                    row.Reason,
                                    row.By is { } by ? state.PeopleDirectory.Find(by)?.Name ?? "somebody" : null,
                                    row.At,
                                    at == 0 ? [] : RuleDifferences.Between(versions[at - 1].Rule, row.Rule)
                                )
                        )
                        .Reverse(),
                ],
                state.Rules.Today.Day
            )
        );
    }

    private static Results<Ok<TriedRuleResponse>, BadRequest<FilterProblem>, ProblemHttpResult> Try(
        TryRuleRequest request,
        SeenRegister register
    )
    {
        if (request.Rule is { } compared && register.State.Rules.Find(new RuleId(compared)) is null)
        {
            return TypedResults.Problem(statusCode: 404, title: $"No rule {compared} is in force.");
        }

        try
        {
            var numbers = new RuleNumbers(register.State, register.Visible);
            var expression = new RuleExpression(request.Scope.Trim(), request.Demand.Trim());
            return TypedResults.Ok(
                numbers.Response(numbers.Try(expression, request.Rule is { } rule ? new RuleId(rule) : null), expression)
            );
        }
        catch (RuleError error)
        {
            return TypedResults.BadRequest(new FilterProblem(error.Part, error.Column, error.Message));
        }
    }

    private static async Task<Ok<RulePlanResponse>> Plan(RuleRequest request, SeenRegister register, Database database) =>
        TypedResults.Ok(await Predict(request, register.State, database));

    private static async Task<WriteAnswer> Write(
        WriteRuleRequest request,
        HttpContext context,
        SeenRegister register,
        LiveRegister index,
        Database database
    )
    {
        var numbers = RuleNumbers.OfAll(register.State);
        return await context.Carry(
            new WriteRule(request.Request, Viewer.Of(context), plan =>
                !request.Looked && plan.Next is { IsOff: false } rule ? numbers.LookAgain(numbers.Try(rule)) : null
            ),
            request.Fingerprint,
            request,
            async _ => await Predict(request.Request, await index.Refresh(), database)
        );
    }

    private static Task<WriteAnswer> Undo(UndoRuleRequest request, HttpContext context) =>
        context.Carry(new UndoRule(new RuleId(request.Rule), request.Version, Viewer.Of(context)), null, request, _ =>
            Task.FromException<RulePlanResponse>(new InvalidOperationException("An undo has no other plan."))
        );

    private static async Task<RulePlanResponse> Predict(RuleRequest request, LedgerState state, Database database)
    {
        var versions = await database.Read(connection => connection.AllRules());
        var plan = RuleActions.Plan(request, versions, state.Rules.Today);
        var numbers = RuleNumbers.OfAll(state);
        var rule = plan.Next ?? plan.Before;
        var tried = plan.Next is { IsOff: false } written ? numbers.Try(written) : null;
        return new RulePlanResponse(
            WriteRule.FingerprintOf(request, versions),
            rule?.Id.Value,
            rule?.Version ?? 0,
            plan is { Next: { } next, Before: { } before } ? RuleDifferences.Between(before, next) : [],
            tried is null ? null : numbers.Response(tried, plan.Next!.Expression),
            plan.Next is { IsOff: true } ? numbers.Found(plan.Next.Id) : 0,
            plan.VoidsExceptions ? numbers.ExceptedFrom(plan.Next!.Id) : 0,
            tried is not null && numbers.LookAgain(tried) is { } look ? RemarkResponse.Of(look) : null,
            RemarkResponse.Of(plan.Refused)
        );
    }

    private static RuleResponse Named(Rule rule) => new(rule.Id.Value, rule.Title, rule.Short, rule.Level);
}
