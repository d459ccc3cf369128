using System.Text.Json;
using System.Text.Json.Serialization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Store;

/// <summary>The JSON in columns: limits, and the grants of a change.</summary>
internal static class Json
{
    internal static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        IgnoreReadOnlyProperties = true,
        Converters = { new JsonStringEnumConverter() },
    };

    public static string? Of(PowerLimits? limits) =>
        limits is null
            ? null
            : JsonSerializer.Serialize(
                new StoredLimits(Stored(limits.View), Stored(limits.Preview), Stored(limits.Edit)),
                Options
            );

    public static PowerLimits Limits(string text)
    {
        var stored = JsonSerializer.Deserialize<StoredLimits>(text, Options)!;
        return new PowerLimits(Limit(stored.View), Limit(stored.Preview), Limit(stored.Edit));
    }

    public static string Of(IReadOnlyList<GrantChange> changes) =>
        JsonSerializer.Serialize(
            changes.Select(change => new StoredChange(change.Key, change.Wanted is { } grant ? StoredGrant.Of(grant) : null)),
            Options
        );

    public static IReadOnlyList<GrantChange> Changes(string text) =>
        [
            .. JsonSerializer
                .Deserialize<StoredChange[]>(text, Options)!
                .Select(stored => new GrantChange(stored.Key, stored.Wanted?.Grant(stored.Key))),
        ];

    public static string Of(Remark remark) => JsonSerializer.Serialize(StoredRemark.Of(remark), Options);

    public static Remark Remark(string text) => JsonSerializer.Deserialize<StoredRemark>(text, Options)!.Remark;

    public static string Of(IReadOnlyList<Remark> remarks) => JsonSerializer.Serialize(remarks.Select(StoredRemark.Of), Options);

    public static IReadOnlyList<Remark> Remarks(string text) =>
        [.. JsonSerializer.Deserialize<StoredRemark[]>(text, Options)!.Select(stored => stored.Remark)];

    public static string Of(HostCapabilities capabilities) =>
        JsonSerializer.Serialize(StoredCapabilities.Of(capabilities), Options);

    public static HostCapabilities Capabilities(string text) =>
        JsonSerializer.Deserialize<StoredCapabilities>(text, Options)!.Capabilities;

    public static string Of(IReadOnlyList<Term> terms) =>
        JsonSerializer.Serialize(terms.Select(term => new StoredTerm(term.Fact, term.Code, term.Name, [.. term.Words])), Options);

    public static IReadOnlyList<Term> Terms(string text) =>
        [
            .. JsonSerializer
                .Deserialize<StoredTerm[]>(text, Options)!
                .Select(stored => new Term(stored.Fact, stored.Code, stored.Name, [.. stored.Words])),
        ];

    public static string Of(IReadOnlyList<KindToStart> kinds) =>
        JsonSerializer.Serialize(kinds.Select(StoredKindToStart.Of), Options);

    public static IReadOnlyList<KindToStart> KindsToStart(string text) =>
        [.. JsonSerializer.Deserialize<StoredKindToStart[]>(text, Options)!.Select(stored => stored.ToStart)];

    public static string Of(IReadOnlyList<ExpectedReach> reaches) =>
        JsonSerializer.Serialize(reaches.Select(one => new StoredExpectedReach(one.Purpose, StoredReach.Of(one.Reach))), Options);

    public static IReadOnlyList<ExpectedReach> ExpectedReaches(string text) =>
        [
            .. JsonSerializer
                .Deserialize<StoredExpectedReach[]>(text, Options)!
                .Select(stored => new ExpectedReach(stored.Purpose, stored.Reach.Reach)),
        ];

    public static IReadOnlyList<string> Words(string text) => JsonSerializer.Deserialize<string[]>(text, Options)!;

    public static string Of(NewSite wanted) => JsonSerializer.Serialize(StoredNewSite.Of(wanted), Options);

    public static NewSite NewSite(string text) => JsonSerializer.Deserialize<StoredNewSite>(text, Options)!.Wanted;

    public static string? Of(IReadOnlyList<Claim> said) =>
        said.Count == 0
            ? null
            : JsonSerializer.Serialize(
                said.Select(claim => new StoredClaim(claim.Fact, claim.Source, claim.Value, claim.Since, claim.By?.Value)),
                Options
            );

    /// <summary>The part of a site's claims that shows that a fact was set at an instant.</summary>
    public static string ClaimedAt(ClaimedFact fact, DateTimeOffset at) =>
        JsonSerializer.Serialize(
            new[]
            {
                new
                {
                    fact,
                    source = Claims.Organisation,
                    since = at,
                },
            },
            Options
        );

    public static IReadOnlyList<Claim> ClaimsOf(string text) =>
        [
            .. JsonSerializer
                .Deserialize<StoredClaim[]>(text, Options)!
                .Select(stored => new Claim(
                    stored.Fact,
                    stored.Source,
                    stored.Value,
                    stored.Since,
                    stored.By is { } by ? new PersonId(by) : null
                )),
        ];

    public static string Of(LineEffect effect) => JsonSerializer.Serialize(StoredEffect.Of(effect), Options);

    public static LineEffect LineEffect(string text) => JsonSerializer.Deserialize<StoredEffect>(text, Options)!.Effect;

    public static string Of(WantedState request) => JsonSerializer.Serialize(StoredRequest.Of(request), Options);

    public static WantedState WantedState(string text) => JsonSerializer.Deserialize<StoredRequest>(text, Options)!.Wanted;

    public static string Of(Snapshot snapshot) =>
        JsonSerializer.Serialize(
            new StoredSnapshot(
                Fact(snapshot.Name),
                Fact(snapshot.Address),
                Fact(snapshot.Unit.Select(unit => unit.Value)),
                Fact(snapshot.Classification),
                Fact(snapshot.Status),
                Fact(snapshot.Pages),
                Fact(
                    snapshot.Grants.Select(grants =>
                        grants.Select(grant => new StoredChange(grant.Key, StoredGrant.Of(grant))).ToArray()
                    )
                )
            ),
            Options
        );

    public static Snapshot Snapshot(string text)
    {
        var stored = JsonSerializer.Deserialize<StoredSnapshot>(text, Options)!;
        return new Snapshot(
            stored.Name.Known(),
            stored.Address.Known(),
            stored.Unit.Known().Select(unit => new UnitCode(unit)),
            stored.Classification.Known(),
            stored.Status.Known(),
            stored.Pages.Known(),
            stored
                .Grants.Known()
                .Select(grants => (IReadOnlyList<Grant>)[.. grants.Select(grant => grant.Wanted!.Grant(grant.Key))])
        );
    }

    public static string Of(IReadOnlyList<ClassificationSince> classes) =>
        JsonSerializer.Serialize(classes.Select(one => new StoredClassification(one.Classification, one.From)), Options);

    public static IReadOnlyList<ClassificationSince> Classifications(string text) =>
        [
            .. JsonSerializer
                .Deserialize<StoredClassification[]>(text, Options)!
                .Select(stored => new ClassificationSince(stored.Classification, stored.From)),
        ];

    public static string? Of(NotificationLink? link) =>
        link is null
            ? null
            : JsonSerializer.Serialize(new StoredLink(link.Purpose, link.Subject, link.Until, link.Label), Options);

    public static NotificationLink Link(string text)
    {
        var stored = JsonSerializer.Deserialize<StoredLink>(text, Options)!;
        return new NotificationLink(stored.Purpose, stored.Subject, stored.Until, stored.Label);
    }

    private static StoredFact<T> Fact<T>(Known<T> fact)
        where T : notnull => new(fact.IsUnknown, fact.Has(out var value) ? [value] : []);

    private static StoredLimit Stored(Limit limit) => new((int)limit.Inside, limit.Widest, limit.LeastSignIn, limit.GuestInviter);

    private static Limit Limit(StoredLimit stored) =>
        new((InsideLimit)stored.Inside, stored.Widest, stored.VisitorSignIn, stored.GuestInviter);
}
