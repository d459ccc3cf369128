using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Ownership;

/// <summary>How often a person saved a site in the last ninety days, and when last.</summary>
public sealed record EditsBy(PersonId Person, int Saves, DateTimeOffset Last);

/// <summary>The evidence for a new owner, item by item. Unknown edits are unknown, never 0.
/// </summary>
/// <param name="Edits">Saves in the last ninety days.</param>
/// <param name="UnitSteps">0 in the site's own unit, 1 in the unit above it, and so on; null in an unrelated unit.</param>
/// <param name="Power">The strongest power that a grant by name gives them now.</param>
/// <param name="Load">The number of sites they own already.</param>
/// <param name="WhyNot">Every reason why they cannot become owner; empty if they can.</param>
public sealed record Candidate(
    Person Person,
    Known<int> Edits,
    Known<DateTimeOffset> LastEdit,
    int? UnitSteps,
    Power? Power,
    int Load,
    IReadOnlyList<WhyIneligible> WhyNot
)
{
    public bool IsEligible => WhyNot.Count == 0;
}

/// <param name="Day">The last day of work, or the last day of absence, if that is why and it is known.</param>
public sealed record WhyIneligible(Ineligibility Because, DateOnly? Day = null);

/// <summary>Possible new owners of a site, by evidence.</summary>
public static class Successors
{
    public const int EvidenceDays = 90;

    /// <summary>Why a person cannot become owner of a site; empty if they can.</summary>
    /// <param name="knowsDays">False for viewers who do not decide about other people's leaving and absence: they see only that
    /// a person is not eligible.</param>
    public static IReadOnlyList<WhyIneligible> WhyNot(
        Person person,
        SiteOwners keys,
        PeopleDirectory directory,
        int activeDays,
        bool knowsDays
    )
    {
        var reasons = new List<WhyIneligible>();
        if (keys.Holders.Any(holder => holder.Person.Id == person.Id && holder.Through is null))
        {
            reasons.Add(new WhyIneligible(Ineligibility.IsOwner));
        }

        var standing = directory.PlaceOf(person.Id) is { } place ? directory.Standings[place] : Standing.Left;
        reasons.AddRange(
            SiteOwners
                .Unfitness(person, standing, directory, activeDays)
                .Select(why =>
                    why switch
                    {
                        not (InactiveReason.Outside or InactiveReason.Service) when !knowsDays => new WhyIneligible(
                            Ineligibility.NotSaid
                        ),
                        InactiveReason.Outside => new WhyIneligible(Ineligibility.Outside),
                        InactiveReason.Service => new WhyIneligible(Ineligibility.Service),
                        InactiveReason.Left => new WhyIneligible(Ineligibility.Left),
                        InactiveReason.Leaving => new WhyIneligible(Ineligibility.Leaves, person.Day),
                        InactiveReason.Absent => new WhyIneligible(Ineligibility.Away, person.Day),
                        _ => new WhyIneligible(Ineligibility.NoMail),
                    }
                )
                .Distinct()
        );
        return reasons;
    }

    /// <summary>All staff with the evidence, the likeliest first: eligible before not eligible, then most saves, nearest unit,
    /// strongest power, fewest sites, name.
    /// </summary>
    /// <param name="load">The number of sites each person owns.</param>
    public static IReadOnlyList<Candidate> Of(
        SiteFacts site,
        SiteOwners keys,
        Known<IReadOnlyList<EditsBy>> edits,
        IReadOnlyDictionary<PersonId, int> load,
        PeopleDirectory directory,
        int activeDays,
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
            ? [.. directory.ChainOf(unit).Select(above => above.Code).Reverse()]
            : [];
        return
        [
            .. directory
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
                    WhyNot(person, keys, directory, activeDays, knowsDays)
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
