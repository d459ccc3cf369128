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

/// <summary>The evidence for one more owner of many sites.</summary>
/// <param name="Owns">On how many of the sites they are an owner by name already; <paramref name="Edits"/>: edit by name;
/// <paramref name="InUnit"/>: are in the site's unit.</param>
/// <param name="Load">The number of sites they own already.</param>
public sealed record CandidateForMany(
    Person Person,
    int Owns,
    int Edits,
    int InUnit,
    int Load,
    IReadOnlyList<WhyIneligible> WhyNot
);

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

        reasons.AddRange(WhyNotActive(person, directory, activeDays, knowsDays));
        return reasons;
    }

    /// <summary>Why a person cannot become owner of any site; empty if they can.</summary>
    public static IEnumerable<WhyIneligible> WhyNotActive(
        Person person,
        PeopleDirectory directory,
        int activeDays,
        bool knowsDays
    )
    {
        var standing = directory.PlaceOf(person.Id) is { } place ? directory.Standings[place] : Standing.Left;
        return SiteOwners
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
            .Distinct();
    }

    /// <summary>All staff with the evidence for many sites, the likeliest first: eligible before not eligible, then most sites
    /// that they edit, most sites of their unit, fewest sites, name.</summary>
    /// <param name="load">The number of sites each person owns.</param>
    public static IReadOnlyList<CandidateForMany> OfMany(
        IReadOnlyList<SiteFacts> sites,
        IReadOnlyDictionary<PersonId, int> load,
        PeopleDirectory directory,
        int activeDays,
        bool knowsDays
    )
    {
        var named = sites
            .SelectMany(site =>
                site.Sharing.Has(out var sharing)
                    ? sharing
                        .Grants.Where(grant => !grant.IsLink && grant.Subject is Subject.OnePerson)
                        .GroupBy(grant => ((Subject.OnePerson)grant.Subject).Person)
                        .Select(grants => (Person: grants.Key, Power: grants.Max(grant => grant.Power)))
                    : []
            )
            .ToLookup(one => one.Person, one => one.Power);
        var units = sites
            .Select(site => site.Unit.Has(out var unit) ? unit : (UnitCode?)null)
            .OfType<UnitCode>()
            .CountBy(unit => unit)
            .ToDictionary();
        return
        [
            .. directory
                .People.Where(person => person.Kind == PersonKind.Staff)
                .Select(person => new CandidateForMany(
                    person,
                    named[person.Id].Count(power => power == Power.Own),
                    named[person.Id].Count(power => power is >= Power.Edit and < Power.Own),
                    person.Unit.Has(out var own) ? units.GetValueOrDefault(own) : 0,
                    load.GetValueOrDefault(person.Id),
                    [.. WhyNotActive(person, directory, activeDays, knowsDays)]
                ))
                .OrderByDescending(candidate => candidate.WhyNot.Count == 0)
                .ThenByDescending(candidate => candidate.Edits)
                .ThenByDescending(candidate => candidate.InUnit)
                .ThenBy(candidate => candidate.Load)
                .ThenBy(candidate => candidate.Person.Name, StringComparer.Ordinal)
                .ThenBy(candidate => candidate.Person.Id.Value),
        ];
    }

    /// <summary>All staff with the evidence, the likeliest first: eligible before not eligible, then most saves, nearest unit,
    /// strongest power, fewest sites, name.
    /// </summary>
    /// <param name="load">The number of sites each person owns.</param>
    /// <param name="among">Only these people; null for all.</param>
    public static IReadOnlyList<Candidate> Of(
        SiteFacts site,
        SiteOwners keys,
        Known<IReadOnlyList<EditsBy>> edits,
        IReadOnlyDictionary<PersonId, int> load,
        PeopleDirectory directory,
        int activeDays,
        bool knowsDays,
        IEnumerable<Person>? among = null
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
            .. (among ?? directory.People)
                .Where(person => person.Kind == PersonKind.Staff)
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

    /// <summary>The person to ask first without looking at saves: who edits the site by name, else somebody of its unit; of equals
    /// the one with the fewest sites. Null if nobody of them can own it.</summary>
    public static Person? First(
        SiteFacts site,
        SiteOwners keys,
        IReadOnlyDictionary<PersonId, int> load,
        PeopleDirectory directory,
        int activeDays
    )
    {
        var granted = site
            .Expected.Or([])
            .Select(grant => grant.Subject)
            .OfType<Subject.OnePerson>()
            .Select(subject => directory.Find(subject.Person));
        var unit = site.Unit.Has(out var its) ? directory.OfUnit(its) : PeopleSet.Empty;
        return Of(
                site,
                keys,
                Known<IReadOnlyList<EditsBy>>.Unknown,
                load,
                directory,
                activeDays,
                knowsDays: true,
                granted.OfType<Person>().Concat(unit.Places().Select(place => directory.People[place])).DistinctBy(one => one.Id)
            )
            .Where(candidate => candidate.IsEligible)
            .OrderByDescending(candidate => candidate.Power >= Power.Edit)
            .ThenBy(candidate => candidate.Load)
            .FirstOrDefault()
            ?.Person;
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
