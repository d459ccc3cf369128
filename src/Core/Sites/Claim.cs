using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>Facts of a site that sources other than its host may claim: purpose, unit, classification, tags.</summary>
public enum ClaimedFact : byte
{
    Unit,
    Classification,
    Purpose,
    Tags,

    /// <summary>The host's own name of it: other claims about it are never decided in the product, but corrected at the
    /// source.</summary>
    Name,
    Address,
}

/// <summary>What a source claims about one fact of a site.</summary>
/// <param name="Source">The host, a list, or <see cref="Claims.Organisation"/>: set in the product.</param>
/// <param name="Value">Null if it claims that there is none.</param>
/// <param name="Since">Since when the source has claimed this value.</param>
/// <param name="By">Who set it in the product.</param>
public sealed record Claim(ClaimedFact Fact, string Source, string? Value, DateTimeOffset Since, PersonId? By = null);

/// <summary>Claims of sources that disagree are all kept, with times; the most direct applies: set in the product, then the
/// host, then lists. Setting a fact settles all earlier claims; a later claim disputes it again. If only the host claims a fact,
/// no claim is stored: the fact itself is one.
/// </summary>
public static class Claims
{
    public const string Organisation = "organisation";
    private static readonly ClaimedFact[] Facts = Enum.GetValues<ClaimedFact>();

    public static Known<string> Of(this SiteFacts site, ClaimedFact fact) =>
        fact switch
        {
            ClaimedFact.Unit => site.Unit.Select(unit => unit.Value),
            ClaimedFact.Classification => site.Classification,
            ClaimedFact.Purpose => site.Purpose,
            ClaimedFact.Tags => site.Tags,
            ClaimedFact.Name => site.Name,
            _ => site.Address,
        };

    public static SiteFacts With(this SiteFacts site, ClaimedFact fact, Known<string> value) =>
        fact switch
        {
            ClaimedFact.Unit => site with { Unit = value.Select(code => new UnitCode(code)) },
            ClaimedFact.Classification => site with { Classification = value },
            ClaimedFact.Purpose => site with { Purpose = value },
            ClaimedFact.Tags => site with { Tags = value },
            ClaimedFact.Name => site with { Name = value },
            _ => site with { Address = value },
        };

    /// <summary>The site as the host reports it now, combined with other claims: the most direct source applies.</summary>
    /// <param name="seen">As the host alone reports it.</param>
    public static SiteFacts Beside(this SiteFacts seen, IReadOnlyList<Claim> said, DateTimeOffset at) =>
        Facts.Aggregate(seen with { Claims = said }, (site, fact) => site.WithClaim(fact, site.Host, seen.Of(fact), at, null));

    /// <summary>The site with a source's claim about a fact; unknown withdraws its claim.</summary>
    public static SiteFacts WithClaim(
        this SiteFacts site,
        ClaimedFact fact,
        string source,
        Known<string> value,
        DateTimeOffset at,
        PersonId? by
    )
    {
        var before = site.Claims.Where(claim => claim.Fact == fact).ToList();

        // The host's claim was stored as the fact alone.
        if (before.Count == 0 && source != site.Host && !site.Of(fact).IsUnknown)
        {
            before.Add(new Claim(fact, site.Host, site.Of(fact).Has(out var own) ? own : null, site.SeenAt));
        }

        var kept = before.Where(claim => claim.Source != source).ToList();
        if (!value.IsUnknown)
        {
            var text = value.Has(out var said) ? said : null;
            kept.Add(
                before.Find(claim => claim.Source == source && claim.Value == text && source != Organisation)
                    ?? new Claim(fact, source, text, at, by)
            );
        }

        var most = kept.MinBy(claim => (Distance(claim.Source, site.Host), -claim.Since.UtcTicks, claim.Source));
        var told = site.With(
            fact,
            most is null ? Known<string>.Unknown
                : most.Value is { } winner ? Known.Of(winner)
                : Known<string>.None
        );
        return told with
        {
            Claims = kept.TrueForAll(claim => claim.Source == site.Host)
                ? [.. site.Claims.Where(claim => claim.Fact != fact)]
                :
                [
                    .. site
                        .Claims.Where(claim => claim.Fact != fact)
                        .Concat(kept)
                        .OrderBy(claim => claim.Fact)
                        .ThenBy(claim => claim.Source, StringComparer.Ordinal),
                ],
        };
    }

    /// <summary>What a list claims about a site of another host; the same claim twice changes nothing.</summary>
    public static SiteFacts Listed(
        this SiteFacts site,
        string list,
        IReadOnlyDictionary<ClaimedFact, Known<string>> facts,
        DateTimeOffset at
    ) => facts.Aggregate(site, (told, fact) => told.WithClaim(fact.Key, list, fact.Value, at, null));

    /// <summary>True if it can be set in the product.</summary>
    public static bool IsDecidedHere(this ClaimedFact fact) => fact is not (ClaimedFact.Name or ClaimedFact.Address);

    /// <summary>The facts for which a source has claimed a different value since the last setting.</summary>
    public static IReadOnlyList<ClaimedFact> Disputed(this SiteFacts site) =>
        site.Claims.Count == 0
            ? []
            :
            [
                .. Facts.Where(fact =>
                {
                    var said = site.Claims.Where(claim => claim.Fact == fact).ToList();
                    var decided = said.Find(claim => claim.Source == Organisation)?.Since;
                    var stands = site.Of(fact).Has(out var value) ? value : null;
                    return said.Exists(claim =>
                        claim.Source != Organisation && claim.Value != stands && !(claim.Since <= decided)
                    );
                }),
            ];

    private static int Distance(string source, string host) =>
        source == Organisation ? 0
        : source == host ? 1
        : 2;
}
