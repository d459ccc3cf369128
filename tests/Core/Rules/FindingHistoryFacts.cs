using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Rules;

/// <summary>What became of findings between two recordings, and which event began one.</summary>
public class FindingHistoryFacts
{
    private static readonly Gen<IReadOnlyList<RecordedFinding>> AnyFindings = (
        from site in Gen.Long[1, 6]
        from rule in Among("R-01", "R-02")
        from verdict in Among(Verdict.Breaks, Verdict.Excepted, Verdict.CannotTell)
        from unit in Among("PIL", "YRD", "")
        select new RecordedFinding(new SiteId(site), new RuleId(rule), verdict, unit)
    )
        .List[0, 12]
        .Select(all => (IReadOnlyList<RecordedFinding>)[.. all.DistinctBy(one => (one.Site, one.Rule))]);

    [Fact]
    public void The_changes_add_up_to_the_open_findings_of_every_rule_and_unit() =>
        AnyFindings
            .Select(AnyFindings)
            .Sample(
                (before, after) =>
                {
                    var counts = FindingHistory.Between(before, after).ToDictionary(one => (one.Rule, one.Unit));
                    foreach (var key in before.Concat(after).Select(one => (one.Rule, one.Unit)).Distinct())
                    {
                        int Open(IEnumerable<RecordedFinding> all) =>
                            all.Count(one => (one.Rule, one.Unit) == key && one.Verdict == Verdict.Breaks);
                        Assert.Equal(Open(after) - Open(before), counts.GetValueOrDefault(key)?.Change ?? 0);
                    }

                    Assert.Empty(FindingHistory.Between(after, after));
                },
                iter: 2000
            );

    [Theory]
    [InlineData(null, Verdict.Breaks, 1, 0, 0, 1)]
    [InlineData(Verdict.Breaks, null, 0, 1, 0, -1)]
    [InlineData(Verdict.Breaks, Verdict.Excepted, 0, 0, 1, -1)]
    [InlineData(Verdict.Excepted, Verdict.Breaks, 1, 0, 0, 1)]
    [InlineData(Verdict.Excepted, null, 0, 0, 0, 0)]
    [InlineData(Verdict.Breaks, Verdict.CannotTell, 0, 0, 0, -1)]
    [InlineData(Verdict.CannotTell, Verdict.Breaks, 0, 0, 0, 1)]
    [InlineData(Verdict.CannotTell, null, 0, 0, 0, 0)]
    public void A_finding_opens_clears_or_is_excepted_and_what_cannot_be_told_is_neither(
        Verdict? before,
        Verdict? after,
        int opened,
        int cleared,
        int excepted,
        int change
    )
    {
        static IEnumerable<RecordedFinding> Of(Verdict? verdict) =>
            verdict is { } its ? [new RecordedFinding(new SiteId(1), new RuleId("R-01"), its, "PIL")] : [];

        var counts = FindingHistory.Between(Of(before), Of(after)).SingleOrDefault();

        Assert.Equal(
            (opened, cleared, excepted, change),
            counts is null ? default : (counts.Opened, counts.Cleared, counts.Excepted, counts.Change)
        );
    }

    [Fact]
    public void Where_sites_were_added_a_limit_that_was_read_with_them_began_nothing()
    {
        var events = new FindingEvents();
        events.Add(4, EntrySubject.Organisation, JournalAction.VocabularyChanged);
        Assert.Equal(4, events.BegunBy(new SiteId(1), new RuleId("R-01")));
        events.Add(9, EntrySubject.Organisation, JournalAction.RegisterImported);
        Assert.Equal(9, events.BegunBy(new SiteId(1), new RuleId("R-01")));
    }

    [Fact]
    public void The_rules_own_entry_began_it_before_one_of_the_organisation_the_site_or_people()
    {
        var (site, rule) = (new SiteId(1), new RuleId("R-01"));
        List<(long, EntrySubject?, JournalAction?)> entries =
        [
            (1, EntrySubject.Organisation, JournalAction.PeopleSynced),
            (2, EntrySubject.Of(new SiteId(2)), JournalAction.SiteRestrict),
            (3, EntrySubject.Of(site), JournalAction.SiteRestrict),
            (4, EntrySubject.Organisation, JournalAction.VocabularyChanged),
            (5, EntrySubject.Of(new RuleId("R-02")), JournalAction.RuleWritten),
            (6, EntrySubject.Of(rule), JournalAction.RuleWritten),
        ];

        long? Of(int first)
        {
            var events = new FindingEvents();
            foreach (var (number, subject, action) in entries[..first])
            {
                events.Add(number, subject, action);
            }

            return events.BegunBy(site, rule);
        }

        Assert.Equal([null, 1, 1, 3, 4, 4, 6], Enumerable.Range(0, 7).Select(Of));
    }
}
