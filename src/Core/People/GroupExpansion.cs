using AtticLedger.Core.Terms;

namespace AtticLedger.Core.People;

/// <summary>The certain members of a group, and what is unknown about the rest.</summary>
/// <param name="People">The certain members.</param>
/// <param name="Perhaps">Staff who may be in it through a unit, because their own unit is unknown.</param>
/// <param name="OpenEnds">The groups in it (including itself) that were read only in part: anybody may be in it through
/// them.</param>
public readonly record struct Expansion(PeopleSet People, PeopleSet Perhaps, IReadOnlySet<GroupId> OpenEnds)
{
    internal static readonly IReadOnlySet<GroupId> NoOpenEnds = new HashSet<GroupId>();

    /// <summary>True if the members are complete.</summary>
    public bool Complete => OpenEnds.Count == 0 && Perhaps.IsEmpty;
}

/// <summary>Expands all groups at once. Groups in a cycle reach the same people, so each cycle (strongly connected component,
/// Tarjan 1972) is condensed first; the rest is one pass from the leaves up.
/// </summary>
internal sealed class GroupExpansion
{
    private readonly Dictionary<GroupId, Group> groups;
    private readonly Func<PersonId, int?> placeOf;
    private readonly Func<UnitCode, PeopleSet> ofUnit;
    private readonly PeopleSet unplaced;
    private readonly Dictionary<GroupId, int> order = [];
    private readonly Dictionary<GroupId, int> low = [];
    private readonly Stack<GroupId> open = new();
    private readonly HashSet<GroupId> isOpen = [];
    private readonly Dictionary<GroupId, Expansion> expansions = [];

    private GroupExpansion(
        IEnumerable<Group> groups,
        Func<PersonId, int?> placeOf,
        Func<UnitCode, PeopleSet> ofUnit,
        PeopleSet unplaced
    )
    {
        this.unplaced = unplaced;
        this.groups = groups.ToDictionary(group => group.Id);
        this.placeOf = placeOf;
        this.ofUnit = ofUnit;
    }

    public static IReadOnlyDictionary<GroupId, Expansion> Of(
        IEnumerable<Group> groups,
        Func<PersonId, int?> placeOf,
        Func<UnitCode, PeopleSet> ofUnit,
        PeopleSet unplaced
    )
    {
        var expansion = new GroupExpansion(groups, placeOf, ofUnit, unplaced);
        foreach (var group in expansion.groups.Keys)
        {
            if (!expansion.order.ContainsKey(group))
            {
                expansion.Visit(group);
            }
        }

        return expansion.expansions;
    }

    // An explicit stack, because groups can be nested thousands deep.
    private void Visit(GroupId root)
    {
        var path = new Stack<(GroupId Group, IEnumerator<GroupId> Below)>();
        Enter(root);
        while (path.Count > 0)
        {
            var (group, below) = path.Peek();
            if (below.MoveNext())
            {
                var next = below.Current;
                if (!order.ContainsKey(next))
                {
                    Enter(next);
                }
                else if (isOpen.Contains(next))
                {
                    low[group] = Math.Min(low[group], order[next]);
                }

                continue;
            }

            path.Pop();
            if (path.Count > 0)
            {
                low[path.Peek().Group] = Math.Min(low[path.Peek().Group], low[group]);
            }

            if (low[group] == order[group])
            {
                Close(group);
            }
        }

        void Enter(GroupId group)
        {
            order[group] = low[group] = order.Count;
            open.Push(group);
            isOpen.Add(group);
            path.Push((group, GroupsIn(group).GetEnumerator()));
        }
    }

    private IEnumerable<GroupId> GroupsIn(GroupId group) =>
        groups[group]
            .Members.Where(member => member.Group is { } inner && groups.ContainsKey(inner))
            .Select(member => member.Group!.Value);

    private void Close(GroupId head)
    {
        var circle = new List<GroupId>();
        do
        {
            circle.Add(open.Pop());
        } while (circle[^1] != head);

        var sets = new List<PeopleSet>();
        var places = new List<int>();
        var perhaps = PeopleSet.Empty;
        HashSet<GroupId>? openEnds = null;
        foreach (var group in circle)
        {
            isOpen.Remove(group);
            if (!groups[group].Complete)
            {
                (openEnds ??= []).Add(group);
            }

            foreach (var member in groups[group].Members)
            {
                if (member.Unit is { } unit)
                {
                    sets.Add(ofUnit(unit));
                    perhaps = unplaced;
                }
                else if (member.Group is { } inner)
                {
                    if (!groups.ContainsKey(inner))
                    {
                        // A group without a description may contain anybody.
                        (openEnds ??= []).Add(inner);
                    }
                    else if (expansions.TryGetValue(inner, out var below))
                    {
                        sets.Add(below.People);
                        perhaps = perhaps.Union(below.Perhaps);
                        if (below.OpenEnds.Count > 0)
                        {
                            (openEnds ??= []).UnionWith(below.OpenEnds);
                        }
                    }
                }
                else if (member.Person is { } person && placeOf(person) is { } place)
                {
                    places.Add(place);
                }
                else
                {
                    (openEnds ??= []).Add(group);
                }
            }
        }

        var people = PeopleSet.UnionOf([.. sets, PeopleSet.Of(places)]);
        foreach (var group in circle)
        {
            expansions[group] = new Expansion(people, perhaps.Except(people), openEnds ?? Expansion.NoOpenEnds);
        }
    }
}
