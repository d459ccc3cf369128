using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

/// <summary>A cap on reach, with who sets it and who enforces it. An unknown layer refuses at most what <see cref="Strictest"/>
/// refuses and at least what <see cref="Loosest"/> refuses.
/// </summary>
public sealed record Layer(LayerKind Kind, string Name, Enforcer Enforcer, Known<PowerLimits> Limits)
{
    /// <summary>The setting that it is; null for the site's own and for one that is not known.</summary>
    public LimitSetting? From { get; init; }

    public PowerLimits Strictest { get; init; } =
        Limits.Has(out var limits) ? limits
        : Limits.IsNone ? PowerLimits.Open
        : PowerLimits.Shut;

    public PowerLimits Loosest { get; init; } = Limits.Has(out var limits) ? limits : PowerLimits.Open;

    public Known<Limit> For(Power power) => Limits.Select(limits => limits.For(power));
}

/// <summary>The combination of several limits: one limit if that is settled, otherwise bounds.</summary>
/// <param name="Most">The strictest combination.</param>
/// <param name="Least">The loosest combination.</param>
internal readonly record struct Cap(Limit Most, Limit Least)
{
    private static readonly Cap Open = new(Limit.Open, Limit.Open);

    /// <summary>True if both bounds admit the same people; who may invite guests does not matter here.</summary>
    public bool IsSettled => Most.Inside == Least.Inside && Most.Widest == Least.Widest && Most.LeastSignIn == Least.LeastSignIn;

    /// <summary>True if the result depends on the site's unit.</summary>
    public bool AsksForUnit => IsUnit(Most) || IsUnit(Least);

    public static Cap Of(IEnumerable<Layer> layers, Power power) =>
        layers.Aggregate(Open, (cap, layer) =>
            new Cap(cap.Most.Meet(layer.Strictest.For(power)), cap.Least.Meet(layer.Loosest.For(power)))
        );

    /// <summary>Every possible limit that differs in who gets in.</summary>
    public IEnumerable<Limit> All()
    {
        if (IsSettled)
        {
            return [Least];
        }

        var (most, least) = (Most, Least);
        return from inside in new[]
            {
                InsideLimit.Staff,
                InsideLimit.Unit,
                InsideLimit.Named,
                InsideLimit.NamedInUnit,
                InsideLimit.Nobody,
            }
            where inside.HasFlag(least.Inside) && most.Inside.HasFlag(inside)
            from widest in Enum.GetValues<OutsideLevel>()
            where widest >= most.Widest && widest <= least.Widest
            from visitorSignIn in Enum.GetValues<VisitorSignIn>()
            where visitorSignIn >= least.LeastSignIn && visitorSignIn <= most.LeastSignIn
            select new Limit(inside, widest, visitorSignIn, least.GuestInviter);
    }

    public Cap Meet(Cap other) => new(Most.Meet(other.Most), Least.Meet(other.Least));

    private static bool IsUnit(Limit limit) => limit.Inside != InsideLimit.Nobody && limit.Inside.HasFlag(InsideLimit.Unit);
}

/// <summary>The combined limits of a site's layers for one power.</summary>
/// <param name="Host">The limits that the host enforces.</param>
/// <param name="Policy">The limits that are policy only.</param>
internal readonly record struct Caps(Cap Host, Cap Policy)
{
    public Cap All => Host.Meet(Policy);
}

/// <summary>The layers over a site in display sequence, and their combined limits for each limited power.</summary>
public sealed class LayerSet
{
    private readonly Caps[] caps;

    public LayerSet(IReadOnlyList<Layer> layers)
    {
        Layers = layers;
        caps =
        [
            .. Powers.Limited.Select(power => new Caps(
                Cap.Of(layers.Where(layer => layer.Enforcer == Enforcer.Host), power),
                Cap.Of(layers.Where(layer => layer.Enforcer != Enforcer.Host), power)
            )),
        ];
        AsksForUnit = Array.Exists(caps, cap => cap.Host.AsksForUnit || cap.Policy.AsksForUnit);
    }

    public static LayerSet None { get; } = new([]);

    public IReadOnlyList<Layer> Layers { get; }

    /// <summary>True if a layer admits only the site's own unit.</summary>
    internal bool AsksForUnit { get; }

    /// <summary>The powers above edit inherit its limits.</summary>
    internal Caps For(Power power) => caps[Math.Min((int)power, caps.Length - 1)];

    internal bool ComesToTheSame(LayerSet other) => caps.AsSpan().SequenceEqual(other.caps);
}
