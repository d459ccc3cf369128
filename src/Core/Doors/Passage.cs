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
public sealed class Beyond(Access actual, Access allowed, Lazy<Access>? possible)
{
    private Access? certain;
    private Truth? isSo;

    public Access Certain => certain ??= actual.Except(allowed);

    public Access Possible => possible?.Value ?? Certain;

    public Truth IsSo => isSo ??= !actual.IsWithin(allowed) ? Truth.Yes : possible is null || possible.Value.IsNone ? Truth.No : Truth.Unknown;

    public Truth Inside => Truths.Between(!Certain.Inside.IsEmpty, !Possible.Inside.IsEmpty);

    public Truth Outside => Truths.Between(!Certain.Doors.IsEmpty, !Possible.Doors.IsEmpty);
}

/// <summary>
/// The arithmetic of one power at one site. <em>Asked</em> runs through the layers: those that the host enforces leave the
/// <em>actual</em>, all of them leave what is <em>allowed</em> of it, and the difference is <em>beyond</em>.
/// </summary>
/// <param name="Way">Layer by layer; worked out when somebody asks, for most passages are only counted.</param>
/// <param name="Permitted">What all the known layers permit, asked or not; unknown where a layer is.</param>
public sealed record Passage(
    Power Power,
    AccessBounds Asked,
    Lazy<IReadOnlyList<Step>> Way,
    AccessBounds Actual,
    AccessBounds Allowed,
    Beyond Beyond,
    Known<Limit> Permitted)
{
    public IReadOnlyList<Step> Steps => Way.Value;

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

        // Where everything is known both ends of every bound are the same, and one computation serves for both.
        var isKnown = ReferenceEquals(unitAtLeast, unitAtMost) && all.IsKnown && asked.IsKnown;
        AccessBounds Through(Cap cap)
        {
            var atLeast = asked.Least.Under(cap.Most, unitAtLeast);
            return new AccessBounds(atLeast, isKnown ? atLeast : asked.Most.Under(cap.Least, unitAtMost));
        }

        var actual = Through(host);
        var permitted = Through(all);
        var withoutLeft = permitted.AtLeast.Without(roll.Left);
        var allowed = new AccessBounds(withoutLeft, isKnown ? withoutLeft : permitted.AtMost.Without(roll.Left));
        var possible = isKnown
            ? null
            : new Lazy<Access>(() => Access.Of([.. asked.Most.Openings.Select(ask => PossiblyBeyond(ask.Under(host.Least, unitAtMost), ask.Under(all.Most, unitAtLeast))).OfType<Opening>()]).Except(allowed.AtLeast));

        return new Passage(
            power,
            new AccessBounds(asked.Least.Whole, isKnown ? asked.Least.Whole : asked.Most.Whole),
            new Lazy<IReadOnlyList<Step>>(() => StepsOf(power, [.. asked.Least.Openings], [.. asked.Most.Openings], isKnown)),
            actual,
            allowed,
            new Beyond(actual.AtLeast, allowed.AtMost, possible),
            all.IsKnown ? Known.Of(all.Least) : Known<Limit>.Unknown);
    }

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

    private List<Step> StepsOf(Power power, List<Opening> least, List<Opening> most, bool isKnown)
    {
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

    /// <summary>What is asked for one power, at least and at most.</summary>
    private sealed class Asked
    {
        private readonly Ask[] asks;

        public Asked(Ask[] asks)
        {
            this.asks = asks;
            IsKnown = Array.TrueForAll(asks, static ask => ReferenceEquals(ask.Lets.AtLeast, ask.Lets.AtMost));
            Least = new Several(Array.ConvertAll(asks, static ask => ask.Lets.AtLeast));
            Most = IsKnown ? Least : new Several(Array.ConvertAll(asks, static ask => ask.Lets.AtMost));
        }

        public Several Least { get; }

        public Several Most { get; }

        public bool IsKnown { get; }

        /// <summary>What is asked for a stronger power: often the very same.</summary>
        public Asked AtLeast(Power power)
        {
            var stronger = 0;
            foreach (var ask in asks)
            {
                stronger += IsAtLeast(ask, power) ? 1 : 0;
            }

            if (stronger == asks.Length)
            {
                return this;
            }

            var left = new Ask[stronger];
            var at = 0;
            foreach (var ask in asks)
            {
                if (IsAtLeast(ask, power))
                {
                    left[at++] = ask;
                }
            }

            return new Asked(left);
        }

        private static bool IsAtLeast(Ask ask, Power power) => ask.Grant is null || ask.Grant.Power >= power;
    }

    /// <summary>Openings together.</summary>
    private sealed class Several(Opening[] openings)
    {
        private Access? whole;

        public Opening[] Openings => openings;

        public Access Whole => whole ??= Access.Of(openings);

        public Access Under(Limit limit, PeopleSet ownUnit)
        {
            Opening[]? left = null;
            for (var i = 0; i < openings.Length; i++)
            {
                var under = openings[i].Under(limit, ownUnit);
                if (left is null && !ReferenceEquals(under, openings[i]))
                {
                    left = (Opening[])openings.Clone();
                }

                if (left is not null)
                {
                    left[i] = under;
                }
            }

            return left is null ? Whole : Access.Of(left);
        }
    }
}
