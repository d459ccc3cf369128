using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>
/// Which layers stand over a site. Those of the house are the same for all sites with one host, unit, class and kind, so
/// they are put together once.
/// </summary>
public sealed class LayerBook
{
    private readonly ConcurrentDictionary<(string Host, Known<UnitCode> Unit, Known<string> Class, Known<string> Kind), LayerSet> sets = new();
    private readonly House house;
    private readonly Roll roll;
    private readonly IReadOnlyList<LimitSetting> byOwners;
    private readonly ILookup<string, LimitSetting> ofUnits;

    private LayerBook(House house, Roll roll)
    {
        this.house = house;
        this.roll = roll;
        byOwners = [.. house.Limits.Where(limit => limit.Kind == LayerKind.OwnersClass)];
        ofUnits = house.Limits.Where(limit => limit.Kind == LayerKind.Unit).ToLookup(limit => limit.Code);
    }

    public static LayerBook Of(House house, Roll roll) =>
        roll.Once(_ => new ConditionalWeakTable<House, LayerBook>()).GetValue(house, of => new LayerBook(of, roll));

    public LayerSet Over(SiteFacts site)
    {
        var shared = sets.GetOrAdd((site.Host, site.Unit, site.Class, site.Kind), static (key, book) => new LayerSet([.. book.OfHouse(key.Host, key.Unit, key.Class, key.Kind)]), this);
        IReadOnlyList<Layer> own = byOwners.Count == 0 ? [] : [.. OfOwners(site)];
        if (site.Sharing.Has(out var sharing) && sharing.OwnLimit is { } limit)
        {
            own = [.. own, new Layer(LayerKind.Site, "The site's own setting", Enforcer.Host, Known.Of(limit))];
        }

        return own.Count == 0 ? shared : new LayerSet([.. shared.Layers, .. own]);
    }

    private IEnumerable<Layer> OfHouse(string host, Known<UnitCode> unit, Known<string> siteClass, Known<string> kind) =>
    [
        .. house.Limits.Where(limit => limit.Kind == LayerKind.Organisation).Select(limit => Named(limit, "Organisation")),
        .. Of(LayerKind.Host, Known.Of(host), Enforcer.Host, "Host"),
        .. Of(LayerKind.Place, Known<string>.None, Enforcer.House, "Place"),
        .. OfUnits(unit),
        .. Of(LayerKind.Class, siteClass, Enforcer.House, "Class"),
        .. Of(LayerKind.Kind, kind, Enforcer.House, "Kind"),
    ];

    private static Layer Named(LimitSetting limit, string name) => new(limit.Kind, name, limit.Enforcer, limit.Limits);

    private IEnumerable<Layer> Of(LayerKind kind, Known<string> code, Enforcer unknownTo, string word)
    {
        var settings = house.Limits.Where(limit => limit.Kind == kind).ToList();
        if (settings.Count == 0 || code.IsNone)
        {
            return [];
        }

        return code.Has(out var own)
            ? settings.Where(limit => limit.Code == own).Select(limit => Named(limit, own))
            : [new Layer(kind, $"{word} unknown", unknownTo, Known<PowerLimits>.Unknown)];
    }

    private IEnumerable<Layer> OfUnits(Known<UnitCode> unit)
    {
        if (!unit.Has(out var code))
        {
            return Of(LayerKind.Unit, unit.Select(own => own.Value), Enforcer.House, "Unit");
        }

        return from above in roll.ChainOf(code)
               from limit in ofUnits[above.Code.Value]
               select Named(limit, above.Name);
    }

    // The strictest among the present owners binds: as layers meet, each owner's class is one.
    private IEnumerable<Layer> OfOwners(SiteFacts site)
    {
        if (!site.Sharing.Has(out var sharing))
        {
            return [new Layer(LayerKind.OwnersClass, "Owners unknown", Enforcer.House, Known<PowerLimits>.Unknown)];
        }

        var owners = sharing.Grants
            .Where(grant => grant.Power == Power.Own)
            .Select(grant => Ask.Of(grant, roll).Lets.AtLeast.Inside)
            .Aggregate(PeopleSet.Empty, (all, some) => all.Union(some))
            .Except(roll.Left);
        var classes = owners.Places().Select(place => roll.People[place].Class).ToHashSet();
        return byOwners.Where(limit => classes.Contains(limit.Code)).Select(limit => Named(limit, $"Owners: {limit.Code}"));
    }
}
