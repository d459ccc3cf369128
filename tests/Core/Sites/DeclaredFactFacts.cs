using AtticLedger.Core.Actions;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Sites;

/// <summary>What loops over the declared facts of a site leaves none of them out.</summary>
public class DeclaredFactFacts
{
    public static TheoryData<string> Names => [.. DeclaredFacts.All.Select(fact => fact.Name)];

    private static SiteFact Fact(string name) => DeclaredFacts.All.Single(fact => fact.Name == name);

    [Theory]
    [MemberData(nameof(Names))]
    public void Two_sets_are_equal_only_if_this_fact_is(string name)
    {
        var fact = Fact(name);
        var (one, other) = SampleFacts.Of(fact);
        Assert.Equal(one, SampleFacts.Of(fact).One);
        Assert.Equal(one.GetHashCode(), SampleFacts.Of(fact).One.GetHashCode());
        Assert.NotEqual(one, other);
        Assert.NotEqual(one, SampleFacts.None(fact));
        Assert.NotEqual(one, FactSet.Unknown);
        Assert.NotEqual(SampleFacts.None(fact), FactSet.Unknown);
        Assert.NotEqual(Site() with { Facts = one }, Site() with { Facts = other });
        Assert.Equal(Site() with { Facts = one }, Site() with { Facts = SampleFacts.Of(fact).One });
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void A_change_of_this_fact_is_in_the_journal_unless_it_changes_by_itself(string name)
    {
        var fact = Fact(name);
        var (one, other) = SampleFacts.Of(fact);
        var (before, after) = SiteRecord.Difference(Site() with { Facts = one }, Site() with { Facts = other });
        Assert.Equal(fact.Pace == FactPace.ByItself, before.All.Count == 0 && after.All.Count == 0);
        Assert.Equal(before.All.Select(field => field.Name), after.All.Select(field => field.Name));
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void A_sync_stores_the_newest_value_of_this_fact(string name)
    {
        var (one, other) = SampleFacts.Of(Fact(name));
        var stored = Intake.Take(Site() with { Facts = one }, Site() with { Facts = other }, [], Now, Now);
        Assert.True(stored.IsNews);
        Assert.Equal(other, stored.Site.Facts);
        Assert.False(Intake.Take(Site() with { Facts = one }, Site() with { Facts = one }, [], Now, Now).IsNews);
    }

    [Fact]
    public void Names_are_unique_and_places_are_the_order()
    {
        Assert.Equal(DeclaredFacts.All.Count, DeclaredFacts.All.Select(fact => fact.Name).Distinct().Count());
        Assert.Equal(Enumerable.Range(0, DeclaredFacts.All.Count), DeclaredFacts.All.Select(fact => fact.Place));
        Assert.All(DeclaredFacts.All, fact => Assert.NotEmpty(fact.Label));
    }

    [Fact]
    public void A_fact_with_a_filter_is_an_attribute_of_the_register()
    {
        var declared = DeclaredFacts.All.Where(fact => fact.Filter is not null).ToList();
        Assert.Contains(DeclaredFacts.HiddenFromSearch, declared);
        Assert.Contains(DeclaredFacts.Logo, declared);
        Assert.All(declared, fact => Assert.Equal(fact.Filter!.Says, SiteAttributes.List.Find(fact.Filter.Name)?.Says));
    }

    [Theory]
    [InlineData("search.hidden eq true", true)]
    [InlineData("search.hidden eq false", false)]
    [InlineData("logo eq \"linked\"", true)]
    [InlineData("logo gt \"kept-with-site\"", true)]
    [InlineData("logo eq \"borrowed\"", false)]
    [InlineData("storage gt 1000", true)]
    [InlineData("domains eq \"b.example\"", true)]
    public void A_filter_reads_the_value_of_a_fact(string filter, bool holds)
    {
        var harbour = new Harbour();
        var line = new ComputedSite(Site() with { Facts = SampleFacts.All }, harbour.Organisation, harbour.PeopleDirectory);
        Assert.Equal(
            Truths.Of(holds),
            new ColumnsOfLines<ComputedSite>([line]).Evaluate(Core.Filters.Filter.Parse(filter, SiteAttributes.List))[0]
        );
    }

    [Theory]
    [InlineData(0, 0)]
    [InlineData(1, 1)]
    [InlineData(1000, 1)]
    [InlineData(1001, 2)]
    public void Storage_is_filtered_in_kilobytes_rounded_up(long bytes, long kilobytes)
    {
        var harbour = new Harbour();
        var line = new ComputedSite(Site() with { Bytes = Known.Of(bytes) }, harbour.Organisation, harbour.PeopleDirectory);
        var filter = Core.Filters.Filter.Parse($"storage eq {kilobytes}", SiteAttributes.List);
        Assert.Equal(Truth.Yes, new ColumnsOfLines<ComputedSite>([line]).Evaluate(filter)[0]);
    }
}
