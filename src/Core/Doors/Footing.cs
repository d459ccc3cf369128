using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>The people of a site's own unit and below: for certain, and at the most where the unit of some is not known.</summary>
/// <param name="Chain">The unit and those above it; empty where the site has no unit.</param>
internal sealed record OwnUnit(PeopleSet AtLeast, PeopleSet AtMost, IReadOnlyList<UnitCode> Chain)
{
    public static OwnUnit None { get; } = new(PeopleSet.Empty, PeopleSet.Empty, []);

    public bool IsKnown => ReferenceEquals(AtLeast, AtMost);

    public static OwnUnit Of(UnitCode unit, Roll roll) =>
        roll.OfUnit(unit) is var people && roll.Unplaced.IsEmpty
            ? new OwnUnit(people, people, roll.CodesOf(unit))
            : new OwnUnit(people, people.Union(roll.Unplaced), roll.CodesOf(unit));

    /// <summary>All that a site's unit may be.</summary>
    public static IEnumerable<OwnUnit> AnyOf(Known<UnitCode> unit, Roll roll) =>
        unit.Has(out var code) ? [Of(code, roll)]
        : unit.IsNone ? [None]
        : [None, .. roll.Units.Select(any => Of(any.Code, roll))];
}

/// <summary>
/// What a site stands on when its grants are sent through its layers: the layers, and its own unit. Where unit,
/// classification or kind are not known there are several, and a verdict is what they share.
/// </summary>
/// <param name="Shared">The layers that are over all sites with the same facts.</param>
/// <param name="Own">Those of the site itself, which are not over its parts.</param>
/// <param name="Units">More than one where the unit is not known and no layer asks for it: it still makes the word.</param>
internal sealed record Footing(LayerSet Shared, LayerSet Own, IReadOnlyList<OwnUnit> Units)
{
    public LayerSet Layers { get; } = Own.Layers.Count == 0 ? Shared : new LayerSet([.. Shared.Layers, .. Own.Layers]);

    /// <summary>The same with layers of the site itself; where they ask for a unit that is not known, one for each.</summary>
    public IEnumerable<Footing> With(LayerSet own) =>
        own.AsksForUnit && Units.Count > 1
            ? Units.Select(unit => new Footing(Shared, own, [unit]))
            : [new Footing(Shared, own, Units)];

    /// <summary>Of layers and units that may be so together, each difference once.</summary>
    public static IReadOnlyList<Footing> Of(IEnumerable<(LayerSet Layers, OwnUnit Unit)> possible)
    {
        var footings = new List<(LayerSet Layers, List<OwnUnit> Units)>();
        foreach (var (layers, unit) in possible)
        {
            var same = footings.Find(one =>
                one.Layers.ComesToTheSame(layers) && (!layers.AsksForUnit || one.Units.Contains(unit))
            );
            if (same.Units is null)
            {
                footings.Add((layers, [unit]));
            }
            else if (!same.Units.Contains(unit))
            {
                same.Units.Add(unit);
            }
        }

        return [.. footings.Select(one => new Footing(one.Layers, LayerSet.None, one.Units))];
    }
}
