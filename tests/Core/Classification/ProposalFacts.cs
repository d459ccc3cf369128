using AtticLedger.Core.Classification;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Classification;

/// <summary>Proposals for facts that are not set, and what to set next.</summary>
public class ProposalFacts
{
    private static readonly IReadOnlyList<Term> NoTerms = [];
    private int last;

    [Fact]
    public void The_words_of_a_name_stand_alone_and_two_by_two()
    {
        Assert.Equal(["tug", "rota", "tug rota"], Traits.WordsOf("TUG_rota 17 (a)", ""));
        Assert.Equal(
            ["lock", "cafe", "lock cafe", "old", "pages", "old pages"],
            Traits.WordsOf("Lock café", "slipway.example/x/old-pages-2/")
        );
        Assert.Equal(["seals"], Traits.WordsOf("", "seals.lantern.example"));
    }

    [Fact]
    public void Owners_of_one_unit_speak_for_it_two_surely_one_likely_and_those_who_differ_not()
    {
        Assert.Equal((Strength.Sure, "PIL", "both owners who have a unit are in PIL"), Said(Site("A", owners: ["PIL", "PIL"])));
        Assert.Equal((Strength.Likely, "PIL", "its owner is in PIL"), Said(Site("A", owners: ["PIL"])));
        Assert.Equal(
            (Strength.Likely, "PIL", "2 of 3 owners who have a unit are in PIL"),
            Said(Site("A", owners: ["PIL", "YRD", "PIL"]))
        );
        Assert.Empty(Proposals.Of([Site("A", owners: ["PIL", "YRD"])], ClaimedFact.Unit, NoTerms));
        Assert.Empty(Proposals.Of([Site("A", owners: ["PIL"], unit: "YRD")], ClaimedFact.Unit, NoTerms));
    }

    [Fact]
    public void A_tag_is_evidence_where_enough_of_its_sites_are_known_and_alike()
    {
        var known = Enumerable.Range(0, 9).Select(_ => Site("Tide tables", classification: "Open")).ToList();
        var one = Assert.Single(Proposals.Of([.. known, Site("Tide notes")], ClaimedFact.Classification, NoTerms));
        Assert.Equal(
            (Strength.Likely, "Open", "9 of 9 classified sites with \"tide\" are Open"),
            (one.Strength, one.Value, one.Evidence[0].Words)
        );

        // Two in eleven differ; or only a few are known; or far more are unknown than known.
        Assert.Empty(
            Proposals.Of(
                [
                    .. known,
                    Site("Tide a", classification: "Sealed"),
                    Site("Tide b", classification: "Sealed"),
                    Site("Tide notes"),
                ],
                ClaimedFact.Classification,
                NoTerms
            )
        );
        Assert.Empty(Proposals.Of([.. known.Take(7), Site("Tide notes")], ClaimedFact.Classification, NoTerms));
        Assert.Empty(
            Proposals.Of(
                [.. known, .. Enumerable.Range(0, 10).Select(_ => Site("Tide notes"))],
                ClaimedFact.Classification,
                NoTerms
            )
        );
    }

    [Fact]
    public void Evidence_that_agrees_is_sure_and_evidence_that_differs_is_for_somebody_to_look_at()
    {
        IReadOnlyList<Term> terms =
        [
            new(ClaimedFact.Classification, "Open", "Open", ["visitors"]),
            new(ClaimedFact.Classification, "Sealed", "Sealed", ["incident"]),
        ];
        var parent = Site("Visitors", classification: "Open", key: "p1");
        Proposal Of(string title) =>
            Proposals.Of([parent, Site(title, parent: "p1")], ClaimedFact.Classification, terms).Single();
        Assert.Equal(Strength.Likely, Of("Tides").Strength);
        Assert.Equal(Strength.Sure, Of("Visitors in May").Strength);
        Assert.Equal((Strength.Split, 2), (Of("The incident").Strength, Of("The incident").Evidence.Count));
    }

    [Fact]
    public void The_next_fact_to_set_is_what_decides_most_and_a_tag_that_goes_with_anything_comes_last()
    {
        var sites = Enumerable
            .Range(0, 6)
            .Select(_ => Site("Tug rota", unit: "TUG", unsure: true))
            .Concat(
                Enumerable
                    .Range(0, 8)
                    .Select(number =>
                        Site($"{(char)('k' + number)}{(char)('k' + number)}{(char)('k' + number)} old", unit: "TUG", unsure: true)
                    )
            )
            .ToList();
        var next = NextFacts.Of(sites, ClaimedFact.Classification, new HashSet<SiteId>(), 2);
        Assert.Equal((6, 6), (next[0].Sites.Count, next[0].Decides));
        Assert.Equal("old", next[1].Word);

        // No limit depends on a purpose, so setting it settles no rule: the word that most sites share comes first.
        Assert.Equal(
            ("old", 0),
            (
                NextFacts.Of(sites, ClaimedFact.Purpose, new HashSet<SiteId>(), 1)[0].Word,
                NextFacts.Of(sites, ClaimedFact.Purpose, new HashSet<SiteId>(), 1)[0].Decides
            )
        );

        // If the unit is unknown too, the classification alone settles no rule; sure proposals are not listed again.
        Assert.Equal(
            0,
            NextFacts
                .Of(
                    [.. Enumerable.Range(0, 4).Select(_ => Site("Tug rota", unsure: true))],
                    ClaimedFact.Classification,
                    new HashSet<SiteId>(),
                    1
                )[0]
                .Decides
        );
        Assert.Empty(NextFacts.Of(sites, ClaimedFact.Classification, sites.Select(site => site.Id).ToHashSet(), 5));
    }

    private static (Strength, string, string) Said(Traits site) =>
        Proposals.Of([site], ClaimedFact.Unit, NoTerms).Select(one => (one.Strength, one.Value, one.Evidence[0].Words)).Single();

    private Traits Site(
        string title,
        string[]? owners = null,
        string? unit = null,
        string? classification = null,
        string? parent = null,
        string? key = null,
        bool unsure = false
    ) =>
        new(
            new SiteId(++last),
            title,
            "Slipway",
            Traits.WordsOf(title, ""),
            Known.Of("pages"),
            parent is null ? Known<string>.None : Known.Of(parent),
            key,
            owners ?? [],
            unit is null ? Known<string>.Unknown : Known.Of(unit),
            classification is null ? Known<string>.Unknown : Known.Of(classification),
            Known<string>.Unknown,
            unsure,
            false
        );
}
