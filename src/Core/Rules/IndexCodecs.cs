using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>How the elements of the index's lists are stored: people and rules by id, because they are read before the
/// index.</summary>
internal sealed class IndexCodecs(PeopleDirectory? directory, RuleBook? rules) : IElementCodecs
{
    public SnapshotCodec<TElement> Of<TElement>()
        where TElement : notnull =>
        (SnapshotCodec<TElement>)
            (object)(
                typeof(TElement) switch
                {
                    var type when type == typeof(string) => SnapshotCodecs.Text,
                    var type when type == typeof(UnitCode) => SnapshotCodec<UnitCode>.Of(
                        (to, codes) => to.Texts([.. codes.Select(code => code.Value)]),
                        from => Array.ConvertAll(from.Texts(), code => new UnitCode(code))
                    ),
                    var type when type == typeof(Rule) => SnapshotCodec<Rule>.Of(
                        (to, all) => to.Texts([.. all.Select(rule => rule.Id.Value)]),
                        from => Array.ConvertAll(from.Texts(), Find)
                    ),
                    var type when type == typeof(Cause) => SnapshotCodec<Cause>.Of(WriteCauses, ReadCauses),
                    var type when type == typeof(SiteOwner) => SnapshotCodec<SiteOwner>.Of(Write, Read),
                    var type => throw new InvalidOperationException($"Lists of {type.Name} have no codec."),
                }
            );

    private Rule Find(string id) => rules!.Find(new RuleId(id)) ?? throw new SnapshotError($"The rule {id} is not in the book.");

    private Person Find(long id) =>
        directory!.Find(new PersonId(id)) ?? throw new SnapshotError($"There is no person {id} any more.");

    private static void WriteCauses(ISnapshotWriter to, IReadOnlyList<Cause> causes)
    {
        to.Numbers([.. causes.Select(cause => (int)cause.Kind)]);
        to.Texts([.. causes.Select(cause => cause.Rule.Id.Value)]);
        to.Longs([.. causes.Select(cause => cause.Person?.Id.Value ?? 0)]);
        to.Texts([.. causes.Select(cause => cause.Host)]);
    }

    private Cause[] ReadCauses(ISnapshotReader from)
    {
        var (kinds, broken, people, hosts) = (from.Numbers(), from.Texts(), from.Longs(), from.Texts());
        return
        [
            .. kinds.Select(
                (kind, at) =>
                    new Cause(
                        (CauseKind)kind,
                        Find(broken[at]),
                        (CauseKind)kind == CauseKind.Rule ? null : Find(people[at]),
                        hosts[at]
                    )
            ),
        ];
    }

    private static void Write(ISnapshotWriter to, IReadOnlyList<SiteOwner> holders)
    {
        to.Longs([.. holders.Select(holder => holder.Person.Id.Value)]);
        to.Numbers([.. holders.Select(holder => (int)holder.Standing)]);
        to.Texts([.. holders.Select(holder => holder.Through ?? "")]);
        to.Numbers([.. holders.Select(holder => holder.Through is null ? 0 : 1)]);
        to.Numbers([.. holders.Select(holder => holder.Why.Aggregate(0, (bits, why) => bits | 1 << (int)why))]);
    }

    private SiteOwner[] Read(ISnapshotReader from)
    {
        var (people, standings, groups, isThrough, why) = (
            from.Longs(),
            from.Numbers(),
            from.Texts(),
            from.Numbers(),
            from.Numbers()
        );
        var reasons = new Dictionary<int, ValueList<InactiveReason>>();
        var holders = new SiteOwner[people.Length];
        for (var at = 0; at < holders.Length; at++)
        {
            if (!reasons.TryGetValue(why[at], out var inactive))
            {
                reasons[why[at]] = inactive = [.. Enum.GetValues<InactiveReason>().Where(one => (why[at] >> (int)one & 1) != 0)];
            }

            holders[at] = new SiteOwner(
                Find(people[at]),
                (Standing)standings[at],
                isThrough[at] == 0 ? null : groups[at],
                inactive
            );
        }

        return holders;
    }
}
