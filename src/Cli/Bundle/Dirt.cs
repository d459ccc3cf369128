using System.Globalization;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Bundle;

namespace AtticLedger.Cli.Bundle;

/// <summary>The true facts of a site whose facts are incomplete.</summary>
public sealed record SiteTruth(string Host, string Key, string Unit, string Classification);

/// <summary>Makes a generated register as incomplete as a real one on the first day: no classification, a third without unit,
/// names in every spelling, one name in twenty copied from another site, some meaningless names. The true facts of a site follow
/// from its subject and its owners usually, but not always.
/// </summary>
internal sealed class Dirt(
    int seed,
    IReadOnlyList<string> topics,
    IReadOnlyList<string> classes,
    IReadOnlyDictionary<string, List<string>> peopleOfUnit
)
{
    private const int OwnerIsElsewhere = 12;
    private const int ClassificationIsUnusual = 3;
    private readonly Random random = new(seed);
    private readonly List<string> units =
    [
        .. peopleOfUnit.Where(pair => pair.Value.Count > 2).Select(pair => pair.Key).Order(StringComparer.Ordinal),
    ];
    private string? lastName;

    public (SiteRow Row, SiteTruth Truth) On(SiteRow row)
    {
        var topic = random.Next(topics.Count);
        var unit = units[(int)(units.Count * Math.Pow(random.NextDouble(), 1.6))];
        var truth = new SiteTruth(
            row.Host,
            row.Key,
            unit,
            classes[random.Next(100) < ClassificationIsUnusual ? random.Next(classes.Count) : topic % classes.Count]
        );
        var name = random.Next(100) switch
        {
            < 5 when lastName is not null => lastName,
            < 10 => $"Untitled {row.Key.TrimStart('0')}",
            _ => Spelled(topics[topic], row.Key.TrimStart('0')),
        };
        lastName = name;
        return (
            row.With(DeclaredFacts.Name, Known.Of(name))
                .With(DeclaredFacts.Address, Known.Of($"{row.Host.ToLowerInvariant()}.example/s{row.Key.TrimStart('0')}"))
                .With(DeclaredFacts.Unit, random.Next(3) == 0 ? Known<string>.Unknown : Known.Of(unit))
                .With(DeclaredFacts.Classification, Known<string>.Unknown) with
            {
                Sharing = row.Sharing.Select(sharing => sharing with { Grants = Owned(sharing.Grants, unit) }),
            },
            truth
        );
    }

    private string Spelled(string topic, string number) =>
        random.Next(4) switch
        {
            0 => $"{topic.ToUpperInvariant()} {number}",
            1 => $"{char.ToUpperInvariant(topic[0])}{topic[1..]}  ({number})",
            2 => $"{topic.Replace(' ', '_')}_{number}",
            _ => $"{CultureInfo.InvariantCulture.TextInfo.ToTitleCase(topic)} - {number} old",
        };

    // Most owners belong to the site's own unit.
    private List<GrantRow> Owned(IReadOnlyList<GrantRow> grants, string unit)
    {
        var owned = new SortedDictionary<string, GrantRow>(StringComparer.Ordinal);
        foreach (var grant in grants)
        {
            var of = random.Next(100) < OwnerIsElsewhere ? units[random.Next(units.Count)] : unit;
            var person = grant is { Power: Power.Own, Person: not null }
                ? peopleOfUnit[of][random.Next(peopleOfUnit[of].Count)]
                : grant.Person;
            owned.TryAdd(
                person is null ? grant.Key : $"person:{person}",
                person is null ? grant : grant with { Key = $"person:{person}", Person = person }
            );
        }

        return [.. owned.Values];
    }
}
