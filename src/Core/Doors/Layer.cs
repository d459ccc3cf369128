using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>A cap on reach, by whom it is set and by whom it is kept. A layer that nobody could read is unknown.</summary>
public sealed record Layer(LayerKind Kind, string Name, Enforcer Enforcer, Known<PowerLimits> Limits)
{
    public Known<Limit> For(Power power) => Limits.Select(limits => limits.For(power));
}
