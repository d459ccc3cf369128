namespace AtticLedger.Core.Sites;

/// <summary>
/// How many calendar days the house keeps what is put away: of one class, on one host, or at large. Of the rules in force
/// at an instant the most particular one speaks; a class is more particular than a host.
/// </summary>
/// <param name="From">The first instant at which it is in force.</param>
/// <param name="Until">The first at which it no longer is, or null.</param>
public sealed record KeepRule(string? Host, string? Class, int Days, DateTimeOffset From, DateTimeOffset? Until = null)
{
    /// <summary>What holds where no rule speaks.</summary>
    public static KeepRule Standard { get; } = new(null, null, 90, DateTimeOffset.MinValue);

    public bool IsInForce(DateTimeOffset at) => From <= at && !(Until <= at);

    public bool Covers(string host, string? @class) => (Host is null || Host == host) && (Class is null || Class == @class);

    public int Particular => (Class is null ? 0 : 2) + (Host is null ? 0 : 1);

    /// <summary>What it speaks of, to follow "keeps": "Guarded sites on Slipway".</summary>
    public string Of => $"{(Class is null ? "put-away sites" : $"{Class} sites")}{(Host is null ? "" : $" on {Host}")}";
}
