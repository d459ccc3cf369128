using AtticLedger.Core.Filters;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A line with the findings on it: what the register is filtered and sorted by.</summary>
public sealed record JudgedLine(SiteLine Line, IReadOnlyList<Finding> Findings)
{
    private static readonly AttributeList<Finding> FindingParts = new(
    [
        new TextAttribute<Finding>("value", "the rule's id", finding => Known.Of(finding.Rule.Id.Value)),
        new WordAttribute<Finding>("level", "how much the rule matters", ["look", "should", "must"], finding => Known.Of(Span.Exactly(2 - (int)finding.Rule.Level))),
    ]);

    /// <summary>All attributes of a site, and its findings. Rules speak of the former only.</summary>
    public static readonly AttributeList<JudgedLine> Attributes = new(
    [
        .. SiteAttributes.List.All.Select(attribute => attribute.Of<JudgedLine>(judged => judged.Line)),
        new ListAttribute<JudgedLine, Finding>("breaks", "the rules that the site breaks", FindingParts, judged => new Listed<Finding>(judged.Breaking, true)),
        new ListAttribute<JudgedLine, Finding>("unsure", "the rules of which it cannot be told", FindingParts, judged => new Listed<Finding>([.. judged.Findings.Except(judged.Breaking)], true)),
    ]);

    public IReadOnlyList<Finding> Breaking { get; } = [.. Findings.Where(finding => finding.Verdict == Verdict.Breaks)];

    /// <summary>Worst first: by broken rules that must, then should be kept, then by what cannot be told; then by title.</summary>
    public static IComparer<JudgedLine> WorstFirst { get; } = Comparer<JudgedLine>.Create((a, b) =>
    {
        var order = Weight(b).CompareTo(Weight(a));
        return order != 0 ? order : ByTitle!.Compare(a, b);
    });

    public static IComparer<JudgedLine> ByTitle { get; } = Comparer<JudgedLine>.Create((a, b) =>
    {
        var order = string.Compare(a.Line.Site.Title, b.Line.Site.Title, StringComparison.OrdinalIgnoreCase);
        return order != 0 ? order : a.Line.Site.Id.Value.CompareTo(b.Line.Site.Id.Value);
    });

    /// <summary>The latest edit first; unknown last.</summary>
    public static IComparer<JudgedLine> LatestEdit { get; } = Comparer<JudgedLine>.Create((a, b) =>
    {
        var order = b.Line.Site.LastEdit.Or(DateTimeOffset.MinValue).CompareTo(a.Line.Site.LastEdit.Or(DateTimeOffset.MinValue));
        return order != 0 ? order : ByTitle.Compare(a, b);
    });

    private static (int Must, int Outside, int Should, int Look, int Unsure) Weight(JudgedLine judged) =>
        (Count(judged, Level.Must), (int)judged.Line.Passage(Power.Edit).Actual.AtLeast.Doors.Widest + (int)judged.Line.Passage(Power.View).Actual.AtLeast.Doors.Widest,
            Count(judged, Level.Should), Count(judged, Level.Look), judged.Findings.Count - judged.Breaking.Count);

    private static int Count(JudgedLine judged, Level level) => judged.Breaking.Count(finding => finding.Rule.Level == level);
}

/// <summary>
/// The register at one place of the feed: columns, verdicts and lines. Immutable; it can be thrown away and made anew
/// from the database.
/// </summary>
public sealed class JudgedSheet
{
    private readonly Dictionary<SiteId, int> placeOf;

    public JudgedSheet(IReadOnlyList<SiteLine> lines, RuleBook rules)
    {
        var findings = lines.Select(_ => new List<Finding>()).ToArray();
        foreach (var (rule, breaks) in rules.Judge(new Columns<SiteLine>(lines)))
        {
            foreach (var line in breaks.Lines())
            {
                findings[line].Add(new Finding(lines[line].Site.Id, rule, Verdict.Breaks));
            }

            foreach (var line in breaks.Lines(Truth.Unknown))
            {
                findings[line].Add(new Finding(lines[line].Site.Id, rule, Verdict.CannotTell));
            }
        }

        Lines = [.. lines.Zip(findings, (line, found) => new JudgedLine(line, found))];
        Columns = new Columns<JudgedLine>(Lines);
        placeOf = lines.Select((line, place) => (line.Site.Id, place)).ToDictionary(pair => pair.Id, pair => pair.place);
    }

    public IReadOnlyList<JudgedLine> Lines { get; }

    public Columns<JudgedLine> Columns { get; }

    public JudgedLine? Find(SiteId site) => placeOf.TryGetValue(site, out var place) ? Lines[place] : null;
}
