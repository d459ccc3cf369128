using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>How a part of a site with permissions of its own hangs on the site.</summary>
public enum PartTie : byte
{
    /// <summary>Whoever gets into the site at all, met with what the part lets in.</summary>
    Nested,

    /// <summary>Content with its own door: whoever may view the site may view it too; shutting the site shuts nothing.</summary>
    StandingFree,
}

/// <summary>A part of a site with permissions of its own.</summary>
/// <param name="Key">The host's own.</param>
public sealed record SiteSection(string Key, string Name, PartTie Tie, IReadOnlyList<Grant> Grants)
{
    public bool Equals(SiteSection? other) =>
        other is not null && Key == other.Key && Name == other.Name && Tie == other.Tie && Grants.SequenceEqual(other.Grants);

    public override int GetHashCode() => HashCode.Combine(Key, Name, Tie, Grants.Count);
}
