using System.Text.Json;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.FirstWeek;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Desk;
using AtticLedger.Server.Feed;
using AtticLedger.Server.FirstWeek;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Words;

/// <summary>The house's own words: approved classes, purposes and tags, what else means them, and words that mean nothing yet.</summary>
internal static class WordsEndpoints
{
    private const int Chunk = 1000;
    private const int MostLoose = 500;
    private const int FirstSites = 12;
    private static readonly SaidFact[] Facts = [SaidFact.Class, SaidFact.Purpose, SaidFact.Tags];

    public static void MapWords(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/words", Look)
            .WithTags("Words")
            .RequireAuthorization(Policies.Read)
            .WithName("words")
            .WithSummary(
                "The house's classes, purposes and tags, with the words that mean them; and words that sources say and that mean none."
            );
        var api = app.MapGroup("/api/words").WithTags("Words").RequireAuthorization(Policies.Administer);
        api.MapPost("/plan", Plan)
            .WithName("planWords")
            .WithSummary("What a change of the list would come to; nothing is changed.");
        api.MapPost("", Carry)
            .WithName("changeWords")
            .WithSummary("Changes the list as planned; 409 with the new plan where the list is another by now.");
        api.MapPost("/take-back", TakeBack)
            .WithName("takeBackWords")
            .WithSummary("Takes a change back by its entry in the journal; 409 where what it changed is another by now.");
    }

    private static async Task<Ok<WordsWire>> Look(HttpContext context, LedgerSheet sheet)
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var seen = state.Seen(Viewer.Of(context).SightOn(state.Roll));
        var counts = Facts.ToDictionary(fact => fact, fact => Counts(seen, fact));
        return TypedResults.Ok(
            new WordsWire(
                [
                    .. Facts.SelectMany(fact =>
                        Say.Choices(fact, state.House, state.Roll)
                            .Select(choice => new TermWire(
                                fact,
                                choice.Code,
                                choice.Name,
                                state.House.Terms.FirstOrDefault(term => term.Fact == fact && term.Code == choice.Code)?.Words
                                    ?? [],
                                counts[fact].GetValueOrDefault(choice.Code)
                            ))
                    ),
                ],
                [
                    .. Facts.SelectMany(fact =>
                        (
                            fact == SaidFact.Tags
                                ? Elements(seen, "words")
                                : counts[fact].Where(pair => Say.NotChosen(fact, pair.Key, state.House, state.Roll) is not null)
                        )
                            .OrderByDescending(pair => pair.Value)
                            .ThenBy(pair => pair.Key, StringComparer.Ordinal)
                            .Take(MostLoose)
                            .Select(pair => new LooseWordWire(fact, pair.Key, pair.Value))
                    ),
                ]
            )
        );
    }

    private static async Task<Ok<WordPlanWire>> Plan(WordWish wish, LedgerSheet sheet, Database database)
    {
        var state = await sheet.Current();
        return TypedResults.Ok(await Foresee(wish, state, database));
    }

    private static async Task<Results<Ok<WordsChangedWire>, Conflict<WordPlanWire>, UnprocessableEntity<RefusalWire>>> Carry(
        WordDoneWishWire done,
        HttpContext context,
        LedgerSheet sheet,
        Database database
    )
    {
        var (wish, by) = (done.Wish, Viewer.Of(context).Person);
        var (refused, entry) = await database.Change(async change =>
        {
            var house = await change.Connection.House();
            var plan = WordDeeds.Plan(wish, house, await change.Connection.AllRules());
            if (plan.Refused is not null || done.Fingerprint != Fingerprint(wish, house))
            {
                return (plan.Refused, (long?)null);
            }

            await change.SetTerms(plan.Terms);
            return (null, (await change.Append([WordDeeds.Entry(house.Terms, plan.Terms, by)]))[0]);
        });
        var state = await sheet.Refresh();
        SheetAt.Say(context, state.Place);
        return refused is not null ? TypedResults.UnprocessableEntity(new RefusalWire([refused]))
            : entry is { } number ? TypedResults.Ok(new WordsChangedWire(state.Place, number))
            : TypedResults.Conflict(await Foresee(wish, state, database));
    }

    private static async Task<Results<Ok<WordsChangedWire>, ProblemHttpResult>> TakeBack(
        WordsBackWire wish,
        HttpContext context,
        LedgerSheet sheet,
        Database database
    )
    {
        var by = Viewer.Of(context).Person;
        var taken = await database.Change<long?>(async change =>
        {
            var terms = (await change.Connection.House()).Terms;
            if (await change.Connection.JournalEntry(wish.Entry) is not { Deed: WordDeeds.Deed } row)
            {
                return null;
            }

            using var text = JsonDocument.Parse(row.Text);
            if (
                WordDeeds.Back(terms, Terms(text.RootElement.GetProperty("before")), Terms(text.RootElement.GetProperty("after")))
                is not { } back
            )
            {
                return null;
            }

            await change.SetTerms(back);
            return (await change.Append([WordDeeds.Entry(terms, back, by, wish.Entry)]))[0];
        });
        if (taken is not { } number)
        {
            return TypedResults.Problem(
                statusCode: 409,
                title: "That change cannot be taken back.",
                detail: "The words that it changed are others by now. Change them one by one."
            );
        }

        var state = await sheet.Refresh();
        SheetAt.Say(context, state.Place);
        return TypedResults.Ok(new WordsChangedWire(state.Place, number));
    }

    private static async Task<WordPlanWire> Foresee(WordWish wish, LedgerState state, Database database)
    {
        var plan = WordDeeds.Plan(wish, state.House, state.Rules.Rules);
        var after = state with { House = state.House with { Terms = plan.Terms } };
        var (before, then) = (new List<JudgedLine>(), new List<JudgedLine>());
        var seen = state.Seen(new Sight.Everything());
        foreach (var chunk in Touched(seen, wish.Fact, state.House.Terms, plan.Terms).Chunk(Chunk))
        {
            var sites = await database.Read(connection => connection.Sites(new Sight.Everything(), chunk));
            foreach (
                var (now, other) in state
                    .Judge(sites)
                    .Zip(after.Judge(sites))
                    .Where(pair =>
                        pair.First.Line.Site.Of(wish.Fact) != pair.Second.Line.Site.Of(wish.Fact)
                        || !pair.First.Line.Tags.SequenceEqual(pair.Second.Line.Tags)
                    )
            )
            {
                before.Add(now);
                then.Add(other);
            }
        }

        var effect = Say.Effect(before, then);
        return new WordPlanWire(
            Fingerprint(wish, state.House),
            before.Count,
            [
                .. before
                    .Zip(then)
                    .Take(FirstSites)
                    .Select(pair => new RereadWire(
                        pair.First.Line.Site.Id.Value,
                        pair.First.Line.Site.Title,
                        Reads(pair.First.Line, wish.Fact),
                        Reads(pair.Second.Line, wish.Fact)
                    )),
            ],
            effect.Told,
            [.. effect.Rules.Select(move => new RuleMoveWire(RuleWire.Of(move.Rule.Id, state.Rules), move.Before, move.After))],
            plan.Refused
        );
    }

    // Sites in use that say a word which one of the changed terms has a spelling of.
    private static IEnumerable<SiteId> Touched(
        SeenSheet seen,
        SaidFact fact,
        IReadOnlyList<Term> before,
        IReadOnlyList<Term> after
    )
    {
        var spelt = before
            .Except(after)
            .Concat(after.Except(before))
            .SelectMany(term => term.Words.Append(term.Code).Append(term.Name))
            .Select(Vocabulary.Spelling)
            .ToHashSet(StringComparer.Ordinal);
        bool Says(string word) => spelt.Contains(Vocabulary.Spelling(word));
        var (tags, words) = ((ListColumn<string>)seen.Columns.Of("tags"), (ListColumn<string>)seen.Columns.Of("words"));
        var texts = fact == SaidFact.Tags ? null : (Column<string>)seen.Columns.Of(Name(fact));
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

    private static string? Reads(SiteLine line, SaidFact fact) =>
        fact == SaidFact.Tags ? (line.Tags.Count == 0 ? null : string.Join(TagWords.Separator, line.Tags))
        : line.Site.Of(fact).Has(out var value) ? value
        : null;

    private static Dictionary<string, int> Counts(SeenSheet seen, SaidFact fact) =>
        fact == SaidFact.Tags
            ? Elements(seen, "tags")
            : ((Column<string>)seen.Columns.Of(Name(fact)))
                .Counts(seen.InUse)
                .Where(pair => pair.Value.Has(out _))
                .ToDictionary(pair => pair.Value.Or(""), pair => pair.Count);

    private static Dictionary<string, int> Elements(SeenSheet seen, string attribute) =>
        ((ListColumn<string>)seen.Columns.Of(attribute)).Counts(seen.InUse).ToDictionary(pair => pair.Item1, pair => pair.Item2);

    private static string Name(SaidFact fact) => fact.ToString().ToLowerInvariant();

    private static string Fingerprint(WordWish wish, House house) =>
        Head.HashOf($"{wish} {JsonSerializer.Serialize(house.Terms)}");

    private static List<Term> Terms(JsonElement written) =>
        [
            .. written
                .EnumerateArray()
                .Select(term => new Term(
                    Enum.Parse<SaidFact>(term.GetProperty("fact").GetString()!, ignoreCase: true),
                    term.GetProperty("code").GetString()!,
                    term.GetProperty("name").GetString()!,
                    [.. term.GetProperty("words").EnumerateArray().Select(word => word.GetString()!)]
                )),
        ];
}
