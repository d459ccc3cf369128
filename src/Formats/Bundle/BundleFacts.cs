using System.Text.Json;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Formats.Bundle;

/// <summary>How a bundle names what a register numbers.</summary>
public interface INamesForBundle
{
    string Of(PersonId person);

    GroupName Of(GroupId group);

    SectionRow Of(SiteSection section);
}

/// <summary>What a register has for the names in a bundle.</summary>
/// <remarks>Every method throws <see cref="BundleError"/> if the bundle does not have it.</remarks>
public interface INamesInBundle
{
    PersonId Person(string id);

    GroupId Group(GroupName name);

    UnitCode Unit(string code);

    SiteSection Section(SectionRow row);
}

/// <summary>The facts of a site as the fields of its row: a missing field is unknown, null is none.</summary>
public static class BundleFacts
{
    public static Dictionary<string, JsonElement> Write(FactSet facts, INamesForBundle names)
    {
        var fields = new Dictionary<string, JsonElement>();
        foreach (var fact in DeclaredFacts.All.Where(fact => !facts.IsUnknown(fact)))
        {
            fields[fact.Name] = JsonSerializer.SerializeToElement(
                facts.Of(fact).Has(out var value) ? Row(value, names) : null,
                BundleJson.Options
            );
        }

        return fields;
    }

    /// <exception cref="JsonException">A field is not that of a fact, or its value is not of the fact's type.</exception>
    public static FactSet Read(IReadOnlyDictionary<string, JsonElement>? fields, INamesInBundle names)
    {
        var read = new Reader(fields ?? new Dictionary<string, JsonElement>(), names);
        foreach (var fact in DeclaredFacts.All)
        {
            fact.Accept(read);
        }

        return
            fields?.Select(field => field.Key).FirstOrDefault(key => DeclaredFacts.All.All(fact => fact.Name != key)) is { } odd
            ? throw new JsonException($"a site has no field \"{odd}\"")
            : read.Facts.Build();
    }

    // Instants in UTC, and names in place of numbers.
    private static object Row(object value, INamesForBundle names) =>
        value switch
        {
            UnitCode unit => unit.Value,
            GroupId group => names.Of(group),
            IReadOnlyList<PersonId> people => people.Select(names.Of).ToArray(),
            IReadOnlyList<SiteSection> sections => sections.Select(names.Of).ToArray(),
            DateTimeOffset instant => instant.ToUniversalTime(),
            Joining joining => joining with { Since = joining.Since?.ToUniversalTime() },
            _ => value,
        };

    private sealed record SharedRow(string What, string[] In);

    private sealed class Reader(IReadOnlyDictionary<string, JsonElement> fields, INamesInBundle names)
        : IFactVisitor<FactSet.Builder>
    {
        public FactSet.Builder Facts { get; } = new();

        public FactSet.Builder Visit<T>(SiteFact<T> fact)
            where T : notnull
        {
            if (!fields.TryGetValue(fact.Name, out var field))
            {
                return Facts;
            }

            return Facts.Set(fact, field.ValueKind == JsonValueKind.Null ? Known<T>.None : Known.Of((T)Value(fact, field)));
        }

        private object Value<T>(SiteFact<T> fact, JsonElement field)
            where T : notnull =>
            fact switch
            {
                SiteFact<UnitCode> => names.Unit(Of<string>(field)),
                SiteFact<GroupId> => names.Group(Of<GroupName>(field)),
                SiteFact<IReadOnlyList<PersonId>> => Of<string[]>(field).Select(names.Person).ToArray(),
                SiteFact<IReadOnlyList<SiteSection>> => Of<SectionRow[]>(field).Select(names.Section).ToArray(),
                SiteFact<IReadOnlyList<Shared>> => Of<SharedRow[]>(field)
                    .Select(row => new Shared(row.What, [.. row.In]))
                    .ToArray(),
                _ => Of<T>(field),
            };

        private static TRow Of<TRow>(JsonElement field)
            where TRow : notnull => field.Deserialize<TRow>(BundleJson.Options)!;
    }
}
