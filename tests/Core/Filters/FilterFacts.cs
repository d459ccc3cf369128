using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Filters;

public class FilterFacts
{
    private static readonly Harbour Here = new();

    [Theory]
    [InlineData("name eq \"PILOT boarding notes\"", Truth.Yes)]
    [InlineData("name co \"boarding\" and status eq \"published\"", Truth.Yes)]
    [InlineData("name sw \"pilot\" and name ew \"notes\"", Truth.Yes)]
    [InlineData("NOT (name co \"x\") AND status EQ \"PUBLISHED\"", Truth.Yes)]
    [InlineData("address eq \"SLIPWAY.example/pilot-boarding\"", Truth.No)]
    [InlineData("classification eq \"Guarded\"", Truth.No)]
    [InlineData("classification ne \"Guarded\"", Truth.Yes)]
    [InlineData("classification gt \"A\"", Truth.No)]
    [InlineData("classification pr", Truth.No)]
    [InlineData("classification eq null", Truth.Yes)]
    [InlineData("classification ne null", Truth.No)]
    [InlineData("created pr", Truth.Unknown)]
    [InlineData("created gt \"2020-01-01T00:00:00Z\"", Truth.Unknown)]
    [InlineData("created ne null or status eq \"published\"", Truth.Yes)]
    [InlineData("status gt \"never-published\" and status lt \"unpublished-changes\"", Truth.Yes)]
    [InlineData("status eq \"sunk\"", Truth.Unknown)]
    [InlineData("view.inside eq \"named\"", Truth.Yes)]
    [InlineData("view.outside le \"named-guests\"", Truth.Yes)]
    [InlineData("owners[standing eq \"left\" and active eq false]", Truth.Yes)]
    [InlineData("owners[standing eq \"left\" and active eq true]", Truth.No)]
    [InlineData("owners.standing eq \"current\"", Truth.Yes)]
    [InlineData("owners.standing ne \"left\"", Truth.No)]
    [InlineData("owners[standing ne \"left\"]", Truth.Yes)]
    [InlineData("owners eq \"idris.vane@merrowby.example\"", Truth.Yes)]
    [InlineData("owners pr", Truth.Yes)]
    [InlineData("owners.active.count eq 1", Truth.Yes)]
    [InlineData("owners.active.count gt 0.5", Truth.Yes)]
    [InlineData("units eq \"MAR\"", Truth.Yes)]
    [InlineData("units eq \"YRD\"", Truth.No)]
    [InlineData("exceeds eq true", Truth.Yes)]
    [InlineData("underway eq false", Truth.Yes)]
    [InlineData("status eq \"offline\" or name pr and classification pr", Truth.No)]
    [InlineData("(status eq \"published\" or name pr) and classification pr", Truth.No)]
    [InlineData("name   eq   \"\\u0050ilot boarding notes\"", Truth.Yes)]
    public void A_filter_judges_a_site(string filter, Truth expected) =>
        Assert.Equal(expected, Judge(filter, Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Lund))));

    [Fact]
    public void An_incomplete_list_answers_yes_where_the_element_is_found_and_else_cannot_tell()
    {
        var harbour = new Harbour();
        harbour.Groups.Add(new Group(new GroupId(1), "Keepers", [Member.Of(Vane)], Complete: false));
        var line = new ComputedSite(Site(ToGroup(Power.Own, new GroupId(1))), harbour.Organisation, harbour.PeopleDirectory);

        Assert.Equal(Truth.Yes, Judge("owners.name co \"Vane\"", line));
        Assert.Equal(Truth.Unknown, Judge("owners.name co \"Quist\"", line));
        Assert.Equal(Truth.Unknown, Judge("owners.active.count ge 2", line));
        Assert.Equal(Truth.Yes, Judge("owners.active.count ge 1", line));
    }

    [Theory]
    [InlineData("", 1, "expected the name of an attribute")]
    [InlineData("name", 5, "expected the name of an attribute")]
    [InlineData("name is \"x\"", 6, "expected one of eq ne co sw ew gt ge lt le pr after \"name\"")]
    [InlineData("nam eq \"x\"", 1, "there is no attribute \"nam\"")]
    [InlineData("name eq x", 9, "expected a quoted text, a number, true, false or null")]
    [InlineData("name eq \"x", 9, "this quote is never closed")]
    [InlineData("name eq 3", 9, "\"name\" is compared with a text in quotes")]
    [InlineData("status co \"li\"", 1, "\"status\" is not text, so co, sw and ew do not apply")]
    [InlineData(
        "created gt \"yesterday\"",
        12,
        "expected an instant such as \"2026-11-24T07:00:00Z\", or days from today such as \"-P90D\""
    )]
    [InlineData("name pr name pr", 9, "expected \"and\", \"or\" or the end of the filter")]
    [InlineData("(name pr", 9, "expected \")\"")]
    [InlineData("owners[owners[active eq true]]", 14, "brackets do not nest")]
    [InlineData("name[active eq true]", 1, "\"name\" is not a list, so it takes no brackets")]
    [InlineData("owners[weight eq 3]", 8, "there is no attribute \"weight\"")]
    [InlineData("exceeds gt true", 1, "\"exceeds\" is true or false, so it takes eq or ne only")]
    [InlineData("name gt null", 9, "null takes eq or ne only")]
    [InlineData("name eq \"\\x\"", 11, "this is not an escape of JSON")]
    [InlineData(
        "created gt \"11/12/2026\"",
        12,
        "expected an instant such as \"2026-11-24T07:00:00Z\", or days from today such as \"-P90D\""
    )]
    [InlineData(
        "created gt \"10:00\"",
        12,
        "expected an instant such as \"2026-11-24T07:00:00Z\", or days from today such as \"-P90D\""
    )]
    [InlineData(
        "created gt \"2026-11-24\"",
        12,
        "expected an instant such as \"2026-11-24T07:00:00Z\", or days from today such as \"-P90D\""
    )]
    [InlineData("pages ge 05", 10, "expected a number as JSON has it, such as 5 or -0.5")]
    [InlineData("pages ge +5", 10, "expected a number as JSON has it, such as 5 or -0.5")]
    [InlineData("pages ge .5", 10, "expected a number as JSON has it, such as 5 or -0.5")]
    [InlineData("pages ge 1e99", 10, "this number is too large")]
    [InlineData("name eq\"x\"", 8, "expected a space and a value after \"eq\"")]
    [InlineData("name eq \"a\tb\"", 11, "a control character stands in a text; write it as an escape, such as \\t")]
    public void An_error_names_the_column_and_what_is_wrong(string filter, int column, string message)
    {
        var error = Assert.Throws<FilterError>(() => Filter.Parse(filter, SiteAttributes.List));

        Assert.Equal((column, message), (error.Column, error.Message));
    }

    [Fact]
    public void Of_a_list_ne_null_is_present_and_eq_null_is_not()
    {
        var line = new ComputedSite(
            Site(ToPerson(Power.Own, Vane), ToPerson(Power.Own, Agent)),
            Here.Organisation,
            Here.PeopleDirectory
        );

        // The guest has no unit and Vane has one: so some elements of the list have one, but not all.
        Assert.Equal(Truth.Yes, Judge("owners.unit ne null", line));
        Assert.Equal(Judge("owners.unit pr", line), Judge("owners.unit ne null", line));
        Assert.Equal(Truth.No, Judge("owners.unit eq null", line));
        Assert.Equal(Truth.Yes, Judge("owners[unit eq null]", line));
    }

    [Fact]
    public void A_filter_of_any_length_is_read_and_judged() =>
        Assert.Equal(Truth.Yes, Judge(string.Join(" and ", Enumerable.Repeat("name pr", 200_000)), Site()));

    [Fact]
    public void A_filter_nested_without_end_is_refused() =>
        Assert.Throws<FilterError>(() =>
            Filter.Parse(new string('(', 100_000) + "name pr" + new string(')', 100_000), SiteAttributes.List)
        );

    [Theory]
    [InlineData("edited ge \"-P3D\"", Truth.Yes)]
    [InlineData("edited lt \"-P2D\"", Truth.Yes)]
    [InlineData("edited lt \"-P3D\"", Truth.No)]
    [InlineData("edited lt \"P0D\"", Truth.Yes)]
    [InlineData("edited lt \"+P99999D\"", Truth.Yes)]
    [InlineData("edited gt \"-P99999D\"", Truth.Yes)]
    public void A_period_is_the_first_instant_of_the_day_so_many_days_from_today(string filter, Truth expected)
    {
        var line = new ComputedSite(
            Site() with
            {
                LastEdit = Known.Of(OnTheDay.Time.StartOf(OnTheDay.Day.AddDays(-3))),
            },
            Here.Organisation,
            Here.PeopleDirectory
        );
        var parsed = Filter.Parse(filter, SiteAttributes.List, OnTheDay);

        Assert.Equal(expected, new ColumnsOfLines<ComputedSite>([line]).Evaluate(parsed)[0]);
        Assert.True(Filter.CountsDays(filter));
        Assert.Equal(
            (11, "a period cannot be compared with here; write an instant"),
            Assert.Throws<FilterError>(() => Filter.Parse(filter, SiteAttributes.List)) is var error
                ? (error.Column, error.Message)
                : default
        );
    }

    private static Truth Judge(string filter, SiteFacts site) =>
        Judge(filter, new ComputedSite(site, Here.Organisation, Here.PeopleDirectory));

    private static Truth Judge(string filter, ComputedSite line) =>
        new ColumnsOfLines<ComputedSite>([line]).Evaluate(Filter.Parse(filter, SiteAttributes.List))[0];
}
