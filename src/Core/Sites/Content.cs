using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>
/// What there is in a site, and what hangs on it, as its host says. Pages, size and who edits move by themselves; the rest
/// are facts whose change is an event.
/// </summary>
public sealed record Content
{
    public Known<int> Pages { get; init; }

    /// <summary>What it takes at the host, in bytes.</summary>
    public Known<long> Bytes { get; init; }

    /// <summary>Web domains that show the site under a name of their own.</summary>
    public Known<IReadOnlyList<string>> Domains { get; init; }

    /// <summary>The host's key of the site that this one is a child of.</summary>
    public Known<string> Parent { get; init; }

    /// <summary>A group that was made with the site and goes with it.</summary>
    public Known<GroupId> Group { get; init; }

    /// <summary>Who has the site open for editing now.</summary>
    public Known<IReadOnlyList<PersonId>> Editing { get; init; }

    /// <summary>The name that its pages carry, which need not be the stored one.</summary>
    public Known<string> ShownName { get; init; }

    /// <summary>What its home page is called.</summary>
    public Known<string> HomeTitle { get; init; }

    /// <summary>What its makers write that it is.</summary>
    public Known<string> Description { get; init; }

    /// <summary>The language that it is written in, as a tag of BCP 47: "en", "cy-GB".</summary>
    public Known<string> Language { get; init; }

    /// <summary>The paid plan that keeps it going.</summary>
    public Known<SitePlan> Plan { get; init; }

    /// <summary>A mail address that goes with the site and leads to a person or a mailbox elsewhere.</summary>
    public Known<string> MailAlias { get; init; }

    public Known<IReadOnlyList<Obligation>> Obligations { get; init; }

    /// <summary>How many records it holds that must be kept although nobody can claim anything by them: orders delivered, forms answered.</summary>
    public Known<int> Records { get; init; }

    public Known<IReadOnlyList<Signal>> Signals { get; init; }

    public Known<Joining> Joining { get; init; }

    /// <summary>Pieces that stand in other sites too.</summary>
    public Known<IReadOnlyList<Shared>> Shared { get; init; }

    /// <summary>Parts with permissions of their own.</summary>
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
