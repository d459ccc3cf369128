using System.Net;
using System.Text.Json;

namespace AtticLedger.Server.Tests;

/// <summary>The register's filters over HTTP: what they find, what they count, and their errors.</summary>
public class SentenceFacts(Installation here)
{
    [Theory]
    [InlineData("classification:is:Open", "classification eq \"Open\"", "classification is “Open”")]
    [InlineData(
        "classification:not:Open|Internal",
        "not (classification eq \"Open\" or classification eq \"Internal\")",
        "classification is not “Open” nor “Internal”"
    )]
    [InlineData("classification:none", "not (classification pr)", "classification is none")]
    [InlineData("name:has:tug", "name co \"tug\"", "name has “tug”")]
    [InlineData(
        "status:least:unpublished-changes",
        "status ge \"unpublished-changes\"",
        "status is at least unpublished changes"
    )]
    [InlineData("visits:most:10", "visits le 10", "the number of visits in a week is at most 10")]
    [InlineData("edited:before:2026-07-01", "edited lt \"2026-06-30T23:00:00Z\"", "the last edit is before 1 July 2026")]
    [InlineData("no-longer-reported:is:no", "no-longer-reported eq false", "not no longer reported by its host")]
    [InlineData(
        "owners.standing:is:left|leaving",
        "owners[standing eq \"left\" or standing eq \"leaving\"]",
        "an owner's standing is left or leaving"
    )]
    [InlineData("owners.unit:none", "not (owners[unit pr])", "an owner's unit is none")]
    [InlineData(
        "name:is:Harbour %7C Home|100 %257C",
        "(name eq \"Harbour | Home\" or name eq \"100 %7C\")",
        "name is “Harbour | Home” or “100 %7C”"
    )]
    [InlineData("name:has:a\") or (name pr", "name co \"a\\\") or (name pr\"", "name has “a\") or (name pr”")]
    public async Task A_clause_is_an_expression_and_has_words_and_finds_the_same(string clause, string filter, string words)
    {
        await here.Quiet();
        var bell = await here.SignIn("n.bell");
        var spoken = await bell.Get($"/api/register?limit=0&where={Uri.EscapeDataString(clause)}");
        var written = await bell.Get($"/api/register?limit=0&filter={Uri.EscapeDataString(filter)}");

        Assert.Equal(filter, spoken.GetProperty("filter").GetString());
        Assert.Equal([words], spoken.GetProperty("clauses").EnumerateArray().Select(said => said.GetString()));
        Assert.Equal(written.GetProperty("total").GetInt32(), spoken.GetProperty("total").GetInt32());
        Assert.Equal(written.GetProperty("cannotTell").GetInt32(), spoken.GetProperty("cannotTell").GetInt32());
    }

    [Theory]
    [InlineData("where=classification", "where", "is not attribute:how:value")]
    [InlineData("where=colour:is:red", "where", "there is no attribute \"colour\"")]
    [InlineData("where=owners.hat:is:red", "where", "there is no attribute \"owners.hat\"")]
    [InlineData("where=classification:least:Open", "where", "\"classification\" (text) has no comparison \"least\"")]
    [InlineData("where=visits:is:many", "where", "\"many\" is not a number")]
    [InlineData("where=edited:before:soon", "where", "neither a date such as 2026-01-31 nor a number of days ago")]
    [InlineData("where=classification:is", "where", "names no value")]
    [InlineData("filter=name%20is", "filter", "expected one of eq ne")]
    [InlineData("sort=owners", "sort", "cannot be sorted by \"owners\"")]
    [InlineData("show=hat", "show", "there is no attribute \"hat\"")]
    [InlineData("verdict=perhaps", "verdict", "there is no verdict \"perhaps\"")]
    [InlineData("status=sunk", "status", "there is no status \"sunk\"")]
    public async Task What_cannot_be_read_is_told_with_its_part(string query, string part, string message)
    {
        var bell = await here.SignIn("n.bell");
        var (status, body) = await bell.Send(HttpMethod.Get, $"/api/register?{query}");

        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Equal(part, body.GetProperty("part").GetString());
        Assert.Contains(message, body.GetProperty("message").GetString(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_choice_counts_what_choosing_it_leaves_and_shows_what_is_not_set()
    {
        await here.Quiet();
        var nair = await here.SignIn("h.nair");
        foreach (
            var of in new[] { "classification", "status", "owners.standing", "breaks.value", "units.value", "no-longer-reported" }
        )
        {
            var choices = await nair.Get($"/api/register/choices?of={of}&where={Uri.EscapeDataString("visits:least:1")}");
            foreach (var choice in choices.GetProperty("values").EnumerateArray())
            {
                var chosen = await nair.Get(
                    $"/api/register?limit=0&where={Uri.EscapeDataString("visits:least:1")}&where={Uri.EscapeDataString($"{of}:is:{choice.GetProperty("key").GetString()}")}"
                );
                Assert.Equal(choice.GetProperty("count").GetInt32(), chosen.GetProperty("total").GetInt32());
            }
        }

        var classes = await nair.Get("/api/register/choices?of=classification&find=guard");
        Assert.Equal(
            ["Guarded"],
            classes.GetProperty("values").EnumerateArray().Select(choice => choice.GetProperty("key").GetString())
        );
        var open = await nair.Get("/api/register?where=classification:is:Open&limit=500&verdict=cannot-tell&show=classification");
        Assert.Equal(classes.GetProperty("unknown").GetInt32(), open.GetProperty("total").GetInt32());
        Assert.All(open.GetProperty("lines").EnumerateArray(), line =>
            Assert.Equal("not known", line.GetProperty("cells")[0].GetString())
        );
    }

    [Fact]
    public async Task Rows_are_sorted_by_several_attributes_and_a_position_counts_in_that_sequence()
    {
        await here.Quiet();
        var bell = await here.SignIn("n.bell");
        var lines = (await bell.Get("/api/register?limit=500&sort=-status,title")).GetProperty("lines").EnumerateArray().ToList();
        var keys = lines.ConvertAll(line =>
            (
                Status: Statuses.IndexOf(
                    line.GetProperty("status").ValueKind == JsonValueKind.Null ? "" : line.GetProperty("status").GetString()!
                ),
                Title: line.GetProperty("title").GetString()!
            )
        );

        Assert.Equal(keys.OrderByDescending(key => key.Status).ThenBy(key => key.Title, StringComparer.OrdinalIgnoreCase), keys);
        var tenth = lines[10].GetProperty("id").GetInt64();
        Assert.Equal(10, (await bell.Get($"/api/register/places/{tenth}?sort=-status,title")).GetProperty("place").GetInt32());
    }

    private static readonly List<string> Statuses = ["", "never-published", "published", "unpublished-changes", "offline"];
}
