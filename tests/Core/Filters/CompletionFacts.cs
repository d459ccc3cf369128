using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;

namespace AtticLedger.Core.Tests.Filters;

public class CompletionFacts
{
    [Theory]
    [InlineData("")]
    [InlineData("exceeds eq true and ")]
    [InlineData("not (")]
    [InlineData("(classification pr or ")]
    public void At_the_start_and_after_and_or_not_come_attributes_and_lists(string start)
    {
        var inserts = Inserts(start);
        Assert.Contains("visits ", inserts);
        Assert.Contains("owners.standing ", inserts);
        Assert.Contains("owners[", inserts);
        Assert.DoesNotContain("owners ", inserts);
    }

    [Fact]
    public void What_begins_with_the_word_comes_before_what_contains_it()
    {
        Assert.Equal("status ", Inserts("exceeds eq true AND st")[0]);
        Assert.Contains("owners.standing ", Inserts("exceeds eq true AND st"));
        Assert.Equal(["visited ", "visits "], Inserts("vis").Take(2));
    }

    [Theory]
    [InlineData("exceeds ", "eq pr")]
    [InlineData("visits g", "gt ge")]
    [InlineData("classification ", "eq ne co sw ew pr")]
    [InlineData("nonsense ", "")]
    [InlineData("status eq \"pub", "\"published\" \"never-published\" \"unpublished-changes\"")]
    [InlineData("exceeds eq ", "true false")]
    [InlineData("visits ge ", "")]
    [InlineData("owners[standing ", "eq ne gt ge lt le pr")]
    [InlineData("owners[standing eq \"left\"", "and or")]
    [InlineData("owners[standing eq \"left\"] ", "and or")]
    [InlineData("classification pr a", "and")]
    [InlineData("classification eq \"a \\\" and (b\" ", "and or")]
    [InlineData("classification eq \"a\" and and ", "")]
    [InlineData(") ", "")]
    public void Then_come_the_comparisons_and_values_that_fit(string begun, string inserts) =>
        Assert.Equal(inserts, string.Join(' ', Inserts(begun).Select(insert => insert.Trim())));

    [Fact]
    public void In_brackets_come_the_parts_of_the_list()
    {
        Assert.Equal(
            JudgedSite.Attributes.Find("owners") is ListAttribute<JudgedSite> owners ? owners.Parts.Count : 0,
            Inserts("owners[").Count
        );
        Assert.Contains("standing ", Inserts("owners["));
    }

    [Theory]
    [InlineData("classification eq \"Op", "classification")]
    [InlineData("owners eq ", "owners.value")]
    [InlineData("owners[value eq ", "owners.value")]
    [InlineData("status eq ", null)]
    public void Texts_have_the_values_of_the_register(string begun, string? attribute) =>
        Assert.Equal(attribute, At(begun).ValuesOf);

    [Theory]
    [InlineData("vis ge 3", 3, 0, "visits ", "visits ge 3")]
    [InlineData("visi ge 3", 2, 0, "visits ", "visits ge 3")]
    [InlineData(
        "classification eq \"Open\" and exceeds pr",
        21,
        18,
        "\"Guarded\" ",
        "classification eq \"Guarded\" and exceeds pr"
    )]
    [InlineData("classification pr", 0, 0, "status ", "status classification pr")]
    public void The_word_at_the_caret_is_replaced_and_the_rest_stays(
        string text,
        int caret,
        int from,
        string insert,
        string whole
    )
    {
        var completion = Completions.At(text, caret, JudgedSite.Attributes);
        Assert.Equal(from, completion.From);
        Assert.Equal(whole, text[..completion.From] + insert + text[completion.To..]);
    }

    [Fact]
    public void Every_option_makes_the_beginning_of_a_filter_that_is_read_on()
    {
        foreach (var begun in (string[])["", "visits ", "exceeds eq ", "status eq ", "exceeds pr ", "owners["])
        {
            foreach (var option in At(begun).Options)
            {
                Assert.NotNull(FilterParser.Expected(begun + option.Insert));
            }
        }
    }

    private static Completion At(string begun) => Completions.At(begun, begun.Length, JudgedSite.Attributes);

    private static IReadOnlyList<string> Inserts(string begun) => [.. At(begun).Options.Select(option => option.Insert)];
}
