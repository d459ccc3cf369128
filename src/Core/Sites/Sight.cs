using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>
/// What a viewer may see. A required argument of every query and every reader of facts: there is no way to ask without it.
/// </summary>
public abstract record Sight
{
    private Sight() { }

    public abstract bool Sees(SiteFacts site);

    /// <summary>The whole register: administrators, auditors, and the product's own work.</summary>
    public sealed record Everything : Sight
    {
        public override bool Sees(SiteFacts site) => true;
    }

    /// <summary>The sites of some units: a steward's part. A site of no or an unknown unit is in nobody's part.</summary>
    public sealed record OfUnits(IReadOnlySet<string> Units) : Sight
    {
        public override bool Sees(SiteFacts site) => site.Unit.Has(out var unit) && Units.Contains(unit.Value);
    }

    /// <summary>The sites to which a person holds a key today: by name, through groups, or as one of a unit or of all staff.</summary>
    /// <param name="Groups">Those that the person is in for certain, and <paramref name="Units"/> likewise.</param>
    /// <param name="Today">A grant that has ended is none.</param>
    public sealed record OfKeys(
        PersonId Person,
        IReadOnlySet<GroupId> Groups,
        IReadOnlySet<UnitCode> Units,
        bool IsStaff,
        DateOnly Today
    ) : Sight
    {
        public override bool Sees(SiteFacts site) =>
            site.Sharing.Has(out var sharing)
            && sharing.Grants.Any(grant =>
                grant.Power == Power.Own
                && !(grant.Through < Today)
                && grant.Subject switch
                {
                    Subject.OnePerson(var person) => person == Person,
                    Subject.OneGroup(var group) => Groups.Contains(group),
                    Subject.WholeUnit(var unit) => Units.Contains(unit),
                    Subject.AllStaff => IsStaff,
                    _ => false,
                }
            );
    }
}
