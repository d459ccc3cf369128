using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

public enum Axis : byte
{
    Inside,
    Who,
    Proof,
}

/// <summary>A layer that refuses something asked on one axis. Not certain where the layer or the ask is unknown.</summary>
public sealed record Binding(Axis Axis, bool IsCertain);

/// <summary>One layer of a passage: what it caps, what it refuses, and what is left behind it of what was asked.</summary>
public sealed record Step(Layer Layer, Known<Limit> Limit, IReadOnlyList<Binding> Bindings, AccessBounds Behind);

/// <summary>What gets in beyond what the house allows.</summary>
public sealed record Beyond(Access Certain, Access Possible)
{
    public Truth IsSo => Truths.Between(!Certain.IsNone, !Possible.IsNone);

    public Truth Inside => Truths.Between(!Certain.Inside.IsEmpty, !Possible.Inside.IsEmpty);

    public Truth Outside => Truths.Between(!Certain.Doors.IsEmpty, !Possible.Doors.IsEmpty);
}

/// <summary>
/// The arithmetic of one power at one site. <em>Asked</em> runs through the layers: those that the host enforces leave the
/// <em>actual</em>, all of them leave what is <em>allowed</em> of it, and the difference is <em>beyond</em>.
/// </summary>
/// <param name="Permitted">What all the known layers permit, asked or not; unknown where a layer is.</param>
public sealed record Passage(
    Power Power,
    AccessBounds Asked,
    IReadOnlyList<Step> Steps,
    AccessBounds Actual,
    AccessBounds Allowed,
    Beyond Beyond,
    Known<Limit> Permitted)
{
    public IEnumerable<Step> Binding(Axis axis, bool certainly = true) =>
        Steps.Where(step => step.Bindings.Any(binding => binding.Axis == axis && (binding.IsCertain || !certainly)));
}

/// <summary>Computes passages. Layers of one site are shared by its powers.</summary>
public sealed class Passages
{
    private readonly Roll roll;
    private readonly IReadOnlyList<Layer> layers;
    private readonly PeopleSet unitAtLeast;
    private readonly PeopleSet unitAtMost;

    public Passages(Known<UnitCode> unit, IReadOnlyList<Layer> layers, Roll roll)
    {
        this.roll = roll;
        this.layers = layers;
        OwnUnit = unit.Has(out var code) ? roll.OfUnit(code) : PeopleSet.Empty;
        unitAtLeast = OwnUnit;
        unitAtMost = unit.IsUnknown ? roll.Inside : OwnUnit;
    }

    /// <summary>The people of the site's own unit and below.</summary>
    public PeopleSet OwnUnit { get; }

    public static Passages Of(SiteFacts site, House house, Roll roll) => new(site.Unit, Layers.Over(site, house, roll), roll);

    /// <summary>The asks of a site for one power: asking for a power asks for the weaker ones.</summary>
    public static IReadOnlyList<Ask> AsksOf(Known<IReadOnlyList<Grant>> grants, Power power, Roll roll) =>
        grants.Has(out var known)
            ? [.. known.Where(grant => grant.Power >= power).Select(grant => Ask.Of(grant, roll))]
            : grants.IsNone ? [] : [Ask.Anything(roll)];

    public static bool IsEverLive(Known<Stage> stage) => !stage.Has(out var at) || at != Stage.NeverLive;

    public Passage Of(SiteFacts site, Power power) =>
        Of(AsksOf(site.Sharing.Select(sharing => sharing.Grants), power, roll), power);

    public Passage Of(IReadOnlyList<Ask> asks, Power power)
    {
        var caps = layers.Select(layer => (Layer: layer, Limit: layer.For(power))).ToList();
        var host = caps.Where(cap => cap.Layer.Enforcer == Enforcer.Host).Select(cap => cap.Limit).ToList();
        var all = caps.Select(cap => cap.Limit).ToList();

        var least = asks.Select(ask => ask.Lets.AtLeast).ToList();
        var most = asks.Select(ask => ask.Lets.AtMost).ToList();
        var actual = new AccessBounds(Access.Of(least.Select(ask => Strict(ask, host))), Access.Of(most.Select(ask => Lenient(ask, host))));
        var allowed = new AccessBounds(
            Access.Of(least.Select(ask => Strict(ask, all))).Without(roll.Left),
            Access.Of(most.Select(ask => Lenient(ask, all))).Without(roll.Left));
        var possible = most
            .Select(ask => Access.Of([Lenient(ask, host)]).Except(Access.Of([Strict(ask, all)]).Without(roll.Left)))
            .Aggregate(Access.None, (beyond, some) => beyond.Union(some))
            .Except(allowed.AtLeast);

        return new Passage(
            power,
            new AccessBounds(Access.Of(least), Access.Of(most)),
            StepsOf(caps, least, most),
            actual,
            allowed,
            new Beyond(actual.AtLeast.Except(allowed.AtMost), possible),
            all.Any(limit => limit.IsUnknown) ? Known<Limit>.Unknown : Known.Of(all.Aggregate(Limit.Open, (met, limit) => met.Meet(limit.Or(Limit.Open)))));
    }

    private List<Step> StepsOf(List<(Layer Layer, Known<Limit> Limit)> caps, List<Opening> least, List<Opening> most)
    {
        var steps = new List<Step>(caps.Count);
        var behind = (Least: least, Most: most);
        foreach (var (layer, limit) in caps)
        {
            behind = (behind.Least.ConvertAll(ask => Strict(ask, [limit])), behind.Most.ConvertAll(ask => Lenient(ask, [limit])));
            steps.Add(new Step(
                layer, limit, [.. BindingsOf(limit, least, most)], new AccessBounds(Access.Of(behind.Least), Access.Of(behind.Most))));
        }

        return steps;
    }

    private IEnumerable<Binding> BindingsOf(Known<Limit> limit, List<Opening> least, List<Opening> most)
    {
        foreach (var axis in Enum.GetValues<Axis>())
        {
            var certain = limit.Has(out var known) && least.Any(ask => Refuses(known, ask, unitAtMost, axis));
            if (certain || most.Any(ask => Refuses(limit.Or(Limit.Shut), ask, unitAtLeast, axis)))
            {
                yield return new Binding(axis, certain);
            }
        }
    }

    private static bool Refuses(Limit limit, Opening ask, PeopleSet unit, Axis axis) =>
        axis switch
        {
            Axis.Inside => !ask.Under(limit, unit).Inside.Includes(ask.Inside),
            Axis.Who => ask.Doors.Doors().Any(door => door.Who > limit.Widest),
            _ => limit.Widest != OutsideLevel.NoOne && ask.Doors.Doors().Any(door => door.Proof < limit.LeastProof),
        };

    private Opening Strict(Opening ask, IEnumerable<Known<Limit>> limits) =>
        limits.Aggregate(ask, (left, limit) => left.Under(limit.Or(Limit.Shut), unitAtLeast));

    private Opening Lenient(Opening ask, IEnumerable<Known<Limit>> limits) =>
        limits.Aggregate(ask, (left, limit) => left.Under(limit.Or(Limit.Open), unitAtMost));
}
