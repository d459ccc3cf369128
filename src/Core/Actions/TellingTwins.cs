using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>Two sites with near names that are both right, as their names are now: another name of one of them opens the question
/// again.</summary>
/// <param name="One">The one with the lower number.</param>
/// <param name="Meaning">The meaning of its name.</param>
public sealed record BothRight(
    SiteId One,
    string Meaning,
    SiteId Other,
    string OtherMeaning,
    string? Reason,
    PersonId By,
    DateTimeOffset At
);

/// <summary>Says of two sites with near names that both are right, and undoes it. No site changes.</summary>
public static class TellingTwins
{
    /// <summary>A reason is optional; names tell apart by themselves.</summary>
    public static IReadOnlyList<Remark> Refusals(string? reason) => [.. HostChanges.TooLong(reason)];

    /// <summary>An entry on each of the two sites.</summary>
    public static IReadOnlyList<Draft> Entries(BothRight said) =>
        Entries(JournalAction.TwinsBothRight, said, said.By, said.Reason);

    public static IReadOnlyList<Draft> OpenedAgain(BothRight said, PersonId by) =>
        Entries(JournalAction.TwinsOpenedAgain, said, by, null);

    private static IReadOnlyList<Draft> Entries(JournalAction action, BothRight said, PersonId by, string? reason) =>
        [
            .. new[] { (said.One, said.Other), (said.Other, said.One) }.Select(pair => new Draft(
                action,
                EntryActor.Of(by),
                EntrySubject.Of(pair.Item1)
            )
            {
                After = JournalValue.Of(("with", JournalValue.Of(EntrySubject.Of(pair.Item2)))),
                Reason = reason,
            }),
        ];
}
