using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>
/// A cap on reach, by whom it is set and by whom it is kept. Of a layer that is not known the bounds are: at the most it
/// refuses what <see cref="Strictest"/> does, at the least what <see cref="Loosest"/> does.
/// </summary>
public sealed record Layer(LayerKind Kind, string Name, Enforcer Enforcer, Known<PowerLimits> Limits)
{
    public PowerLimits Strictest { get; init; } =
        Limits.Has(out var limits) ? limits
        : Limits.IsNone ? PowerLimits.Open
        : PowerLimits.Shut;

    public PowerLimits Loosest { get; init; } = Limits.Has(out var limits) ? limits : PowerLimits.Open;

    public Known<Limit> For(Power power) => Limits.Select(limits => limits.For(power));
}

/// <summary>What several limits come to: one limit where that is settled, otherwise bounds.</summary>
/// <param name="Most">As they refuse most.</param>
/// <param name="Least">As they refuse least.</param>
internal readonly record struct Cap(Limit Most, Limit Least)
{
    private static readonly Cap Open = new(Limit.Open, Limit.Open);

    /// <summary>True if both bounds let the same through: who may invite guests refuses nobody who is let in.</summary>
    public bool IsSettled => Most.Inside == Least.Inside && Most.Widest == Least.Widest && Most.LeastProof == Least.LeastProof;

    /// <summary>True if it matters which unit the site belongs to.</summary>
    public bool AsksForUnit => IsUnit(Most) || IsUnit(Least);

    public static Cap Of(IEnumerable<Layer> layers, Power power) =>
        layers.Aggregate(Open, (cap, layer) =>
            new Cap(cap.Most.Meet(layer.Strictest.For(power)), cap.Least.Meet(layer.Loosest.For(power)))
        );

    /// <summary>Every limit that it may be, as far as that makes a difference to who gets in.</summary>
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
            from proof in Enum.GetValues<Proof>()
            where proof >= least.LeastProof && proof <= most.LeastProof
            select new Limit(inside, widest, proof, least.Voucher);
    }

    public Cap Meet(Cap other) => new(Most.Meet(other.Most), Least.Meet(other.Least));

    private static bool IsUnit(Limit limit) => limit.Inside != InsideLimit.Nobody && limit.Inside.HasFlag(InsideLimit.Unit);
}

/// <summary>What the layers of a site come to for one power.</summary>
/// <param name="Host">Those that the host enforces.</param>
/// <param name="Policy">Those that policy alone sets.</param>
internal readonly record struct Caps(Cap Host, Cap Policy)
{
    public Cap All => Host.Meet(Policy);
}

/// <summary>The layers over a site in the order in which they are shown, and what they come to for each limited power.</summary>
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

    /// <summary>True if a layer lets in only the site's own unit.</summary>
    internal bool AsksForUnit { get; }

    /// <summary>The powers beyond edit inherit its limits.</summary>
    internal Caps For(Power power) => caps[Math.Min((int)power, caps.Length - 1)];

    internal bool ComesToTheSame(LayerSet other) => caps.AsSpan().SequenceEqual(other.caps);
}
