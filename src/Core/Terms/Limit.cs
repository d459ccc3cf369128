namespace AtticLedger.Core.Terms;

/// <summary>
/// A cap on reach: what is refused inside, the widest who and the least proof outside, and who may vouch for a new guest.
/// Meeting two limits is associative, commutative and idempotent, with <see cref="Open"/> as the identity.
/// </summary>
public readonly record struct Limit(InsideLimit Inside, OutsideLevel Widest, Proof LeastProof, Voucher Voucher)
{
    public static Limit Open => new(InsideLimit.Staff, OutsideLevel.PassersBy, Proof.None, Voucher.AnyOwner);

    public static Limit Shut => new(InsideLimit.Nobody, OutsideLevel.NoOne, Proof.SignedIn, Voucher.NoOne);

    public DoorSet Lets => DoorSet.Upto(Widest, LeastProof);

    public Limit Meet(Limit other) =>
        new(
            Inside | other.Inside,
            Widest < other.Widest ? Widest : other.Widest,
            LeastProof > other.LeastProof ? LeastProof : other.LeastProof,
            Voucher < other.Voucher ? Voucher : other.Voucher
        );

    /// <summary>What refuses on each axis no more than either of the two.</summary>
    public Limit Join(Limit other) =>
        new(
            Inside & other.Inside,
            Widest > other.Widest ? Widest : other.Widest,
            LeastProof < other.LeastProof ? LeastProof : other.LeastProof,
            Voucher > other.Voucher ? Voucher : other.Voucher
        );
}

/// <summary>A layer's limits on the three powers that limits speak of.</summary>
public sealed record PowerLimits(Limit View, Limit Preview, Limit Edit)
{
    public static PowerLimits Open { get; } = Same(Limit.Open);

    public static PowerLimits Shut { get; } = Same(Limit.Shut);

    public static PowerLimits Same(Limit limit) => new(limit, limit, limit);

    /// <summary>The limit on a power: a cap on a weaker power caps the stronger.</summary>
    public Limit For(Power power) => Powers.CappedBy(power).Aggregate(Limit.Open, (met, capped) => met.Meet(Said(capped)));

    public PowerLimits Meet(PowerLimits other) => new(View.Meet(other.View), Preview.Meet(other.Preview), Edit.Meet(other.Edit));

    public PowerLimits Join(PowerLimits other) => new(View.Join(other.View), Preview.Join(other.Preview), Edit.Join(other.Edit));

    private Limit Said(Power power) =>
        power switch
        {
            Power.View => View,
            Power.Preview => Preview,
            _ => Edit,
        };
}
