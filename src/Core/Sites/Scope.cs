using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>What a viewer may see. A required argument of every query and every read of facts.
/// </summary>
public abstract record Scope
{
    private Scope() { }

    public abstract bool Sees(SiteFacts site);

    /// <summary>The whole register: administrators, auditors, and the product's own work.</summary>
    public sealed record Everything : Scope
    {
        public override bool Sees(SiteFacts site) => true;
    }

    /// <summary>The sites of some units: a steward's scope. A site without unit or of unknown unit is in no steward's
    /// scope.</summary>
    public sealed record OfUnits(IReadOnlySet<string> Units) : Scope
    {
        public override bool Sees(SiteFacts site) => site.Unit.Has(out var unit) && Units.Contains(unit.Value);
    }

    /// <summary>The sites that a person owns today: by name, through groups, or as a member of a unit or of all staff.</summary>
    /// <param name="Groups">The groups that certainly contain the person; <paramref name="Units"/> likewise.</param>
    /// <param name="Today">Today: an ended grant does not count.</param>
    public sealed record OfOwners(
        PersonId Person,
        IReadOnlySet<GroupId> Groups,
        IReadOnlySet<UnitCode> Units,
        bool IsStaff,
        DateOnly Today
    ) : Scope
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
