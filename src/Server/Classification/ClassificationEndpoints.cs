using System.Globalization;
using AtticLedger.Core.Classification;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Desk;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Classification;

/// <summary>Classification to complete: proposals with evidence, confirmed in groups, and the word that decides most sites
/// next.</summary>
internal static class ClassificationEndpoints
{
    private const int MostAtOnce = 5000;
    private const int Chunk = 500;
    private const int MostGroups = 40;
    private const int FirstSites = 8;
    private const int ShownSites = 100;
    private const string WordGroup = "word:";
    private static readonly Filter<JudgedSite> Unsure = Filter.Parse("unsure pr", JudgedSite.Attributes);
    private static readonly Filter<JudgedSite> Disputed = Filter.Parse("disputed pr", JudgedSite.Attributes);

    public static void MapClassification(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/classification", Look)
            .WithTags("Classification")
            .RequireAuthorization(Policies.Evidence)
            .WithName("classification")
            .WithSummary(
                "The facts that are not set, the proposals with their evidence, and the words that settle most of the remaining sites."
            );
        var api = app.MapGroup("/api/classification/facts").WithTags("Classification").RequireAuthorization(Policies.Administer);
        api.MapPost("/plan", Plan).WithName("planFacts").WithSummary("The plan to set a fact of some sites; nothing is changed.");
        api.MapPost("", Carry)
            .WithName("setFacts")
            .WithSummary("Sets a fact of some sites as planned; 409 with the new plan where the sites or values differ.");
        api.MapPost("/undo", Undo)
            .WithName("undoFacts")
            .WithSummary(
                "Undoes a fact set for sites, or for all sites set together: the value of the most direct source applies again."
            );
    }

    private static async Task<Results<Ok<ClassificationResponse>, ProblemHttpResult>> Look(
        HttpContext context,
        LiveRegister index,
        ClassificationActions desk,
        [FromQuery(Name = "fact")] string asked = "classification"
    )
    {
        if (!Enum.TryParse<ClaimedFact>(asked, ignoreCase: true, out var fact) || !Proposals.Facts.Contains(fact))
        {
            return TypedResults.Problem(
                statusCode: 400,
                title: $"There is no fact \"{asked}\". Use unit, classification or purpose."
            );
        }

        var state = await index.Current();
        RegisterAt.SetFact(context, state.Place);
        var seen = state.Seen(new Scope.Everything());
        var lacks = new List<MissingFact>();
        foreach (var one in Proposals.Facts)
        {
            var of = await desk.Of(state, one);
            lacks.Add(new MissingFact(one, of.Sites.Count(site => site.Lacks(one)), of.Groups.Sum(group => group.Count())));
        }

        var lacking = await desk.Of(state, fact);
        var names = SetFact
            .Choices(fact, state.Organisation, state.PeopleDirectory)
            .ToDictionary(choice => choice.Code, choice => choice.Name);
        return TypedResults.Ok(
            new ClassificationResponse(
                lacking.Sites.Count,
                seen.InUse.And(seen.Where(Unsure)).CountYes,
                seen.InUse.And(seen.Where(Disputed)).CountYes,
                lacks,
                fact,
                [
                    .. lacking
                        .Groups.Take(MostGroups)
                        .Select(group => new ProposalGroup(
                            group.Key,
                            [
                                .. group
                                    .GroupBy(proposal => proposal.Value)
                                    .OrderByDescending(same => same.Count())
                                    .ThenBy(same => same.Key, StringComparer.Ordinal)
                                    .Select(same => new ProposedValue(
                                        same.Key,
                                        names.GetValueOrDefault(same.Key, same.Key),
                                        same.Count()
                                    )),
                            ],
                            group.First().Strength,
                            [.. group.First().Evidence.Select(one => one.Kind).Distinct().Order()],
                            group.Count(),
                            group.Count(proposal => NextFacts.Decides(proposal.Site, fact)),
                            [
                                .. group
                                    .Take(FirstSites)
                                    .Select(proposal => new SiteNameResponse(proposal.Site.Id.Value, proposal.Site.Title)),
                            ]
                        )),
                ],
                [
                    .. lacking.Next.Select(next => new NextFactResponse(
                        $"{WordGroup}{next.Word}",
                        next.Word,
                        next.Sites.Count,
                        next.Decides,
                        [.. next.Sites.Take(FirstSites).Select(site => new SiteNameResponse(site.Id.Value, site.Title))]
                    )),
                ],
                [.. names.Select(choice => new ChoiceOfFact(choice.Key, choice.Value))]
            )
        );
    }

    private static async Task<Results<Ok<SetFactsPlan>, ProblemHttpResult>> Plan(
        SetFactsPlanRequest request,
        LiveRegister index,
        ClassificationActions desk,
        Database database
    )
    {
        var state = await index.Current();
        return await Chosen(request, state, desk) is { } chosen
            ? TypedResults.Ok(await Predict(chosen, state, database))
            : NoSuchGroup();
    }

    private static async Task<
        Results<Ok<FactsSet>, Conflict<SetFactsPlan>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>
    > Carry(SetFactsRequest request, HttpContext context, LiveRegister index, ClassificationActions desk, Database database)
    {
        var state = await index.Current();
        if (await Chosen(request.Request, state, desk) is not { } chosen)
        {
            return NoSuchGroup();
        }

        if (chosen.Refused(state) is { } refused)
        {
            return TypedResults.UnprocessableEntity(new RefusalResponse([refused]));
        }

        if (chosen.Fingerprint != request.Fingerprint)
        {
            return TypedResults.Conflict(await Predict(chosen, state, database));
        }

        var (together, count) = (database.Now, 0);
        foreach (var chunk in chosen.Sites.Select(site => (site.Site, site.Said, Why(site.Evidence))).Chunk(Chunk))
        {
            count += await Write(chunk, chosen.Fact, request.Request.Sites is null, together, context, database);
        }

        var after = await index.Refresh();
        RegisterAt.SetFact(context, after.Place);
        return TypedResults.Ok(new FactsSet(after.Place, count, together));
    }

    private static async Task<Results<Ok<FactsSet>, ProblemHttpResult>> Undo(
        UndoFactsRequest request,
        HttpContext context,
        LiveRegister index,
        Database database
    )
    {
        IReadOnlyList<SiteId> sites = request is { Together: { } at, Sites: null }
            ? await database.Read(connection => connection.SetTogether(request.Fact, at.ToUniversalTime()))
            : [.. (request.Sites ?? []).Take(MostAtOnce).Select(id => new SiteId(id))];
        var count = 0;
        foreach (var chunk in sites.Select(site => (site, Known<string>.Unknown, (string?)null)).Chunk(Chunk))
        {
            count += await Write(chunk, request.Fact, false, database.Now, context, database);
        }

        var after = await index.Refresh();
        RegisterAt.SetFact(context, after.Place);
        return TypedResults.Ok(new FactsSet(after.Place, count, database.Now));
    }

    /// <param name="ifLacking">True to write only sites for which it is still not set.</param>
    private static Task<int> Write(
        IReadOnlyList<(SiteId Site, Known<string> Value, string? Why)> sites,
        ClaimedFact fact,
        bool ifLacking,
        DateTimeOffset at,
        HttpContext context,
        Database database
    ) =>
        database.Change(async change =>
        {
            var requested = sites.ToDictionary(site => site.Site);
            var decided = (
                await change.Connection.Sites(
                    Viewer.Of(context).ScopeOn(await change.PeopleDirectory(await change.Connection.OrganisationTime())),
                    [.. requested.Keys]
                )
            )
                .Where(site => !ifLacking || site.Of(fact).IsUnknown)
                .Select(site =>
                    SetFact.Decide(site, fact, requested[site.Id].Value, Viewer.Of(context).Person, requested[site.Id].Why, at)
                )
                .OfType<(SiteFacts Site, Draft Entry)>()
                .ToList();
            if (decided.Count > 0)
            {
                await change.UpdateFact(fact, [.. decided.Select(one => one.Site)]);
                await change.Append([.. decided.Select(one => one.Entry)]);
            }

            return decided.Count;
        });

    private static async Task<SetFactsPlan> Predict(ChosenSites chosen, LedgerState state, Database database)
    {
        var (before, after) = (new List<JudgedSite>(), new List<JudgedSite>());
        var said = chosen.Sites.ToDictionary(site => site.Site);
        foreach (var chunk in chosen.Sites.Chunk(Chunk))
        {
            var sites = await database.Read(connection =>
                connection.Sites(new Scope.Everything(), [.. chunk.Select(site => site.Site)])
            );
            before.AddRange(state.Judge(sites));
            after.AddRange(
                state.Judge([
                    .. sites.Select(site =>
                        site.WithClaim(chosen.Fact, Claims.Organisation, said[site.Id].Said, database.Now, null)
                    ),
                ])
            );
        }

        var effect = SetFact.Effect(before, after);
        var names = SetFact
            .Choices(chosen.Fact, state.Organisation, state.PeopleDirectory)
            .ToDictionary(choice => choice.Code, choice => choice.Name);
        return new SetFactsPlan(
            chosen.Fingerprint,
            before.Count,
            effect.Settled,
            [.. effect.Rules.Select(move => new RuleMove(RuleResponse.Of(move.Rule.Id, state.Rules), move.Before, move.After))],
            [
                .. before
                    .Take(ShownSites)
                    .Select(line => line.Line.Site)
                    .Select(site => new ProposedSite(
                        site.Id.Value,
                        site.Title,
                        site.Address.Has(out var address) ? address : null,
                        site.Host,
                        said[site.Id].Value is { } value ? names.GetValueOrDefault(value, value) : null,
                        [.. said[site.Id].Evidence.Select(one => one.Words)]
                    )),
            ],
            chosen.Refused(state)
        );
    }

    private static async Task<ChosenSites?> Chosen(SetFactsPlanRequest request, LedgerState state, ClassificationActions desk)
    {
        if (request.Sites is { } named)
        {
            return new ChosenSites(
                request.Fact,
                [.. named.Distinct().Take(MostAtOnce).Select(id => new ChosenSite(new SiteId(id), request.Value, []))]
            );
        }

        if (!Proposals.Facts.Contains(request.Fact))
        {
            return null;
        }

        var lacking = await desk.Of(state, request.Fact);
        if (request.Group?.StartsWith(WordGroup, StringComparison.Ordinal) == true)
        {
            return lacking.Next.FirstOrDefault(next => next.Word == request.Group[WordGroup.Length..]) is { } next
                ? new ChosenSites(
                    request.Fact,
                    [.. next.Sites.Take(MostAtOnce).Select(site => new ChosenSite(site.Id, request.Value, []))]
                )
                : null;
        }

        return lacking.Groups.FirstOrDefault(group => group.Key == request.Group) is { } group
            ? new ChosenSites(
                request.Fact,
                [
                    .. group
                        .Take(MostAtOnce)
                        .Select(proposal => new ChosenSite(proposal.Site.Id, proposal.Value, proposal.Evidence)),
                ]
            )
            : null;
    }

    private static string? Why(IReadOnlyList<Evidence> evidence) =>
        evidence.Count == 0 ? null : string.Join("; ", evidence.Select(one => one.Words));

    private static ProblemHttpResult NoSuchGroup() =>
        TypedResults.Problem(
            statusCode: 404,
            title: "This group no longer exists.",
            detail: "Its facts have been set since. Reload the page to see the remaining ones."
        );

    /// <summary>The fact, the sites, the values and the evidence of a request.</summary>
    private sealed record ChosenSites(ClaimedFact Fact, IReadOnlyList<ChosenSite> Sites)
    {
        public string Fingerprint =>
            Head.HashOf(
                $"{Fact} {string.Join(' ', Sites.OrderBy(site => site.Site.Value).Select(site => string.Create(CultureInfo.InvariantCulture, $"{site.Site.Value}={site.Value}")))}"
            );

        public string? Refused(LedgerState state) =>
            Sites
                .Select(site => site.Value)
                .Distinct()
                .Select(value => SetFact.NotChosen(Fact, value, state.Organisation, state.PeopleDirectory))
                .FirstOrDefault(words => words is not null);
    }

    private sealed record ChosenSite(SiteId Site, string? Value, IReadOnlyList<Evidence> Evidence)
    {
        public Known<string> Said => Value is null ? Known<string>.None : Known.Of(Value);
    }
}
