namespace AtticLedger.Core.Terms;

/// <summary>How wide access from outside is; also the widest that a limit allows.</summary>
public enum OutsideLevel : byte
{
    NoOne,
    NamedGuests,
    Partners,
    Anonymous,
}

/// <summary>The sign-in that access from outside requires, the weakest first.</summary>
public enum VisitorSignIn : byte
{
    None,
    OneTimeCode,
    Account,
}

/// <summary>Who may put a new guest on the register's list.</summary>
public enum GuestInviter : byte
{
    NoOne,
    Steward,
    AnyOwner,
}

/// <summary>One way in from outside.</summary>
public readonly record struct Door(OutsideLevel Who, VisitorSignIn VisitorSignIn);

/// <summary>
/// A set of doors as nine bits, one for each outside level and sign-in. A limit removes the doors beyond it and never changes a
/// door into a narrower one, so two limits together are an intersection.
/// </summary>
public readonly record struct DoorSet(ushort Bits)
{
    public static DoorSet Empty => default;

    public static DoorSet All => Upto(OutsideLevel.Anonymous, VisitorSignIn.None);

    public static DoorSet Of(params IEnumerable<Door> doors) =>
        new((ushort)doors.Where(door => door.Who != OutsideLevel.NoOne).Aggregate(0, (bits, door) => bits | Bit(door)));

    /// <summary>All doors that are no wider than <paramref name="widest"/> and require at least
    /// <paramref name="least"/>.</summary>
    public static DoorSet Upto(OutsideLevel widest, VisitorSignIn least)
    {
        // Three bits for each outside level, the weakest sign-in first: one triple for each allowed level, without the weaker
        // sign-ins.
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
        for (var who = OutsideLevel.Anonymous; who > OutsideLevel.NoOne; who--)
        {
            for (var visitorSignIn = VisitorSignIn.None; visitorSignIn <= VisitorSignIn.Account; visitorSignIn++)
            {
                if (Contains(new Door(who, visitorSignIn)))
                {
                    yield return new Door(who, visitorSignIn);
                }
            }
        }
    }

    /// <summary>The widest outside level; no one if there is no door.</summary>
    public OutsideLevel Widest =>
        Bits >> 6 != 0 ? OutsideLevel.Anonymous
        : Bits >> 3 != 0 ? OutsideLevel.Partners
        : Bits != 0 ? OutsideLevel.NamedGuests
        : OutsideLevel.NoOne;

    /// <summary>The weakest sign-in of the widest level; null if there is no door.</summary>
    public VisitorSignIn? WeakestSignIn => Doors().Select(door => (VisitorSignIn?)door.VisitorSignIn).FirstOrDefault();

    public override string ToString() =>
        string.Join(", ", Doors().Select(door => $"{door.Who.Word()} ({door.VisitorSignIn.Word()})"));

    private static int Bit(Door door) => 1 << ((((int)door.Who - 1) * 3) + (int)door.VisitorSignIn);
}

public static class DoorText
{
    public static string Word(this OutsideLevel level) =>
        level switch
        {
            OutsideLevel.NoOne => "no one",
            OutsideLevel.NamedGuests => "named guests",
            OutsideLevel.Partners => "partners",
            _ => "anonymous visitors",
        };

    public static string Word(this VisitorSignIn visitorSignIn) =>
        visitorSignIn switch
        {
            VisitorSignIn.None => "no sign-in",
            VisitorSignIn.OneTimeCode => "one-time code",
            _ => "account",
        };

    public static string Word(this GuestInviter guestInviter) =>
        guestInviter switch
        {
            GuestInviter.NoOne => "no one",
            GuestInviter.Steward => "a steward",
            _ => "any owner",
        };
}
