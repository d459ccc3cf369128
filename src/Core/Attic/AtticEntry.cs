using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Attic;

/// <summary>The state of a site on its way into the attic, in it, or out of it. A site without an attic entry is in
/// use.</summary>
public enum AtticState : byte
{
    /// <summary>An owner's deletion that can still be stopped; no change is queued yet.</summary>
    Announced,

    /// <summary>Queued for the host and not confirmed.</summary>
    MovingToAttic,
    InAttic,

    /// <summary>The organisation's period has ended; the site waits to be erased.</summary>
    Due,

    /// <summary>The restore is queued for the host and not confirmed.</summary>
    Restoring,
    Restored,
    Stopped,

    /// <summary>The host refused to delete it.</summary>
    NotDone,
    Erased,
}

public enum AtticEvent : byte
{
    Stop,
    Go,

    /// <summary>In the host's bin: confirmed, or seen there by a sync.</summary>
    InBin,
    Refuse,
    EndPassed,

    /// <summary>The end is in the future again: by a longer rule, a hold, or a hold's release.</summary>
    EndMoved,
    Restore,

    /// <summary>In use: confirmed, or seen by a sync.</summary>
    InUse,

    /// <summary>The host has erased it.</summary>
    Gone,

    /// <summary>A person reported the change done and it is not: it still has to be done.</summary>
    NotSo,
}

/// <summary>The states of an attic entry, as a table.</summary>
public static class AtticStates
{
    public static readonly StateTable<AtticState, AtticEvent> Table = new(
        "an attic entry",
        new()
        {
            [(AtticState.Announced, AtticEvent.Stop)] = AtticState.Stopped,
            [(AtticState.Announced, AtticEvent.Go)] = AtticState.MovingToAttic,
            [(AtticState.Announced, AtticEvent.InBin)] = AtticState.InAttic,
            [(AtticState.Announced, AtticEvent.Gone)] = AtticState.Erased,
            [(AtticState.MovingToAttic, AtticEvent.InBin)] = AtticState.InAttic,
            [(AtticState.MovingToAttic, AtticEvent.Refuse)] = AtticState.NotDone,
            [(AtticState.MovingToAttic, AtticEvent.Gone)] = AtticState.Erased,
            [(AtticState.InAttic, AtticEvent.EndPassed)] = AtticState.Due,
            [(AtticState.InAttic, AtticEvent.Restore)] = AtticState.Restoring,
            [(AtticState.InAttic, AtticEvent.InUse)] = AtticState.Restored,
            [(AtticState.InAttic, AtticEvent.Gone)] = AtticState.Erased,
            [(AtticState.InAttic, AtticEvent.NotSo)] = AtticState.MovingToAttic,
            [(AtticState.Due, AtticEvent.EndMoved)] = AtticState.InAttic,
            [(AtticState.Due, AtticEvent.Restore)] = AtticState.Restoring,
            [(AtticState.Due, AtticEvent.InUse)] = AtticState.Restored,
            [(AtticState.Due, AtticEvent.Gone)] = AtticState.Erased,
            [(AtticState.Restoring, AtticEvent.InUse)] = AtticState.Restored,
            [(AtticState.Restoring, AtticEvent.Refuse)] = AtticState.InAttic,
            [(AtticState.Restoring, AtticEvent.Gone)] = AtticState.Erased,
            [(AtticState.Restored, AtticEvent.NotSo)] = AtticState.Restoring,
        }
    );

    /// <summary>Open: the site is moving to the attic, in it, or being restored.</summary>
    public static bool IsOpen(this AtticState state) => state <= AtticState.Restoring;

    /// <summary>The period is running.</summary>
    public static bool IsInAttic(this AtticState state) => state is AtticState.InAttic or AtticState.Due or AtticState.Restoring;
}

/// <summary>A snapshot of a site: as it went into the attic, or as it was restored.</summary>
public sealed record Snapshot(
    Known<string> Name,
    Known<string> Address,
    Known<UnitCode> Unit,
    Known<string> Classification,
    Known<Status> Status,
    Known<int> Pages,
    Known<IReadOnlyList<Grant>> Grants
)
{
    public static Snapshot Of(SiteFacts site) =>
        new(
            site.Name,
            site.Address,
            site.Unit,
            site.Classification,
            site.Status,
            site.Pages,
            site.Sharing.Select(sharing => sharing.Grants)
        );
}

/// <summary>One attic entry, from the request to move the site there until it is restored or erased. If moved there again, a
/// site has a new entry with a new period.</summary>
public sealed record AtticEntry
{
    public required SiteId Site { get; init; }

    /// <summary>Assigned by the store; 0 while new.</summary>
    public long Id { get; init; }

    /// <summary>The number of the journal entry that began it; 0 if the first sync of the host's bin found it.</summary>
    public long Place { get; init; }

    public AtticState State { get; init; }

    /// <summary>The requester; null if it was found in the host's bin without a name.</summary>
    public PersonId? By { get; init; }

    /// <summary>True if it was done at the host itself, outside the product.</summary>
    public bool AtHost { get; init; }

    /// <summary>True if it was an owner's own deletion: administrators are notified of those.</summary>
    public bool ByOwner { get; init; }

    public string? Reason { get; init; }

    public required DateTimeOffset RequestedAt { get; init; }

    public DateTimeOffset? StoppableUntil { get; init; }

    /// <summary>When the host removed it: days are counted from this.</summary>
    public DateTimeOffset? MovedToAtticAt { get; init; }

    public required Snapshot ContentBefore { get; init; }

    public IReadOnlyList<ClassificationSince> Classifications { get; init; } = [];

    /// <summary>The current or latest change at the host.</summary>
    public ChangeId? HostChange { get; init; }

    /// <summary>The request of the restore: its changes are intended, others are not.</summary>
    public WantedState? Return { get; init; }

    public Snapshot? ContentAfter { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    /// <summary>The latest message of the host, or why it was stopped.</summary>
    public string? Words { get; init; }

    /// <exception cref="InvalidOperationException">The state table has no such transition.</exception>
    public AtticEntry Move(AtticEvent happened) => this with { State = AtticStates.Table.Next(State, happened) };

    public ClockFacts ClockFacts(SiteFacts site, Organisation organisation, IReadOnlyList<Hold> holds) =>
        new(
            site.Host,
            MovedToAtticAt ?? RequestedAt,
            [
                .. Classifications.Select(since =>
                    since with
                    {
                        Classification = organisation.Words.Read(ClaimedFact.Classification, since.Classification),
                    }
                ),
            ],
            organisation.RetentionRules,
            holds,
            site.Bin?.RecoverableUntil ?? Known<DateTimeOffset>.Unknown
        )
        {
            PlanEnds = site.Plan.Has(out var plan) && !plan.Renews ? plan.Through.AddDays(plan.GraceDays) : null,
        };
}
