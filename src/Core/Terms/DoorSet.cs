namespace AtticLedger.Core.Terms;

/// <summary>How widely outside people may get in; also the widest that a limit lets in.</summary>
public enum OutsideLevel : byte
{
    NoOne,
    NamedGuests,
    Partners,
    PassersBy,
}

/// <summary>What a door demands of those who come, the weakest first.</summary>
public enum Proof : byte
{
    None,
    Code,
    SignedIn,
}

/// <summary>Who may put a new guest on the register's list.</summary>
public enum Voucher : byte
{
    NoOne,
    Steward,
    AnyOwner,
}

/// <summary>One way in from outside.</summary>
public readonly record struct Door(OutsideLevel Who, Proof Proof);

/// <summary>
/// A set of doors as nine bits, one for each who and proof. A limit shuts the doors beyond it and never turns one into a
/// narrower one, so the meet is an intersection.
/// </summary>
public readonly record struct DoorSet(ushort Bits)
{
    public static DoorSet Empty => default;

    public static DoorSet All => Upto(OutsideLevel.PassersBy, Proof.None);

    public static DoorSet Of(params IEnumerable<Door> doors) =>
        new((ushort)doors.Where(door => door.Who != OutsideLevel.NoOne).Aggregate(0, (bits, door) => bits | Bit(door)));

    /// <summary>All doors that are no wider than <paramref name="widest"/> and demand at least <paramref name="least"/>.</summary>
    public static DoorSet Upto(OutsideLevel widest, Proof least)
    {
        // Three bits a who, the weakest proof first: as many triples as whos are let in, each without the weaker proofs.
        var triple = 0b111 << (int)least & 0b111;
        var bits = 0;
        for (var who = OutsideLevel.NamedGuests; who <= widest; who++)
        {
            bits |= triple << (((int)who - 1) * 3);
        }

        return new DoorSet((ushort)bits);
    }

    public bool IsEmpty => Bits == 0;

    public DoorSet Union(DoorSet other) => new((ushort)(Bits | other.Bits));

    public DoorSet Intersect(DoorSet other) => new((ushort)(Bits & other.Bits));

    public DoorSet Except(DoorSet other) => new((ushort)(Bits & ~other.Bits));

    public bool Contains(Door door) => door.Who != OutsideLevel.NoOne && (Bits & Bit(door)) != 0;

    public IEnumerable<Door> Doors()
    {
        for (var who = OutsideLevel.PassersBy; who > OutsideLevel.NoOne; who--)
        {
            for (var proof = Proof.None; proof <= Proof.SignedIn; proof++)
            {
                if (Contains(new Door(who, proof)))
                {
                    yield return new Door(who, proof);
                }
            }
        }
    }

    /// <summary>The widest who, as shown; no door is no one.</summary>
    public OutsideLevel Widest =>
        Bits >> 6 != 0 ? OutsideLevel.PassersBy
        : Bits >> 3 != 0 ? OutsideLevel.Partners
        : Bits != 0 ? OutsideLevel.NamedGuests
        : OutsideLevel.NoOne;

    /// <summary>The weakest proof of the widest who, or null where no door is open.</summary>
    public Proof? WeakestProof => Doors().Select(door => (Proof?)door.Proof).FirstOrDefault();

    public override string ToString() => string.Join(", ", Doors().Select(door => $"{door.Who.Word()} ({door.Proof.Word()})"));

    private static int Bit(Door door) => 1 << ((((int)door.Who - 1) * 3) + (int)door.Proof);
}

public static class DoorWords
{
    public static string Word(this OutsideLevel level) =>
        level switch
        {
            OutsideLevel.NoOne => "no one",
            OutsideLevel.NamedGuests => "named guests",
            OutsideLevel.Partners => "partners",
            _ => "passers-by",
        };

    public static string Word(this Proof proof) =>
        proof switch
        {
            Proof.None => "no proof",
            Proof.Code => "one-time code",
            _ => "signed in",
        };

    public static string Word(this Voucher voucher) =>
        voucher switch
        {
            Voucher.NoOne => "no one",
            Voucher.Steward => "a steward",
            _ => "any owner",
        };
}
