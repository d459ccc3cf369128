using AtticLedger.Core.Access;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The changes that restrict a site's grants to a limit: a refused grant is lowered to the strongest power that the
/// host can grant and the limit admits, or removed. Restricting and restoring share this computation.
/// </summary>
internal sealed class Restricting(ActionFacts facts, PowerLimits target)
{
    private readonly PeopleSet ownUnit = facts.Site.Unit.Has(out var unit) ? facts.PeopleDirectory.OfUnit(unit) : PeopleSet.Empty;
    private readonly IReadOnlyList<Power> grantable = facts.Organisation.CapabilitiesOf(facts.Site.Host).Powers;
    private readonly List<Remark> unaffected = [];

    public IReadOnlyList<Remark> Unaffected => unaffected;

    /// <summary>Two wide grants that are restricted to the unit become the same grant: the stronger one stays.</summary>
    public IReadOnlyList<GrantChange> Of(IEnumerable<Grant> grants) =>
        [.. grants.SelectMany(Of).GroupBy(change => change.Key).Select(same => same.MaxBy(change => change.Wanted?.Power)!)];

    private IEnumerable<GrantChange> Of(Grant grant)
    {
        var opening = Ask.Of(grant, facts.PeopleDirectory).Lets.AtMost;
        var kept = Enumerable
            .Range(0, (int)grant.Power + 1)
            .Select(power => (Power)power)
            .Where(power => grantable.Contains(power) && Left(opening, power) == Refusal.Nothing)
            .Select(power => (Power?)power)
            .LastOrDefault();
        if (opening.IsNothing || kept == grant.Power)
        {
            return [];
        }

        if (grant.Power == Power.Own)
        {
            unaffected.Add(new OwnerNotRestricted(GrantText.Who(grant, facts.PeopleDirectory)));
            return [];
        }

        if (!opening.IsWide && Left(opening, grant.Power) == Refusal.Part)
        {
            unaffected.Add(new GroupNotRestricted(GrantText.Who(grant, facts.PeopleDirectory), facts.Site.Host));
            return [];
        }

        return Restricted(grant, opening, kept);
    }

    private IEnumerable<GrantChange> Restricted(Grant grant, Opening opening, Power? kept)
    {
        yield return new GrantChange(grant.Key, kept is { } lower ? grant with { Power = lower } : null);

        // All staff, restricted to the own unit, is the unit.
        if (
            opening.IsWide
            && Left(opening, grant.Power) == Refusal.Part
            && facts.Site.Unit.Has(out var unit)
            && target.For(grant.Power).Inside == InsideLimit.Unit
        )
        {
            var key = GrantKeys.Of(unit);
            if (!facts.Site.Expected.Or([]).Any(other => other.Key == key && other.Power >= grant.Power))
            {
                yield return new GrantChange(key, new Grant(key, grant.Power, new Subject.WholeUnit(unit)));
            }
        }
    }

    private enum Refusal : byte
    {
        Nothing,
        Part,
        All,
    }

    private Refusal Left(Opening opening, Power power)
    {
        var left = opening.Under(target.For(power), ownUnit);
        return left.Inside.Includes(opening.Inside) && left.Doors == opening.Doors ? Refusal.Nothing
            : left.IsNothing ? Refusal.All
            : Refusal.Part;
    }
}
