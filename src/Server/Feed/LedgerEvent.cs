using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Feed;

/// <summary>What else than single sites has changed.</summary>
public enum FeedTopic
{
    /// <summary>Everything may have: the organisation, or more than one message can name.</summary>
    Everything,
    People,

    /// <summary>Accounts, for those who administer them.</summary>
    Accounts,

    /// <summary>The viewer's own account or one of its sessions.</summary>
    OwnAccount,
    Sources,
    Batches,
    SiteRequests,

    /// <summary>A site outside the viewer's scope, which is not named: an offer or a task there may concern them.</summary>
    Elsewhere,
}

/// <summary>A message to a browser: how far the register is, and what has changed since the last message.</summary>
/// <param name="Place">The last position of the feed in the index.</param>
/// <param name="Sites">The changed sites that the viewer may see.</param>
public sealed record LedgerEvent(long Place, IReadOnlyList<long> Sites, IReadOnlyList<FeedTopic> Topics)
{
    private const int MostSites = 200;

    /// <param name="entries">What was added since; null if that is not known any more.</param>
    /// <param name="seen">The register as the viewer sees it.</param>
    public static LedgerEvent Of(long place, IReadOnlyList<FeedEntry>? entries, VisibleRegister seen, Viewer viewer)
    {
        if (entries is null)
        {
            return new LedgerEvent(place, [], [FeedTopic.Everything]);
        }

        var sites = new SortedSet<long>();
        var topics = new SortedSet<FeedTopic>();
        foreach (var entry in entries)
        {
            switch (entry)
            {
                case { Subject: EntrySubject.Site(var site) }:
                    if (seen.Find(site) is not null)
                    {
                        sites.Add(site.Value);
                    }
                    else
                    {
                        topics.Add(FeedTopic.Elsewhere);
                    }

                    break;
                case { Subject: EntrySubject.Human }:
                    topics.Add(FeedTopic.People);
                    break;
                case { Subject: EntrySubject.Account(var account) } when account == viewer.Account:
                    topics.UnionWith([FeedTopic.OwnAccount, FeedTopic.Accounts]);
                    break;
                case { Subject: EntrySubject.Account or EntrySubject.AllAccounts }:
                    topics.Add(FeedTopic.Accounts);
                    break;
                case { Subject: EntrySubject.Source }:
                    topics.Add(FeedTopic.Sources);
                    break;
                case { Subject: EntrySubject.Batch }:
                    topics.Add(FeedTopic.Batches);
                    break;
                case { Subject: EntrySubject.Request }:
                    topics.Add(FeedTopic.SiteRequests);
                    break;
                default:
                    topics.Add(FeedTopic.Everything);
                    break;
            }

            switch (entry.Action?.Changes)
            {
                case Changed.People:
                    topics.Add(FeedTopic.People);
                    break;
                case Changed.Organisation or null:
                    topics.Add(FeedTopic.Everything);
                    break;
            }
        }

        return sites.Count > MostSites || topics.Contains(FeedTopic.Everything)
            ? new LedgerEvent(place, [], [FeedTopic.Everything])
            : new LedgerEvent(place, [.. sites], [.. topics]);
    }
}
