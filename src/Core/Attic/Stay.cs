using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Attic;

/// <summary>Where a site is on its way into the attic, in it, or out of it. No stay: it is in use.</summary>
public enum StayState : byte
{
    /// <summary>An owner's own deletion that can still be stopped; nothing is asked of the host yet.</summary>
    Announced,

    /// <summary>Asked of the host and not confirmed.</summary>
    GoingAway,
    Kept,

    /// <summary>The end of our clock has passed; it waits to be cleared out.</summary>
    Due,

    /// <summary>Bringing back is asked of the host and not confirmed.</summary>
    Returning,
    Back,
    Stopped,

    /// <summary>The host refused to delete it.</summary>
    NotDone,
    Cleared,
}

public enum StayEvent : byte
{
    Stop,
    Go,

    /// <summary>It lies in the host's bin: confirmed, or seen there.</summary>
    InBin,
    Refuse,
    EndPassed,

    /// <summary>The end lies ahead again: a longer rule, a hold, or a hold's release.</summary>
    EndMoved,
    BringBack,

    /// <summary>It is in use: confirmed, or seen so.</summary>
    InUse,

    /// <summary>The host has cleared it for good.</summary>
    Gone,

    /// <summary>A person had done what was asked for it, and it is not so: it is still to be done.</summary>
    NotSo,
}

/// <summary>Which events a stay's state allows and where they lead. The screens' buttons come from this table too.</summary>
public static class StayStates
{
    private static readonly Dictionary<(StayState, StayEvent), StayState> Moves = new()
    {
        [(StayState.Announced, StayEvent.Stop)] = StayState.Stopped,
        [(StayState.Announced, StayEvent.Go)] = StayState.GoingAway,
        [(StayState.Announced, StayEvent.InBin)] = StayState.Kept,
        [(StayState.Announced, StayEvent.Gone)] = StayState.Cleared,
        [(StayState.GoingAway, StayEvent.InBin)] = StayState.Kept,
        [(StayState.GoingAway, StayEvent.Refuse)] = StayState.NotDone,
        [(StayState.GoingAway, StayEvent.Gone)] = StayState.Cleared,
        [(StayState.Kept, StayEvent.EndPassed)] = StayState.Due,
        [(StayState.Kept, StayEvent.BringBack)] = StayState.Returning,
        [(StayState.Kept, StayEvent.InUse)] = StayState.Back,
        [(StayState.Kept, StayEvent.Gone)] = StayState.Cleared,
        [(StayState.Kept, StayEvent.NotSo)] = StayState.GoingAway,
        [(StayState.Due, StayEvent.EndMoved)] = StayState.Kept,
        [(StayState.Due, StayEvent.BringBack)] = StayState.Returning,
        [(StayState.Due, StayEvent.InUse)] = StayState.Back,
        [(StayState.Due, StayEvent.Gone)] = StayState.Cleared,
        [(StayState.Returning, StayEvent.InUse)] = StayState.Back,
        [(StayState.Returning, StayEvent.Refuse)] = StayState.Kept,
        [(StayState.Returning, StayEvent.Gone)] = StayState.Cleared,
        [(StayState.Back, StayEvent.NotSo)] = StayState.Returning,
    };

    public static StayState? After(StayState state, StayEvent happened) =>
        Moves.TryGetValue((state, happened), out var next) ? next : null;

    /// <summary>Not over: the site is on its way into the attic, in it, or on its way out.</summary>
    public static bool IsOpen(this StayState state) => state <= StayState.Returning;

    /// <summary>The clock runs.</summary>
    public static bool IsInAttic(this StayState state) => state is StayState.Kept or StayState.Due or StayState.Returning;
}

/// <summary>What a site was at an instant: what went into the attic, and what came back.</summary>
public sealed record Snapshot(
    Known<string> Name,
    Known<string> Address,
    Known<UnitCode> Unit,
    Known<string> Class,
    Known<Stage> Stage,
    Known<int> Pages,
    Known<IReadOnlyList<Grant>> Grants
)
{
    public static Snapshot Of(SiteFacts site) =>
        new(
            site.Name,
            site.Address,
            site.Unit,
            site.Class,
            site.Stage,
            site.Content.Pages,
            site.Sharing.Select(sharing => sharing.Grants)
        );
}

/// <summary>One stay in the attic, from the wish to put away to the way out. Put away again, a site has a new one with a new clock.</summary>
public sealed record Stay
{
    public required SiteId Site { get; init; }

    /// <summary>Given by the store; 0 while it is new.</summary>
    public long Id { get; init; }

    /// <summary>The number of the journal entry that began it, or 0 where the host's bin was first read with it.</summary>
    public long Place { get; init; }

    public StayState State { get; init; }

    /// <summary>Who wished it; null where it was first seen in the host's bin and the host did not say.</summary>
    public PersonId? By { get; init; }

    /// <summary>Whether it was done at the host itself, past the register.</summary>
    public bool AtHost { get; init; }

    /// <summary>Whether it was an owner's own deletion: administrators hear of those.</summary>
    public bool ByOwner { get; init; }

    public string? Reason { get; init; }

    public required DateTimeOffset AskedAt { get; init; }

    public DateTimeOffset? StoppableUntil { get; init; }

    /// <summary>When the host took it away: what days are counted from.</summary>
    public DateTimeOffset? PutAwayAt { get; init; }

    public required Snapshot Went { get; init; }

    public IReadOnlyList<ClassSince> Classes { get; init; } = [];

    /// <summary>The order to the host that is under way or was last.</summary>
    public OrderId? Order { get; init; }

    /// <summary>What bringing back asked for: changes on the way are meant, others are not.</summary>
    public Wish? Return { get; init; }

    public Snapshot? Came { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    /// <summary>What the host last said, or why it was stopped.</summary>
    public string? Words { get; init; }

    /// <exception cref="InvalidOperationException">The state table has no such move.</exception>
    public Stay Move(StayEvent happened) =>
        StayStates.After(State, happened) is { } next
            ? this with
            {
                State = next,
            }
            : throw new InvalidOperationException($"A stay that is {State} cannot {happened}.");

    public ClockFacts ClockFacts(SiteFacts site, House house, IReadOnlyList<Hold> holds) =>
        new(
            site.Host,
            PutAwayAt ?? AskedAt,
            [.. Classes.Select(since => since with { Class = house.Words.Read(SaidFact.Class, since.Class) })],
            house.Keeping,
            holds,
            site.Bin?.RecoverableUntil ?? Known<DateTimeOffset>.Unknown
        );
}
