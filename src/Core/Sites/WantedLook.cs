using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>The logo that a site is to have.</summary>
/// <param name="Source">Null for none.</param>
/// <param name="From">Kept with the site: the SHA-256 hash of the picture. Borrowed: the host's key of the other site. Linked: the
/// address of the picture.</param>
public sealed record WantedLogo(LogoSource? Source, string? From)
{
    public static WantedLogo None { get; } = new(null, null);
}

/// <summary>How a site is to present itself. A part that is null stays as it is.</summary>
/// <param name="Description">The empty text for none.</param>
public sealed record WantedLook(string? Name = null, string? Description = null, WantedLogo? Logo = null)
{
    /// <summary>What a site presents now of the parts that another look names, as far as it is known.</summary>
    public static WantedLook Of(ReportedFacts site, WantedLook parts) =>
        new(
            parts.Name is null ? null : TextOf(site.Name),
            parts.Description is null ? null : TextOf(site.Description),
            parts.Logo is null ? null : LogoOf(site)
        );

    /// <summary>The part that is not so yet; null if all of it is.</summary>
    public WantedLook? LeftIn(ReportedFacts site) =>
        OrNull(
            IsSo(Name, site.Name) == Truth.Yes ? null : Name,
            IsSo(Description, site.Description) == Truth.Yes ? null : Description,
            IsSo(Logo, site) == Truth.Yes ? null : Logo
        );

    /// <summary>The part that a later look leaves in force; null if nothing of it.</summary>
    public WantedLook? Without(WantedLook? later) =>
        OrNull(
            later?.Name is null ? Name : null,
            later?.Description is null ? Description : null,
            later?.Logo is null ? Logo : null
        );

    public Truth IsSoIn(ReportedFacts site) =>
        IsSo(Name, site.Name).And(IsSo(Description, site.Description)).And(IsSo(Logo, site));

    /// <summary>The site with this look. Where its pages show the stored name, they follow it; where they show another, that one
    /// stays.</summary>
    public SiteFacts On(SiteFacts site) =>
        site with
        {
            Name = Name is null ? site.Name : Known.Of(Name),
            NearNames = Name is null ? site.NearNames : Known<int>.Unknown,
            ShownName =
                Name is not null && site.Name.Has(out var stored) && site.ShownName.Has(out var shown) && shown == stored
                    ? Known.Of(Name)
                    : site.ShownName,
            Description =
                Description is null ? site.Description
                : Description.Length == 0 ? Known<string>.None
                : Known.Of(Description),
            Logo =
                Logo is null ? site.Logo
                : Logo.Source is { } source ? Known.Of(source)
                : Known<LogoSource>.None,
            LogoFrom =
                Logo is null ? site.LogoFrom
                : Logo.From is { } from ? Known.Of(from)
                : Known<string>.None,
        };

    private static WantedLook? OrNull(string? name, string? description, WantedLogo? logo) =>
        name is null && description is null && logo is null ? null : new(name, description, logo);

    private static string? TextOf(Known<string> fact) =>
        fact.Has(out var text) ? text
        : fact.IsNone ? ""
        : null;

    private static WantedLogo? LogoOf(ReportedFacts site) =>
        site.Logo.IsNone ? WantedLogo.None
        : site.Logo.Has(out var source) && site.LogoFrom.Has(out var from) ? new WantedLogo(source, from)
        : null;

    private static Truth IsSo(string? wanted, Known<string> fact) =>
        wanted is null ? Truth.Yes
        : fact.IsUnknown ? Truth.Unknown
        : Truths.Of(fact.Or("") == wanted);

    // Where a host does not say where a logo comes from, its kind alone can contradict.
    private static Truth IsSo(WantedLogo? wanted, ReportedFacts site) =>
        wanted is null ? Truth.Yes
        : site.Logo.IsUnknown ? Truth.Unknown
        : (site.Logo.Has(out var source) ? source : (LogoSource?)null) != wanted.Source ? Truth.No
        : wanted.Source is null ? Truth.Yes
        : site.LogoFrom.IsUnknown ? Truth.Unknown
        : Truths.Of(site.LogoFrom.Or("") == wanted.From);
}
