using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

/// <summary>The layers over a site as shown, and its possible footings.</summary>
internal sealed record LayersOver(LayerSet Shown, IReadOnlyList<Footing> Footings);

/// <summary>Which layers apply to a site. Policy's layers are the same for all sites with one host, place, unit, classification
/// and kind, so they are built once.
/// </summary>
public sealed class LayerBook
{
    /// <summary>Above this number of possible combinations, they are merged into bounds: still true, but less exact.</summary>
    private const int MostFootings = 64;
    private const int MostClassifications = 3;

    private readonly ConcurrentDictionary<Place, LayersOver> known = new();
    private readonly Organisation organisation;
    private readonly PeopleDirectory directory;
    private readonly IReadOnlyList<LimitSetting> byOwners;
    private readonly ILookup<(LayerKind Kind, string Code), LimitSetting> byCode;

    private LayerBook(Organisation organisation, PeopleDirectory directory)
    {
        this.organisation = organisation;
        this.directory = directory;
        byOwners = [.. organisation.Limits.Where(limit => limit.Kind == LayerKind.OwnersClassification)];
        byCode = organisation.Limits.ToLookup(limit => (limit.Kind, limit.Code));
    }

    /// <summary>The facts of a site on which its layers depend.</summary>
    /// <param name="At">The nearest limit by place at or above its address; none if there is none.</param>
    private readonly record struct Place(
        string Host,
        Known<string> At,
        Known<UnitCode> Unit,
        Known<string> Classification,
        Known<string> Kind
    );

    public static LayerBook Of(Organisation organisation, PeopleDirectory directory) =>
        directory
            .Once(_ => new ConditionalWeakTable<Organisation, LayerBook>())
            .GetValue(organisation, of => new LayerBook(of, directory));

    /// <summary>The layers over a site, in display sequence.</summary>
    public LayerSet Over(SiteFacts site) => Of(site).Shown;

    internal LayersOver Of(SiteFacts site)
    {
        var shared = known.GetOrAdd(
            new Place(site.Host, PlaceOf(site), site.Unit, site.Classification, site.Kind),
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

    // With each possible value and without it; as bounds if there are too many.
    private static IEnumerable<LayerSet> Sets(List<Layer> own, IReadOnlyList<IGrouping<string, Layer>> perhaps) =>
        perhaps.Count > MostClassifications
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

    // The code of a limit by place is an address; it applies to all sites at or below that address.
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
            from unit in Candidates(place.Unit, directory.Units.Select(unit => unit.Code))
            from at in Candidates(place.At, Codes(LayerKind.Place))
            from classification in Candidates(place.Classification, Codes(LayerKind.Classification))
            from kind in Candidates(place.Kind, Codes(LayerKind.Kind))
            select (unit, at, classification, kind)
        ).ToList();
        if (possible.Count == 1)
        {
            return new LayersOver(shown, [new Footing(shown, LayerSet.None, [.. OwnUnit.AnyOf(place.Unit, directory)])]);
        }

        var footings = Footing.Of(
            possible.Select(one =>
                (
                    new LayerSet([
                        .. Shown(
                            place with
                            {
                                Unit = one.unit,
                                At = one.at,
                                Classification = one.classification,
                                Kind = one.kind,
                            }
                        ),
                    ]),
                    one.unit.Has(out var unit) ? OwnUnit.Of(unit, directory) : OwnUnit.None
                )
            )
        );
        return new LayersOver(
            shown,
            footings.Count <= MostFootings
                ? footings
                : [new Footing(shown, LayerSet.None, [new OwnUnit(PeopleSet.Empty, directory.Staff, [])])]
        );
    }

    // The possible values of a fact: its value; or, if unknown, every value that makes a difference, and none.
    private static IEnumerable<Known<T>> Candidates<T>(Known<T> fact, IEnumerable<T> codes)
        where T : notnull => fact.IsUnknown ? [Known<T>.None, .. codes.Select(Known.Of)] : [fact];

    private IReadOnlyList<string> Codes(LayerKind kind) =>
        [.. organisation.Limits.Where(limit => limit.Kind == kind).Select(limit => limit.Code).Distinct()];

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
                code => directory.CodesOf(new UnitCode(code)).SelectMany(above => Of(LayerKind.Unit, above.Value)),
                limit => directory.Find(new UnitCode(limit.Code))?.Name ?? limit.Code
            ),
            .. Of(
                LayerKind.Classification,
                place.Classification,
                "Classification",
                code => Of(LayerKind.Classification, code),
                limit => limit.Code
            ),
            .. Of(LayerKind.Kind, place.Kind, "Kind", code => Of(LayerKind.Kind, code), limit => limit.Code),
        ];

    private IEnumerable<LimitSetting> Of(LayerKind kind, string code) => byCode[(kind, code)];

    private static Layer Named(LimitSetting limit, string name) =>
        new(limit.Kind, name, limit.Enforcer, limit.Limits) { From = limit };

    // The limits for a fact; if the fact is unknown, the bounds over all limits that may apply.
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
            : organisation
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

    // The strictest classification among the present owners limits it: each owner's classification is a layer. An owning group
    // that was read in part may contain an owner of any classification.
    private (List<Layer> Certain, IReadOnlyList<IGrouping<string, Layer>> Perhaps) OfOwners(SiteFacts site)
    {
        var (certain, possible) = site.Sharing.Has(out var sharing)
            ? OwnersBy(sharing)
            : (PeopleSet.Empty, site.Sharing.IsUnknown ? directory.Inside : PeopleSet.Empty);
        var (classes, perhaps) = (ClassificationsOf(certain), ClassificationsOf(possible));
        return (
            [.. byOwners.Where(limit => classes.Contains(limit.Code)).Select(OfClassification)],
            [
                .. byOwners
                    .Where(limit => perhaps.Contains(limit.Code) && !classes.Contains(limit.Code))
                    .GroupBy(limit => limit.Code, OfClassification),
            ]
        );

        static Layer OfClassification(LimitSetting limit) => Named(limit, $"Owners: {limit.Code}");
    }

    private (PeopleSet Certain, PeopleSet Possible) OwnersBy(Sharing sharing)
    {
        var owning = sharing
            .Grants.Where(grant => grant.Power == Power.Own)
            .Select(grant => Ask.Of(grant, directory).Lets)
            .ToList();
        return (
            PeopleSet.UnionOf([.. owning.Select(lets => lets.AtLeast.Inside)]).Except(directory.Left),
            PeopleSet.UnionOf([.. owning.Select(lets => lets.AtMost.Inside)]).Except(directory.Left)
        );
    }

    private HashSet<string> ClassificationsOf(PeopleSet people) =>
        ReferenceEquals(people, directory.Inside)
            ? directory.Once(static of => new ClassificationsInside(of)).All
            : [.. people.Places().Select(place => directory.People[place].Classification)];

    private sealed class ClassificationsInside(PeopleDirectory directory)
    {
        public HashSet<string> All { get; } =
        [.. directory.Inside.Except(directory.Left).Places().Select(place => directory.People[place].Classification)];
    }
}
