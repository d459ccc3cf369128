using AtticLedger.Core.Deeds;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Deeds;

/// <summary>The house's own words: how sources' words are read, and what a change of the list comes to.</summary>
public class WordFacts
{
    private static readonly IReadOnlyList<Term> Terms =
    [
        new(SaidFact.Class, "Internal", "Internal", ["intern"]),
        new(SaidFact.Class, "Sealed", "Sealed", []),
        new(SaidFact.Tags, "ships", "Ships", ["vessels"]),
        new(SaidFact.Tags, "helpers", "Volunteers", ["volunteer"]),
    ];

    private static readonly House House = new() { Terms = Terms };
    private static readonly PersonId By = new(7);

    [Theory]
    [InlineData("SHIPS", "ships")]
    [InlineData("Ship-s", "ships")]
    [InlineData(" Vésséls ", "ships")]
    [InlineData("Volunteers", "helpers")]
    [InlineData("boats", null)]
    [InlineData("", null)]
    [InlineData("!!", null)]
    public void A_word_means_a_term_however_it_is_spelt(string word, string? code) =>
        Assert.Equal(code, House.Words.Meant(SaidFact.Tags, word)?.Code);

    [Fact]
    public void Marks_alone_are_a_spelling_of_their_own_and_no_term_of_another_fact_is_meant()
    {
        Assert.Equal(("!!", "?"), (Vocabulary.Spelling("!!"), Vocabulary.Spelling(" ? ")));
        Assert.Null(House.Words.Meant(SaidFact.Purpose, "ships"));
    }

    [Fact]
    public void A_line_is_read_in_the_houses_words_and_the_register_keeps_what_was_said()
    {
        var site = Site() with
        {
            Class = Known.Of("INTERN"),
            Tags = TagWords.Of(["vessels", "Ships; boats"]),
            Said =
            [
                new Statement(SaidFact.Class, "Papers", "intern", default),
                new Statement(SaidFact.Class, "Slipway", "Internal", default),
            ],
        };
        var line = new SiteLine(site, House, new Harbour().Roll);
        Assert.Equal(("Internal", "boats, ships"), (line.Site.Class.Or(""), line.Site.Tags.Or("")));
        Assert.Equal("ships; boats", $"{string.Join(",", line.Tags)}; {string.Join(",", line.LooseWords)}");
        Assert.Empty(line.Site.Disputed());
        Assert.Equal(("INTERN", "Ships, boats, vessels"), (site.Class.Or(""), site.Tags.Or("")));

        // What nothing is read otherwise of is the same line, and unknown stays unknown.
        var plain = Site() with { Class = Known.Of("Sealed") };
        Assert.Same(plain, House.Words.Read(plain));
        Assert.Empty(new SiteLine(plain, House, new Harbour().Roll).Tags);
        Assert.True(House.Words.Read(plain).Tags.IsUnknown);
    }

    [Fact]
    public void Words_are_added_taken_away_renamed_merged_and_dropped()
    {
        Assert.Equal(
            new Term(SaidFact.Tags, "night-work", "Night work", []),
            After(new(WordDeed.Add, SaidFact.Tags, Word: " Night work "))[^1]
        );
        Assert.Equal(["vessels", "boats"], Tag("ships", After(new(WordDeed.Mean, SaidFact.Tags, "ships", "Boats"))).Words);
        Assert.Empty(Tag("ships", After(new(WordDeed.Part, SaidFact.Tags, "ships", "vessels"))).Words);

        // The name before still means it, so that nothing that was said by it is lost.
        var renamed = Tag("ships", After(new(WordDeed.Rename, SaidFact.Tags, "ships", "Craft")));
        Assert.Equal("Craft: vessels", $"{renamed.Name}: {string.Join(",", renamed.Words)}");
        Assert.Equal(
            ["volunteer", "volunteers"],
            Tag("helpers", After(new(WordDeed.Rename, SaidFact.Tags, "helpers", "Hands"))).Words
        );

        var merged = After(new(WordDeed.Merge, SaidFact.Tags, "helpers", Into: "ships"));
        Assert.Equal(3, merged.Count);
        Assert.Equal(["vessels", "helpers", "volunteers", "volunteer"], Tag("ships", merged).Words);
        Assert.Equal("ships", new Vocabulary(merged).Meant(SaidFact.Tags, "Volunteer")?.Code);
        Assert.Equal(
            ["ships"],
            After(new(WordDeed.Drop, SaidFact.Tags, "helpers"))
                .Where(term => term.Fact == SaidFact.Tags)
                .Select(term => term.Code)
        );
    }

    [Theory]
    [InlineData(
        WordDeed.Add,
        SaidFact.Tags,
        null,
        "vessels",
        "\"vessels\" means Ships already. Take it away from there first, or merge the two."
    )]
    [InlineData(WordDeed.Mean, SaidFact.Tags, "ships", "VESSELS", "\"VESSELS\" means Ships already.")]
    [InlineData(
        WordDeed.Mean,
        SaidFact.Tags,
        "boats",
        "tub",
        "There is no tag \"boats\". Somebody has changed the list meanwhile."
    )]
    [InlineData(
        WordDeed.Rename,
        SaidFact.Tags,
        "ships",
        "Volunteer",
        "\"Volunteer\" means Volunteers already. Take it away from there first, or merge the two."
    )]
    [InlineData(
        WordDeed.Part,
        SaidFact.Tags,
        "ships",
        "ships",
        "\"ships\" is no word beside for Ships: its code and its name always mean it."
    )]
    [InlineData(WordDeed.Add, SaidFact.Tags, null, " ", "Write a word: at least one letter or digit.")]
    [InlineData(
        WordDeed.Add,
        SaidFact.Tags,
        null,
        "a, b",
        "\"a, b\" is more than one word: commas, semicolons and bars stand between tags."
    )]
    [InlineData(WordDeed.Add, SaidFact.Unit, null, "PIL", "Units come from the staff list: they are named and merged there.")]
    [InlineData(WordDeed.Merge, SaidFact.Tags, "ships", null, "There is no other tag \"\" to merge it into.")]
    public void What_cannot_be_is_refused_with_why(WordDeed deed, SaidFact fact, string? code, string? word, string why)
    {
        var plan = WordDeeds.Plan(new WordWish(deed, fact, code, word), House, []);
        Assert.Equal(why, plan.Refused);
        Assert.Same(Terms, plan.Terms);
    }

    [Fact]
    public void A_class_that_limits_keeping_or_a_rule_speak_of_is_neither_merged_nor_dropped()
    {
        string? Refused(House house, params Rule[] rules) =>
            WordDeeds.Plan(new WordWish(WordDeed.Drop, SaidFact.Class, "Sealed"), house, rules).Refused;
        Assert.Null(Refused(House));
        Assert.StartsWith(
            "The house has limits for Sealed",
            Refused(
                House with
                {
                    Limits = [new LimitSetting(LayerKind.Class, "Sealed", Enforcer.House, Known<PowerLimits>.Unknown)],
                }
            )
        );
        Assert.StartsWith(
            "The house keeps put-away sites of Sealed",
            Refused(House with { Keeping = [new KeepRule(null, "Sealed", 90, default)] })
        );
        Assert.StartsWith(
            "The rule R-1 (Sealed is shut) speaks of \"Sealed\"",
            Refused(
                House,
                new Rule(
                    new RuleId("R-1"),
                    "Sealed is shut",
                    "",
                    Level.Must,
                    "class eq \"sealed\"",
                    new Demand.WithinAllowed(),
                    default
                )
            )
        );
    }

    [Theory]
    [InlineData(WordDeed.Add, null, "Night", null)]
    [InlineData(WordDeed.Mean, "ships", "boats", null)]
    [InlineData(WordDeed.Rename, "ships", "Craft", null)]
    [InlineData(WordDeed.Merge, "helpers", null, "ships")]
    [InlineData(WordDeed.Drop, "ships", null, null)]
    public void A_change_taken_back_leaves_the_list_as_it_was(WordDeed deed, string? code, string? word, string? into)
    {
        var after = After(new WordWish(deed, SaidFact.Tags, code, word, into));
        var back = WordDeeds.Back(after, [.. Terms.Except(after)], [.. after.Except(Terms)]);
        Assert.Equal(Terms.ToHashSet(), back!.ToHashSet());
    }

    [Fact]
    public void A_change_that_was_built_upon_cannot_be_taken_back()
    {
        var merged = After(new WordWish(WordDeed.Merge, SaidFact.Tags, "helpers", Into: "ships"));
        var renamed = WordDeeds
            .Plan(new WordWish(WordDeed.Rename, SaidFact.Tags, "ships", "Craft"), new House { Terms = merged }, [])
            .Terms;
        Assert.Null(WordDeeds.Back(renamed, [.. Terms.Except(merged)], [.. merged.Except(Terms)]));

        // A dropped word that means another term by now.
        var dropped = After(new WordWish(WordDeed.Drop, SaidFact.Tags, "ships"));
        var taken = WordDeeds
            .Plan(new WordWish(WordDeed.Mean, SaidFact.Tags, "helpers", "vessels"), new House { Terms = dropped }, [])
            .Terms;
        Assert.Null(WordDeeds.Back(taken, [.. Terms.Except(dropped)], []));
    }

    [Fact]
    public void What_is_written_down_is_what_became_other()
    {
        var entry = WordDeeds.Entry(Terms, After(new WordWish(WordDeed.Mean, SaidFact.Tags, "ships", "boats")), By);
        Assert.Equal(("words.changed", "person:7", "house"), (entry.Deed, entry.Actor, entry.Subject));
        Assert.Equal("""[{"code":"ships","fact":"tags","name":"Ships","words":["vessels","boats"]}]""", entry.After.Canonical());
    }

    private static IReadOnlyList<Term> After(WordWish wish)
    {
        var plan = WordDeeds.Plan(wish, House, []);
        Assert.Null(plan.Refused);
        return plan.Terms;
    }

    private static Term Tag(string code, IReadOnlyList<Term> terms) =>
        terms.Single(term => term.Fact == SaidFact.Tags && term.Code == code);
}
