using AtticLedger.Core.Terms;

namespace AtticLedger.Core.People;

/// <summary>The groups through which a person is in a group: why a grant to it admits them.</summary>
public static class GroupChain
{
    /// <summary>The shortest chain of groups from this one to the one that names the person; empty if none does. Cycles
    /// end.</summary>
    public static IReadOnlyList<Group> To(GroupId group, PersonId person, PeopleDirectory directory)
    {
        var from = new Dictionary<GroupId, GroupId?> { [group] = null };
        var next = new Queue<GroupId>([group]);
        while (next.TryDequeue(out var at))
        {
            if (directory.Find(at) is not { } known)
            {
                continue;
            }

            if (
                known.Members.Any(member =>
                    member.Person == person
                    || (
                        member.Unit is { } unit
                        && directory.PlaceOf(person) is { } place
                        && directory.OfUnit(unit).Contains(place)
                    )
                )
            )
            {
                var chain = new Stack<Group>();
                for (GroupId? step = at; step is { } id; step = from[id])
                {
                    chain.Push(directory.Find(id)!);
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
