using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>What follows from a host's response, or from a sync, for the actions that a change served.</summary>
public sealed record Aftermath(
    Offer? Offer,
    AtticEntry? AtticEntry,
    IReadOnlyList<Draft> Entries,
    IReadOnlyList<Notification> Notifications
)
{
    public static Aftermath Nothing { get; } = new(null, null, [], []);

    /// <summary>A change got a final response, or was withdrawn before it was sent.</summary>
    /// <param name="site">The site after the response.</param>
    /// <param name="offer">The offer that this change completes, or null.</param>
    /// <param name="atticEntry">The latest attic entry of the site, or null.</param>
    public static Aftermath Answered(
        HostChange hostChange,
        SiteFacts site,
        Offer? offer,
        AtticEntry? atticEntry,
        PeopleDirectory directory,
        DateTimeOffset now
    )
    {
        if (hostChange.State.IsOpen())
        {
            return Nothing;
        }

        if (hostChange.Purpose == ChangePurpose.Owners && offer?.State == OfferState.Completing)
        {
            var (moved, entry, notifications) = HandOver.Follow(offer, hostChange, site, directory, now);
            return new Aftermath(moved, null, [entry], notifications);
        }

        if (hostChange.Purpose is ChangePurpose.Look or ChangePurpose.Address)
        {
            return Nothing with
            {
                Notifications =
                    hostChange.State == ChangeState.Confirmed ? [.. ChangeLook.Told(hostChange, site, directory)]
                    : hostChange.State == ChangeState.Refused ? [NotDone(hostChange, site)]
                    : [],
            };
        }

        if (atticEntry is null || atticEntry.HostChange != hostChange.Id)
        {
            return Nothing;
        }

        var done = hostChange.State == ChangeState.Confirmed;
        var happened =
            !done ? AtticEvent.Refuse
            : hostChange.Purpose == ChangePurpose.MoveToAttic ? AtticEvent.InBin
            : AtticEvent.InUse;
        return Moved(atticEntry, happened, site, hostChange.Words, now);
    }

    /// <summary>A manual task was returned to its assignee: its site has yet to be moved to the attic, restored or handed
    /// over.</summary>
    public static Aftermath GivenBack(
        HostChange hostChange,
        SiteFacts site,
        AtticEntry? atticEntry,
        Offer? offer,
        DateTimeOffset now
    )
    {
        if (offer is { State: OfferState.HandedOver } && offer.HostChange == hostChange.Id)
        {
            return new Aftermath(offer.Move(OfferEvent.GivenBack) with { EndedAt = null }, null, [], []);
        }

        return
            atticEntry?.HostChange == hostChange.Id
            && Moved(atticEntry, AtticEvent.NotSo, site, hostChange.Words, now).AtticEntry is { } still
            ? new Aftermath(null, still with { EndedAt = null }, [], [])
            : Nothing;
    }

    /// <summary>What a sync of a site means for its attic entry: somebody may have moved it to the attic or restored it at the
    /// host itself.</summary>
    /// <param name="isFirst">True at the first sync of the host: nobody is notified then.</param>
    public static Aftermath Seen(
        SiteFacts site,
        AtticEntry? atticEntry,
        IReadOnlyList<PersonId> administrators,
        bool isFirst,
        DateTimeOffset now
    )
    {
        switch (site.Existence)
        {
            case Existence.Attic when atticEntry?.State.IsOpen() != true:
                var found = InBin(site, now);
                return new Aftermath(
                    null,
                    found,
                    isFirst ? [] : [Entry(JournalAction.AtticFound, site, found)],
                    isFirst
                        ? []
                        : [.. administrators.Concat(NamedOwners(site)).Distinct().Select(person => Found(person, site, found))]
                );
            case Existence.Attic when atticEntry.State.IsInAttic():
                var classification = site.Classification.Has(out var named) ? named : null;
                return
                    !site.Classification.IsUnknown && atticEntry.Classifications.LastOrDefault()?.Classification != classification
                    ? new Aftermath(
                        null,
                        atticEntry with
                        {
                            Classifications = [.. atticEntry.Classifications, new ClassificationSince(classification, now)],
                        },
                        [],
                        []
                    )
                    : Nothing;
            case Existence.Attic:
                return Moved(atticEntry, AtticEvent.InBin, site, null, now);
            case Existence.InUse when atticEntry?.State.IsInAttic() == true:
                return Moved(atticEntry, AtticEvent.InUse, site, null, now) is var back && back.AtticEntry is { } returned
                    ? back with
                    {
                        AtticEntry = returned with { ContentAfter = Snapshot.Of(site) },
                    }
                    : Nothing;
            case Existence.InUse when atticEntry is { State: AtticState.Restored, ContentAfter: null }:
                return new Aftermath(null, atticEntry with { ContentAfter = Snapshot.Of(site) }, [], []);
            case Existence.Erased when atticEntry?.State.IsOpen() == true:
                return Moved(atticEntry, AtticEvent.Gone, site, null, now);
            default:
                return Nothing;
        }
    }

    private static Aftermath Moved(AtticEntry atticEntry, AtticEvent happened, SiteFacts site, string? words, DateTimeOffset now)
    {
        if (AtticStates.Table.After(atticEntry.State, happened) is not { } next)
        {
            return Nothing;
        }

        var moved = atticEntry.Move(happened) with { Words = words };
        moved = happened switch
        {
            AtticEvent.InBin => moved with
            {
                MovedToAtticAt = site.Bin?.Since ?? now,
                Classifications =
                [
                    new ClassificationSince(site.Classification.Has(out var named) ? named : null, site.Bin?.Since ?? now),
                ],
            },
            _ when !next.IsOpen() => moved with { EndedAt = now },
            _ => moved,
        };
        var action = happened switch
        {
            AtticEvent.InBin => JournalAction.AtticMoved,
            AtticEvent.InUse => JournalAction.AtticRestored,
            AtticEvent.Gone => JournalAction.AtticErased,
            _ => next == AtticState.NotDone ? JournalAction.AtticNotDone : JournalAction.AtticNotRestored,
        };
        var notifications =
            happened == AtticEvent.Refuse && atticEntry.By is { } by
                ?
                [
                    new Notification(
                        by,
                        $"refused:{atticEntry.Id}:{now.UtcTicks}",
                        $"{site.Host} refused: {site.Title}",
                        [$"{site.Host} refused the change of {site.Title}: {words}"],
                        Urgent: true
                    ),
                ]
                : Array.Empty<Notification>();
        return new Aftermath(null, moved, [Entry(action, site, moved)], notifications);
    }

    private static AtticEntry InBin(SiteFacts site, DateTimeOffset now) =>
        new()
        {
            Site = site.Id,
            State = AtticState.InAttic,
            By = site.Bin?.By,
            AtHost = true,
            RequestedAt = site.Bin?.Since ?? now,
            MovedToAtticAt = site.Bin?.Since ?? now,
            ContentBefore = Snapshot.Of(site),
            Classifications =
            [
                new ClassificationSince(site.Classification.Has(out var named) ? named : null, site.Bin?.Since ?? now),
            ],
        };

    private static Notification NotDone(HostChange hostChange, SiteFacts site) =>
        new(
            hostChange.By,
            $"refused:{hostChange.Id}",
            $"{site.Host} refused: {site.Title}",
            [$"{site.Host} refused the change of {site.Title}: {hostChange.Words}"],
            Urgent: true
        );

    private static IEnumerable<PersonId> NamedOwners(SiteFacts site) =>
        site
            .Expected.Or([])
            .Where(grant => grant.Power == Power.Own)
            .Select(grant => grant.Subject)
            .OfType<Subject.OnePerson>()
            .Select(owner => owner.Person);

    // If the host has no end date for it, the site is only shut there.
    private static Notification Found(PersonId to, SiteFacts site, AtticEntry atticEntry) =>
        new(
            to,
            $"found:{site.Id.Value}:{atticEntry.MovedToAtticAt!.Value.UtcTicks}",
            $"{site.Title} was {(site.Bin?.RecoverableUntil.IsNone == true ? "shut" : "deleted")} at {site.Host}",
            [
                $"Somebody {(site.Bin?.RecoverableUntil.IsNone == true ? "shut" : "deleted")} {site.Title} ({site.Address.Or("no address")}) at {site.Host} itself. It is in the attic, where you find its last day and can restore it.",
            ],
            Urgent: true
        );

    private static Draft Entry(JournalAction action, SiteFacts site, AtticEntry atticEntry) =>
        new(action, EntryActor.OfSource(site.Host), EntrySubject.Of(site.Id))
        {
            OnBehalf = atticEntry.By is { } by ? EntryActor.Of(by) : null,
            After = JournalValue.Of(
                ("movedToAttic", atticEntry.MovedToAtticAt is { } at ? JournalValue.Of(at) : JournalValue.Null),
                (
                    "recoverableUntil",
                    site.Bin?.RecoverableUntil is { } until && until.Has(out var known)
                        ? JournalValue.Of(known)
                        : JournalValue.Unknown
                ),
                ("message", JournalValue.Of(atticEntry.Words))
            ),
        };
}
