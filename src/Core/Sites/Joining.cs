using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>How somebody who is not let in becomes one who is.</summary>
public enum JoinWay : byte
{
    /// <summary>Only by being let in.</summary>
    Invited,

    /// <summary>By asking; an owner answers.</summary>
    Asked,

    /// <summary>By oneself.</summary>
    Open,
}

/// <param name="Waiting">How many have asked and wait for an answer.</param>
/// <param name="Since">Since when the first of them waits.</param>
/// <param name="Members">What somebody may do who has joined; unknown where the host does not say.</param>
public sealed record Joining(JoinWay Way, int Waiting, DateTimeOffset? Since, Known<Power> Members = default);

/// <summary>A piece of the site that stands in other sites too: it goes from there as well.</summary>
/// <param name="In">What those sites are called at the host.</param>
public sealed record Shared(string What, IReadOnlyList<string> In)
{
    public bool Equals(Shared? other) => other is not null && What == other.What && In.SequenceEqual(other.In);

    public override int GetHashCode() => HashCode.Combine(What, In.Count);
}
