using AtticLedger.Core.Terms;

namespace AtticLedger.Core.People;

/// <summary>Through which groups somebody is in a group: why a grant to it lets them in.</summary>
public static class GroupChain
{
    /// <summary>The groups from this one to the one that names the person, by the fewest; empty where none does. Circles end.</summary>
    public static IReadOnlyList<Group> To(GroupId group, PersonId person, Roll roll)
    {
        var from = new Dictionary<GroupId, GroupId?> { [group] = null };
        var next = new Queue<GroupId>([group]);
        while (next.TryDequeue(out var at))
        {
            if (roll.Find(at) is not { } known)
            {
                continue;
            }

            if (
                known.Members.Any(member =>
                    member.Person == person
                    || (member.Unit is { } unit && roll.PlaceOf(person) is { } place && roll.OfUnit(unit).Contains(place))
                )
            )
            {
                var chain = new Stack<Group>();
                for (GroupId? step = at; step is { } id; step = from[id])
                {
                    chain.Push(roll.Find(id)!);
                }

                return [.. chain];
            }

            foreach (var member in known.Members)
            {
                if (member.Group is { } inner && from.TryAdd(inner, at))
                {
                    next.Enqueue(inner);
                }
            }
        }

        return [];
    }
}
