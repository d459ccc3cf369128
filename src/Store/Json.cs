using System.Text.Json;
using System.Text.Json.Serialization;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Store;

/// <summary>The JSON that stands in columns: limits, and the grants that an order names.</summary>
internal static class Json
{
    private static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        Converters = { new JsonStringEnumConverter() },
    };

    public static string? Of(PowerLimits? limits) =>
        limits is null ? null : JsonSerializer.Serialize(new StoredLimits(Stored(limits.View), Stored(limits.Preview), Stored(limits.Edit)), Options);

    public static PowerLimits Limits(string text)
    {
        var stored = JsonSerializer.Deserialize<StoredLimits>(text, Options)!;
        return new PowerLimits(Limit(stored.View), Limit(stored.Preview), Limit(stored.Edit));
    }

    public static string Of(IReadOnlyList<GrantChange> changes) =>
        JsonSerializer.Serialize(changes.Select(change => new StoredChange(change.Key, change.Wanted is { } grant ? StoredGrant.Of(grant) : null)), Options);

    public static IReadOnlyList<GrantChange> Changes(string text) =>
        [.. JsonSerializer.Deserialize<StoredChange[]>(text, Options)!.Select(stored => new GrantChange(stored.Key, stored.Wanted?.Grant(stored.Key)))];

    private static StoredLimit Stored(Limit limit) => new((int)limit.Inside, limit.Widest, limit.LeastProof, limit.Voucher);

    private static Limit Limit(StoredLimit stored) => new((InsideLimit)stored.Inside, stored.Widest, stored.Proof, stored.Voucher);

    private sealed record StoredLimits(StoredLimit View, StoredLimit Preview, StoredLimit Edit);

    private sealed record StoredLimit(int Inside, OutsideLevel Widest, Proof Proof, Voucher Voucher);

    private sealed record StoredChange(string Key, StoredGrant? Wanted);
}

/// <summary>A grant as columns and JSON have it: the subject as a word and an id.</summary>
internal sealed record StoredGrant(Power Power, string Subject, long? Person, long? Group, string? Unit, Proof Proof, bool IsLink, DateOnly? Through)
{
    public static StoredGrant Of(Grant grant)
    {
        var (word, person, group, unit) = grant.Subject switch
        {
            Core.Sites.Subject.OnePerson(var id) => ("person", (long?)id.Value, (long?)null, (string?)null),
            Core.Sites.Subject.OneGroup(var id) => ("group", null, id.Value, null),
            Core.Sites.Subject.WholeUnit(var code) => ("unit", null, null, code.Value),
            Core.Sites.Subject.AllStaff => ("staff", null, null, null),
            Core.Sites.Subject.Partners => ("partners", null, null, null),
            _ => ("passers-by", null, null, null),
        };
        return new StoredGrant(grant.Power, word, person, group, unit, grant.Proof, grant.IsLink, grant.Through);
    }

    public Grant Grant(string key) =>
        new(
            key,
            Power,
            Subject switch
            {
                "person" => new Core.Sites.Subject.OnePerson(new PersonId(Person!.Value)),
                "group" => new Core.Sites.Subject.OneGroup(new GroupId(Group!.Value)),
                "unit" => new Core.Sites.Subject.WholeUnit(new UnitCode(Unit!)),
                "staff" => new Core.Sites.Subject.AllStaff(),
                "partners" => new Core.Sites.Subject.Partners(),
                _ => new Core.Sites.Subject.PassersBy(),
            },
            Proof,
            IsLink,
            Through);
}
