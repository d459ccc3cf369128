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

        // A site that is offline or in the attic admits nobody, but that does not affect a section with its own access.
        (AccessPath Path, bool IsShut)[] through =
            site.Existence != Existence.InUse ? [(view, true)]
            : !site.Status.Has(out var status)
                ? site.Status.IsUnknown ? [(view, false), (preview, false), (view, true)]
                    : [(view, false)]
            : status == Status.NeverPublished ? [(preview, false)]
            : [(view, status == Status.Offline)];
        return
        [
            .. from section in sections
            let reach = PartReach.Shared([.. through.Select(one => one.Path.OfPart(section, one.IsShut))])
            select new SectionReach(section, reach.View, reach.IsAjar),
        ];
    }
}
