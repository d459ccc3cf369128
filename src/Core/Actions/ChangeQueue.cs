using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The response of a host.</summary>
public abstract record HostAnswer
{
    private HostAnswer() { }

    /// <summary>Carried out; with the site's sharing at the host now and, if moved to the attic, its place in the bin.</summary>
    /// <param name="Grants">Null if the host withholds them and the change did not concern them.</param>
    /// <param name="Forwards">The addresses that forward to it now; null if the answer does not say.</param>
    public sealed record Done(
        IReadOnlyList<Grant>? Grants,
        PowerLimits? OwnLimit,
        Bin? Bin = null,
        string? Address = null,
        Known<IReadOnlyList<Forward>>? Forwards = null
    ) : HostAnswer;

    public sealed record Refused(string Words) : HostAnswer;

    public sealed record Later(TimeSpan After, string Words) : HostAnswer;

    /// <summary>No response: the change may or may not have had its effect.</summary>
    public sealed record Lost(string Words) : HostAnswer;
}

/// <summary>The steps of one site's change queue. Each is a function of the change and the instant; the database and the network
/// are between them, and a server may be killed there.
/// </summary>
public static class ChangeQueue
{
    public static readonly TimeSpan LeaseTime = TimeSpan.FromSeconds(30);
    public static readonly TimeSpan DueWithin = TimeSpan.FromMinutes(5);
    public const int MostAttempts = 200;

    /// <summary>The oldest open change of a queue, if it can be sent now: not leased by a running worker and not
    /// waiting.</summary>
    public static HostChange? Next(IEnumerable<HostChange> changeQueue, DateTimeOffset now) =>
        Oldest(changeQueue) is { } oldest && MayBeTaken(oldest) <= now ? oldest : null;

    /// <summary>The change that all others of the queue wait for.</summary>
    public static HostChange? Oldest(IEnumerable<HostChange> changeQueue) =>
        changeQueue.Where(hostChange => hostChange.State.IsOpen()).MinBy(hostChange => hostChange.Place);

    /// <summary>The instant from which a change can be sent; a manual task never is.</summary>
    public static DateTimeOffset MayBeTaken(HostChange hostChange) =>
        hostChange.LeaseUntil > hostChange.NextTry ? hostChange.LeaseUntil.Value : hostChange.NextTry;

    /// <summary>A last check before the change is first sent: it may have waited long, and nobody who has left becomes owner.
    /// Returns the change as withdrawn, with the reason; null if it can be sent.
    /// </summary>
    public static HostChange? Withdrawn(HostChange hostChange, PeopleDirectory directory)
    {
        var left = hostChange
            .WantedState.Grants.Select(change => change.Wanted)
            .Where(grant =>
                hostChange.State == ChangeState.Queued
                && hostChange.Purpose is ChangePurpose.Owners or ChangePurpose.Restore
                && grant?.Power == Power.Own
            )
            .Select(grant =>
                grant!.Subject is Subject.OnePerson(var person)
                && directory.PlaceOf(person) is { } place
                && directory.Standings[place] == Standing.Left
                    ? directory.People[place]
                    : null
            )
            .FirstOrDefault(person => person is not null);
        return left is null
            ? null
            : hostChange.Move(ChangeEvent.Withdraw) with
            {
                Words = $"{left.Name} was to be the new owner and has left.",
            };
    }

    public static HostChange Take(HostChange hostChange, string worker, DateTimeOffset now) =>
        hostChange.Move(ChangeEvent.Send) with
        {
            Attempts = hostChange.Attempts + 1,
            SentAt = hostChange.SentAt ?? now,
            Lease = worker,
            LeaseUntil = now + LeaseTime,
        };

    public static HostChange Answered(HostChange hostChange, HostAnswer answer, DateTimeOffset now)
    {
        var free = hostChange with { Lease = null, LeaseUntil = null };
        return answer switch
        {
            HostAnswer.Done => free.Move(ChangeEvent.Confirm) with { ConfirmedAt = now, Words = null },
            HostAnswer.Refused(var words) => free.Move(ChangeEvent.Refuse) with { Words = words },
            _ when hostChange.Attempts >= MostAttempts => free.Move(ChangeEvent.GiveUp),
            HostAnswer.Later(var after, var words) => free.Move(ChangeEvent.Wait) with
            {
                NextTry = now + Longer(after, Pause(hostChange.Attempts)),
                Words = words,
            },
            HostAnswer.Lost(var words) => free.Move(ChangeEvent.Wait) with
            {
                NextTry = now + Pause(hostChange.Attempts),
                Words = words,
            },
            _ => throw new InvalidOperationException("Every answer is handled above."),
        };
    }

    /// <summary>What a sync that began at <paramref name="syncBegan"/> shows about a confirmed change; an earlier sync shows
    /// nothing.</summary>
    /// <param name="later">Later changes of the same site: where they concern the same facts, a difference does not contradict
    /// the change.</param>
    public static HostChange Seen(
        HostChange hostChange,
        SiteFacts seen,
        IReadOnlyCollection<WantedState> later,
        DateTimeOffset syncBegan,
        DateTimeOffset now
    ) =>
        hostChange.State != ChangeState.Confirmed || syncBegan < hostChange.ConfirmedAt
            ? hostChange
            : hostChange.WantedState.Without(later).IsSoIn(seen) switch
            {
                Truth.Yes => hostChange.Move(ChangeEvent.Verify) with { SeenAt = now },
                Truth.No => hostChange.Move(ChangeEvent.Contradict) with { SeenAt = now },
                _ => hostChange,
            };

    /// <summary>One second, doubled with each attempt, up to a minute.</summary>
    public static TimeSpan Pause(int attempts) => TimeSpan.FromSeconds(Math.Min(60, Math.Pow(2, Math.Min(attempts - 1, 6))));

    private static TimeSpan Longer(TimeSpan a, TimeSpan b) => a > b ? a : b;
}
