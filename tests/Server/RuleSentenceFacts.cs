using System.Net;
using System.Text.Json;

namespace AtticLedger.Server.Tests;

/// <summary>The expressions of rules as sentences of parts.</summary>
public class RuleSentenceFacts(Installation here)
{
    [Fact]
    public async Task Every_part_in_words_says_the_same_as_its_expression()
    {
        var bell = await here.SignIn("n.bell");
        var rules = (await bell.Get("/api/rules")).GetProperty("rules").EnumerateArray().ToList();
        var expressions = rules
            .SelectMany(rule => new[] { rule.GetProperty("scope").GetString()!, rule.GetProperty("demand").GetString()! })
            .Concat([
                "edited lt \"-P90D\" and not (edited ge \"2026-01-31T00:00:00Z\")",
                "owners[standing eq \"left\"] and not (owners.unit eq \"PIL\" or owners.unit eq \"TUG\")",
                "owners.standing ne \"left\" and not (tags ne \"harbour\") and edited lt \"-P200000D\"",
                "edited lt \"9999-12-31T23:30:00Z\" and edited ge \"0001-01-01T00:00:00Z\"",
                "unit ne \"PIL\" and title co \"plan | 100%\" and exceeds eq true and visits pr and pages ge 3",
            ])
            .Where(expression => expression.Length > 0)
            .ToList();
        var (inWords, written) = (0, new List<string>());
        foreach (var expression in expressions)
        {
            foreach (var part in Parts(await Sentence(bell, expression)))
            {
                var (text, clause) = (part.GetProperty("text").GetString()!, part.GetProperty("clause").GetString());
                Assert.Contains(text, expression, StringComparison.Ordinal);
                if (clause is null)
                {
                    written.Add(text);
                    continue;
                }

                inWords++;
                var again = await Sentence(bell, text, 0, clause);
                Assert.Equal(clause, Assert.Single(Parts(again)).GetProperty("clause").GetString());
                Assert.Equal(await Covered(bell, text), await Covered(bell, again.GetProperty("expression").GetString()!));
            }
        }

        Assert.True(inWords > written.Count, $"only as expressions: {string.Join("; ", written)}");
        Assert.Superset(
            new HashSet<string> { "owners.standing ne \"left\"", "not (tags ne \"harbour\")", "edited lt \"-P200000D\"" },
            written.ToHashSet()
        );
    }

    [Fact]
    public async Task A_part_is_added_replaced_and_removed_and_the_others_keep_their_text()
    {
        var bell = await here.SignIn("n.bell");
        var sentence = await Sentence(bell, "unit eq \"PIL\" or  unit eq \"TUG\"");
        Assert.Single(Parts(sentence));
        sentence = await Sentence(bell, sentence.GetProperty("expression").GetString()!, 1, "edited:before:180d");
        Assert.Equal(
            "(unit eq \"PIL\" or  unit eq \"TUG\") and edited lt \"-P180D\"",
            sentence.GetProperty("expression").GetString()
        );
        Assert.Equal(
            ["unit:is:PIL|TUG", "edited:before:180d"],
            Parts(sentence).Select(one => one.GetProperty("clause").GetString())
        );

        sentence = await Sentence(
            bell,
            "joining lt \"open\" and exceeds eq false and purpose pr",
            1,
            "owners.active.count:least:2"
        );
        Assert.Equal(
            "joining lt \"open\" and owners.active.count ge 2 and purpose pr",
            sentence.GetProperty("expression").GetString()
        );
        Assert.Equal(JsonValueKind.Null, Parts(sentence)[0].GetProperty("clause").ValueKind);

        sentence = await Sentence(bell, "purpose pr", 0);
        Assert.Equal("", sentence.GetProperty("expression").GetString());
        Assert.Empty(Parts(sentence));
    }

    [Fact]
    public async Task What_cannot_be_read_is_refused_with_its_column()
    {
        var bell = await here.SignIn("n.bell");
        async Task<int> Column(string expression, int? place, string? clause) => (
                await bell.Post(
                    "/api/rules/sentence",
                    new
                    {
                        expression,
                        place,
                        clause,
                    },
                    HttpStatusCode.BadRequest
                )
            ).GetProperty("column").GetInt32();
        Assert.Equal(16, await Column("purpose pr and ", null, null));
        Assert.Equal(1, await Column("purpose pr", 2, "unit:is:PIL"));
        Assert.Equal(1, await Column("purpose pr", 1, "pages:before:soon"));
        Assert.Equal(4001, await Column(string.Join(" and ", Enumerable.Repeat("purpose pr", 1_000)), null, null));
    }

    private static Task<JsonElement> Sentence(Caller caller, string expression, int? place = null, string? clause = null) =>
        caller.Post(
            "/api/rules/sentence",
            new
            {
                expression,
                place,
                clause,
            }
        );

    private static List<JsonElement> Parts(JsonElement sentence) => [.. sentence.GetProperty("parts").EnumerateArray()];

    private static async Task<int> Covered(Caller caller, string scope) =>
        (await caller.Post("/api/rules/try", new { scope, demand = "title pr" })).GetProperty("covers").GetInt32();
}
