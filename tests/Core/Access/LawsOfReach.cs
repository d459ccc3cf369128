using AtticLedger.Core.Access;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Doors.AnyAccess;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Doors;

/// <summary>Laws that hold for any limits, grants and layers.</summary>
public class LawsOfReach
{
    private static readonly Gen<(LayerKind Kind, Enforcer Enforcer, Known<PowerLimits> Limits)> AnyLayer = Gen.Select(
        Gen.Enum<LayerKind>(),
        Gen.Enum<Enforcer>(),
        AnyLimits,
        Gen.Int[0, 5],
        (kind, enforcer, limits, chance) => (kind, enforcer, chance == 0 ? Known<PowerLimits>.Unknown : Known.Of(limits))
    );

    private static readonly PeopleDirectory PeopleDirectory = WithGroups().PeopleDirectory;

    [Fact]
    public void Meet_is_associative_commutative_idempotent_and_has_an_identity() =>
        Gen.Select(AnyLimits, AnyLimits, AnyLimits)
            .Sample(
                (a, b, c) =>
                    a.Meet(b).Meet(c) == a.Meet(b.Meet(c))
                    && a.Meet(b) == b.Meet(a)
                    && a.Meet(a) == a
                    && a.Meet(PowerLimits.Open) == a
            );

    [Fact]
    public void Tightening_never_opens() =>
        Sampled(
            (asks, layers, power, more) =>
            {
                var before = Of(asks, layers, power);
                var after = Of(asks, [.. layers, more], power);
                return Within(after.Effective.AtMost, before.Effective.AtMost)
                    && Within(after.Effective.AtLeast, before.Effective.AtLeast)
                    && Within(after.Allowed.AtMost, before.Allowed.AtMost)
                    && Within(after.Allowed.AtLeast, before.Allowed.AtLeast);
            }
        );

    [Fact]
    public void The_order_of_layers_does_not_matter() =>
        Sampled(
            (asks, layers, power, more) =>
            {
                var there = Of(asks, [.. layers, more], power);
                var back = Of(asks, [more, .. layers.Reverse()], power);
                return Same(there.Effective, back.Effective)
                    && Same(there.Allowed, back.Allowed)
                    && there.Excess.IsSo == back.Excess.IsSo;
            }
        );

    [Fact]
    public void What_is_certain_is_possible_and_what_is_allowed_is_set() =>
        Sampled(
            (asks, layers, power, _) =>
            {
                var accessPath = Of(asks, layers, power);
                return Within(accessPath.Effective.AtLeast, accessPath.Effective.AtMost)
                    && Within(accessPath.Allowed.AtLeast, accessPath.Allowed.AtMost)
                    && Within(accessPath.Effective.AtMost, accessPath.SetAccess.AtMost)
                    && Within(accessPath.Excess.Certain, accessPath.Excess.Possible);
            }
        );

    [Fact]
    public void Unknown_never_turns_into_open_or_shut_by_itself() =>
        Gen.Select(AnyGrant.Array[0, 4], AnyLayer.Array[0, 4], Gen.Enum<Power>(), AnyLimits)
            .Sample(
                (grants, layers, power, truth) =>
                {
                    // Whatever an unknown layer turns out to be, it is within the bounds, and a certain verdict stays correct.
                    var unknown = Of(grants, [.. layers.Select(Layer)], power);
                    var known = Of(
                        grants,
                        [.. layers.Select(layer => Layer((layer.Kind, layer.Enforcer, Known.Of(layer.Limits.Or(truth)))))],
                        power
                    );
                    return Within(unknown.Effective.AtLeast, known.Effective.AtLeast)
                        && Within(known.Effective.AtMost, unknown.Effective.AtMost)
                        && Within(unknown.Allowed.AtLeast, known.Allowed.AtLeast)
                        && Within(known.Allowed.AtMost, unknown.Allowed.AtMost)
                        && (unknown.Excess.IsSo == Truth.Unknown || unknown.Excess.IsSo == known.Excess.IsSo);
                }
            );

    [Fact]
    public void A_layer_that_limits_nothing_can_be_removed_and_nothing_changes() =>
        Sampled(
            (asks, layers, power, more) =>
            {
                var with = Of(asks, [.. layers, more], power);
                return with.Steps[^1].Bindings.Count > 0 || Same(with.Effective, Of(asks, layers, power).Effective);
            }
        );

    [Fact]
    public void Expansion_equals_a_naive_search_on_random_graphs_with_circles() =>
        Gen.Select(Gen.Int[0, 11], Gen.Int[0, 1])
            .Array[0, 3]
            .Array[1, 12]
            .Sample(graph =>
            {
                var groups = graph
                    .Select(
                        (members, id) =>
                            new Group(
                                new GroupId(id),
                                $"g{id}",
                                [
                                    .. members.Select(member =>
                                        member.Item2 == 0
                                            ? Member.Of(new GroupId(member.Item1))
                                            : Member.Of(new PersonId(member.Item1))
                                    ),
                                ]
                            )
                    )
                    .ToList();
                var directory = new PeopleDirectory(new Harbour().People, Units, groups, Now, Time);
                return groups.All(group =>
                    Naive(group.Id, groups, directory) is var naive
                    && directory.Expand(group.Id) is var expanded
                    && naive.People.Equals(expanded.People)
                    && naive.Complete == expanded.Complete
                );
            });

    private static (PeopleSet People, bool Complete) Naive(GroupId start, List<Group> groups, PeopleDirectory directory)
    {
        var seen = new HashSet<GroupId>();
        var queue = new Queue<GroupId>([start]);
        var people = new HashSet<int>();
        var complete = true;
        while (queue.TryDequeue(out var id))
        {
            if (!seen.Add(id))
            {
                continue;
            }

            var group = groups.Find(group => group.Id == id);
            complete &= group is not null;
            foreach (var member in group?.Members ?? [])
            {
                if (member.Group is { } inner)
                {
                    queue.Enqueue(inner);
                }
                else if (directory.PlaceOf(member.Person!.Value) is { } place)
                {
                    people.Add(place);
                }
                else
                {
                    complete = false;
                }
            }
        }

        return (PeopleSet.Of(people), complete);
    }

    private static void Sampled(Func<Grant[], Layer[], Power, Layer, bool> law) =>
        Gen.Select(AnyGrant.Array[0, 4], AnyLayer.Array[0, 4], Gen.Enum<Power>(), AnyLayer)
            .Sample((grants, layers, power, more) => law(grants, [.. layers.Select(Layer)], power, Layer(more)));

    private static Layer Layer((LayerKind Kind, Enforcer Enforcer, Known<PowerLimits> Limits) layer) =>
        new(layer.Kind, "", layer.Enforcer, layer.Limits);

    private static AccessPath Of(Grant[] grants, Layer[] layers, Power power) =>
        AccessPaths
            .Under(new LayerSet(layers), Known.Of(Pilotage), PeopleDirectory)
            .Of(AccessPaths.AsksOf(Known.Of<IReadOnlyList<Grant>>(grants), Known<Joining>.None, power, PeopleDirectory), power);

    private static bool Same(AccessBounds a, AccessBounds b) =>
        Within(a.AtLeast, b.AtLeast) && Within(b.AtLeast, a.AtLeast) && Within(a.AtMost, b.AtMost) && Within(b.AtMost, a.AtMost);

    private static bool Within(AccessSet restrict, AccessSet wide) =>
        restrict.Except(wide) is var rest && rest.Inside.IsEmpty && rest.Guests.IsEmpty && rest.Doors.IsEmpty;
}
