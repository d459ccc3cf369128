using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>Findings that are decided together: those of the sites of a person who leaves or has left, or those of one
/// rule.</summary>
/// <param name="Person">The person who leaves or has left, or null.</param>
/// <param name="Rule">The rule, or null.</param>
/// <param name="DaysLeft">Days until harm: 0 if it happens daily, null if no day is known.</param>
/// <param name="OnlyOwner">The number of the sites whose only active or present owner is the person.</param>
public sealed record FindingGroup(
    Person? Person,
    Rule? Rule,
    IReadOnlyList<RegisterRow> Sites,
    int Critical,
    int Warnings,
    int Notes,
    int? DaysLeft,
    int OnlyOwner
)
{
    /// <summary>The cause in filters: exactly these sites have it.</summary>
    public string CauseName => Person is null ? Cause.Name(Rule!) : Cause.Name(Person);
}

/// <summary>The desk's groups: findings by person or by rule, the earliest harm first.</summary>
public static class FindingGroups
{
    public static IReadOnlyList<FindingGroup> Of(IEnumerable<RegisterRow> lines, PeopleDirectory directory)
    {
        var findings = lines
            .SelectMany(line =>
                line.Breaks.Select(rule => (Line: line, Rule: rule, Person: Cause.PersonBehind(line.Owners.Holders, rule)))
            )
            .ToList();
        var byPerson = findings
            .Where(one => one.Person is not null)
            .GroupBy(one => one.Person!.Person.Id)
            .Select(group => OfPerson(group.First().Person!, [.. group.Select(one => (one.Line, one.Rule))], directory));
        var byRule = findings
            .Where(one => one.Person is null)
            .GroupBy(one => one.Rule.Id)
            .Select(group => OfRule(group.First().Rule, [.. group.Select(one => one.Line)]));
        return
        [
            .. byPerson
                .Concat(byRule)
                .OrderBy(group => group.DaysLeft ?? int.MaxValue)
                .ThenByDescending(group => group.Critical)
                .ThenByDescending(group => group.Sites.Count)
                .ThenBy(group => group.Person?.Name ?? group.Rule!.Id.Value, StringComparer.Ordinal),
        ];
    }

    private static FindingGroup OfPerson(
        SiteOwner holder,
        IReadOnlyList<(RegisterRow Line, Rule Rule)> found,
        PeopleDirectory directory
    )
    {
        int? days =
            holder.Standing == Standing.Left ? 0
            : holder.Person.Day is { } last ? Math.Max(0, last.DayNumber - directory.Time.DayOf(directory.Now).DayNumber)
            : null;
        return new FindingGroup(
            holder.Person,
            null,
            [.. found.Select(one => one.Line).Distinct()],
            found.Count(one => one.Rule.Level == Level.Critical),
            found.Count(one => one.Rule.Level == Level.Warning),
            found.Count(one => one.Rule.Level == Level.Note),
            days,
            found.Count(one => one.Line.Owners.Holders.All(other => other.Person.Id == holder.Person.Id || !other.IsActive))
        );
    }

    private static FindingGroup OfRule(Rule rule, IReadOnlyList<RegisterRow> sites) =>
        new(
            null,
            rule,
            sites,
            rule.Level == Level.Critical ? sites.Count : 0,
            rule.Level == Level.Warning ? sites.Count : 0,
            rule.Level == Level.Note ? sites.Count : 0,
            rule.Level == Level.Critical ? 0 : null,
            0
        );
}
