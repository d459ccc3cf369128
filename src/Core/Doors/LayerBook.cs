using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>The layers over a site as they are shown, and what it may stand on.</summary>
internal sealed record LayersOver(LayerSet Shown, IReadOnlyList<Footing> Footings);

/// <summary>
/// Which layers stand over a site. Those that policy sets are the same for all sites with one host, place, unit,
/// classification and kind, so they are put together once.
/// </summary>
public sealed class LayerBook
{
    /// <summary>Where more differences than this are possible, they are taken together as bounds: still true, and less exact.</summary>
    private const int MostFootings = 64;
    private const int MostClasses = 3;

    private readonly ConcurrentDictionary<Place, LayersOver> known = new();
    private readonly House house;
    private readonly Roll roll;
    private readonly IReadOnlyList<LimitSetting> byOwners;
    private readonly ILookup<(LayerKind Kind, string Code), LimitSetting> byCode;

    private LayerBook(House house, Roll roll)
    {
        this.house = house;
        this.roll = roll;
        byOwners = [.. house.Limits.Where(limit => limit.Kind == LayerKind.OwnersClass)];
        byCode = house.Limits.ToLookup(limit => (limit.Kind, limit.Code));
    }

    /// <summary>The facts of a site on which its layers depend.</summary>
    /// <param name="At">The limit by place that is nearest above its address; none where there is none.</param>
    private readonly record struct Place(
        string Host,
        Known<string> At,
        Known<UnitCode> Unit,
        Known<string> Class,
        Known<string> Kind
    );

    public static LayerBook Of(House house, Roll roll) =>
        roll.Once(_ => new ConditionalWeakTable<House, LayerBook>()).GetValue(house, of => new LayerBook(of, roll));

    /// <summary>The layers over a site, in the order in which they are shown.</summary>
    public LayerSet Over(SiteFacts site) => Of(site).Shown;

    internal LayersOver Of(SiteFacts site)
    {
        var shared = known.GetOrAdd(
            new Place(site.Host, PlaceOf(site), site.Unit, site.Class, site.Kind),
            static (place, book) => book.Make(place),
            this
        );
        var (own, perhaps) = byOwners.Count == 0 ? ([], []) : OfOwners(site);
        if (site.Sharing.IsUnknown)
        {
            own.Add(new Layer(LayerKind.Site, "The site's own setting unknown", Enforcer.Host, Known<PowerLimits>.Unknown));
        }
        else if (site.Sharing.Has(out var sharing) && sharing.OwnLimit is { } limit)
        {
            own.Add(new Layer(LayerKind.Site, "The site's own setting", Enforcer.Host, Known.Of(limit)));
        }

        if (own.Count == 0 && perhaps.Count == 0)
        {
            return shared;
        }

        var footings = Sets(own, perhaps)
            .SelectMany(ofSite => shared.Footings.SelectMany(footing => footing.With(ofSite)))
            .ToList();
        return new LayersOver(
            footings is [var only] && ReferenceEquals(only.Shared, shared.Shown)
                ? only.Layers
                : new LayerSet([.. shared.Shown.Layers, .. own, .. perhaps.SelectMany(Unsure)]),
            footings
        );
    }

    // With each of what may be so and without it; where that is too much, between the bounds.
    private static IEnumerable<LayerSet> Sets(List<Layer> own, IReadOnlyList<IGrouping<string, Layer>> perhaps) =>
        perhaps.Count > MostClasses
            ? [new LayerSet([.. own, .. perhaps.SelectMany(Unsure)])]
            : Enumerable
                .Range(0, 1 << perhaps.Count)
                .Select(which => new LayerSet([
                    .. own,
                    .. perhaps.Where((_, at) => (which >> at & 1) != 0).SelectMany(layers => layers),
                ]));

    private static IEnumerable<Layer> Unsure(IGrouping<string, Layer> layers) =>
        layers.Select(layer => new Layer(layer.Kind, $"Owners unknown: {layers.Key}", layer.Enforcer, Known<PowerLimits>.Unknown)
        {
            Strictest = layer.Strictest,
        });

    private static bool IsAtOrBelow(string address, string place) =>
        address.StartsWith(place, StringComparison.OrdinalIgnoreCase)
        && (address.Length == place.Length || address[place.Length] == '/');

    // A limit by place has an address for its code and is over all sites at that address or below it.
    private Known<string> PlaceOf(SiteFacts site)
    {
        var places = Codes(LayerKind.Place);
        return places.Count == 0 ? Known<string>.None
            : site.Address.Has(out var address)
                ? Known.Text(places.Where(place => IsAtOrBelow(address, place)).MaxBy(place => place.Length))
            : site.Address.IsNone ? Known<string>.None
            : Known<string>.Unknown;
    }

    private LayersOver Make(Place place)
    {
        var shown = new LayerSet([.. Shown(place)]);
        var possible = (
            from unit in Candidates(place.Unit, roll.Units.Select(unit => unit.Code))
            from at in Candidates(place.At, Codes(LayerKind.Place))
            from @class in Candidates(place.Class, Codes(LayerKind.Class))
            from kind in Candidates(place.Kind, Codes(LayerKind.Kind))
            select (unit, at, @class, kind)
        ).ToList();
        if (possible.Count == 1)
        {
            return new LayersOver(shown, [new Footing(shown, LayerSet.None, [.. OwnUnit.AnyOf(place.Unit, roll)])]);
        }

        var footings = Footing.Of(
            possible.Select(one =>
                (
                    new LayerSet([.. Shown(place with { Unit = one.unit, At = one.at, Class = one.@class, Kind = one.kind })]),
                    one.unit.Has(out var unit) ? OwnUnit.Of(unit, roll) : OwnUnit.None
                )
            )
        );
        return new LayersOver(
            shown,
            footings.Count <= MostFootings
                ? footings
                : [new Footing(shown, LayerSet.None, [new OwnUnit(PeopleSet.Empty, roll.Staff, [])])]
        );
    }

    // What a fact may be: what it is; or, where no source has told it, any of what makes a difference, and none of it.
    private static IEnumerable<Known<T>> Candidates<T>(Known<T> fact, IEnumerable<T> codes)
        where T : notnull => fact.IsUnknown ? [Known<T>.None, .. codes.Select(Known.Of)] : [fact];

    private IReadOnlyList<string> Codes(LayerKind kind) =>
        [.. house.Limits.Where(limit => limit.Kind == kind).Select(limit => limit.Code).Distinct()];

    private IEnumerable<Layer> Shown(Place place) =>
        [
            .. Of(LayerKind.Organisation, "").Select(limit => Named(limit, "Organisation")),
            .. Of(LayerKind.Host, place.Host).Select(limit => Named(limit, place.Host)),
            .. Of(
                LayerKind.Place,
                place.At,
                "Place",
                code =>
                    Codes(LayerKind.Place)
                        .Where(above => IsAtOrBelow(code, above))
                        .OrderBy(above => above.Length)
                        .SelectMany(above => Of(LayerKind.Place, above)),
                limit => limit.Code
            ),
            .. Of(
                LayerKind.Unit,
                place.Unit.Select(unit => unit.Value),
                "Unit",
                code => roll.CodesOf(new UnitCode(code)).SelectMany(above => Of(LayerKind.Unit, above.Value)),
                limit => roll.Find(new UnitCode(limit.Code))?.Name ?? limit.Code
            ),
            .. Of(LayerKind.Class, place.Class, "Class", code => Of(LayerKind.Class, code), limit => limit.Code),
            .. Of(LayerKind.Kind, place.Kind, "Kind", code => Of(LayerKind.Kind, code), limit => limit.Code),
        ];

    private IEnumerable<LimitSetting> Of(LayerKind kind, string code) => byCode[(kind, code)];

    private static Layer Named(LimitSetting limit, string name) => new(limit.Kind, name, limit.Enforcer, limit.Limits);

    // The limits that are set for a fact; where it is not known, between the loosest and the strictest of all that may be meant.
    private IEnumerable<Layer> Of(
        LayerKind kind,
        Known<string> fact,
        string word,
        Func<string, IEnumerable<LimitSetting>> of,
        Func<LimitSetting, string> name
    )
    {
        if (fact.Has(out var code))
        {
            return of(code).Select(limit => Named(limit, name(limit)));
        }

        return fact.IsNone
            ? []
            : house
                .Limits.Where(limit => limit.Kind == kind)
                .Select(limit => limit.Enforcer)
                .Distinct()
                .Order()
                .Select(enforcer => new Layer(kind, $"{word} unknown", enforcer, Known<PowerLimits>.Unknown)
                {
                    Strictest = Codes(kind)
                        .Select(any =>
                            of(any)
                                .Where(limit => limit.Enforcer == enforcer)
                                .Select(limit => limit.Limits.Or(PowerLimits.Shut))
                                .Aggregate(PowerLimits.Open, (met, limit) => met.Meet(limit))
                        )
                        .Aggregate(PowerLimits.Open, (met, limit) => met.Meet(limit)),
                });
    }

    // The strictest among the present owners limits it: as layers meet, each owner's class is one. An owning group that was
    // read in part may hold an owner of any class.
    private (List<Layer> Certain, IReadOnlyList<IGrouping<string, Layer>> Perhaps) OfOwners(SiteFacts site)
    {
        var (certain, possible) = site.Sharing.Has(out var sharing)
            ? OwnersBy(sharing)
            : (PeopleSet.Empty, site.Sharing.IsUnknown ? roll.Inside : PeopleSet.Empty);
        var (classes, perhaps) = (ClassesOf(certain), ClassesOf(possible));
        return (
            [.. byOwners.Where(limit => classes.Contains(limit.Code)).Select(OfClass)],
            [
                .. byOwners
                    .Where(limit => perhaps.Contains(limit.Code) && !classes.Contains(limit.Code))
                    .GroupBy(limit => limit.Code, OfClass),
            ]
        );

        static Layer OfClass(LimitSetting limit) => Named(limit, $"Owners: {limit.Code}");
    }

    private (PeopleSet Certain, PeopleSet Possible) OwnersBy(Sharing sharing)
    {
        var owning = sharing.Grants.Where(grant => grant.Power == Power.Own).Select(grant => Ask.Of(grant, roll).Lets).ToList();
        return (
            PeopleSet.UnionOf([.. owning.Select(lets => lets.AtLeast.Inside)]).Except(roll.Left),
            PeopleSet.UnionOf([.. owning.Select(lets => lets.AtMost.Inside)]).Except(roll.Left)
        );
    }

    private HashSet<string> ClassesOf(PeopleSet people) =>
        ReferenceEquals(people, roll.Inside)
            ? roll.Once(static of => new ClassesInside(of)).All
            : [.. people.Places().Select(place => roll.People[place].Class)];

    private sealed class ClassesInside(Roll roll)
    {
        public HashSet<string> All { get; } =
        [.. roll.Inside.Except(roll.Left).Places().Select(place => roll.People[place].Class)];
    }
}
