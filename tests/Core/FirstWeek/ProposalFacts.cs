using AtticLedger.Core.FirstWeek;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.FirstWeek;

/// <summary>What is proposed of sites that nobody has said, and what to say next.</summary>
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
        Assert.Empty(Proposals.Of([Site("A", owners: ["PIL", "YRD"])], SaidFact.Unit, NoTerms));
        Assert.Empty(Proposals.Of([Site("A", owners: ["PIL"], unit: "YRD")], SaidFact.Unit, NoTerms));
    }

    [Fact]
    public void A_word_speaks_where_enough_of_its_sites_are_known_and_alike()
    {
        var known = Enumerable.Range(0, 9).Select(_ => Site("Tide tables", @class: "Open")).ToList();
        var one = Assert.Single(Proposals.Of([.. known, Site("Tide notes")], SaidFact.Class, NoTerms));
        Assert.Equal(
            (Strength.Likely, "Open", "9 of 9 known sites with \"tide\" are Open"),
            (one.Strength, one.Value, one.Evidence[0].Words)
        );

        // Two in eleven are otherwise; or only a handful is known; or far more are not known than known.
        Assert.Empty(
            Proposals.Of(
                [.. known, Site("Tide a", @class: "Sealed"), Site("Tide b", @class: "Sealed"), Site("Tide notes")],
                SaidFact.Class,
                NoTerms
            )
        );
        Assert.Empty(Proposals.Of([.. known.Take(7), Site("Tide notes")], SaidFact.Class, NoTerms));
        Assert.Empty(
            Proposals.Of([.. known, .. Enumerable.Range(0, 10).Select(_ => Site("Tide notes"))], SaidFact.Class, NoTerms)
        );
    }

    [Fact]
    public void Evidence_that_agrees_is_sure_and_evidence_that_differs_is_for_somebody_to_look_at()
    {
        IReadOnlyList<Term> terms =
        [
            new(SaidFact.Class, "Open", "Open", ["visitors"]),
            new(SaidFact.Class, "Sealed", "Sealed", ["incident"]),
        ];
        var parent = Site("Visitors", @class: "Open", key: "p1");
        Proposal Of(string title) => Proposals.Of([parent, Site(title, parent: "p1")], SaidFact.Class, terms).Single();
        Assert.Equal(Strength.Likely, Of("Tides").Strength);
        Assert.Equal(Strength.Sure, Of("Visitors in May").Strength);
        Assert.Equal((Strength.Split, 2), (Of("The incident").Strength, Of("The incident").Evidence.Count));
    }

    [Fact]
    public void To_say_next_is_what_decides_most_and_a_word_that_stands_beside_anything_comes_last()
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
        var next = NextFacts.Of(sites, SaidFact.Class, new HashSet<SiteId>(), 2);
        Assert.Equal((6, 6), (next[0].Sites.Count, next[0].Decides));
        Assert.Equal("old", next[1].Word);

        // No layer hangs on a purpose, so saying it decides nothing: what most sites have in common comes first.
        Assert.Equal(
            ("old", 0),
            (
                NextFacts.Of(sites, SaidFact.Purpose, new HashSet<SiteId>(), 1)[0].Word,
                NextFacts.Of(sites, SaidFact.Purpose, new HashSet<SiteId>(), 1)[0].Decides
            )
        );

        // Where the unit is unknown too, the class alone decides nothing; what is surely proposed is not asked about.
        Assert.Equal(
            0,
            NextFacts
                .Of(
                    [.. Enumerable.Range(0, 4).Select(_ => Site("Tug rota", unsure: true))],
                    SaidFact.Class,
                    new HashSet<SiteId>(),
                    1
                )[0]
                .Decides
        );
        Assert.Empty(NextFacts.Of(sites, SaidFact.Class, sites.Select(site => site.Id).ToHashSet(), 5));
    }

    private static (Strength, string, string) Said(Traits site) =>
        Proposals.Of([site], SaidFact.Unit, NoTerms).Select(one => (one.Strength, one.Value, one.Evidence[0].Words)).Single();

    private Traits Site(
        string title,
        string[]? owners = null,
        string? unit = null,
        string? @class = null,
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
            @class is null ? Known<string>.Unknown : Known.Of(@class),
            Known<string>.Unknown,
            unsure,
            false
        );
}
