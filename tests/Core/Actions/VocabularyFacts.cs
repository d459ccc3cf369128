using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>The vocabulary: how words of sources are mapped, and the effect of a change.</summary>
public class VocabularyFacts
{
    private static readonly IReadOnlyList<Term> Terms =
    [
        new(ClaimedFact.Classification, "Internal", "Internal", ["intern"]),
        new(ClaimedFact.Classification, "Sealed", "Sealed", []),
        new(ClaimedFact.Tags, "ships", "Ships", ["vessels"]),
        new(ClaimedFact.Tags, "helpers", "Volunteers", ["volunteer"]),
    ];

    private static readonly Organisation Organisation = new() { Terms = Terms };
    private static readonly PersonId By = new(7);

    [Theory]
    [InlineData("SHIPS", "ships")]
    [InlineData("Ship-s", "ships")]
    [InlineData(" Vésséls ", "ships")]
    [InlineData("Volunteers", "helpers")]
    [InlineData("boats", null)]
    [InlineData("", null)]
    [InlineData("!!", null)]
    public void A_tag_means_a_term_in_every_spelling(string word, string? code) =>
        Assert.Equal(code, Organisation.Words.Meant(ClaimedFact.Tags, word)?.Code);

    [Fact]
    public void Punctuation_alone_is_a_spelling_of_its_own_and_no_term_of_another_fact_is_meant()
    {
        Assert.Equal(("!!", "?"), (Vocabulary.Spelling("!!"), Vocabulary.Spelling(" ? ")));
        Assert.Null(Organisation.Words.Meant(ClaimedFact.Purpose, "ships"));
    }

    [Fact]
    public void A_site_is_read_in_the_vocabulary_and_the_register_keeps_what_was_claimed()
    {
        var site = Site() with
        {
            Classification = Known.Of("INTERN"),
            Tags = TagWords.Of(["vessels", "Ships; boats"]),
            Claims =
            [
                new Claim(ClaimedFact.Classification, "Papers", "intern", default),
                new Claim(ClaimedFact.Classification, "Slipway", "Internal", default),
            ],
        };
        var line = new ComputedSite(site, Organisation, new Harbour().PeopleDirectory);
        Assert.Equal(("Internal", "boats, ships"), (line.Site.Classification.Or(""), line.Site.Tags.Or("")));
        Assert.Equal("ships; boats", $"{string.Join(",", line.Tags)}; {string.Join(",", line.UnmappedTags)}");
        Assert.Empty(line.Site.Disputed());
        Assert.Equal(("INTERN", "Ships, boats, vessels"), (site.Classification.Or(""), site.Tags.Or("")));

        // A site whose words are not mapped is unchanged, and unknown stays unknown.
        var plain = Site() with { Classification = Known.Of("Sealed") };
        Assert.Same(plain, Organisation.Words.Read(plain));
        Assert.Empty(new ComputedSite(plain, Organisation, new Harbour().PeopleDirectory).Tags);
        Assert.True(Organisation.Words.Read(plain).Tags.IsUnknown);
    }

    [Fact]
    public void Terms_are_added_removed_renamed_merged_and_dropped()
    {
        Assert.Equal(
            new Term(ClaimedFact.Tags, "night-work", "Night work", []),
            After(new(VocabularyAction.Add, ClaimedFact.Tags, Word: " Night work "))[^1]
        );
        Assert.Equal(
            ["vessels", "boats"],
            Tag("ships", After(new(VocabularyAction.Mean, ClaimedFact.Tags, "ships", "Boats"))).Words
        );
        Assert.Empty(Tag("ships", After(new(VocabularyAction.Part, ClaimedFact.Tags, "ships", "vessels"))).Words);

        // The former name is still mapped to it, so that no claim is lost.
        var renamed = Tag("ships", After(new(VocabularyAction.Rename, ClaimedFact.Tags, "ships", "Craft")));
        Assert.Equal("Craft: vessels", $"{renamed.Name}: {string.Join(",", renamed.Words)}");
        Assert.Equal(
            ["volunteer", "volunteers"],
            Tag("helpers", After(new(VocabularyAction.Rename, ClaimedFact.Tags, "helpers", "Hands"))).Words
        );

        var merged = After(new(VocabularyAction.Merge, ClaimedFact.Tags, "helpers", Into: "ships"));
        Assert.Equal(3, merged.Count);
        Assert.Equal(["vessels", "helpers", "volunteers", "volunteer"], Tag("ships", merged).Words);
        Assert.Equal("ships", new Vocabulary(merged).Meant(ClaimedFact.Tags, "Volunteer")?.Code);
        Assert.Equal(
            ["ships"],
            After(new(VocabularyAction.Drop, ClaimedFact.Tags, "helpers"))
                .Where(term => term.Fact == ClaimedFact.Tags)
                .Select(term => term.Code)
        );
    }

    [Theory]
    [InlineData(VocabularyAction.Add, ClaimedFact.Tags, null, "vessels", "term-means-another")]
    [InlineData(VocabularyAction.Mean, ClaimedFact.Tags, "ships", "VESSELS", "term-means-it")]
    [InlineData(VocabularyAction.Mean, ClaimedFact.Tags, "boats", "tub", "term-missing")]
    [InlineData(VocabularyAction.Rename, ClaimedFact.Tags, "ships", "Volunteer", "term-means-another")]
    [InlineData(VocabularyAction.Part, ClaimedFact.Tags, "ships", "ships", "term-means-always")]
    [InlineData(VocabularyAction.Add, ClaimedFact.Tags, null, " ", "term-empty")]
    [InlineData(VocabularyAction.Add, ClaimedFact.Tags, null, "a, b", "term-several")]
    [InlineData(VocabularyAction.Add, ClaimedFact.Unit, null, "PIL", "units-elsewhere")]
    [InlineData(VocabularyAction.Merge, ClaimedFact.Tags, "ships", null, "term-to-merge-missing")]
    public void What_cannot_be_is_refused_with_why(
        VocabularyAction action,
        ClaimedFact fact,
        string? code,
        string? word,
        string why
    )
    {
        var plan = VocabularyActions.Plan(new VocabularyRequest(action, fact, code, word), Organisation, []);
        Assert.Equal(why, plan.Refused?.Code);
        Assert.Same(Terms, plan.Terms);
    }

    [Fact]
    public void A_classification_that_a_limit_a_retention_period_or_a_rule_names_is_neither_merged_nor_dropped()
    {
        Remark? Refused(Organisation organisation, params Rule[] rules) =>
            VocabularyActions
                .Plan(new VocabularyRequest(VocabularyAction.Drop, ClaimedFact.Classification, "Sealed"), organisation, rules)
                .Refused;
        Assert.Null(Refused(Organisation));
        Assert.Equal(
            new TermLimits("Sealed"),
            Refused(
                Organisation with
                {
                    Limits = [new LimitSetting(LayerKind.Classification, "Sealed", Enforcer.Policy, Known<PowerLimits>.Unknown)],
                }
            )
        );
        Assert.Equal(
            new TermKeeps("Sealed"),
            Refused(Organisation with { RetentionRules = [new RetentionRule(null, "Sealed", 90, default)] })
        );
        Assert.Equal(
            new TermInRule("R-1", "Sealed is shut", "Sealed"),
            Refused(
                Organisation,
                new Rule(
                    new RuleId("R-1"),
                    "Sealed is shut",
                    "",
                    Level.Critical,
                    "classification eq \"sealed\"",
                    new Demand.WithinAllowed(),
                    default
                )
            )
        );
    }

    [Theory]
    [InlineData(VocabularyAction.Add, null, "Night", null)]
    [InlineData(VocabularyAction.Mean, "ships", "boats", null)]
    [InlineData(VocabularyAction.Rename, "ships", "Craft", null)]
    [InlineData(VocabularyAction.Merge, "helpers", null, "ships")]
    [InlineData(VocabularyAction.Drop, "ships", null, null)]
    public void A_change_undone_leaves_the_list_as_it_was(VocabularyAction action, string? code, string? word, string? into)
    {
        var after = After(new VocabularyRequest(action, ClaimedFact.Tags, code, word, into));
        var back = VocabularyActions.Back(after, [.. Terms.Except(after)], [.. after.Except(Terms)]);
        Assert.Equal(Terms.ToHashSet(), back!.ToHashSet());
    }

    [Fact]
    public void A_change_on_which_another_was_built_cannot_be_undone()
    {
        var merged = After(new VocabularyRequest(VocabularyAction.Merge, ClaimedFact.Tags, "helpers", Into: "ships"));
        var renamed = VocabularyActions
            .Plan(
                new VocabularyRequest(VocabularyAction.Rename, ClaimedFact.Tags, "ships", "Craft"),
                new Organisation { Terms = merged },
                []
            )
            .Terms;
        Assert.Null(VocabularyActions.Back(renamed, [.. Terms.Except(merged)], [.. merged.Except(Terms)]));

        // A removed word that is mapped to another term by now.
        var dropped = After(new VocabularyRequest(VocabularyAction.Drop, ClaimedFact.Tags, "ships"));
        var taken = VocabularyActions
            .Plan(
                new VocabularyRequest(VocabularyAction.Mean, ClaimedFact.Tags, "helpers", "vessels"),
                new Organisation { Terms = dropped },
                []
            )
            .Terms;
        Assert.Null(VocabularyActions.Back(taken, [.. Terms.Except(dropped)], []));
    }

    [Fact]
    public void The_journal_has_only_what_has_changed()
    {
        var entry = VocabularyActions.Entry(
            Terms,
            After(new VocabularyRequest(VocabularyAction.Mean, ClaimedFact.Tags, "ships", "boats")),
            By
        );
        Assert.Equal(
            (JournalAction.VocabularyChanged, EntryActor.Of(By), EntrySubject.Organisation),
            (entry.Action, entry.Actor, entry.Subject)
        );
        Assert.Equal("""[{"code":"ships","fact":"tags","name":"Ships","words":["vessels","boats"]}]""", entry.After.Canonical());
    }

    private static IReadOnlyList<Term> After(VocabularyRequest request)
    {
        var plan = VocabularyActions.Plan(request, Organisation, []);
        Assert.Null(plan.Refused);
        return plan.Terms;
    }

    private static Term Tag(string code, IReadOnlyList<Term> terms) =>
        terms.Single(term => term.Fact == ClaimedFact.Tags && term.Code == code);
}
