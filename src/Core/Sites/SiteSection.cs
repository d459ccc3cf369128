using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>How the access of a section depends on that of its site.</summary>
public enum SectionTie : byte
{
    /// <summary>Only people who get into the site, restricted by the section's own access.</summary>
    Nested,

    /// <summary>Content with its own access: everybody who may view the site may view it too; shutting the site does not shut
    /// it.</summary>
    StandingFree,
}

/// <summary>A section of a site with its own access settings.</summary>
/// <param name="Key">The host's own key.</param>
public sealed record SiteSection(string Key, string Name, SectionTie Tie, ValueList<Grant> Grants);
