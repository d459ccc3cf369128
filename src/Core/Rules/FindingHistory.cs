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

/// <summary>How findings differ between two recordings, and which event began a new one.</summary>
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

    /// <summary>The number of the entry that began a finding, of those since the last recording: the rule's own before those that
    /// concern the whole organisation, the site or people; of equals the first. Null if only a day has passed.</summary>
    public static long? BegunBy(
        SiteId site,
        RuleId rule,
        IReadOnlyList<(long Number, EntrySubject? Subject, JournalAction? Action)> since
    )
    {
        long? First(Func<EntrySubject?, Changed, bool> fits) =>
            since
                .Where(entry => fits(entry.Subject, entry.Action?.Changes ?? Changed.Organisation))
                .Select(entry => (long?)entry.Number)
                .FirstOrDefault();
        return First((subject, changed) => changed == Changed.Rules && subject == EntrySubject.Of(rule))
            ?? First((_, changed) => changed == Changed.Organisation)
            ?? First((subject, changed) => changed == Changed.Site && subject == EntrySubject.Of(site))
            ?? First((_, changed) => changed == Changed.People);
    }

    private static bool IsOpen(RecordedFinding? finding) => finding?.Verdict == Verdict.Breaks;
}
