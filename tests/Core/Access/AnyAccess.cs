using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Doors;

/// <summary>Limits and grants at random.</summary>
internal static class AnyAccess
{
    public static readonly Gen<Limit> AnyLimit =
        from inside in Gen.Int[0, 4]
            .Select(which =>
                new[] { InsideLimit.Staff, InsideLimit.Unit, InsideLimit.Named, InsideLimit.NamedInUnit, InsideLimit.Nobody }[
                    which
                ]
            )
        from widest in Gen.Enum<OutsideLevel>()
        from visitorSignIn in Gen.Enum<VisitorSignIn>()
        from guestInviter in Gen.Enum<GuestInviter>()
        select new Limit(inside, widest, visitorSignIn, guestInviter);

    public static readonly Gen<PowerLimits> AnyLimits = Gen.Select(AnyLimit, AnyLimit, AnyLimit, (view, preview, edit) =>
        new PowerLimits(view, preview, edit)
    );

    public static readonly Gen<Grant> AnyGrant = Gen.Select(
        Gen.Int[0, 5],
        Gen.Enum<Power>(),
        Gen.Enum<VisitorSignIn>(),
        Gen.Long[1, 9],
        Gen.Long[1, 3],
        (which, power, visitorSignIn, person, group) =>
            which switch
            {
                0 => ToStaff(power),
                1 => ToPartners(power, visitorSignIn),
                2 => ToAnonymous(power, visitorSignIn),
                3 => ToGroup(power, new GroupId(group)),
                4 => new Grant("unit:YRD", power, new Subject.WholeUnit(Yard)),
                _ => ToPerson(power, new PersonId(person)),
            }
    );

    /// <summary>The harbour with two groups in a circle and one that was read in part.</summary>
    public static Harbour WithGroups()
    {
        var harbour = new Harbour();
        harbour.Groups.Add(new Group(new GroupId(1), "Crew", [Member.Of(Vane), Member.Of(Agent), Member.Of(new GroupId(2))]));
        harbour.Groups.Add(new Group(new GroupId(2), "Watch", [Member.Of(Lund), Member.Of(new GroupId(1))]));
        harbour.Groups.Add(new Group(new GroupId(3), "Part", [Member.Of(Aske)], Complete: false));
        return harbour;
    }
}
