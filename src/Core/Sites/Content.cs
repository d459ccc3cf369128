using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>The content of a site and what depends on it, as its host reports. Pages, size and current editors change by
/// themselves; the others are facts whose change is an event.
/// </summary>
public sealed record Content
{
    public Known<int> Pages { get; init; }

    /// <summary>Its size at the host, in bytes.</summary>
    public Known<long> Bytes { get; init; }

    /// <summary>Web domains that show the site under their own name.</summary>
    public Known<IReadOnlyList<string>> Domains { get; init; }

    /// <summary>The host's key of the parent site.</summary>
    public Known<string> Parent { get; init; }

    /// <summary>A group that was created with the site and is removed with it.</summary>
    public Known<GroupId> Group { get; init; }

    /// <summary>Who is editing the site now.</summary>
    public Known<IReadOnlyList<PersonId>> Editing { get; init; }

    /// <summary>The name shown on its pages, which can differ from the stored one.</summary>
    public Known<string> ShownName { get; init; }

    /// <summary>The title of its home page.</summary>
    public Known<string> HomeTitle { get; init; }

    /// <summary>The description by its owners.</summary>
    public Known<string> Description { get; init; }

    /// <summary>Its language, as a tag of BCP 47: "en", "cy-GB".</summary>
    public Known<string> Language { get; init; }

    /// <summary>Its paid plan.</summary>
    public Known<SitePlan> Plan { get; init; }

    /// <summary>A mail address of the site that forwards to a person or a mailbox elsewhere.</summary>
    public Known<string> MailAlias { get; init; }

    public Known<IReadOnlyList<Obligation>> Obligations { get; init; }

    /// <summary>The number of records that must be kept although nobody can claim anything by them: delivered orders, answered
    /// forms.</summary>
    public Known<int> Records { get; init; }

    public Known<IReadOnlyList<Signal>> Signals { get; init; }

    public Known<Joining> Joining { get; init; }

    /// <summary>Pages that other sites show too.</summary>
    public Known<IReadOnlyList<Shared>> Shared { get; init; }

    /// <summary>Sections with their own access settings.</summary>
    public Known<IReadOnlyList<SiteSection>> Sections { get; init; }

    public bool Equals(Content? other) =>
        other is not null
        && Pages == other.Pages
        && Bytes == other.Bytes
        && Parent == other.Parent
        && Group == other.Group
        && ShownName == other.ShownName
        && HomeTitle == other.HomeTitle
        && Description == other.Description
        && Language == other.Language
        && Plan == other.Plan
        && MailAlias == other.MailAlias
        && Records == other.Records
        && Joining == other.Joining
        && Same(Domains, other.Domains)
        && Same(Editing, other.Editing)
        && Same(Obligations, other.Obligations)
        && Same(Signals, other.Signals)
        && Same(Sections, other.Sections)
        && Same(Shared, other.Shared);

    public override int GetHashCode() => HashCode.Combine(Pages, Bytes, Parent, Group);

    private static bool Same<T>(Known<IReadOnlyList<T>> one, Known<IReadOnlyList<T>> other) =>
        one.IsUnknown == other.IsUnknown && one.IsNone == other.IsNone && one.Or([]).SequenceEqual(other.Or([]));
}
