using AtticLedger.Core.Filters;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>Findings with one cause.</summary>
/// <param name="Sites">The sites, each once.</param>
/// <param name="DaysLeft">Days until harm: 0 if it happens daily, null if no day is known.</param>
/// <param name="OnlyOwner">The number of the sites whose only active or present owner is the person.</param>
public sealed record FindingGroup(
    Cause Cause,
    IReadOnlyList<RegisterRow> Sites,
    int Critical,
    int Warnings,
    int Notes,
    int? DaysLeft,
    int OnlyOwner
);

/// <summary>The desk's groups: findings by cause, the earliest harm first.</summary>
public static class FindingGroups
{
    private static readonly Filter<JudgedSite> Breaking = Filter.Parse("breaks pr", JudgedSite.Attributes);

    /// <summary>The groups of the sites in use that a viewer sees.</summary>
    public static IReadOnlyList<FindingGroup> InUse(VisibleRegister seen, PeopleDirectory directory) =>
        Of(seen.Lines(seen.InUse.And(seen.Where(Breaking))), directory);

    public static IReadOnlyList<FindingGroup> Of(IEnumerable<RegisterRow> lines, PeopleDirectory directory) =>
        [
            .. lines
                .SelectMany(line => line.Causes.Select(cause => (Line: line, Cause: cause)))
                .GroupBy(one => (one.Cause.Kind, one.Cause.Name))
                .Select(group => OfCause([.. group], directory))
                .OrderBy(group => group.DaysLeft ?? int.MaxValue)
                .ThenByDescending(group => group.Critical)
                .ThenByDescending(group => group.Sites.Count)
                .ThenBy(group => group.Cause.Person?.Name ?? group.Cause.Name, StringComparer.Ordinal),
        ];

    private static FindingGroup OfCause(IReadOnlyList<(RegisterRow Line, Cause Cause)> found, PeopleDirectory directory)
    {
        var cause = found[0].Cause;
        int Of(Level level) => found.Count(one => one.Cause.Rule.Level == level);
        return new FindingGroup(
            cause,
            [.. found.Select(one => one.Line).Distinct()],
            Of(Level.Critical),
            Of(Level.Warning),
            Of(Level.Note),
            cause.Kind switch
            {
                CauseKind.OwnerLeaves => DaysLeft(cause.Person!, directory),
                CauseKind.StillHasAccess => 0,
                _ => cause.Rule.Level == Level.Critical ? 0 : null,
            },
            cause.Kind == CauseKind.OwnerLeaves
                ? found
                    .Select(one => one.Line)
                    .Distinct()
                    .Count(line => line.Owners.Holders.All(other => other.Person.Id == cause.Person!.Id || !other.IsActive))
                : 0
        );
    }

    private static int? DaysLeft(Person person, PeopleDirectory directory) =>
        directory.PlaceOf(person.Id) is { } place && directory.Standings[place] == Standing.Left ? 0
        : person.Day is { } last ? Math.Max(0, last.DayNumber - directory.Time.DayOf(directory.Now).DayNumber)
        : null;
}
