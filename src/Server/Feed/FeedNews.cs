using System.Globalization;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Feed;

/// <summary>What an entry of the feed means for the sheet.</summary>
internal abstract record FeedNews
{
    /// <summary>A site is another.</summary>
    public sealed record Site(SiteId Id) : FeedNews;

    /// <summary>People or groups are others.</summary>
    public sealed record People : FeedNews;

    /// <summary>Limits, rules or units are others, or a whole list was loaded.</summary>
    public sealed record House : FeedNews;

    /// <summary>Nothing that stands in the sheet.</summary>
    public sealed record Nothing : FeedNews;

    public static FeedNews Of(string subject, string deed) =>
        deed switch
        {
            "people.seen" or "account.given" or "person.left" or PeopleLists.TakenIn or PeopleLists.Undone => new People(),
            "list.taken" or "source.gone" => new Nothing(),
            SiteRecord.ListUndone when subject.StartsWith("source:", StringComparison.Ordinal) => new Nothing(),
            _ when subject.StartsWith("site:", StringComparison.Ordinal) => new Site(
                new SiteId(long.Parse(subject["site:".Length..], CultureInfo.InvariantCulture))
            ),
            _ when subject == "house" || subject.StartsWith("source:", StringComparison.Ordinal) => new House(),
            _ => new Nothing(),
        };
}
