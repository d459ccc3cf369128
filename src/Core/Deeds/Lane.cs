using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>What came back from a host.</summary>
public abstract record HostAnswer
{
    private HostAnswer() { }

    /// <summary>Carried out; the host's sharing of the site as it is now, and where it was put away its place in the bin.</summary>
    /// <param name="Grants">Null where the host withholds them, and nothing of them was asked for.</param>
    public sealed record Done(IReadOnlyList<Grant>? Grants, PowerLimits? OwnLimit, Bin? Bin = null, string? Address = null)
        : HostAnswer;

    public sealed record Refused(string Words) : HostAnswer;

    public sealed record Later(TimeSpan After, string Words) : HostAnswer;

    /// <summary>No answer: the order may or may not have had its effect.</summary>
    public sealed record Lost(string Words) : HostAnswer;
}

/// <summary>
/// The steps of one site's lane. Each is a function of the order and the moment; the database and the network stand
/// between them, and a server may die there.
/// </summary>
public static class Lane
{
    public static readonly TimeSpan LeaseTime = TimeSpan.FromSeconds(30);
    public static readonly TimeSpan DueWithin = TimeSpan.FromMinutes(5);
    public const int MostAttempts = 200;

    /// <summary>The oldest open order of a lane, if it may be taken now: not leased by a living worker and not waiting.</summary>
    public static Order? Next(IEnumerable<Order> lane, DateTimeOffset now) =>
        Oldest(lane) is { } oldest && MayBeTaken(oldest) <= now ? oldest : null;

    /// <summary>The order that all others of a lane wait behind.</summary>
    public static Order? Oldest(IEnumerable<Order> lane) => lane.Where(order => order.State.IsOpen()).MinBy(order => order.Place);

    /// <summary>From when on an order may be taken; one that a person has never comes up by itself.</summary>
    public static DateTimeOffset MayBeTaken(Order order) =>
        order.LeaseUntil > order.NextTry ? order.LeaseUntil.Value : order.NextTry;

    /// <summary>
    /// A last look before a host is first asked: an order may have waited long, and nobody who has left meanwhile is given a
    /// key. The order is then withdrawn, with the reason; null where it can go.
    /// </summary>
    public static Order? Withdrawn(Order order, Roll roll)
    {
        var left = order
            .Wish.Grants.Select(change => change.Wanted)
            .Where(grant =>
                order.State == OrderState.Asked
                && order.Purpose is OrderPurpose.Key or OrderPurpose.BringBack
                && grant?.Power == Power.Own
            )
            .Select(grant =>
                grant!.Subject is Subject.OnePerson(var person)
                && roll.PlaceOf(person) is { } place
                && roll.Standings[place] == Standing.Left
                    ? roll.People[place]
                    : null
            )
            .FirstOrDefault(person => person is not null);
        return left is null
            ? null
            : order.Move(OrderEvent.Withdraw) with
            {
                Words = $"{left.Name} was to take the key and has left.",
            };
    }

    public static Order Take(Order order, string worker, DateTimeOffset now) =>
        order.Move(OrderEvent.Send) with
        {
            Attempts = order.Attempts + 1,
            SentAt = order.SentAt ?? now,
            Lease = worker,
            LeaseUntil = now + LeaseTime,
        };

    public static Order Answered(Order order, HostAnswer answer, DateTimeOffset now)
    {
        var free = order with { Lease = null, LeaseUntil = null };
        return answer switch
        {
            HostAnswer.Done => free.Move(OrderEvent.Confirm) with { ConfirmedAt = now, Words = null },
            HostAnswer.Refused(var words) => free.Move(OrderEvent.Refuse) with { Words = words },
            _ when order.Attempts >= MostAttempts => free.Move(OrderEvent.GiveUp),
            HostAnswer.Later(var after, var words) => free.Move(OrderEvent.Wait) with
            {
                NextTry = now + Longer(after, Pause(order.Attempts)),
                Words = words,
            },
            HostAnswer.Lost(var words) => free.Move(OrderEvent.Wait) with
            {
                NextTry = now + Pause(order.Attempts),
                Words = words,
            },
            _ => throw new InvalidOperationException("Every answer is handled above."),
        };
    }

    /// <summary>What a read that began at <paramref name="readBegan"/> says about a confirmed order; an earlier read says nothing.</summary>
    /// <param name="later">What was asked of the same site after it: where that changes the same, what is seen is no contradiction of the order.</param>
    public static Order Seen(
        Order order,
        SiteFacts seen,
        IReadOnlyCollection<Wish> later,
        DateTimeOffset readBegan,
        DateTimeOffset now
    ) =>
        order.State != OrderState.Confirmed || readBegan < order.ConfirmedAt
            ? order
            : order.Wish.Without(later).IsSoIn(seen) switch
            {
                Truth.Yes => order.Move(OrderEvent.SeenSo) with { SeenAt = now },
                Truth.No => order.Move(OrderEvent.SeenOtherwise) with { SeenAt = now },
                _ => order,
            };

    /// <summary>One second, doubled with each attempt, a minute at the most.</summary>
    public static TimeSpan Pause(int attempts) => TimeSpan.FromSeconds(Math.Min(60, Math.Pow(2, Math.Min(attempts - 1, 6))));

    private static TimeSpan Longer(TimeSpan a, TimeSpan b) => a > b ? a : b;
}
