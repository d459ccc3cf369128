using AtticLedger.Core.Filters;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>The verdicts on a site as its row keeps them.</summary>
internal interface IFindingsOfRow
{
    IReadOnlyList<Rule> Breaks { get; }

    IReadOnlyList<Cause> Causes { get; }

    IReadOnlyList<Rule> Excepted { get; }

    IReadOnlyList<Rule> Unsure { get; }

    int Gravity { get; }
}

/// <summary>The verdicts on a site whose other values stay.</summary>
internal sealed record FindingsOfRow(
    IReadOnlyList<Rule> Breaks,
    IReadOnlyList<Cause> Causes,
    IReadOnlyList<Rule> Excepted,
    IReadOnlyList<Rule> Unsure,
    int Gravity
) : IFindingsOfRow;

/// <summary>The attributes that follow from rules. Rules use the others only.</summary>
public static class FindingAttributes
{
    public const string Causes = "causes";

    private static readonly AttributeList<Rule> RuleParts = new([
        new TextAttribute<Rule>("value", "the rule's id", rule => Known.Of(rule.Id.Value)),
        new WordAttribute<Rule>("level", "the level of the rule", ["note", "warning", "critical"], rule =>
            Known.Of(Span.Exactly(2 - (int)rule.Level))
        ),
    ]);

    private static readonly AttributeList<Cause> CauseParts = new([
        new TextAttribute<Cause>(
            "value",
            "the mail address of an owner, that of a person who has left and the host, or the rule's id",
            cause => Known.Of(cause.Name)
        ),
    ]);

    internal static IReadOnlyList<Attribute<TRow>> Of<TRow>()
        where TRow : IFindingsOfRow =>
        [
            new ListAttribute<TRow, Rule>("breaks", "the rules that the site breaks", RuleParts, row => new(row.Breaks, true)),
            new ListAttribute<TRow, Cause>(
                Causes,
                "what its findings are decided by: an owner who leaves or has left, a person who has left and still has access at a host, or the rule",
                CauseParts,
                row => new(row.Causes, true)
            ),
            new ListAttribute<TRow, Rule>("excepted", "the rules that it breaks and has an exception from", RuleParts, row =>
                new(row.Excepted, true)
            ),
            new ListAttribute<TRow, Rule>("unsure", "the rules that cannot tell", RuleParts, row => new(row.Unsure, true)),
            new NumberAttribute<TRow>(
                "gravity",
                "its urgency: by broken critical rules, then by access from outside, then by warnings, notes, and rules that cannot tell",
                row => Known.Of(Span.Exactly(row.Gravity))
            ),
        ];
}

/// <summary>How urgent a site is, as a number: six bits for each count, the most serious first.</summary>
internal static class Gravity
{
    private const int Most = 63;
    private const int OutsideAt = 18;

    /// <param name="outside">Access from outside to view and to edit, from 0 to 6.</param>
    public static int Of(IReadOnlyList<Rule> breaks, int unsure, int outside)
    {
        var counts = (stackalloc int[3]);
        foreach (var rule in breaks)
        {
            counts[(int)rule.Level]++;
        }

        return (Math.Min(Most, counts[(int)Level.Critical]) << 24)
            | (outside << OutsideAt)
            | (Math.Min(Most, counts[(int)Level.Warning]) << 12)
            | (Math.Min(Most, counts[(int)Level.Note]) << 6)
            | Math.Min(Most, unsure);
    }

    /// <summary>The access from outside that a number contains.</summary>
    public static int OutsideOf(int gravity) => (gravity >> OutsideAt) & Most;
}
