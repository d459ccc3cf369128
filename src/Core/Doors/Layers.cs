using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>Which layers stand over a site, in the order in which they are shown.</summary>
public static class Layers
{
    public static IReadOnlyList<Layer> Over(SiteFacts site, House house, Roll roll)
    {
        var layers = new List<Layer>();
        layers.AddRange(house.Limits.Where(limit => limit.Kind == LayerKind.Organisation).Select(limit => Named(limit, "Organisation")));
        layers.AddRange(Of(house, LayerKind.Host, Known.Of(site.Host), Enforcer.Host, "Host"));
        layers.AddRange(Of(house, LayerKind.Place, Known<string>.None, Enforcer.House, "Place"));
        layers.AddRange(OfUnits(site.Unit, house, roll));
        layers.AddRange(Of(house, LayerKind.Class, site.Class, Enforcer.House, "Class"));
        layers.AddRange(Of(house, LayerKind.Kind, site.Kind, Enforcer.House, "Kind"));
        layers.AddRange(OfOwners(site, house, roll));
        if (site.Sharing.Has(out var sharing) && sharing.OwnLimit is { } own)
        {
            layers.Add(new Layer(LayerKind.Site, "The site's own setting", Enforcer.Host, Known.Of(own)));
        }

        return layers;
    }

    private static Layer Named(LimitSetting limit, string name) => new(limit.Kind, name, limit.Enforcer, limit.Limits);

    private static IEnumerable<Layer> Of(House house, LayerKind kind, Known<string> code, Enforcer unknownTo, string word)
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

    private static IEnumerable<Layer> OfUnits(Known<UnitCode> unit, House house, Roll roll)
    {
        if (!unit.Has(out var code))
        {
            return Of(house, LayerKind.Unit, unit.Select(own => own.Value), Enforcer.House, "Unit");
        }

        return from above in roll.ChainOf(code)
               from limit in house.Limits
               where limit.Kind == LayerKind.Unit && limit.Code == above.Code.Value
               select Named(limit, above.Name);
    }

    // The strictest among the present owners binds: as layers meet, each owner's class is one.
    private static IEnumerable<Layer> OfOwners(SiteFacts site, House house, Roll roll)
    {
        var settings = house.Limits.Where(limit => limit.Kind == LayerKind.OwnersClass).ToList();
        if (settings.Count == 0)
        {
            return [];
        }

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
        return settings.Where(limit => classes.Contains(limit.Code)).Select(limit => Named(limit, $"Owners: {limit.Code}"));
    }
}
