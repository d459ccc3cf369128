using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Rules;
using AtticLedger.Formats.Bundle;

namespace AtticLedger.Formats.RuleBooks;

/// <summary>A file that is no rule book: where and why.</summary>
/// <param name="place">A JSON path, such as <c>$.rules[3].level</c>; empty for the file as a whole.</param>
public sealed class RuleBookError(string place, string what) : FormatException(place.Length == 0 ? what : $"{place}: {what}")
{
    public string Place => place;

    public string What => what;
}

/// <summary>A rule of a file.</summary>
/// <param name="Id">Its id in the book.</param>
/// <param name="Scope">Empty for all sites in use.</param>
/// <param name="From">Its first day; null for the day on which the file is imported.</param>
/// <param name="Enforcement">Null if its findings are only reported.</param>
public sealed record RuleOfFile(
    string Id,
    string Title,
    string Short,
    Level Level,
    string Demand,
    string Scope = "",
    DateOnly? From = null,
    Enforcement? Enforcement = null
)
{
    public RuleText Text =>
        new(Title, Short, Level, Scope, Demand) { Enforcement = Enforcement ?? Core.Rules.Enforcement.Report };
}

/// <summary>A rule book as JSON, UTF-8: see <c>docs/rule-book.schema.json</c>.</summary>
public static class RuleBookFile
{
    /// <summary>The greatest length in bytes.</summary>
    public const int Longest = 4_000_000;

    private const string Format = "rule-book";
    private const int Version = 1;

    private sealed record Book(string Format, int Version, IReadOnlyList<RuleOfFile> Rules);

    public static byte[] Write(IEnumerable<Rule> rules) =>
        JsonSerializer.SerializeToUtf8Bytes(
            new Book(
                Format,
                Version,
                [
                    .. rules.Select(rule => new RuleOfFile(
                        rule.Id.Value,
                        rule.Title,
                        rule.Short,
                        rule.Level,
                        rule.Demand.Expression,
                        rule.Scope,
                        rule.From,
                        rule.Enforcement.Asks ? rule.Enforcement : null
                    )),
                ]
            ),
            new JsonSerializerOptions(BundleJson.Options) { WriteIndented = true }
        );

    /// <exception cref="RuleBookError">It is no rule book.</exception>
    public static IReadOnlyList<RuleOfFile> Read(ReadOnlySpan<byte> json)
    {
        if (json.Length > Longest)
        {
            throw new RuleBookError("", $"a rule book has at most {Longest / 1_000_000} MB");
        }

        try
        {
            var book = JsonSerializer.Deserialize<Book>(json, BundleJson.Options);
            return book switch
            {
                null => throw new RuleBookError("$", "expected an object with format, version and rules"),
                { Format: not Format } => throw new RuleBookError("$.format", $"expected \"{Format}\""),
                { Version: not Version } => throw new RuleBookError("$.version", $"this version reads {Version}"),
                { Rules.Count: > RuleActions.MostRules } => throw new RuleBookError(
                    "$.rules",
                    $"a rule book has at most {RuleActions.MostRules} rules; this one has {book.Rules.Count}"
                ),
                // The annotations of elements are not checked.
                _ when book.Rules.ToList().IndexOf(null!) is >= 0 and var place => throw new RuleBookError(
                    $"$.rules[{place}]",
                    "expected a rule"
                ),
                _ when Twice(book.Rules) is { } id => throw new RuleBookError("$.rules", $"there are two rules {id}"),
                _ => book.Rules,
            };
        }
        catch (JsonException error)
        {
            throw new RuleBookError(error.Path ?? "", Plain(error));
        }
    }

    private static string? Twice(IReadOnlyList<RuleOfFile> rules) =>
        rules.GroupBy(rule => rule.Id, StringComparer.Ordinal).FirstOrDefault(its => its.Count() > 1)?.Key;

    // The program's own words name its types.
    private static string Plain(JsonException error) =>
        $"not as docs/rule-book.schema.json describes it{(error.LineNumber is { } line ? $", line {line + 1}" : "")}: a rule needs id, title, short, level and demand, and can have scope, from and enforcement";
}
