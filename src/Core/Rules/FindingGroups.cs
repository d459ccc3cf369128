using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>Findings that are decided together: those of the sites of somebody who leaves or has left, or those of one rule.</summary>
/// <param name="Person">Who leaves or has left, or null.</param>
/// <param name="Rule">The rule, or null.</param>
/// <param name="DaysLeft">Until harm: 0 where it is done every day, null where no day is known.</param>
/// <param name="OnlyOwner">Of how many of the sites the person is the only fit or present owner.</param>
public sealed record FindingGroup(
    Person? Person,
    Rule? Rule,
    IReadOnlyList<SheetLine> Sites,
    int Must,
    int Should,
    int Look,
    int? DaysLeft,
    int OnlyOwner
);

/// <summary>The desk's first form: findings by person or by rule, the earliest harm first.</summary>
public static class FindingGroups
{
    public static IReadOnlyList<FindingGroup> Of(IEnumerable<SheetLine> lines, Roll roll)
    {
        var findings = lines
            .SelectMany(line => line.Breaks.Select(rule => (Line: line, Rule: rule, Person: PersonBehind(line, rule))))
            .ToList();
        var byPerson = findings
            .Where(one => one.Person is not null)
            .GroupBy(one => one.Person!.Person.Id)
            .Select(group => OfPerson(group.First().Person!, [.. group.Select(one => (one.Line, one.Rule))], roll));
        var byRule = findings
            .Where(one => one.Person is null)
            .GroupBy(one => one.Rule.Id)
            .Select(group => OfRule(group.First().Rule, [.. group.Select(one => one.Line)]));
        return
        [
            .. byPerson
                .Concat(byRule)
                .OrderBy(group => group.DaysLeft ?? int.MaxValue)
                .ThenByDescending(group => group.Must)
                .ThenByDescending(group => group.Sites.Count)
                .ThenBy(group => group.Person?.Name ?? group.Rule!.Id.Value, StringComparer.Ordinal),
        ];
    }

    // Too few keys is the matter of whoever leaves or has left; of several, of the one who goes first.
    private static KeyHolder? PersonBehind(SheetLine line, Rule rule) =>
        rule.Demand is Demand.FitKeyHolders
            ? line
                .Keys.Holders.Where(holder => holder.Standing is Standing.Leaving or Standing.Left)
                .OrderBy(holder => holder.Person.Day ?? DateOnly.MinValue)
                .FirstOrDefault()
            : null;

    private static FindingGroup OfPerson(KeyHolder holder, IReadOnlyList<(SheetLine Line, Rule Rule)> found, Roll roll)
    {
        int? days =
            holder.Standing == Standing.Left ? 0
            : holder.Person.Day is { } last ? Math.Max(0, last.DayNumber - roll.Time.DayOf(roll.Now).DayNumber)
            : null;
        return new FindingGroup(
            holder.Person,
            null,
            [.. found.Select(one => one.Line).Distinct()],
            found.Count(one => one.Rule.Level == Level.Must),
            found.Count(one => one.Rule.Level == Level.Should),
            found.Count(one => one.Rule.Level == Level.Look),
            days,
            found.Count(one => one.Line.Keys.Holders.All(other => other.Person.Id == holder.Person.Id || !other.IsFit))
        );
    }

    private static FindingGroup OfRule(Rule rule, IReadOnlyList<SheetLine> sites) =>
        new(
            null,
            rule,
            sites,
            rule.Level == Level.Must ? sites.Count : 0,
            rule.Level == Level.Should ? sites.Count : 0,
            rule.Level == Level.Look ? sites.Count : 0,
            rule.Level == Level.Must ? 0 : null,
            0
        );
}
