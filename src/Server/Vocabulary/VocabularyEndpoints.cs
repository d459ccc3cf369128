using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Classification;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Register;
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

namespace AtticLedger.Server.Vocabulary;

using ChangeAnswer = Results<
    Ok<ActionDone>,
    Conflict<VocabularyPlanResponse>,
    UnprocessableEntity<RefusalResponse>,
    ProblemHttpResult
>;

/// <summary>The vocabulary: classifications, purposes and tags, their spellings, and unmapped values.</summary>
internal static class VocabularyEndpoints
{
    private const int Chunk = 1000;
    private const int MostLoose = 500;
    private const int FirstSites = 12;
    private static readonly ClaimedFact[] Facts = [ClaimedFact.Classification, ClaimedFact.Purpose, ClaimedFact.Tags];

    public static void MapVocabulary(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/vocabulary", Look)
            .WithTags("Vocabulary")
            .RequireAuthorization(Policies.Read)
            .WithName("vocabulary")
            .WithSummary(
                "The organisation's classifications, purposes and tags, with the words that mean them; and unmapped words of sources."
            );
        var api = app.MapGroup("/api/vocabulary").WithTags("Vocabulary").RequireAuthorization(Policies.Administer);
        api.MapPost("/plan", Plan)
            .Previews()
            .WithName("planVocabulary")
            .WithSummary("The plan of a change of the vocabulary; nothing is changed.");
        api.MapPost("", Carry)
            .Carries(ActionName.VocabularyChange)
            .WithName("changeVocabulary")
            .WithSummary("Changes the vocabulary as planned; 409 with the new plan where the vocabulary has changed.");
        api.MapPost("/undo", Undo)
            .Carries(ActionName.VocabularyUndo)
            .WithName("undoVocabulary")
            .WithSummary("Undoes a change by its journal entry; 422 where the term has changed since.");
    }

    private static async Task<Ok<VocabularyResponse>> Look(SeenRegister register)
    {
        var state = register.State;
        var seen = register.Visible;
        var counts = Facts.ToDictionary(fact => fact, fact => Counts(seen, fact));
        return TypedResults.Ok(
            new VocabularyResponse(
                [
                    .. Facts.SelectMany(fact =>
                        SetFact
                            .Choices(fact, state.Organisation, state.PeopleDirectory)
                            .Select(choice => new TermResponse(
                                fact,
                                choice.Code,
                                choice.Name,
                                state
                                    .Organisation.Terms.FirstOrDefault(term => term.Fact == fact && term.Code == choice.Code)
                                    ?.Words
                                    ?? [],
                                counts[fact].GetValueOrDefault(choice.Code)
                            ))
                    ),
                ],
                [
                    .. Facts.SelectMany(fact =>
                        (
                            fact == ClaimedFact.Tags
                                ? Elements(seen, "unmapped")
                                : counts[fact]
                                    .Where(pair =>
                                        SetFact.NotChosen(fact, pair.Key, state.Organisation, state.PeopleDirectory) is not null
                                    )
                        )
                            .OrderByDescending(pair => pair.Value)
                            .ThenBy(pair => pair.Key, StringComparer.Ordinal)
                            .Take(MostLoose)
                            .Select(pair => new UnmappedTag(fact, pair.Key, pair.Value))
                    ),
                ]
            )
        );
    }

    private static async Task<Ok<VocabularyPlanResponse>> Plan(VocabularyRequest request, LiveRegister index, Database database)
    {
        var state = await index.Current();
        return TypedResults.Ok(await Predict(request, state, database));
    }

    private static Task<ChangeAnswer> Carry(
        ChangeVocabularyRequest done,
        HttpContext context,
        LiveRegister index,
        Database database
    ) =>
        context.Carry(new ChangeVocabulary(done.Request, Viewer.Of(context)), done.Fingerprint, done, async _ =>
            await Predict(done.Request, await index.Refresh(), database)
        );

    private static Task<ChangeAnswer> Undo(UndoVocabularyRequest request, HttpContext context) =>
        context.Carry(new UndoVocabulary(request.Entry, Viewer.Of(context)), null, request, _ =>
            Task.FromException<VocabularyPlanResponse>(new InvalidOperationException("An undo has no other plan."))
        );

    private static async Task<VocabularyPlanResponse> Predict(VocabularyRequest request, LedgerState state, Database database)
    {
        var rules = await database.Read(connection => connection.AllRules());
        var plan = VocabularyActions.Plan(request, state.Organisation, RuleActions.FromOn(rules, state.Rules.Today.Day));
        var after = state with { Organisation = state.Organisation with { Terms = plan.Terms } };
        var (before, then) = (new List<JudgedSite>(), new List<JudgedSite>());
        var seen = state.Seen(new Scope.Everything());
        foreach (var chunk in Touched(seen, request.Fact, state.Organisation.Terms, plan.Terms).Chunk(Chunk))
        {
            var sites = await database.Read(connection => connection.Sites(new Scope.Everything(), chunk));
            foreach (
                var (now, other) in state
                    .Judge(sites)
                    .Zip(after.Judge(sites))
                    .Where(pair =>
                        pair.First.Line.Site.Of(request.Fact) != pair.Second.Line.Site.Of(request.Fact)
                        || !pair.First.Line.Tags.SequenceEqual(pair.Second.Line.Tags)
                    )
            )
            {
                before.Add(now);
                then.Add(other);
            }
        }

        var effect = SetFact.Effect(before, then);
        return new VocabularyPlanResponse(
            ChangeVocabulary.FingerprintOf(request, state.Organisation),
            before.Count,
            [
                .. before
                    .Zip(then)
                    .Take(FirstSites)
                    .Select(pair => new RereadSite(
                        pair.First.Line.Site.Id.Value,
                        pair.First.Line.Site.Title,
                        Reads(pair.First.Line, request.Fact),
                        Reads(pair.Second.Line, request.Fact)
                    )),
            ],
            effect.Settled,
            [.. effect.Rules.Select(move => new RuleMove(RuleResponse.Of(move.Rule.Id, state.Rules), move.Before, move.After))],
            plan.Refused is { } why ? RemarkResponse.Of(why) : null
        );
    }

    // Sites in use with a value that is a spelling of a changed term.
    private static IEnumerable<SiteId> Touched(
        VisibleRegister seen,
        ClaimedFact fact,
        IReadOnlyList<Term> before,
        IReadOnlyList<Term> after
    )
    {
        var spelt = before
            .Except(after)
            .Concat(after.Except(before))
            .SelectMany(term => term.Words.Append(term.Code).Append(term.Name))
            .Select(Core.Sites.Vocabulary.Spelling)
            .ToHashSet(StringComparer.Ordinal);
        bool Says(string word) => spelt.Contains(Core.Sites.Vocabulary.Spelling(word));
        var (tags, words) = ((ListColumn<string>)seen.Columns.Of("tags"), (ListColumn<string>)seen.Columns.Of("unmapped"));
        var texts = fact == ClaimedFact.Tags ? null : (Column<string>)seen.Columns.Of(Name(fact));
        return spelt.Count == 0
            ? []
            : seen
                .InUse.Lines()
                .Where(place =>
                    texts is null
                        ? tags[place].Items.Concat(words[place].Items).Any(Says)
                        : texts[place].Has(out var said) && Says(said)
                )
                .Select(place => seen.IdAt(place));
    }

    private static string? Reads(ComputedSite line, ClaimedFact fact) =>
        fact == ClaimedFact.Tags ? (line.Tags.Count == 0 ? null : string.Join(TagWords.Separator, line.Tags))
        : line.Site.Of(fact).Has(out var value) ? value
        : null;

    private static Dictionary<string, int> Counts(VisibleRegister seen, ClaimedFact fact) =>
        fact == ClaimedFact.Tags
            ? Elements(seen, "tags")
            : ((Column<string>)seen.Columns.Of(Name(fact)))
                .Counts(seen.InUse)
                .Where(pair => pair.Value.Has(out _))
                .ToDictionary(pair => pair.Value.Or(""), pair => pair.Count);

    private static Dictionary<string, int> Elements(VisibleRegister seen, string attribute) =>
        ((ListColumn<string>)seen.Columns.Of(attribute)).Counts(seen.InUse).ToDictionary(pair => pair.Item1, pair => pair.Item2);

    private static string Name(ClaimedFact fact) => fact.ToString().ToLowerInvariant();
}
