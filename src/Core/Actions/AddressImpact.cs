using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A site with pages that link to another.</summary>
/// <param name="IsSeen">True if it is in the actor's scope.</param>
public sealed record LinkingSite(SiteId Site, string Title, int Pages, bool IsSeen = true);

/// <summary>The pages of other sites that link to a site.</summary>
/// <param name="Unread">The number of sites whose pages could not be read, so that links on them are not known.</param>
public sealed record LinksHere(IReadOnlyList<LinkingSite> Sites, int Unread);

/// <summary>What matters around a change of a site's address.</summary>
/// <param name="Book">Who holds the wanted address, and the reserved words.</param>
/// <param name="Sees">True for a holder in the actor's scope.</param>
public sealed record AroundAddress(AddressBook Book, Func<SiteId, bool> Sees, LinksHere Links)
{
    /// <summary>The name of a holder, for who may see it.</summary>
    public string? NameOf(Holding by) => by.Site is { } site && Sees(site) ? by.Title : null;
}

/// <summary>What a changed address means for those who use the old one.</summary>
/// <param name="Links">Sites with pages that link to the old address, and that the actor sees.</param>
/// <param name="HiddenLinking">The number of other sites with such pages.</param>
/// <param name="ForwardThrough">The last day on which the old address forwards to the new one; null if it does not.</param>
/// <param name="Former">Addresses that the site had before, and that forward to the new one from then on.</param>
/// <param name="SwapWith">The site that gets the old address for the new one.</param>
public sealed record AddressImpact(
    IReadOnlyList<LinkingSite> Links,
    int HiddenLinking,
    int Unread,
    Known<int> Visits,
    DateOnly? ForwardThrough,
    IReadOnlyList<Forward> Former,
    string? SwapWith
)
{
    // Visits change by themselves.
    public JournalValue InJournal =>
        JournalValue.Of(
            (
                "links",
                JournalValue.Of(
                    Links.Select(site =>
                        JournalValue.Of(("site", JournalValue.Of(site.Site.Value)), ("pages", JournalValue.Of(site.Pages)))
                    )
                )
            ),
            ("hidden", JournalValue.Of(HiddenLinking)),
            (
                "forwardThrough",
                JournalValue.Of(ForwardThrough?.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture))
            ),
            ("former", JournalValue.Of(Former.Select(forward => JournalValue.Of(forward.Address)))),
            ("swapWith", JournalValue.Of(SwapWith))
        );
}
