using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.FirstWeek;

/// <summary>Somebody decides a fact of a site: a proposal is confirmed, a word is said, or a decision is taken back.</summary>
public static class Say
{
    public const string Deed = SiteRecord.SaidDeed;

    /// <summary>The values that can be chosen, with their names.</summary>
    public static IReadOnlyList<(string Code, string Name)> Choices(SaidFact fact, House house, Roll roll)
    {
        if (fact == SaidFact.Unit)
        {
            return [.. roll.Units.Select(unit => (unit.Code.Value, unit.Name))];
        }

        var terms = house.Terms.Where(term => term.Fact == fact).Select(term => (term.Code, term.Name)).ToList();
        var limited =
            fact == SaidFact.Class
                ? house
                    .Limits.Where(limit => limit.Kind == LayerKind.Class && terms.TrueForAll(term => term.Code != limit.Code))
                    .Select(limit => (limit.Code, limit.Code))
                : [];
        return [.. terms, .. limited];
    }

    /// <summary>Why a value cannot be said, or null.</summary>
    public static string? NotChosen(SaidFact fact, string? value, House house, Roll roll) =>
        !fact.IsDecidedHere() ? $"The {Word(fact)} is what its host says. Correct it there, or in the list that says otherwise."
        : Parts(fact, value).FirstOrDefault(part => Choices(fact, house, roll).All(choice => choice.Code != part))
            is not { } other
            ? null
        : Choices(fact, house, roll) is var choices && choices.Count == 0
            ? $"\"{other}\" cannot be said: the house has no {Word(fact)} yet."
        : $"\"{other}\" is no {Word(fact)} of the house. There are: {string.Join(", ", choices.Take(30).Select(choice => choice.Code))}{(choices.Count > 30 ? ", …" : "")}.";

    /// <summary>The site with the decision and what is written down; null where it stands so already.</summary>
    /// <param name="value">Unknown takes the decision back.</param>
    /// <param name="why">The evidence, where a proposal is confirmed.</param>
    public static (SiteFacts Site, Draft Entry)? Decide(
        SiteFacts site,
        SaidFact fact,
        Known<string> value,
        PersonId by,
        string? why,
        DateTimeOffset at
    )
    {
        var decided = site.Said.FirstOrDefault(statement => statement.Fact == fact && statement.Source == Statements.House);
        if (
            decided is null
                ? value.IsUnknown
                : !value.IsUnknown
                    && decided.Value == (value.Has(out var same) ? same : null)
                    && site.Disputed().All(disputed => disputed != fact)
        )
        {
            return null;
        }

        var said = site.Heard(fact, Statements.House, value, at, by);
        return (
            said,
            new Draft(Deed, $"person:{by.Value}", $"site:{site.Id.Value}")
            {
                Before = Of(fact, site.Of(fact), null),
                After = Of(fact, said.Of(fact), value.IsUnknown ? null : at),
                Reason = why,
            }.Telling(site, said)
        );
    }

    /// <summary>What follows for rules: how many sites can be told at last, and which rules clear and open for how many.</summary>
    public static SayEffect Effect(IReadOnlyList<JudgedLine> before, IReadOnlyList<JudgedLine> after)
    {
        int Count(IReadOnlyList<JudgedLine> lines, Verdict verdict, Rule rule) =>
            lines.Count(line => line.Findings.Any(finding => finding.Verdict == verdict && finding.Rule.Id == rule.Id));
        var rules = before
            .Concat(after)
            .SelectMany(line => line.Findings)
            .Select(finding => finding.Rule)
            .DistinctBy(rule => rule.Id)
            .OrderBy(rule => rule.Id.Value, StringComparer.Ordinal);
        return new SayEffect(
            before.Zip(after).Count(pair => IsUnsure(pair.First) && !IsUnsure(pair.Second)),
            [
                .. rules
                    .Select(rule =>
                        (rule, Before: Count(before, Verdict.Breaks, rule), After: Count(after, Verdict.Breaks, rule))
                    )
                    .Where(one => one.Before != one.After),
            ]
        );
    }

    // Of tags a site may have several.
    private static IReadOnlyList<string> Parts(SaidFact fact, string? value) =>
        value is null ? []
        : fact == SaidFact.Tags ? TagWords.Split(value)
        : [value];

    private static string Word(SaidFact fact) => fact == SaidFact.Tags ? "tag" : fact.ToString().ToLowerInvariant();

    private static bool IsUnsure(JudgedLine line) => line.Findings.Any(finding => finding.Verdict == Verdict.CannotTell);

    private static JournalValue Of(SaidFact fact, Known<string> value, DateTimeOffset? together) =>
        JournalValue.Of(
            ("fact", JournalValue.Of(fact.ToString().ToLowerInvariant())),
            (
                "value",
                value.Has(out var text) ? JournalValue.Of(text)
                : value.IsNone ? JournalValue.Null
                : JournalValue.Unknown
            ),
            ("together", together is { } at ? JournalValue.Of(at) : JournalValue.Null)
        );
}

/// <param name="Told">How many sites have no rule left that cannot be told.</param>
/// <param name="Rules">Rules that are broken by another number of these sites then.</param>
public sealed record SayEffect(int Told, IReadOnlyList<(Rule Rule, int Before, int After)> Rules);
