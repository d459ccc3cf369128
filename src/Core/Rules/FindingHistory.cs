using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A finding as it is recorded.</summary>
/// <param name="Unit">The code of the site's unit; empty if it has none or it is not known.</param>
public sealed record RecordedFinding(SiteId Site, RuleId Rule, Verdict Verdict, string Unit);

/// <summary>What became of the findings of a rule in a unit.</summary>
/// <param name="Opened">New findings, and those whose exception has ended.</param>
/// <param name="Cleared">Findings that ended by a known pass; <paramref name="Excepted"/>: that got an exception.</param>
/// <param name="Change">The change of the number of open findings: what cannot be told any more, and sites that moved to
/// another unit, are in it as well.</param>
public sealed record FindingCounts(RuleId Rule, string Unit, int Opened, int Cleared, int Excepted, int Change)
{
    public bool IsNothing => (Opened, Cleared, Excepted, Change) == default;
}

/// <summary>How findings differ between two recordings.</summary>
public static class FindingHistory
{
    /// <summary>The counts by rule and unit, without those that are all 0.</summary>
    public static IReadOnlyList<FindingCounts> Between(IEnumerable<RecordedFinding> before, IEnumerable<RecordedFinding> after)
    {
        var counts = new Dictionary<(RuleId, string), FindingCounts>();
        void Count(RecordedFinding at, Func<FindingCounts, FindingCounts> more) =>
            counts[(at.Rule, at.Unit)] = more(
                counts.GetValueOrDefault((at.Rule, at.Unit)) ?? new FindingCounts(at.Rule, at.Unit, 0, 0, 0, 0)
            );

        var was = before.ToDictionary(finding => (finding.Site, finding.Rule));
        foreach (var found in after)
        {
            was.Remove((found.Site, found.Rule), out var earlier);
            if (IsOpen(earlier))
            {
                Count(earlier!, one => one with { Change = one.Change - 1 });
            }

            if (IsOpen(found))
            {
                Count(found, one => one with { Change = one.Change + 1 });
            }

            switch (earlier?.Verdict, found.Verdict)
            {
                case (null or Verdict.Excepted, Verdict.Breaks):
                    Count(found, one => one with { Opened = one.Opened + 1 });
                    break;
                case (Verdict.Breaks, Verdict.Excepted):
                    Count(found, one => one with { Excepted = one.Excepted + 1 });
                    break;
            }
        }

        foreach (var gone in was.Values.Where(IsOpen))
        {
            Count(gone, one => one with { Cleared = one.Cleared + 1, Change = one.Change - 1 });
        }

        return [.. counts.Values.Where(one => !one.IsNothing)];
    }

    private static bool IsOpen(RecordedFinding? finding) => finding?.Verdict == Verdict.Breaks;
}

/// <summary>The entries since the last recording, as what can have begun a finding: the first about each rule and each site, and the
/// first about the organisation and about people.</summary>
public sealed class FindingEvents
{
    private readonly Dictionary<RuleId, long> rules = [];
    private readonly Dictionary<SiteId, long> sites = [];
    private long? organisation;
    private long? imported;
    private long? people;

    /// <param name="action">Null for one that this version does not know: it can concern everything.</param>
    public void Add(long number, EntrySubject? subject, JournalAction? action)
    {
        switch (action?.Changes ?? Changed.Organisation, subject)
        {
            case (Changed.Rules, EntrySubject.Rule(var rule)):
                rules.TryAdd(rule, number);
                break;
            case (Changed.Site, EntrySubject.Site(var site)):
                sites.TryAdd(site, number);
                break;
            case (Changed.Organisation, _) when action == JournalAction.RegisterImported:
                imported ??= number;
                break;
            case (Changed.Organisation, _):
                organisation ??= number;
                break;
            case (Changed.People, _):
                people ??= number;
                break;
        }
    }

    public void Clear()
    {
        rules.Clear();
        sites.Clear();
        (organisation, imported, people) = (null, null, null);
    }

    /// <summary>The number of the entry that began a finding: the rule's own before one that concerns the whole organisation, the
    /// site or people; where sites were added, that: what else happened then cannot have begun the findings of sites that were not there.
    /// Null if only a day has passed.</summary>
    public long? BegunBy(SiteId site, RuleId rule) =>
        rules.TryGetValue(rule, out var written) ? written
        : imported is { } added ? added
        : organisation is { } changed ? changed
        : sites.TryGetValue(site, out var own) ? own
        : people;
}
