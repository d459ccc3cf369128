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

/// <summary>What gets in beyond what the house allows; its people are put together when somebody asks for them.</summary>
public sealed class Beyond(Access actual, Access allowed, Func<Access>? possible)
{
    private Access? certain;
    private Access? perhaps;
    private Truth? isSo;

    public Access Certain => certain ??= actual.Except(allowed);

    public Access Possible => possible is null ? Certain : perhaps ??= possible();

    public Truth IsSo => isSo ??= !actual.IsWithin(allowed) ? Truth.Yes : possible is null || Possible.IsNone ? Truth.No : Truth.Unknown;

    public Truth Inside => Truths.Between(!Certain.Inside.IsEmpty, !Possible.Inside.IsEmpty);

    public Truth Outside => Truths.Between(!Certain.Doors.IsEmpty, !Possible.Doors.IsEmpty);
}

/// <summary>
/// The arithmetic of one power at one site. <em>Asked</em> runs through the layers: those that the host enforces leave the
/// <em>actual</em>, all of them leave what is <em>allowed</em> of it, and the difference is <em>beyond</em>.
/// </summary>
public sealed class Passage
{
    private readonly Passages by;
    private readonly Asked asked;
    private IReadOnlyList<Step>? steps;

    internal Passage(Passages by, Asked asked, Power power, AccessBounds actual, AccessBounds allowed, Beyond beyond, Known<Limit> permitted)
    {
        (this.by, this.asked, Power) = (by, asked, power);
        (Actual, Allowed, Beyond, Permitted) = (actual, allowed, beyond, permitted);
    }

    public Power Power { get; }

    public AccessBounds Asked => asked.Bounds;

    public AccessBounds Actual { get; }

    public AccessBounds Allowed { get; }

    public Beyond Beyond { get; }

    /// <summary>What all the known layers permit, asked or not; unknown where a layer is.</summary>
    public Known<Limit> Permitted { get; }

    /// <summary>Layer by layer; worked out when somebody asks, for most passages are only counted.</summary>
    public IReadOnlyList<Step> Steps => steps ??= by.StepsOf(asked, Power);

    public IEnumerable<Step> Binding(Axis axis, bool certainly = true) =>
        Steps.Where(step => step.Bindings.Any(binding => binding.Axis == axis && (binding.IsCertain || !certainly)));
}

/// <summary>Computes passages. Layers of one site are shared by its powers.</summary>
public sealed class Passages
{
    private static readonly Axis[] Axes = Enum.GetValues<Axis>();
    private readonly Roll roll;
    private readonly LayerSet layers;
    private readonly PeopleSet unitAtLeast;
    private readonly PeopleSet unitAtMost;

    public Passages(Known<UnitCode> unit, LayerSet layers, Roll roll)
    {
        this.roll = roll;
        this.layers = layers;
        OwnUnit = unit.Has(out var code) ? roll.OfUnit(code) : PeopleSet.Empty;
        unitAtLeast = OwnUnit;
        unitAtMost = unit.IsUnknown ? roll.Inside : OwnUnit;
    }

    /// <summary>The people of the site's own unit and below.</summary>
    public PeopleSet OwnUnit { get; }

    public static Passages Of(SiteFacts site, House house, Roll roll) => new(site.Unit, LayerBook.Of(house, roll).Over(site), roll);

    /// <summary>The asks of a site for one power: asking for a power asks for the weaker ones.</summary>
    public static Ask[] AsksOf(Known<IReadOnlyList<Grant>> grants, Power power, Roll roll) =>
        grants.Has(out var known)
            ? Ask.OfAll(power == Power.View ? known : [.. known.Where(grant => grant.Power >= power)], roll)
            : grants.IsNone ? [] : [Ask.Anything(roll)];

    public static bool IsEverLive(Known<Stage> stage) => !stage.Has(out var at) || at != Stage.NeverLive;

    /// <summary>The passages of the limited powers, from the grants of a site; each grant is read once for all of them.</summary>
    public IReadOnlyList<Passage> OfAll(Known<IReadOnlyList<Grant>> grants)
    {
        var asked = new Asked(AsksOf(grants, Power.View, roll));
        var passages = new Passage[Powers.Limited.Count];
        foreach (var power in Powers.Limited)
        {
            asked = asked.AtLeast(power);
            passages[(int)power] = Of(asked, power);
        }

        return passages;
    }

    public Passage Of(SiteFacts site, Power power) =>
        Of(AsksOf(site.Sharing.Select(sharing => sharing.Grants), power, roll), power);

    public Passage Of(IReadOnlyList<Ask> asks, Power power) => Of(new Asked([.. asks]), power);

    private Passage Of(Asked asked, Power power)
    {
        var (host, all) = layers.For(power);
        var isKnown = IsKnown(asked, all);
        var actual = Through(asked, host, isKnown);
        var permitted = Through(asked, all, isKnown);
        var withoutLeft = permitted.AtLeast.Without(roll.Left);
        var allowed =
            isKnown && ReferenceEquals(withoutLeft, actual.AtLeast) ? actual
            : new AccessBounds(withoutLeft, isKnown ? withoutLeft : permitted.AtMost.Without(roll.Left));

        return new Passage(
            this,
            asked,
            power,
            actual,
            allowed,
            new Beyond(actual.AtLeast, allowed.AtMost, isKnown ? null : PossiblyBeyond(asked, host, all, allowed.AtLeast)),
            all.IsKnown ? Known.Of(all.Least) : Known<Limit>.Unknown);
    }

    // Where everything is known both ends of every bound are the same, and one computation serves for both.
    private bool IsKnown(Asked asked, Cap all) => ReferenceEquals(unitAtLeast, unitAtMost) && all.IsKnown && asked.IsKnown;

    private AccessBounds Through(Asked asked, Cap cap, bool isKnown)
    {
        var atLeast = asked.Least.Under(cap.Most, unitAtLeast);
        return
            !isKnown ? new AccessBounds(atLeast, asked.Most.Under(cap.Least, unitAtMost))
            : ReferenceEquals(atLeast, asked.Bounds.AtLeast) ? asked.Bounds
            : new AccessBounds(atLeast, atLeast);
    }

    private Func<Access> PossiblyBeyond(Asked asked, Cap host, Cap all, Access allowed) =>
        () => Access.Of([.. asked.Most.Openings.Select(ask => PossiblyBeyond(ask.Under(host.Least, unitAtMost), ask.Under(all.Most, unitAtLeast))).OfType<Opening>()]).Except(allowed);

    // Of one ask, what the host may let in and the house perhaps not; null where that is nothing, as it mostly is.
    private Opening? PossiblyBeyond(Opening actual, Opening allowed)
    {
        if (ReferenceEquals(actual, allowed) && !actual.LetsIn(roll.Left))
        {
            return null;
        }

        var beyond = Access.Of([actual]).Except(Access.Of([allowed]).Without(roll.Left));
        return new Opening(beyond.Inside, actual.IsWide, beyond.Guests, beyond.Doors);
    }

    internal IReadOnlyList<Step> StepsOf(Asked asked, Power power)
    {
        var isKnown = IsKnown(asked, layers.For(power).All);
        List<Opening> least = [.. asked.Least.Openings], most = [.. asked.Most.Openings];
        var steps = new List<Step>(layers.Layers.Count);
        var behind = (Least: least, Most: most);
        foreach (var layer in layers.Layers)
        {
            var limit = layer.For(power);
            var left = behind.Least.ConvertAll(ask => ask.Under(limit.Or(Limit.Shut), unitAtLeast));
            behind = (left, isKnown ? left : behind.Most.ConvertAll(ask => ask.Under(limit.Or(Limit.Open), unitAtMost)));
            var access = Access.Of([.. behind.Least]);
            steps.Add(new Step(layer, limit, BindingsOf(limit, least, most), new AccessBounds(access, isKnown ? access : Access.Of([.. behind.Most]))));
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
}
