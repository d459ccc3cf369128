using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using CsCheck;

namespace AtticLedger.Core.Tests.Terms;

/// <summary>The basic terms: three-valued logic, facts, sets of people, openings.</summary>
public class GroundFacts
{
    private static readonly Gen<Truth> AnyTruth = Gen.Enum<Truth>();
    private static readonly Gen<int[]> AnyPlaces = Gen.Int[0, 300].Array[0, 40];
    private static readonly Gen<int[]> ManyPlaces = Gen.OneOf(
        Gen.Int[0, 4000].Array[0, 3000],
        Gen.Select(Gen.Int[0, 500], Gen.Int[900, 3000], (from, count) => Enumerable.Range(from, count).ToArray())
    );
    private static readonly Gen<DoorSet> AnyDoors = Gen.Int[0, 511].Select(bits => new DoorSet((ushort)bits));

    [Theory]
    [InlineData(Truth.Yes, Truth.Unknown, Truth.Unknown, Truth.Yes)]
    [InlineData(Truth.No, Truth.Unknown, Truth.No, Truth.Unknown)]
    [InlineData(Truth.Unknown, Truth.Unknown, Truth.Unknown, Truth.Unknown)]
    [InlineData(Truth.Yes, Truth.No, Truth.No, Truth.Yes)]
    public void Unknown_travels_by_strong_Kleene_logic(Truth a, Truth b, Truth and, Truth or)
    {
        Assert.Equal((and, or), (a.And(b), a.Or(b)));
        Assert.Equal((and, or), (b.And(a), b.Or(a)));
    }

    [Fact]
    public void De_Morgan_holds() =>
        Gen.Select(AnyTruth, AnyTruth).Sample((a, b) => a.And(b).Not() == a.Not().Or(b.Not()) && a.Not().Not() == a);

    [Fact]
    public void A_forgotten_fact_is_unknown_and_neither_none_nor_a_value()
    {
        Known<int> forgotten = default;

        Assert.True(forgotten.IsUnknown);
        Assert.False(forgotten.IsNone);
        Assert.False(forgotten.Has(out _));
        Assert.NotEqual(Known<int>.None, forgotten);
        Assert.True(forgotten.Select(value => value + 1).IsUnknown);
        Assert.Equal(Known.Of(2), Known.Of(1).Select(value => value + 1));
    }

    [Fact]
    public void The_empty_text_is_none()
    {
        Assert.True(Known.Text("  ").IsNone);
        Assert.True(Known.Text(null).IsNone);
        Assert.Equal(Known.Of("a"), Known.Text("a"));
    }

    [Fact]
    public void Sets_of_people_are_sets() =>
        Gen.Select(AnyPlaces, AnyPlaces)
            .Sample(
                (a, b) =>
                {
                    var (one, two) = (PeopleSet.Of(a), PeopleSet.Of(b));
                    return one.Union(two).Places().SequenceEqual(a.Union(b).Order())
                        && one.Intersect(two).Places().SequenceEqual(a.Intersect(b).Order())
                        && one.Except(two).Places().SequenceEqual(a.Except(b).Order())
                        && one.Includes(two) == b.All(a.Contains)
                        && one.Count == a.Distinct().Count()
                        && one.IsEmpty == (a.Length == 0)
                        && one.Equals(two) == a.ToHashSet().SetEquals(b)
                        && b.All(place => one.Contains(place) == a.Contains(place));
                }
            );

    [Fact]
    public void Sets_of_many_people_are_the_same_sets() =>
        Gen.Select(ManyPlaces, ManyPlaces, AnyPlaces)
            .Sample(
                (a, b, c) =>
                {
                    var (one, two, three) = (PeopleSet.Of(a), PeopleSet.Of(b), PeopleSet.Of(c));
                    return PeopleSet.UnionOf([one, two, three, one]).Places().SequenceEqual(a.Union(b).Union(c).Order())
                        && one.Intersect(two).Places().SequenceEqual(a.Intersect(b).Order())
                        && two.Except(one).Places().SequenceEqual(b.Except(a).Order())
                        && one.Includes(two) == b.All(a.ToHashSet().Contains)
                        && one.Includes(one.Intersect(two))
                        && one.Except(two).Union(one.Intersect(two)).Equals(one)
                        && one.Equals(two) == a.ToHashSet().SetEquals(b)
                        && ReferenceEquals(one.Union(one.Intersect(three)), one);
                }
            );

    [Fact]
    public void Doors_are_a_set_and_the_widest_is_shown_with_its_weakest_sign_in() =>
        Gen.Select(AnyDoors, AnyDoors)
            .Sample(
                (a, b) =>
                {
                    var listed = a.Doors().ToList();
                    var widest = listed.Select(door => door.Who).DefaultIfEmpty(OutsideLevel.NoOne).Max();
                    return DoorSet.Of(listed) == a
                        && a.Union(b).Doors().ToHashSet().SetEquals(listed.Union(b.Doors()))
                        && a.Intersect(b).Doors().ToHashSet().SetEquals(listed.Intersect(b.Doors()))
                        && a.Except(b).Doors().ToHashSet().SetEquals(listed.Except(b.Doors()))
                        && a.Widest == widest
                        && a.WeakestSignIn
                            == (
                                listed.Count == 0
                                    ? null
                                    : listed.Where(door => door.Who == widest).Min(door => door.VisitorSignIn)
                            );
                }
            );

    [Fact]
    public void A_limit_admits_what_is_no_wider_and_demands_no_weaker_sign_in()
    {
        foreach (var widest in Enum.GetValues<OutsideLevel>())
        {
            foreach (var least in Enum.GetValues<VisitorSignIn>())
            {
                var lets = DoorSet.Upto(widest, least);
                foreach (var door in DoorSet.All.Doors())
                {
                    Assert.Equal(door.Who <= widest && door.VisitorSignIn >= least, lets.Contains(door));
                }
            }
        }

        Assert.Equal(9, DoorSet.All.Doors().Count());
    }
}
