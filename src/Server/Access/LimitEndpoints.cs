using AtticLedger.Core.Actions;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Register;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Access;

using SetAnswer = Results<Ok<ActionDone>, Conflict<LimitTryOutResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>The limits as a book of rows, a limit tried out, and a limit set.</summary>
internal static class LimitEndpoints
{
    private const int Chunk = 2000;
    private const int MostSites = 100;
    private const int MostPeople = 50;

    public static void MapLimits(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/limits", Look)
            .WithTags("Access")
            .RequireAuthorization(Policies.Read)
            .WithName("limits")
            .WithSummary("Every limit: of what it is, what it allows for each power, who enforces it, and why it is so.");
        app.MapPost("/api/limits/try", Try)
            .WithTags("Access")
            .RequireAuthorization(Policies.Evidence)
            .Previews()
            .WithName("tryLimit")
            .WithSummary(
                "A limit tried out over all sites in use: sites, people and findings that change, by unit. Nothing is changed."
            );
        app.MapPost("/api/limits", Set)
            .WithTags("Access")
            .RequireAuthorization(Policies.Administer)
            .Carries(ActionName.LimitSet)
            .WithName("setLimit")
            .WithSummary(
                "Sets or removes a limit that is policy only, with its reason; 409 with a new try-out where the limits have changed."
            );
    }

    private static async Task<Ok<LimitBookResponse>> Look(SeenRegister register, Database database)
    {
        var (state, seen) = (register.State, register.Visible);
        var reasons = await database.Read(connection => connection.LimitReasons());
        var limits = state.Organisation.Limits;
        var targets = Targets(state).ToList();
        return TypedResults.Ok(
            new LimitBookResponse(
                [
                    .. limits
                        .OrderBy(limit => limit.Kind)
                        .ThenBy(limit => Name(limit.Kind, limit.Code, state), StringComparer.OrdinalIgnoreCase)
                        .ThenBy(limit => limit.Enforcer)
                        .Select(limit => (limit, why: reasons.GetValueOrDefault((limit.Kind, limit.Code, limit.Enforcer))))
                        .Select(row => new LimitRow(
                            row.limit.Kind,
                            row.limit.Code,
                            row.limit.Enforcer,
                            Name(row.limit.Kind, row.limit.Code, state),
                            row.limit.Limits.Has(out var known) ? Limits.Of(known) : null,
                            FilterOf(row.limit.Kind, row.limit.Code) is { } filter ? seen.Where(filter).CountYes : null,
                            row.why?.Reason,
                            row.why?.At,
                            row.why is { } why ? PersonResponse.Of(why.By, state.PeopleDirectory) : null
                        )),
                ],
                [
                    .. targets.Where(target =>
                        !limits.Any(limit =>
                            limit.Kind == target.Kind && limit.Code == target.Code && limit.Enforcer == Enforcer.Policy
                        )
                    ),
                ]
            )
        );
    }

    private static async Task<Ok<LimitTryOutResponse>> Try(LimitPlanRequest request, LiveRegister index, Database database) =>
        TypedResults.Ok(await Predict(Asked(request), await index.Current(), database));

    private static Task<SetAnswer> Set(SetLimitRequest done, HttpContext context, LiveRegister index, Database database)
    {
        var request = Asked(new LimitPlanRequest(done.Kind, done.Code, done.Enforcer, done.Limits, done.Reason));
        return context.Carry(new SetLimit(request, Viewer.Of(context)), done.Fingerprint, done, async _ =>
            await Predict(request, await index.Refresh(), database)
        );
    }

    private static LimitRequest Asked(LimitPlanRequest request) =>
        new(
            request.Kind,
            request.Code.Replace('\0', '\uFFFD').Trim(),
            request.Enforcer,
            request.Limits?.ToLimits(),
            SiteActionAnswers.Reason(request.Reason)
        );

    private static async Task<LimitTryOutResponse> Predict(LimitRequest request, LedgerState state, Database database)
    {
        var plan = LimitActions.Plan(request, state.Organisation, state.PeopleDirectory);
        var tryOut = new LimitTryOut(state.PeopleDirectory);
        if (plan.Refused.Count == 0)
        {
            var after = state with { Organisation = state.Organisation with { Limits = plan.Limits } };
            var seen = state.Seen(new Scope.Everything());
            foreach (var chunk in Touched(request, seen).Chunk(Chunk))
            {
                var sites = await database.Read(connection => connection.Sites(new Scope.Everything(), chunk));
                foreach (var (now, then) in state.Judge(sites).Zip(after.Judge(sites)))
                {
                    tryOut.Add(now, then);
                }
            }
        }

        return ToResponse(request, plan, tryOut, state);
    }

    private static LimitTryOutResponse ToResponse(LimitRequest request, LimitPlan plan, LimitTryOut tryOut, LedgerState state)
    {
        var (directory, changed) = (state.PeopleDirectory, tryOut.Changed);
        IReadOnlyList<PersonResponse> First(Core.People.PeopleSet people) =>
            [
                .. people
                    .Places()
                    .Select(place => directory.People[place])
                    .OrderByDescending(person => person.IsOutside)
                    .ThenBy(person => person.Name, StringComparer.OrdinalIgnoreCase)
                    .Take(MostPeople)
                    .Select(person => PersonResponse.Of(person.Id, directory)),
            ];
        return new LimitTryOutResponse(
            SetLimit.FingerprintOf(request, state.Organisation),
            tryOut.Compared,
            changed.Count,
            changed.Count(site => site.Powers.Any(power => power.Gain.Count > 0 || power.Opened.Count > 0)),
            changed.Count(site => site.Powers.Any(power => power.Shut.Any(door => door.Who >= OutsideLevel.Partners))),
            changed.Count(site => site is { Exceeds: Truth.Yes, Exceeded: not Truth.Yes }),
            changed.Count(site => site is { Exceeded: Truth.Yes, Exceeds: not Truth.Yes }),
            tryOut.Gaining.Count,
            First(tryOut.Gaining),
            tryOut.Losing.Count,
            First(tryOut.Losing),
            tryOut.Losing.Intersect(directory.Guests).Count,
            [
                .. changed
                    .SelectMany(site =>
                        site.Cleared.Select(rule => (rule, opens: 0)).Concat(site.Opened.Select(rule => (rule, opens: 1)))
                    )
                    .GroupBy(one => one.rule)
                    .OrderBy(rule => rule.Key.Value, StringComparer.Ordinal)
                    .Select(rule => new TriedRuleCount(
                        RuleResponse.Of(rule.Key, state.Rules),
                        rule.Count(one => one.opens == 0),
                        rule.Sum(one => one.opens)
                    )),
            ],
            [
                .. changed
                    .GroupBy(site =>
                        site.Site.Unit.Has(out var unit) ? directory.Find(unit)?.Name ?? unit.Value
                        : site.Site.Unit.IsNone ? "No unit"
                        : "Unit not known"
                    )
                    .Select(unit => new TriedUnit(unit.Key, unit.Count()))
                    .OrderByDescending(unit => unit.Sites)
                    .ThenBy(unit => unit.Unit, StringComparer.OrdinalIgnoreCase),
            ],
            [
                .. changed
                    .OrderByDescending(site => site.Powers.Count > 0)
                    .ThenBy(site => site.Site.Title, StringComparer.OrdinalIgnoreCase)
                    .ThenBy(site => site.Site.Id.Value)
                    .Take(MostSites)
                    .Select(site => new TriedSite(
                        site.Site.Id.Value,
                        site.Site.Title,
                        RegisterRowWriter.Unit(site.Site.Unit, state),
                        [
                            .. site.Powers.Select(power => new PowerChangeOfSite(
                                power.Power,
                                power.Gain.Count,
                                power.Lose.Count,
                                [.. power.Opened.Select(AccessText.Of)],
                                [.. power.Shut.Select(AccessText.Of)]
                            )),
                        ],
                        site.Exceeded,
                        site.Exceeds,
                        [.. site.Cleared.Select(rule => rule.Value)],
                        [.. site.Opened.Select(rule => rule.Value)]
                    )),
            ],
            request.Enforcer == Enforcer.Host,
            RemarkResponse.Of([.. plan.Refused])
        );
    }

    // Sites in use to which it applies, or may.
    private static IEnumerable<SiteId> Touched(LimitRequest request, VisibleRegister seen)
    {
        var applies = FilterOf(request.Kind, request.Code) is { } filter ? seen.Where(filter) : seen.Where(InUse);
        return seen.Lines(applies.Not().Certainly().Not()).Select(line => line.Id);
    }

    private static readonly Filter<JudgedSite> InUse = Filter.Parse("existence eq \"in-use\"", JudgedSite.Attributes);

    // Null where no attribute says it.
    private static Filter<JudgedSite>? FilterOf(LayerKind kind, string code) =>
        kind switch
        {
            LayerKind.Organisation => InUse,
            LayerKind.Host => Equal("host", code),
            LayerKind.Unit => Equal("units", code),
            LayerKind.Classification => Equal("classification", code),
            LayerKind.Kind => Equal("kind", code),
            _ => null,
        };

    private static Filter<JudgedSite> Equal(string attribute, string value) =>
        Filter.Parse(
            $"existence eq \"in-use\" and {attribute} eq {System.Text.Json.JsonSerializer.Serialize(value)}",
            JudgedSite.Attributes
        );

    private static string Name(LayerKind kind, string code, LedgerState state) =>
        kind switch
        {
            LayerKind.Organisation => "Organisation",
            LayerKind.Host => code,
            LayerKind.Unit => $"Unit {state.PeopleDirectory.Find(new UnitCode(code))?.Name ?? code}",
            LayerKind.Classification => $"Classification {code}",
            LayerKind.Kind => $"Kind {state.Organisation.Kinds.FirstOrDefault(one => one.Code == code)?.Name ?? code}",
            LayerKind.OwnersClassification => $"Owners of class {code}",
            _ => $"Place {code}",
        };

    private static IEnumerable<LimitTarget> Targets(LedgerState state)
    {
        var organisation = state.Organisation;
        IEnumerable<(LayerKind Kind, string Code)> all =
        [
            (LayerKind.Organisation, ""),
            .. organisation.Hosts.Keys.Order(StringComparer.Ordinal).Select(host => (LayerKind.Host, host)),
            .. state.PeopleDirectory.Units.Select(unit => (LayerKind.Unit, unit.Code.Value)).OrderBy(unit => unit.Value),
            .. organisation
                .Terms.Where(term => term.Fact == ClaimedFact.Classification)
                .Select(term => (LayerKind.Classification, term.Code)),
            .. organisation.Kinds.Select(kind => (LayerKind.Kind, kind.Code)),
        ];
        return all.Select(one => new LimitTarget(one.Kind, one.Code, Name(one.Kind, one.Code, state)));
    }
}
