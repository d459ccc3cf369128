using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>What follows from a host's answer, or from what a read shows, for the deeds that an order served.</summary>
public sealed record Aftermath(Offer? Offer, Stay? Stay, IReadOnlyList<Draft> Entries, IReadOnlyList<Letter> Letters)
{
    public static Aftermath Nothing { get; } = new(null, null, [], []);

    /// <summary>An order was answered for good, or withdrawn before it was sent.</summary>
    /// <param name="site">As it is after the answer.</param>
    /// <param name="offer">The offer that this order switches, or null.</param>
    /// <param name="stay">The latest stay of the site, or null.</param>
    public static Aftermath Answered(Order order, SiteFacts site, Offer? offer, Stay? stay, Roll roll, DateTimeOffset now)
    {
        if (order.State.IsOpen())
        {
            return Nothing;
        }

        if (order.Purpose == OrderPurpose.Key && offer?.State == OfferState.Switching)
        {
            var (moved, entry, letters) = HandOver.Follow(offer, order, site, roll, now);
            return new Aftermath(moved, null, [entry], letters);
        }

        if (stay is null || stay.Order != order.Id)
        {
            return Nothing;
        }

        var done = order.State == OrderState.Confirmed;
        var happened =
            !done ? StayEvent.Refuse
            : order.Purpose == OrderPurpose.PutAway ? StayEvent.InBin
            : StayEvent.InUse;
        return Moved(stay, happened, site, order.Words, now);
    }

    /// <summary>An order by hand went back to its person: its site is still to be put away, or to be brought back, or its key to be switched.</summary>
    public static Aftermath GivenBack(Order order, SiteFacts site, Stay? stay, Offer? offer, DateTimeOffset now)
    {
        if (offer is { State: OfferState.HandedOver } && offer.Order == order.Id)
        {
            return new Aftermath(offer.Move(OfferEvent.GivenBack) with { EndedAt = null }, null, [], []);
        }

        return stay?.Order == order.Id && Moved(stay, StayEvent.NotSo, site, order.Words, now).Stay is { } still
            ? new Aftermath(null, still with { EndedAt = null }, [], [])
            : Nothing;
    }

    /// <summary>What a read of a site means for its stay in the attic: it may have been put away or brought back at the host itself.</summary>
    /// <param name="isFirst">Whether the host is read for the first time: nobody is told then.</param>
    public static Aftermath Seen(
        SiteFacts site,
        Stay? stay,
        IReadOnlyList<PersonId> administrators,
        bool isFirst,
        DateTimeOffset now
    )
    {
        switch (site.Existence)
        {
            case Existence.Attic when stay?.State.IsOpen() != true:
                var found = InBin(site, now);
                return new Aftermath(
                    null,
                    found,
                    isFirst ? [] : [Entry("attic.found", site, found)],
                    isFirst ? [] : [.. administrators.Select(person => Found(person, site, found))]
                );
            case Existence.Attic when stay.State.IsInAttic():
                var @class = site.Class.Has(out var named) ? named : null;
                return !site.Class.IsUnknown && stay.Classes.LastOrDefault()?.Class != @class
                    ? new Aftermath(null, stay with { Classes = [.. stay.Classes, new ClassSince(@class, now)] }, [], [])
                    : Nothing;
            case Existence.Attic:
                return Moved(stay, StayEvent.InBin, site, null, now);
            case Existence.Here when stay?.State.IsInAttic() == true:
                return Moved(stay, StayEvent.InUse, site, null, now) is var back && back.Stay is { } returned
                    ? back with
                    {
                        Stay = returned with { Came = Snapshot.Of(site) },
                    }
                    : Nothing;
            case Existence.Here when stay is { State: StayState.Back, Came: null }:
                return new Aftermath(null, stay with { Came = Snapshot.Of(site) }, [], []);
            case Existence.Cleared when stay?.State.IsOpen() == true:
                return Moved(stay, StayEvent.Gone, site, null, now);
            default:
                return Nothing;
        }
    }

    private static Aftermath Moved(Stay stay, StayEvent happened, SiteFacts site, string? words, DateTimeOffset now)
    {
        if (StayStates.After(stay.State, happened) is not { } next)
        {
            return Nothing;
        }

        var moved = stay.Move(happened) with { Words = words };
        moved = happened switch
        {
            StayEvent.InBin => moved with
            {
                PutAwayAt = site.Bin?.Since ?? now,
                Classes = [new ClassSince(site.Class.Has(out var named) ? named : null, site.Bin?.Since ?? now)],
            },
            _ when !next.IsOpen() => moved with { EndedAt = now },
            _ => moved,
        };
        var deed = happened switch
        {
            StayEvent.InBin => "attic.kept",
            StayEvent.InUse => "attic.back",
            StayEvent.Gone => "attic.cleared",
            _ => next == StayState.NotDone ? "attic.not-done" : "attic.not-back",
        };
        var letters =
            happened == StayEvent.Refuse && stay.By is { } by
                ?
                [
                    new Letter(
                        by,
                        $"refused:{stay.Id}:{now.UtcTicks}",
                        $"{site.Host} refused: {site.Title}",
                        [$"{site.Host} did not do what was asked for {site.Title}: {words}"],
                        Urgent: true
                    ),
                ]
                : Array.Empty<Letter>();
        return new Aftermath(null, moved, [Entry(deed, site, moved)], letters);
    }

    private static Stay InBin(SiteFacts site, DateTimeOffset now) =>
        new()
        {
            Site = site.Id,
            State = StayState.Kept,
            By = site.Bin?.By,
            AtHost = true,
            AskedAt = site.Bin?.Since ?? now,
            PutAwayAt = site.Bin?.Since ?? now,
            Went = Snapshot.Of(site),
            Classes = [new ClassSince(site.Class.Has(out var named) ? named : null, site.Bin?.Since ?? now)],
        };

    // Where nothing runs out at the host, the site is only shut there.
    private static Letter Found(PersonId to, SiteFacts site, Stay stay) =>
        new(
            to,
            $"found:{site.Id.Value}:{stay.PutAwayAt!.Value.UtcTicks}",
            $"{site.Title} was {(site.Bin?.RecoverableUntil.IsNone == true ? "shut" : "deleted")} at {site.Host}",
            [
                $"Somebody {(site.Bin?.RecoverableUntil.IsNone == true ? "shut" : "deleted")} {site.Title} ({site.Address.Or("no address")}) at {site.Host} itself. It lies in the attic, where its clock and the way back stand.",
            ]
        );

    private static Draft Entry(string deed, SiteFacts site, Stay stay) =>
        new(deed, Draft.ActorOf(site.Host), $"site:{site.Id.Value}")
        {
            OnBehalf = stay.By is { } by ? $"person:{by.Value}" : null,
            After = JournalValue.Of(
                ("putAway", stay.PutAwayAt is { } at ? JournalValue.Of(at) : JournalValue.Null),
                (
                    "recoverableUntil",
                    site.Bin?.RecoverableUntil is { } until && until.Has(out var known)
                        ? JournalValue.Of(known)
                        : JournalValue.Unknown
                ),
                ("words", JournalValue.Of(stay.Words))
            ),
        };
}
