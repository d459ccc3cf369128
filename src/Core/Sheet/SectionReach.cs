using AtticLedger.Core.Doors;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sheet;

/// <summary>Who can view a section of a site in fact.</summary>
/// <param name="IsAjar">Whether it lets in somebody whom its site does not.</param>
public sealed record SectionReach(SiteSection Section, AccessBounds View, Truth IsAjar)
{
    /// <summary>Each section of a site; its layers are those over the site, but for the site's own.</summary>
    /// <param name="view">Who can view the published copy of the site.</param>
    /// <param name="preview">Who can view its draft: a section of a site that was never published is held against them.</param>
    public static IReadOnlyList<SectionReach> Of(SiteFacts site, Passage view, Passage preview)
    {
        if (!site.Content.Sections.Has(out var sections))
        {
            return [];
        }

        // A site in the attic lets nobody in, and a section with a door of its own knows nothing of that.
        var isShut = site.Existence != Existence.Here;
        Passage[] through = isShut
            ? [view]
            : Passages.WasPublished(site.Stage) switch
            {
                Truth.Yes => [view],
                Truth.No => [preview],
                _ => [view, preview],
            };
        return
        [
            .. from section in sections
            let reach = PartReach.Shared([.. through.Select(passage => passage.OfPart(section, isShut))])
            select new SectionReach(section, reach.View, reach.IsAjar),
        ];
    }
}
