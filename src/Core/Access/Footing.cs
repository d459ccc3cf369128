using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

/// <summary>The people of a site's own unit and below: certain, and possible where the unit of some is unknown.</summary>
/// <param name="Chain">The unit and its parents; empty if the site has no unit.</param>
internal sealed record OwnUnit(PeopleSet AtLeast, PeopleSet AtMost, IReadOnlyList<UnitCode> Chain)
{
    public static OwnUnit None { get; } = new(PeopleSet.Empty, PeopleSet.Empty, []);

    public bool IsKnown => ReferenceEquals(AtLeast, AtMost);

    public static OwnUnit Of(UnitCode unit, PeopleDirectory directory) =>
        directory.OfUnit(unit) is var people && directory.Unplaced.IsEmpty
            ? new OwnUnit(people, people, directory.CodesOf(unit))
            : new OwnUnit(people, people.Union(directory.Unplaced), directory.CodesOf(unit));

    /// <summary>All possible units of a site.</summary>
    public static IEnumerable<OwnUnit> AnyOf(Known<UnitCode> unit, PeopleDirectory directory) =>
        unit.Has(out var code) ? [Of(code, directory)]
        : unit.IsNone ? [None]
        : [None, .. directory.Units.Select(any => Of(any.Code, directory))];
}

/// <summary>The footing on which a site's grants pass its layers: the layers and its own unit. Where unit, classification or
/// kind are unknown, there are several, and a verdict is what all of them share.
/// </summary>
/// <param name="Shared">The layers over all sites with the same facts.</param>
/// <param name="Own">The layers of the site itself, which do not apply to its sections.</param>
/// <param name="Units">More than one if the unit is unknown and no layer depends on it: the level inside still does.</param>
internal sealed record Footing(LayerSet Shared, LayerSet Own, IReadOnlyList<OwnUnit> Units)
{
    public LayerSet Layers { get; } = Own.Layers.Count == 0 ? Shared : new LayerSet([.. Shared.Layers, .. Own.Layers]);

    /// <summary>The same with the site's own layers; one for each possible unit if they depend on an unknown unit.</summary>
    public IEnumerable<Footing> With(LayerSet own) =>
        own.AsksForUnit && Units.Count > 1
            ? Units.Select(unit => new Footing(Shared, own, [unit]))
            : [new Footing(Shared, own, Units)];

    /// <summary>Each distinct combination of layers and units that is possible.</summary>
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
