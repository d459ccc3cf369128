using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Classification;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Classification;

using SetAnswer = Results<Ok<FactsSet>, Conflict<SetFactsPlan>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

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
        app.MapGet("/api/classification/choices", (SeenRegister register) =>
                TypedResults.Ok<IReadOnlyList<ChoicesOfFact>>([
                    .. Proposals.Facts.Select(fact => new ChoicesOfFact(
                        fact,
                        [
                            .. SetFact
                                .Choices(fact, register.State.Organisation, register.State.PeopleDirectory)
                                .Select(choice => new ChoiceOfFact(choice.Code, choice.Name)),
                        ]
                    )),
                ])
            )
            .WithTags("Classification")
            .RequireAuthorization(Policies.Administer)
            .WithName("choicesOfFacts")
            .WithSummary("The values that can be set for unit, classification and purpose.");
        var api = app.MapGroup("/api/classification/facts").WithTags("Classification").RequireAuthorization(Policies.Administer);
        api.MapPost("/plan", Plan)
            .Previews()
            .WithName("planFacts")
            .WithSummary("The plan to set a fact of some sites; nothing is changed.");
        api.MapPost("", Carry)
            .Carries(ActionName.FactsSet)
            .WithName("setFacts")
            .WithSummary("Sets a fact of some sites as planned; 409 with the new plan where the sites or values differ.");
        api.MapPost("/undo", Undo)
            .Carries(ActionName.FactsUndo)
            .WithName("undoFacts")
            .WithSummary(
                "Undoes a fact set for sites, or for all sites set together: the value of the most direct source applies again."
            );
    }

    private static async Task<Results<Ok<ClassificationResponse>, ProblemHttpResult>> Look(
        SeenRegister register,
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

        var state = register.State;
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

    private static async Task<SetAnswer> Carry(
        SetFactsRequest request,
        HttpContext context,
        LiveRegister index,
        ClassificationActions desk,
        Database database
    )
    {
        var state = await index.Current();
        return await Chosen(request.Request, state, desk) is not { } chosen
            ? NoSuchGroup()
            : await context.Carry(
                new SetFacts(ActionName.FactsSet, chosen, ifLacking: request.Request.Sites is null, Viewer.Of(context)),
                request.Fingerprint,
                request,
                _ => Predict(chosen, state, database)
            );
    }

    private static async Task<SetAnswer> Undo(
        UndoFactsRequest request,
        HttpContext context,
        LiveRegister index,
        Database database
    )
    {
        IReadOnlyList<SiteId> sites = request is { Together: { } at, Sites: null }
            ? await database.Read(connection => connection.SetTogether(request.Fact, at.ToUniversalTime()))
            : [.. (request.Sites ?? []).Take(MostAtOnce).Select(id => new SiteId(id))];
        var chosen = new ChosenSites(request.Fact, [.. sites.Select(site => ChosenSite.Undone(site))]);
        return await context.Carry(
            new SetFacts(ActionName.FactsUndo, chosen, ifLacking: false, Viewer.Of(context)),
            null,
            request,
            async _ => await Predict(chosen, await index.Current(), database)
        );
    }

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
                        said[site.Id].Value,
                        [.. said[site.Id].Evidence.Select(one => one.Words)]
                    )),
            ],
            chosen.Refused(state.Organisation, state.PeopleDirectory) is { } why ? RemarkResponse.Of(why) : null
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

    private static ProblemHttpResult NoSuchGroup() =>
        TypedResults.Problem(
            statusCode: 404,
            title: "This group no longer exists.",
            detail: "Its facts have been set since. Reload the page to see the remaining ones."
        );
}
