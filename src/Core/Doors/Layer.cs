using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>A cap on reach, by whom it is set and by whom it is kept. A layer that nobody could read is unknown.</summary>
public sealed record Layer(LayerKind Kind, string Name, Enforcer Enforcer, Known<PowerLimits> Limits)
{
    public Known<Limit> For(Power power) => Limits.Select(limits => limits.For(power));
}

/// <summary>What several limits come to: where all are known one limit, otherwise bounds.</summary>
/// <param name="Most">As they refuse most: an unknown one refuses everything.</param>
/// <param name="Least">As they refuse least: an unknown one refuses nothing.</param>
internal readonly record struct Cap(Limit Most, Limit Least, bool IsKnown)
{
    public static Cap Of(IEnumerable<Known<Limit>> limits) =>
        limits.Aggregate(
            new Cap(Limit.Open, Limit.Open, true),
            (cap, limit) => new Cap(cap.Most.Meet(limit.Or(Limit.Shut)), cap.Least.Meet(limit.Or(Limit.Open)), cap.IsKnown && !limit.IsUnknown));
}

/// <summary>The layers over a site in the order in which they are shown, and what they come to for each limited power.</summary>
public sealed class LayerSet
{
    private readonly (Cap Host, Cap All)[] caps;

    public LayerSet(IReadOnlyList<Layer> layers)
    {
        Layers = layers;
        caps =
        [
            .. Powers.Limited.Select(power => (
                Cap.Of(layers.Where(layer => layer.Enforcer == Enforcer.Host).Select(layer => layer.For(power))),
                Cap.Of(layers.Select(layer => layer.For(power))))),
        ];
    }

    public IReadOnlyList<Layer> Layers { get; }

    /// <summary>What the layers come to that the host enforces, and what all of them do. The powers beyond edit inherit its limits.</summary>
    internal (Cap Host, Cap All) For(Power power) => caps[Math.Min((int)power, caps.Length - 1)];
}
