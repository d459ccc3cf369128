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
    private static readonly Axis[] Axes = Enum.GetValues<Axis>();
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

    /// <summary>The passages of the limited powers, from the grants of a site; each grant is read once for all of them.</summary>
    public IReadOnlyList<Passage> OfAll(Known<IReadOnlyList<Grant>> grants)
    {
        var asks = AsksOf(grants, Power.View, roll);
        return [.. Powers.Limited.Select(power => Of([.. asks.Where(ask => ask.Grant is null || ask.Grant.Power >= power)], power))];
    }

    public Passage Of(SiteFacts site, Power power) =>
        Of(AsksOf(site.Sharing.Select(sharing => sharing.Grants), power, roll), power);

    public Passage Of(IReadOnlyList<Ask> asks, Power power)
    {
        var caps = layers.Select(layer => (Layer: layer, Limit: layer.For(power))).ToList();
        var host = caps.Where(cap => cap.Layer.Enforcer == Enforcer.Host).Select(cap => cap.Limit).ToList();
        var all = caps.ConvertAll(cap => cap.Limit);
        var least = asks.Select(ask => ask.Lets.AtLeast).ToList();
        var most = asks.Select(ask => ask.Lets.AtMost).ToList();

        // Where everything is known both ends of every bound are the same, and one computation serves for both.
        var isKnown = ReferenceEquals(unitAtLeast, unitAtMost) && all.TrueForAll(limit => !limit.IsUnknown)
            && asks.All(ask => ReferenceEquals(ask.Lets.AtLeast, ask.Lets.AtMost));
        AccessBounds Through(List<Known<Limit>> limits)
        {
            var atLeast = Access.Of(least.Select(ask => Strict(ask, limits)));
            return new AccessBounds(atLeast, isKnown ? atLeast : Access.Of(most.Select(ask => Lenient(ask, limits))));
        }

        var actual = Through(host);
        var permitted = Through(all);
        var withoutLeft = permitted.AtLeast.Without(roll.Left);
        var allowed = new AccessBounds(withoutLeft, isKnown ? withoutLeft : permitted.AtMost.Without(roll.Left));
        var certain = actual.AtLeast.Except(allowed.AtMost);
        var possible = isKnown
            ? certain
            : most
                .Select(ask => Access.Of([Lenient(ask, host)]).Except(Access.Of([Strict(ask, all)]).Without(roll.Left)))
                .Aggregate(Access.None, (beyond, some) => beyond.Union(some))
                .Except(allowed.AtLeast);
        var asked = Access.Of(least);

        return new Passage(
            power,
            new AccessBounds(asked, isKnown ? asked : Access.Of(most)),
            StepsOf(caps, least, most, isKnown),
            actual,
            allowed,
            new Beyond(certain, possible),
            all.Exists(limit => limit.IsUnknown) ? Known<Limit>.Unknown : Known.Of(all.Aggregate(Limit.Open, (met, limit) => met.Meet(limit.Or(Limit.Open)))));
    }

    private List<Step> StepsOf(List<(Layer Layer, Known<Limit> Limit)> caps, List<Opening> least, List<Opening> most, bool isKnown)
    {
        var steps = new List<Step>(caps.Count);
        var behind = (Least: least, Most: most);
        foreach (var (layer, limit) in caps)
        {
            var left = behind.Least.ConvertAll(ask => Strict(ask, limit));
            behind = (left, isKnown ? left : behind.Most.ConvertAll(ask => Lenient(ask, limit)));
            var access = Access.Of(behind.Least);
            steps.Add(new Step(layer, limit, BindingsOf(limit, least, most), new AccessBounds(access, isKnown ? access : Access.Of(behind.Most))));
        }

        return steps;
    }

    private List<Binding> BindingsOf(Known<Limit> limit, List<Opening> least, List<Opening> most)
    {
        var bindings = new List<Binding>();
        foreach (var axis in Axes)
        {
            var certain = limit.Has(out var known) && least.Exists(ask => Refuses(known, ask, unitAtMost, axis));
            if (certain || most.Exists(ask => Refuses(limit.Or(Limit.Shut), ask, unitAtLeast, axis)))
            {
                bindings.Add(new Binding(axis, certain));
            }
        }

        return bindings;
    }

    private static bool Refuses(Limit limit, Opening ask, PeopleSet unit, Axis axis) =>
        axis switch
        {
            Axis.Inside => limit.Inside != InsideLimit.Staff && !ask.Under(limit, unit).Inside.Includes(ask.Inside),
            Axis.Who => ask.Doors.Widest > limit.Widest,
            _ => limit.Widest != OutsideLevel.NoOne && limit.LeastProof != Proof.None && !ask.Doors.Except(DoorSet.Upto(OutsideLevel.PassersBy, limit.LeastProof)).IsEmpty,
        };

    private Opening Strict(Opening ask, List<Known<Limit>> limits) => limits.Aggregate(ask, Strict);

    private Opening Lenient(Opening ask, List<Known<Limit>> limits) => limits.Aggregate(ask, Lenient);

    private Opening Strict(Opening ask, Known<Limit> limit) => ask.Under(limit.Or(Limit.Shut), unitAtLeast);

    private Opening Lenient(Opening ask, Known<Limit> limit) => ask.Under(limit.Or(Limit.Open), unitAtMost);
}
