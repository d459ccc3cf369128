using AtticLedger.Core.Filters;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>Findings with one cause.</summary>
/// <param name="Sites">The sites, each once.</param>
/// <param name="Findings">The site and the rule of each.</param>
/// <param name="DaysLeft">Days until harm: 0 if it happens daily, null if no day is known.</param>
/// <param name="OnlyOwner">The number of the sites whose only active or present owner is the person.</param>
public sealed record FindingGroup(
    Cause Cause,
    IReadOnlyList<RegisterRow> Sites,
    IReadOnlyList<(SiteId Site, Rule Rule)> Findings,
    int Critical,
    int Warnings,
    int Notes,
    int? DaysLeft,
    int OnlyOwner
);

/// <summary>Why groups of several people are decided as one.</summary>
public enum TogetherKind : byte
{
    /// <summary>They have left, and still have access at one host.</summary>
    StillHaveAccess,

    /// <summary>Owners who have left, or whose last day is today.</summary>
    OwnersLeft,
    OwnersLeaveSoon,
    OwnersLeaveLater,
}

/// <summary>Several people whose groups are decided as one.</summary>
/// <param name="Host">The host at which they still have access; null for owners.</param>
public sealed record PeopleTogether(TogetherKind Kind, string? Host, IReadOnlyList<FindingGroup> Groups);

/// <summary>The desk's groups: findings by cause, the earliest harm first.</summary>
public static class FindingGroups
{
    /// <summary>Owners who leave within so many days are urgent.</summary>
    private const int SoonDays = 14;

    /// <summary>So many urgent people are decided one by one.</summary>
    private const int MostAlone = 3;

    private static readonly Filter<JudgedSite> Breaking = Filter.Parse("breaks pr", JudgedSite.Attributes);

    /// <summary>The groups of the sites in use that a viewer sees.</summary>
    public static IReadOnlyList<FindingGroup> InUse(VisibleRegister seen, PeopleDirectory directory) =>
        Of(seen.Lines(seen.InUse.And(seen.Where(Breaking))), directory);

    public static IReadOnlyList<FindingGroup> Of(IEnumerable<RegisterRow> lines, PeopleDirectory directory) =>
        [
            .. lines
                .SelectMany(line => line.Causes.Select(cause => (Line: line, Cause: cause)))
                .GroupBy(one => one.Cause.Key)
                .Select(group => OfCause([.. group], directory))
                .OrderBy(group => group.DaysLeft ?? int.MaxValue)
                .ThenByDescending(group => group.Critical)
                .ThenByDescending(group => group.Sites.Count)
                .ThenBy(group => group.Cause.Person?.Name ?? group.Cause.Name, StringComparer.Ordinal),
        ];

    /// <summary>The groups that are decided as one: people who left and still have access at a host, owners who leave later, and urgent
    /// owners where there are many.</summary>
    public static IReadOnlyList<PeopleTogether> Together(IEnumerable<FindingGroup> groups) =>
        [
            .. groups
                .Select(group => (Group: group, Kind: KindOf(group)))
                .Where(one => one.Kind is not null)
                .GroupBy(one => (one.Kind, Host: one.Kind == TogetherKind.StillHaveAccess ? one.Group.Cause.Host : null))
                .Where(all =>
                    all.Count() > (all.Key.Kind is TogetherKind.OwnersLeft or TogetherKind.OwnersLeaveSoon ? MostAlone : 1)
                )
                .Select(all => new PeopleTogether(all.Key.Kind!.Value, all.Key.Host, [.. all.Select(one => one.Group)])),
        ];

    private static TogetherKind? KindOf(FindingGroup group) =>
        (group.Cause.Kind, group.DaysLeft) switch
        {
            (CauseKind.StillHasAccess, _) => TogetherKind.StillHaveAccess,
            (CauseKind.OwnerLeaves, > SoonDays) => TogetherKind.OwnersLeaveLater,
            (CauseKind.OwnerLeaves, > 0) => TogetherKind.OwnersLeaveSoon,
            (CauseKind.OwnerLeaves, 0) => TogetherKind.OwnersLeft,
            _ => null,
        };

    private static FindingGroup OfCause(IReadOnlyList<(RegisterRow Line, Cause Cause)> found, PeopleDirectory directory)
    {
        var cause = found[0].Cause;
        int Of(Level level) => found.Count(one => one.Cause.Rule.Level == level);
        return new FindingGroup(
            cause,
            [.. found.Select(one => one.Line).DistinctBy(line => line.Id)],
            [.. found.Select(one => (one.Line.Id, one.Cause.Rule))],
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
                    .DistinctBy(line => line.Id)
                    .Count(line => line.Owners.Holders.All(other => other.Person.Id == cause.Person!.Id || !other.IsActive))
                : 0
        );
    }

    private static int? DaysLeft(Person person, PeopleDirectory directory) =>
        directory.PlaceOf(person.Id) is { } place && directory.Standings[place] == Standing.Left ? 0
        : person.Day is { } last ? Math.Max(0, last.DayNumber - directory.Time.DayOf(directory.Now).DayNumber)
        : null;
}
