using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A decision of the desk that is put off until the end of a day, or until it concerns a site that it did not concern
/// then.</summary>
/// <param name="Decision">What its findings have in common, as a clause of the register.</param>
/// <param name="Sites">The sites that it concerned.</param>
public sealed record PutOff(
    string Decision,
    DateOnly Through,
    string Reason,
    PersonId By,
    DateTimeOffset At,
    ValueList<SiteId> Sites
)
{
    public bool Holds(IEnumerable<SiteId> sites, DateTimeOffset now, OrganisationTime time) =>
        !time.IsOver(Through, now) && sites.ToHashSet().IsSubsetOf(Sites);
}

/// <summary>Puts decisions of the desk off and takes them up again. No finding changes.</summary>
public static class PuttingOff
{
    /// <summary>What can wait longer is an exception.</summary>
    public const int MostDays = 90;

    public static IReadOnlyList<Remark> Refusals(string? reason, DateOnly through, DateTimeOffset now, OrganisationTime time) =>
        [
            .. string.IsNullOrWhiteSpace(reason) ? [new PutOffNeedsReason()] : HostChanges.TooLong(reason),
            .. time.IsOver(through, now) ? [new LastDayPassed(through)]
            : through > time.DayOf(now).Plus(MostDays) ? [new PutOffTooLong(MostDays)]
            : Array.Empty<Remark>(),
        ];

    /// <param name="decision">The decision as the journal has it.</param>
    public static Draft Entry(PutOff putOff, IReadOnlyList<(string, JournalValue)> decision) =>
        new(JournalAction.DecisionPutOff, EntryActor.Of(putOff.By), EntrySubject.Organisation)
        {
            After = JournalValue.Of([
                .. decision,
                ("through", JournalValue.Of(putOff.Through.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))),
                ("sites", JournalValue.Of(putOff.Sites.Count)),
            ]),
            Reason = putOff.Reason,
        };

    public static Draft TakenUp(PersonId by, IReadOnlyList<(string, JournalValue)> decision) =>
        new(JournalAction.DecisionTakenUp, EntryActor.Of(by), EntrySubject.Organisation)
        {
            Before = JournalValue.Of([.. decision]),
        };
}
