using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Register;

namespace AtticLedger.Server.Attic;

/// <summary>The two clocks of a put-away site, and what they come to.</summary>
/// <param name="Words">The one line that every screen shows.</param>
/// <param name="Left">What is left until it can no longer surely be brought back, in words.</param>
/// <param name="Passed">How much of the time has passed, 0 to 1.</param>
/// <param name="House">The last day on which the house keeps it.</param>
/// <param name="Host">When the host's own clock runs out, where it said so.</param>
public sealed record ClockWire(
    string Words,
    string Left,
    int DaysLeft,
    double Passed,
    bool IsDue,
    DateOnly House,
    DateTimeOffset? Host,
    bool HostIsFirst,
    DateTimeOffset? RecoverableUntil
)
{
    public static ClockWire Of(Clock clock, string host, DateTimeOffset now)
    {
        var left = clock.Left(now);
        return new ClockWire(
            clock.Words(host, now),
            left.Words,
            left.Days,
            clock.Passed(now),
            clock.IsDue(now),
            clock.LastDay,
            clock.HostEnds,
            clock.HostIsFirst,
            clock.RecoverableUntil
        );
    }
}

public sealed record HoldWire(long Id, string Reason, PersonWire By, DateTimeOffset From, DateOnly? Through);

/// <summary>A site in the attic, on its way in, or on its way out.</summary>
/// <param name="AtHost">Whether it was deleted or shut at the host itself.</param>
/// <param name="IsOurs">Whether its host deletes for good: then it is only shut there, and the attic is ours.</param>
/// <param name="MayBringBack">What the state table allows the viewer; likewise the others.</param>
public sealed record StayWire(
    long Site,
    string Title,
    string? Address,
    string Host,
    UnitWire? Unit,
    StayState State,
    PersonWire? By,
    bool AtHost,
    bool IsOurs,
    bool ByOwner,
    string? Reason,
    DateTimeOffset AskedAt,
    DateTimeOffset? StoppableUntil,
    DateTimeOffset? PutAwayAt,
    long? Bytes,
    ClockWire? Clock,
    IReadOnlyList<HoldWire> Holds,
    IReadOnlyList<string> Notes,
    bool MayBringBack,
    bool MayStop,
    bool MayHold,
    string? Words
);

public sealed record FreedWire(DateOnly Day, int Sites, long Bytes, int Unmeasured, long BytesSoFar);

/// <param name="Unmeasured">How many of them nobody knows the size of.</param>
public sealed record AtticWire(IReadOnlyList<StayWire> Stays, IReadOnlyList<FreedWire> Forecast, long Bytes, int Unmeasured);

public sealed record DifferenceWire(string What, string Before, string After, bool Meant);

/// <summary>The latest stay of one site, and after it came back what is not as it was.</summary>
/// <param name="Differences">Null until the site has been read after coming back.</param>
/// <param name="NeedsOwner">Whether somebody has to be chosen who takes the key.</param>
/// <param name="AddressHeld">Whether its address is held by another site by now.</param>
/// <param name="FreeAddresses">Free ones like it.</param>
public sealed record StayPageWire(
    StayWire Stay,
    DateTimeOffset? EndedAt,
    IReadOnlyList<DifferenceWire>? Differences,
    bool NeedsOwner,
    bool AddressHeld,
    IReadOnlyList<string> FreeAddresses
);

/// <summary>Writes stays as screens get them. What may be done comes from the state table.</summary>
internal static class StayWriter
{
    public static StayWire Stay(
        Stay stay,
        SiteFacts site,
        IReadOnlyList<Hold> holds,
        House house,
        Roll roll,
        Capacity? viewer,
        DateTimeOffset now
    )
    {
        var clock = stay.State.IsInAttic() ? Clock.Of(stay.ClockFacts(site, house, holds), roll.Time, now) : null;
        return new StayWire(
            site.Id.Value,
            site.Title,
            site.Address.Has(out var address) ? address : null,
            site.Host,
            site.Unit.Has(out var unit) ? new UnitWire(unit.Value, roll.Find(unit)?.Name ?? unit.Value) : null,
            stay.State,
            stay.By is { } by ? PersonWire.Of(by, roll) : null,
            stay.AtHost,
            house.HabitsOf(site.Host).AtticIsOurs,
            stay.ByOwner,
            stay.Reason,
            stay.AskedAt,
            stay.StoppableUntil,
            stay.PutAwayAt,
            site.Content.Bytes.Has(out var bytes) ? bytes : null,
            clock is null ? null : ClockWire.Of(clock, site.Host, now),
            InForce(holds, roll, now),
            [.. Notes(stay, site, roll, house)],
            viewer is not null && StayStates.After(stay.State, StayEvent.BringBack) is not null,
            viewer is not null && StayStates.After(stay.State, StayEvent.Stop) is not null,
            viewer is Capacity.Steward or Capacity.Administrator && stay.State.IsOpen(),
            stay.Words
        );
    }

    public static IReadOnlyList<HoldWire> InForce(IEnumerable<Hold> holds, Roll roll, DateTimeOffset now) =>
        [
            .. holds
                .Where(hold => hold.IsInForce(now, roll.Time))
                .Select(hold => new HoldWire(hold.Id, hold.Reason, PersonWire.Of(hold.By, roll), hold.From, hold.Through)),
        ];

    // What somebody has to know before its time is over, in a few words each.
    private static IEnumerable<string> Notes(Stay stay, SiteFacts site, Roll roll, House house)
    {
        if (stay.State.IsInAttic() && !Core.Keys.KeyHolders.Of(site, roll, house.FitDays).Holders.Any(holder => holder.IsFit))
        {
            yield return "no fit owner";
        }

        if (stay.State.IsInAttic() && house.HabitsOf(site.Host).AtticIsOurs)
        {
            yield return site.Content.Plan.Has(out var plan) ? $"still costs {plan.Cost}" : $"kept at {site.Host} for us";
        }

        if (stay.ByOwner)
        {
            yield return "by its owner";
        }
        else if (stay.AtHost)
        {
            yield return $"at {site.Host}";
        }
    }
}
