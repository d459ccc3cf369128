using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Keys;

/// <summary>How often somebody saved a site in the last ninety days, and when last.</summary>
public sealed record EditsBy(PersonId Person, int Saves, DateTimeOffset Last);

/// <summary>
/// What speaks for a successor, part by part. Unknown edits are unknown, never none.
/// </summary>
/// <param name="Edits">Saves in the last ninety days.</param>
/// <param name="UnitSteps">0 in the site's own unit, 1 in the unit above it, and so on; null for another line.</param>
/// <param name="Power">The strongest power that a grant by name gives them now.</param>
/// <param name="Load">To how many sites they hold a key already.</param>
/// <param name="WhyNot">Every reason why they cannot be given the key; none for who can.</param>
public sealed record Candidate(
    Person Person,
    Known<int> Edits,
    Known<DateTimeOffset> LastEdit,
    int? UnitSteps,
    Power? Power,
    int Load,
    IReadOnlyList<string> WhyNot
)
{
    public bool IsEligible => WhyNot.Count == 0;
}

/// <summary>Who could take a site's key, by evidence.</summary>
public static class Successors
{
    public const int EvidenceDays = 90;

    /// <summary>Why somebody cannot be given a site's key, in sentences. None: they can.</summary>
    /// <param name="knowsDays">False for whoever does not decide on other people's leaving and absence: they hear that somebody is not eligible.</param>
    public static IReadOnlyList<string> WhyNot(Person person, KeyHolders keys, Roll roll, int fitDays, bool knowsDays)
    {
        var reasons = new List<string>();
        if (keys.Holders.Any(holder => holder.Person.Id == person.Id && holder.Through is null))
        {
            reasons.Add("holds a key already");
        }

        var standing = roll.PlaceOf(person.Id) is { } place ? roll.Standings[place] : Standing.Left;
        reasons.AddRange(
            KeyHolders
                .Unfitness(person, standing, roll, fitDays)
                .Select(why =>
                    why switch
                    {
                        not (Unfit.Outside or Unfit.Service) when !knowsDays => "is not eligible",
                        Unfit.Outside => "is from outside the house",
                        Unfit.Service => "is a service and no person",
                        Unfit.Left => "has left",
                        Unfit.Leaving => person.Day is { } day
                            ? $"leaves on {day.ToString("d MMM", System.Globalization.CultureInfo.InvariantCulture)}"
                            : "is leaving",
                        Unfit.Absent => person.Day is { } day
                            ? $"is away until {day.ToString("d MMM", System.Globalization.CultureInfo.InvariantCulture)}"
                            : "is away",
                        _ => "cannot be reached by mail",
                    }
                )
                .Distinct()
        );
        return reasons;
    }

    /// <summary>
    /// Everybody of the staff with what speaks for them, the likeliest first: who can before who cannot, then most saves,
    /// then nearest in the line of units, then the strongest power, then the lightest load, then by name.
    /// </summary>
    /// <param name="load">To how many sites each person holds a key.</param>
    public static IReadOnlyList<Candidate> Of(
        SiteFacts site,
        KeyHolders keys,
        Known<IReadOnlyList<EditsBy>> edits,
        IReadOnlyDictionary<PersonId, int> load,
        Roll roll,
        int fitDays,
        bool knowsDays
    )
    {
        var saved = edits.Or([]).ToDictionary(by => by.Person);
        var granted = site.Sharing.Has(out var sharing)
            ? sharing
                .Grants.Where(grant => grant.Subject is Subject.OnePerson)
                .GroupBy(grant => ((Subject.OnePerson)grant.Subject).Person)
                .ToDictionary(grants => grants.Key, grants => grants.Max(grant => grant.Power))
            : [];
        IReadOnlyList<UnitCode> line = site.Unit.Has(out var unit)
            ? [.. roll.ChainOf(unit).Select(above => above.Code).Reverse()]
            : [];
        return
        [
            .. roll
                .People.Where(person => person.Kind == PersonKind.Staff)
                .Select(person => new Candidate(
                    person,
                    edits.IsUnknown ? Known<int>.Unknown : Known.Of(saved.GetValueOrDefault(person.Id)?.Saves ?? 0),
                    saved.TryGetValue(person.Id, out var by) ? Known.Of(by.Last)
                        : edits.IsUnknown ? Known<DateTimeOffset>.Unknown
                        : Known<DateTimeOffset>.None,
                    person.Unit.Has(out var own) && Place(line, own) is { } steps ? steps : null,
                    granted.TryGetValue(person.Id, out var power) ? power : null,
                    load.GetValueOrDefault(person.Id),
                    WhyNot(person, keys, roll, fitDays, knowsDays)
                ))
                .OrderByDescending(candidate => candidate.IsEligible)
                .ThenByDescending(candidate => candidate.Edits.Or(0))
                .ThenBy(candidate => candidate.UnitSteps ?? int.MaxValue)
                .ThenByDescending(candidate => candidate.Power is { } power ? (int)power : -1)
                .ThenBy(candidate => candidate.Load)
                .ThenBy(candidate => candidate.Person.Name, StringComparer.Ordinal)
                .ThenBy(candidate => candidate.Person.Id.Value),
        ];
    }

    private static int? Place(IReadOnlyList<UnitCode> line, UnitCode unit)
    {
        for (var place = 0; place < line.Count; place++)
        {
            if (line[place] == unit)
            {
                return place;
            }
        }

        return null;
    }
}
