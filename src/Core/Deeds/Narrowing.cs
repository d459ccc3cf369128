using AtticLedger.Core.Doors;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>
/// Which changes cut a site's grants to a limit: a grant that it refuses is lowered to the strongest power that the host
/// can grant and at which it is let through, or removed. Narrowing, and bringing back no wider than is allowed now, are the same computation.
/// </summary>
internal sealed class Narrowing(DeedFacts facts, PowerLimits target)
{
    private readonly PeopleSet ownUnit = facts.Site.Unit.Has(out var unit) ? facts.Roll.OfUnit(unit) : PeopleSet.Empty;
    private readonly IReadOnlyList<Power> grantable = facts.House.HabitsOf(facts.Site.Host).Powers;
    private readonly List<string> remains = [];

    public IReadOnlyList<string> Remains => remains;

    /// <summary>Two wide grants that are cut to the unit ask for the same grant to it: the stronger stands.</summary>
    public IReadOnlyList<GrantChange> Of(IEnumerable<Grant> grants) =>
        [.. grants.SelectMany(Of).GroupBy(change => change.Key).Select(same => same.MaxBy(change => change.Wanted?.Power)!)];

    private IEnumerable<GrantChange> Of(Grant grant)
    {
        var opening = Ask.Of(grant, facts.Roll).Lets.AtMost;
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
            remains.Add($"{GrantWords.Who(grant, facts.Roll)} holds a key. Hand it over before taking the access away.");
            return [];
        }

        if (!opening.IsWide && Left(opening, grant.Power) == Refusal.Part)
        {
            remains.Add(
                $"{GrantWords.Who(grant, facts.Roll)} lets in some whom the limit refuses. Change who is in the group, at {facts.Site.Host}."
            );
            return [];
        }

        return Narrowed(grant, opening, kept);
    }

    private IEnumerable<GrantChange> Narrowed(Grant grant, Opening opening, Power? kept)
    {
        yield return new GrantChange(grant.Key, kept is { } lower ? grant with { Power = lower } : null);

        // All of the staff, cut to the own unit, is the unit.
        if (
            opening.IsWide
            && Left(opening, grant.Power) == Refusal.Part
            && facts.Site.Unit.Has(out var unit)
            && target.For(grant.Power).Inside == InsideLimit.Unit
        )
        {
            var key = $"unit:{unit.Value}";
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
