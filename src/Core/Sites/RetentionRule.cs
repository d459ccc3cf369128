namespace AtticLedger.Core.Sites;

/// <summary>The number of calendar days for which policy keeps a site in the attic: for one classification, for one host, or in
/// general. The most specific rule in force applies; a classification is more specific than a host.
/// </summary>
/// <param name="From">The first instant at which it is in force.</param>
/// <param name="Until">The first instant at which it no longer is, or null.</param>
public sealed record RetentionRule(
    string? Host,
    string? Classification,
    int Days,
    DateTimeOffset From,
    DateTimeOffset? Until = null
)
{
    /// <summary>The default without a rule.</summary>
    public static RetentionRule Standard { get; } = new(null, null, 90, DateTimeOffset.MinValue);

    public bool IsInForce(DateTimeOffset at) => From <= at && !(Until <= at);

    public bool Covers(string host, string? classification) =>
        (Host is null || Host == host) && (Classification is null || Classification == classification);

    public int Particular => (Classification is null ? 0 : 2) + (Host is null ? 0 : 1);

    /// <summary>Its scope in words, after "keeps": "Guarded sites on Intranet".</summary>
    public string Of =>
        $"{(Classification is null ? "sites in the attic" : $"{Classification} sites")}{(Host is null ? "" : $" on {Host}")}";
}
