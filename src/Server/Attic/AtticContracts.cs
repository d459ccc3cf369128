using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Attic;

/// <summary>The two periods of a site in the attic, the host's and the organisation's, and the deadline that follows.</summary>
/// <param name="Words">The sentence that every screen shows.</param>
/// <param name="Left">The time left in which it can certainly be restored, in words.</param>
/// <param name="Passed">The part of the time that has passed, 0 to 1.</param>
/// <param name="Organisation">The last day on which policy keeps it.</param>
/// <param name="Host">When the host erases it, if the host reported that.</param>
public sealed record ClockResponse(
    string Words,
    string Left,
    int DaysLeft,
    double Passed,
    bool IsDue,
    DateOnly Organisation,
    DateTimeOffset? Host,
    bool HostIsFirst,
    DateTimeOffset? RecoverableUntil
)
{
    public static ClockResponse Of(Clock clock, string host, DateTimeOffset now)
    {
        var left = clock.Left(now);
        return new ClockResponse(
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

public sealed record HoldResponse(long Id, string Reason, PersonResponse By, DateTimeOffset From, DateOnly? Through);

public enum AtticNoteKind
{
    NoActiveOwner,
    StillCosts,
    ShutAtHost,
    ByItsOwner,
    AtHost,
}

/// <summary>What a reader has to know before the deadline, in a few words.</summary>
public sealed record AtticNote(AtticNoteKind Kind, string Words);

/// <summary>A site in the attic, moving there, or being restored.</summary>
/// <param name="AtHost">True if it was deleted or shut at the host itself.</param>
/// <param name="IsOurs">True if its host deletes irrevocably: then the site is only shut there, and the product keeps its
/// dates.</param>
/// <param name="MayRestore">True if the state and the viewer's role allow it; likewise the others.</param>
public sealed record AtticEntryResponse(
    long Site,
    string Title,
    string? Address,
    string Host,
    UnitResponse? Unit,
    AtticState State,
    PersonResponse? By,
    bool AtHost,
    bool IsOurs,
    bool ByOwner,
    string? Reason,
    DateTimeOffset RequestedAt,
    DateTimeOffset? StoppableUntil,
    DateTimeOffset? MovedToAtticAt,
    long? Bytes,
    ClockResponse? Clock,
    IReadOnlyList<HoldResponse> Holds,
    IReadOnlyList<AtticNote> Notes,
    bool MayRestore,
    bool MayStop,
    bool MayHold,
    string? Words
);

public sealed record Freed(DateOnly Day, int Sites, long Bytes, int Unmeasured, long BytesSoFar);

/// <param name="Unmeasured">How many of them have no known size.</param>
public sealed record AtticResponse(
    IReadOnlyList<AtticEntryResponse> Entries,
    IReadOnlyList<Freed> Forecast,
    long Bytes,
    int Unmeasured
);

public sealed record DifferenceResponse(string What, string Before, string After, bool Meant);

/// <summary>The latest attic entry of a site and, after a restore, what differs from before.</summary>
/// <param name="Differences">Null until the first sync after the restore.</param>
/// <param name="NeedsOwner">True if a new owner has to be chosen.</param>
/// <param name="AddressHeld">True if another site has its address now.</param>
/// <param name="FreeAddresses">Free addresses similar to it.</param>
public sealed record AtticEntryPage(
    AtticEntryResponse AtticEntry,
    DateTimeOffset? EndedAt,
    IReadOnlyList<DifferenceResponse>? Differences,
    bool NeedsOwner,
    bool AddressHeld,
    IReadOnlyList<string> FreeAddresses
);

/// <summary>Writes attic entries for the API. The possible actions come from the state table.</summary>
internal static class AtticEntryWriter
{
    public static AtticEntryResponse AtticEntry(
        AtticEntry atticEntry,
        SiteFacts site,
        IReadOnlyList<Hold> holds,
        Organisation organisation,
        PeopleDirectory directory,
        Capacity? viewer,
        DateTimeOffset now
    )
    {
        var clock = atticEntry.State.IsInAttic()
            ? Clock.Of(atticEntry.ClockFacts(site, organisation, holds), directory.Time, now)
            : null;
        return new AtticEntryResponse(
            site.Id.Value,
            site.Title,
            site.Address.Has(out var address) ? address : null,
            site.Host,
            site.Unit.Has(out var unit) ? new UnitResponse(unit.Value, directory.Find(unit)?.Name ?? unit.Value) : null,
            atticEntry.State,
            atticEntry.By is { } by ? PersonResponse.Of(by, directory) : null,
            atticEntry.AtHost,
            organisation.CapabilitiesOf(site.Host).AtticIsOurs,
            atticEntry.ByOwner,
            atticEntry.Reason,
            atticEntry.RequestedAt,
            atticEntry.StoppableUntil,
            atticEntry.MovedToAtticAt,
            site.Bytes.Has(out var bytes) ? bytes : null,
            clock is null ? null : ClockResponse.Of(clock, site.Host, now),
            InForce(holds, directory, now),
            [.. Notes(atticEntry, site, directory, organisation)],
            viewer is not null && AtticStates.Table.Allows(atticEntry.State, AtticEvent.Restore),
            viewer is not null && AtticStates.Table.Allows(atticEntry.State, AtticEvent.Stop),
            viewer is Capacity.Steward or Capacity.Administrator && atticEntry.State.IsOpen(),
            atticEntry.Words
        );
    }

    public static IReadOnlyList<HoldResponse> InForce(IEnumerable<Hold> holds, PeopleDirectory directory, DateTimeOffset now) =>
        [
            .. holds
                .Where(hold => hold.IsInForce(now, directory.Time))
                .Select(hold => new HoldResponse(
                    hold.Id,
                    hold.Reason,
                    PersonResponse.Of(hold.By, directory),
                    hold.From,
                    hold.Through
                )),
        ];

    // What a reader has to know before the deadline, in a few words each.
    private static IEnumerable<AtticNote> Notes(
        AtticEntry atticEntry,
        SiteFacts site,
        PeopleDirectory directory,
        Organisation organisation
    )
    {
        if (
            atticEntry.State.IsInAttic()
            && Core.Ownership.SiteOwners.Of(site, directory, organisation.ActiveDays).ActiveAtMost == 0
        )
        {
            yield return new(AtticNoteKind.NoActiveOwner, "no active owner");
        }

        if (atticEntry.State.IsInAttic() && organisation.CapabilitiesOf(site.Host).AtticIsOurs)
        {
            yield return site.Plan.Has(out var plan)
                ? new(AtticNoteKind.StillCosts, $"still costs {plan.Cost}")
                : new(AtticNoteKind.ShutAtHost, $"shut at {site.Host}");
        }

        if (atticEntry.ByOwner)
        {
            yield return new(AtticNoteKind.ByItsOwner, "by its owner");
        }
        else if (atticEntry.AtHost)
        {
            yield return new(AtticNoteKind.AtHost, $"at {site.Host}");
        }
    }
}
