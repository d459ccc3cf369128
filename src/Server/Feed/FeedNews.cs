using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Feed;

/// <summary>The meaning of a feed entry for the index.</summary>
internal abstract record FeedNews
{
    /// <summary>A site has changed.</summary>
    public sealed record Site(SiteId Id) : FeedNews;

    /// <summary>People or groups have changed.</summary>
    public sealed record People : FeedNews;

    /// <summary>Rules have changed.</summary>
    public sealed record Rules : FeedNews;

    /// <summary>Limits or units have changed, or a whole list was loaded.</summary>
    public sealed record Organisation : FeedNews;

    /// <summary>Nothing in the index has changed.</summary>
    public sealed record Nothing : FeedNews;

    /// <summary>An entry of an action that this version does not know changes its site, or everything: never nothing.</summary>
    public static FeedNews Of(EntrySubject? subject, JournalAction? action) =>
        (subject, action?.Changes) switch
        {
            (_, Changed.People) => new People(),
            (_, Changed.Rules) => new Rules(),
            (EntrySubject.Site(var site), _) => new Site(site),
            (_, Changed.Nothing) => new Nothing(),
            _ => new Organisation(),
        };
}
