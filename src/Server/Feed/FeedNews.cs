using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Feed;

/// <summary>The meaning of a feed entry for the index.</summary>
internal abstract record FeedNews
{
    /// <summary>A site has changed.</summary>
    public sealed record Site(SiteId Id) : FeedNews;

    /// <summary>People or groups have changed.</summary>
    public sealed record People : FeedNews;

    /// <summary>Limits, rules or units have changed, or a whole list was loaded.</summary>
    public sealed record Organisation : FeedNews;

    /// <summary>Nothing in the index has changed.</summary>
    public sealed record Nothing : FeedNews;

    public static FeedNews Of(string subject, string action) =>
        action switch
        {
            "people.synced" or "account.added" or "person.left" or PeopleLists.Imported or PeopleLists.Undone => new People(),
            "list.imported" or "source.missing-confirmed" => new Nothing(),
            SiteRecord.ListUndone when subject.StartsWith("source:", StringComparison.Ordinal) => new Nothing(),
            _ when subject.StartsWith("site:", StringComparison.Ordinal) => new Site(
                new SiteId(long.Parse(subject["site:".Length..], CultureInfo.InvariantCulture))
            ),
            _ when subject == "organisation" || subject.StartsWith("source:", StringComparison.Ordinal) => new Organisation(),
            _ => new Nothing(),
        };
}
