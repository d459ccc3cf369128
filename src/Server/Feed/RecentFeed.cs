using AtticLedger.Store;

namespace AtticLedger.Server.Feed;

/// <summary>The latest entries of the feed, in memory, for the browsers that listen.</summary>
internal sealed class RecentFeed
{
    private const int Most = 2000;
    private volatile Kept kept = new(long.MaxValue, []);

    /// <param name="After">The position after which every entry is here.</param>
    private sealed record Kept(long After, IReadOnlyList<FeedEntry> Entries);

    /// <summary>Adds what followed a position. Only one caller at a time.</summary>
    public void Add(long after, IReadOnlyList<FeedEntry> entries)
    {
        var before = kept;
        IReadOnlyList<FeedEntry> all = before.After > after ? entries : [.. before.Entries, .. entries];
        var dropped = Math.Max(0, all.Count - Most);
        kept = new Kept(
            dropped > 0 ? all[dropped - 1].Number : Math.Min(before.After, after),
            dropped > 0 ? [.. all.Skip(dropped)] : all
        );
    }

    /// <summary>The entries after a position, up to another; null if they are not all here any more.</summary>
    public IReadOnlyList<FeedEntry>? Between(long after, long through) =>
        after >= through ? []
        : kept is var now && now.After <= after ? [.. now.Entries.Where(entry => entry.Number > after && entry.Number <= through)]
        : null;
}
