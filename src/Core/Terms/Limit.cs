namespace AtticLedger.Core.Terms;

/// <summary>
/// A limit on access: what is refused inside, the widest level and the weakest sign-in outside, and who may invite guests.
/// Combining two limits is associative, commutative and idempotent, with <see cref="Open"/> as the identity.
/// </summary>
public readonly record struct Limit(InsideLimit Inside, OutsideLevel Widest, VisitorSignIn LeastSignIn, GuestInviter GuestInviter)
{
    public static Limit Open => new(InsideLimit.Staff, OutsideLevel.Anonymous, VisitorSignIn.None, GuestInviter.AnyOwner);

    public static Limit Shut => new(InsideLimit.Nobody, OutsideLevel.NoOne, VisitorSignIn.Account, GuestInviter.NoOne);

    public DoorSet Lets => DoorSet.Upto(Widest, LeastSignIn);

    public Limit Meet(Limit other) =>
        new(
            Inside | other.Inside,
            Widest < other.Widest ? Widest : other.Widest,
            LeastSignIn > other.LeastSignIn ? LeastSignIn : other.LeastSignIn,
            GuestInviter < other.GuestInviter ? GuestInviter : other.GuestInviter
        );

    /// <summary>What refuses on each axis no more than either of the two.</summary>
    public Limit Join(Limit other) =>
        new(
            Inside & other.Inside,
            Widest > other.Widest ? Widest : other.Widest,
            LeastSignIn < other.LeastSignIn ? LeastSignIn : other.LeastSignIn,
            GuestInviter > other.GuestInviter ? GuestInviter : other.GuestInviter
        );
}

/// <summary>A layer's limits on the three powers that limits speak of.</summary>
public sealed record PowerLimits(Limit View, Limit Preview, Limit Edit)
{
    public static PowerLimits Open { get; } = Same(Limit.Open);

    public static PowerLimits Shut { get; } = Same(Limit.Shut);

    public static PowerLimits Same(Limit limit) => new(limit, limit, limit);

    /// <summary>The limit on a power: a cap on a weaker power caps the stronger.</summary>
    public Limit For(Power power) => Powers.CappedBy(power).Aggregate(Limit.Open, (met, capped) => met.Meet(Stated(capped)));

    public PowerLimits Meet(PowerLimits other) => new(View.Meet(other.View), Preview.Meet(other.Preview), Edit.Meet(other.Edit));

    public PowerLimits Join(PowerLimits other) => new(View.Join(other.View), Preview.Join(other.Preview), Edit.Join(other.Edit));

    private Limit Stated(Power power) =>
        power switch
        {
            Power.View => View,
            Power.Preview => Preview,
            _ => Edit,
        };
}
