using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>How people without access can get it.</summary>
public enum JoinWay : byte
{
    /// <summary>Only an owner can admit people.</summary>
    Invited,

    /// <summary>People can ask; an owner answers.</summary>
    Asked,

    /// <summary>People can join by themselves.</summary>
    Open,
}

/// <param name="Waiting">The number of requests that wait for an answer.</param>
/// <param name="Since">When the first of them was made.</param>
/// <param name="Members">The power of those who have joined; unknown if not reported.</param>
public sealed record Joining(JoinWay Way, int Waiting, DateTimeOffset? Since, Known<Power> Members = default);

/// <summary>A page of the site that other sites show too: it disappears there as well.</summary>
/// <param name="In">The names of those sites at the host.</param>
public sealed record Shared(string What, ValueList<string> In);
