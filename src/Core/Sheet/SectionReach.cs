using AtticLedger.Core.Doors;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sheet;

/// <summary>Who can view a section of a site in fact.</summary>
/// <param name="IsAjar">Whether it lets in somebody whom its site does not.</param>
public sealed record SectionReach(SiteSection Section, AccessBounds View, Truth IsAjar)
{
    /// <summary>Each section of a site; its layers are those over the site, but for the site's own limit.</summary>
    /// <param name="ofSite">Who can view the site's live copy.</param>
    public static IReadOnlyList<SectionReach> Of(SiteFacts site, AccessBounds ofSite, House house, Roll roll)
    {
        if (!site.Content.Sections.Has(out var sections))
        {
            return [];
        }

        // Where the site lies in the attic it lets nobody in, and a section with a door of its own knows nothing of that.
        var through = site.Existence == Existence.Here ? ofSite : new AccessBounds(Access.None, Access.None);
        return
        [
            .. sections.Select(section =>
            {
                var own = Passages.Of(site with { Sharing = Known.Of(new Sharing(section.Grants, null, default, SharingSource.Read)), Stage = Known.Of(Stage.Live) }, house, roll)
                    .OfAll(Known.Of(section.Grants))[(int)Power.View].Actual;
                var view = Parts.Actual(section.Tie, Power.View, own, through, roll);
                return new SectionReach(section, view, section.Tie == PartTie.StandingFree ? Parts.IsOpenWhereSiteIsShut(view, through) : Truth.No);
            }),
        ];
    }
}
