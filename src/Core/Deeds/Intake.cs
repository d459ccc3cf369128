using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>What taking in one site comes to: the line as it is now, the orders that were seen, and what to write down. No entry where nothing changed.</summary>
/// <param name="IsNews">Whether the line is to be written at all: visits move by themselves and are written without an entry.</param>
public sealed record TakenIn(SiteFacts Site, bool IsNews, IReadOnlyList<Order> Moved, Draft? Entry);

/// <summary>Takes what a host said into the register. The same said twice changes nothing the second time.</summary>
public static class Intake
{
    public const string Deed = "site.seen";
    public const string VanishedDeed = "site.vanished";

    /// <param name="known">The line so far, or null for a site that is new.</param>
    /// <param name="seen">What the host said; its id is not yet given where the site is new.</param>
    /// <param name="confirmed">The site's orders that wait to be seen.</param>
    public static TakenIn Take(
        SiteFacts? known,
        SiteFacts seen,
        IReadOnlyList<Order> confirmed,
        DateTimeOffset readBegan,
        DateTimeOffset now
    )
    {
        if (known is null)
        {
            return new TakenIn(seen, true, [], new Draft(Deed, Actor(seen), Subject(seen)) { After = SiteRecord.Of(seen) });
        }

        var merged = (seen with { Id = known.Id }).Beside(known.Said, readBegan) with
        {
            Sharing = Newer(known.Sharing, seen.Sharing),
            UnderWay = known.UnderWay,
            MovedTo = known.MovedTo,
        };
        if (known.StandsAt > readBegan)
        {
            // A read that began before a confirmation does not override where the site is.
            merged = merged with
            {
                Existence = known.Existence,
                Bin = known.Bin,
                Address = known.Address,
                StandsAt = known.StandsAt,
            };
        }

        IReadOnlyCollection<Wish> AfterIt(Order order) =>
            [
                .. confirmed.Where(other => other.Place > order.Place).Select(other => other.Wish),
                .. known.UnderWay.Select(open => open.Wish),
            ];
        var moved = confirmed
            .Select(order => Lane.Seen(order, seen, AfterIt(order), readBegan, now))
            .Where(order => order.State != OrderState.Confirmed)
            .ToList();
        var (before, after) = SiteRecord.Difference(known, merged);
        if (before.All.Count == 0 && after.All.Count == 0)
        {
            // Nothing new in the facts: the line stays as it is, down to the instant of its sharing.
            var moves = known with { Visits = seen.Visits, LastVisit = seen.LastVisit, Content = seen.Content };
            return new TakenIn(moves, moves != known, moved, null);
        }

        return new TakenIn(
            merged,
            true,
            moved,
            new Draft(Deed, Actor(merged), Subject(merged)) { Before = before, After = after }
        );
    }

    /// <summary>What a list says of a site that another host tells of. No entry where it says nothing new.</summary>
    public static TakenIn Hear(
        SiteFacts known,
        string list,
        IReadOnlyDictionary<SaidFact, Known<string>> facts,
        DateTimeOffset at
    )
    {
        var told = known.Listed(list, facts, at);
        var (before, after) = SiteRecord.Difference(known, told);
        return before.All.Count == 0 && after.All.Count == 0
            ? new TakenIn(known, false, [], null)
            : new TakenIn(
                told,
                true,
                [],
                new Draft(Deed, Draft.ActorOf(list), Subject(known)) { Before = before, After = after }
            );
    }

    /// <summary>
    /// Only a complete read lets a site vanish; vanished is not deleted. One that lay in the host's bin and is no longer
    /// there was cleared for good.
    /// </summary>
    public static TakenIn Vanish(SiteFacts known, DateTimeOffset now) =>
        known.Existence == Existence.Attic
            ? Gone(known, known with { Existence = Existence.Cleared, Bin = null, StandsAt = now }, Deed)
            : Gone(known, known with { Vanished = true }, VanishedDeed);

    private static TakenIn Gone(SiteFacts known, SiteFacts now, string deed)
    {
        var (before, after) = SiteRecord.Difference(known, now);
        return new(now, true, [], new Draft(deed, Actor(known), Subject(known)) { Before = before, After = after });
    }

    /// <summary>What the host confirmed with its answer to an order. The order's own entry tells of it.</summary>
    public static SiteFacts Confirm(SiteFacts site, Wish wish, HostAnswer.Done done, DateTimeOffset now)
    {
        var shared = done.Grants is { } grants
            ? site with
            {
                Sharing = Newer(site.Sharing, Known.Of(new Sharing(grants, done.OwnLimit, now, SharingSource.Confirmed))),
            }
            : site;
        return wish is { Existence: null, Address: null }
            ? shared
            : shared with
            {
                Existence = wish.Existence ?? site.Existence,
                Bin =
                    wish.Existence == Existence.Attic ? done.Bin
                    : wish.Existence == Existence.Here ? null
                    : site.Bin,
                Address = done.Address is { } address ? Known.Of(address) : site.Address,
                StandsAt = now,
            };
    }

    private static Known<Sharing> Newer(Known<Sharing> known, Known<Sharing> seen) =>
        known.Has(out var old) && seen.Has(out var read) ? Known.Of(Sharings.Newer(old, read))
        : seen.IsUnknown && !known.IsUnknown ? known
        : seen;

    private static string Actor(SiteFacts site) => Draft.ActorOf(site.Host);

    private static string Subject(SiteFacts site) => $"site:{site.Id.Value}";
}
