using AtticLedger.Core.Access;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>Who can view a section of a site in fact.</summary>
/// <param name="IsAjar">True if it admits somebody whom its site does not.</param>
public sealed record SectionReach(SiteSection Section, AccessBounds View, Truth IsAjar)
{
    /// <summary>Each section of a site; its layers are those over the site, without the site's own.</summary>
    /// <param name="view">Who can view the published copy of the site.</param>
    /// <param name="preview">Who can view its draft: sections of a site that was never published are compared with these.</param>
    public static IReadOnlyList<SectionReach> Of(SiteFacts site, AccessPath view, AccessPath preview)
    {
        if (!site.Sections.Has(out var sections))
        {
            return [];
        }

        // A site in the attic admits nobody, but that does not affect a section with its own access.
        var isShut = site.Existence != Existence.InUse;
        AccessPath[] through = isShut
            ? [view]
            : AccessPaths.WasPublished(site.Status) switch
            {
                Truth.Yes => [view],
                Truth.No => [preview],
                _ => [view, preview],
            };
        return
        [
            .. from section in sections
            let reach = PartReach.Shared([.. through.Select(accessPath => accessPath.OfPart(section, isShut))])
            select new SectionReach(section, reach.View, reach.IsAjar),
        ];
    }
}
