using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The result of storing one synced site: its new row, the verified changes, and the journal entry, if anything
/// changed.</summary>
/// <param name="IsNews">True if the row has to be written: changed visits are written without a journal entry.</param>
public sealed record Imported(SiteFacts Site, bool IsNews, IReadOnlyList<HostChange> Moved, Draft? Entry);

/// <summary>Stores what a host reports. The same report twice changes nothing the second time.</summary>
public static class Intake
{
    /// <param name="known">The current row; null if the site is new.</param>
    /// <param name="seen">The site as reported; without id if it is new.</param>
    /// <param name="confirmed">The site's changes that wait for verification.</param>
    public static Imported Take(
        SiteFacts? known,
        SiteFacts seen,
        IReadOnlyList<HostChange> confirmed,
        DateTimeOffset syncBegan,
        DateTimeOffset now
    )
    {
        if (known is null)
        {
            return new Imported(
                seen,
                true,
                [],
                new Draft(JournalAction.SiteSynced, Actor(seen), Subject(seen)) { After = SiteRecord.Of(seen) }
            );
        }

        var merged = (seen with { Id = known.Id }).Beside(known.Claims, syncBegan) with
        {
            Sharing = Newer(known.Sharing, seen.Sharing),
            UnderWay = known.UnderWay,
            MovedTo = known.MovedTo,
        };
        if (known.StandsAt > syncBegan)
        {
            // A sync that began before a confirmation does not override where the site is, and how it presents itself.
            merged = merged with
            {
                Existence = known.Existence,
                Bin = known.Bin,
                Address = known.Address,
                Forwards = known.Forwards,
                Name = known.Name,
                ShownName = known.ShownName,
                Description = known.Description,
                Logo = known.Logo,
                LogoFrom = known.LogoFrom,
                StandsAt = known.StandsAt,
            };
        }

        IReadOnlyCollection<WantedState> AfterIt(HostChange hostChange) =>
            [
                .. confirmed.Where(other => other.Place > hostChange.Place).Select(other => other.WantedState),
                .. known.UnderWay.Select(open => open.WantedState),
            ];
        var moved = confirmed
            .Select(hostChange => ChangeQueue.Seen(hostChange, seen, AfterIt(hostChange), syncBegan, now))
            .Where(hostChange => hostChange.State != ChangeState.Confirmed)
            .ToList();
        var (before, after) = SiteRecord.Difference(known, merged);
        if (before.All.Count == 0 && after.All.Count == 0)
        {
            // Without new facts the row stays as it is, including the instant of its sharing.
            var moves = known with { Facts = known.Facts.With(merged.Facts, fact => fact.Pace != FactPace.ByEvents) };
            return new Imported(moves, moves != known, moved, null);
        }

        return new Imported(
            merged,
            true,
            moved,
            new Draft(JournalAction.SiteSynced, Actor(merged), Subject(merged)) { Before = before, After = after }
        );
    }

    /// <summary>What a list claims about a site of another host. No entry if nothing is new.</summary>
    public static Imported Apply(
        SiteFacts known,
        string list,
        IReadOnlyDictionary<ClaimedFact, Known<string>> facts,
        DateTimeOffset at
    )
    {
        var told = known.Listed(list, facts, at);
        var (before, after) = SiteRecord.Difference(known, told);
        return before.All.Count == 0 && after.All.Count == 0
            ? new Imported(known, false, [], null)
            : new Imported(
                told,
                true,
                [],
                new Draft(JournalAction.SiteSynced, EntryActor.OfSource(list), Subject(known)) { Before = before, After = after }
            );
    }

    /// <summary>Only a complete sync makes a site "no longer reported", which is not deleted. A site that was in the host's bin
    /// and is no longer there was erased.
    /// </summary>
    public static Imported MarkMissing(SiteFacts known, DateTimeOffset now) =>
        known.Existence == Existence.Attic
            ? Gone(known, known with { Existence = Existence.Erased, Bin = null, StandsAt = now }, JournalAction.SiteSynced)
            : Gone(known, known with { NoLongerReported = true }, JournalAction.SiteNoLongerReported);

    private static Imported Gone(SiteFacts known, SiteFacts now, JournalAction action)
    {
        var (before, after) = SiteRecord.Difference(known, now);
        return new(now, true, [], new Draft(action, Actor(known), Subject(known)) { Before = before, After = after });
    }

    /// <summary>The facts that the host confirmed in its response to a change. The change has its own journal entry.</summary>
    public static SiteFacts Confirm(SiteFacts site, WantedState wanted, HostAnswer.Done done, DateTimeOffset now)
    {
        var shared = done.Grants is { } grants
            ? site with
            {
                Sharing = Newer(site.Sharing, Known.Of(new Sharing(grants, done.OwnLimit, now, SharingSource.Confirmed))),
            }
            : site;
        var presented = wanted.Look?.On(shared) ?? shared;
        return wanted is { Existence: null, Address: null, Look: null }
            ? shared
            : presented with
            {
                Existence = wanted.Existence ?? site.Existence,
                Bin =
                    wanted.Existence == Existence.Attic ? done.Bin
                    : wanted.Existence == Existence.InUse ? null
                    : site.Bin,
                Address = done.Address is { } address ? Known.Of(address) : site.Address,
                Forwards = done.Forwards ?? site.Forwards,
                StandsAt = now,
            };
    }

    private static Known<Sharing> Newer(Known<Sharing> known, Known<Sharing> seen) =>
        known.Has(out var old) && seen.Has(out var read) ? Known.Of(Sharings.Newer(old, read))
        : seen.IsUnknown && !known.IsUnknown ? known
        : seen;

    private static EntryActor Actor(SiteFacts site) => EntryActor.OfSource(site.Host);

    private static EntrySubject Subject(SiteFacts site) => EntrySubject.Of(site.Id);
}
