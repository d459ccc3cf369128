using AtticLedger.Core.Access;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>What the remedies of a finding do on one site.</summary>
/// <param name="Remedies">The actions that help, in the order to do them; empty if none is known.</param>
/// <param name="Clears">True if the site no longer breaks the rule after all of them.</param>
/// <param name="Left">What they leave, and who can change it; where they clear it, what else is to know.</param>
public sealed record RemedyOutcome(IReadOnlyList<Remedy> Remedies, bool Clears, IReadOnlyList<Remark> Left);

/// <summary>The remedies of findings, tried on today's facts by the same code as the actions.</summary>
public static class Remedies
{
    /// <summary>The actions that help against a broken rule.</summary>
    public static IReadOnlyList<Remedy> Of(Rule rule, ComputedSite line) =>
        rule.Demand switch
        {
            Demand.ActiveOwners => [Remedy.AddOwner],
            Demand.EditingNamedOnly => [Remedy.Restrict],
            Demand.WithinAllowed =>
            [
                .. line.LeftWithAccess.Count > 0 ? [Remedy.RemoveAccess] : Array.Empty<Remedy>(),
                .. line.LeftWithAccess.Count == 0 || line.ExceedsOtherwise ? [Remedy.Restrict] : Array.Empty<Remedy>(),
            ],
            _ => [],
        };

    /// <summary>What can help against the findings of a cause, before any site is looked at; and the first fact to set.</summary>
    public static (IReadOnlyList<Remedy> Remedies, ClaimedFact? Fact) Possible(Cause cause, Today today)
    {
        if (cause.Rule.Demand is not Demand.General)
        {
            return (
                [
                    cause.Kind switch
                    {
                        CauseKind.StillHasAccess => Remedy.RemoveAccess,
                        CauseKind.OwnerLeaves => Remedy.AddOwner,
                        _ when cause.Rule.Demand is Demand.ActiveOwners => Remedy.AddOwner,
                        _ => Remedy.Restrict,
                    },
                ],
                null
            );
        }

        var (settable, attic, name, near) = WrittenRuleRemedies.Possible(cause.Rule, today) ?? ([], false, false, false);
        return (
            [
                .. settable.Count > 0 ? [Remedy.SetFact] : Array.Empty<Remedy>(),
                .. attic ? [Remedy.MoveToAttic] : Array.Empty<Remedy>(),
                .. name ? [Remedy.Rename] : Array.Empty<Remedy>(),
                .. near ? [Remedy.TellApart] : Array.Empty<Remedy>(),
            ],
            settable.Count > 0 ? settable[0] : null
        );
    }

    /// <summary>The outcome for a site that breaks a rule.</summary>
    public static RemedyOutcome Try(ActionFacts facts, Rule rule)
    {
        var line = new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory);
        var remedies = Of(rule, line);
        return rule.Demand switch
        {
            Demand.ActiveOwners(var least) => MoreOwners(facts, line, least),
            _ when remedies.Count > 0 => Narrower(facts, rule, line, remedies),
            _ => WrittenRuleRemedies.Try(facts, rule),
        };
    }

    private static RemedyOutcome MoreOwners(ActionFacts facts, ComputedSite line, int least)
    {
        IReadOnlyList<Remedy> remedies = [Remedy.AddOwner];
        if (HandOver.NotFromHere(facts.Site, facts.Organisation, facts.PeopleDirectory) is { } cannot)
        {
            return new RemedyOutcome(remedies, false, [cannot]);
        }

        List<Remark> refused = [.. HostChanges.NotInUse(facts), .. HostChanges.NotReported(facts.Site, AccessStep.HandOver)];
        return refused.Count > 0
            ? new RemedyOutcome(remedies, false, refused)
            : new RemedyOutcome(
                remedies,
                true,
                least - line.Owners.ActiveAtLeast is > 1 and var wanted ? [new OwnersWanted(wanted)] : []
            );
    }

    private static RemedyOutcome Narrower(ActionFacts facts, Rule rule, ComputedSite line, IReadOnlyList<Remedy> remedies)
    {
        var (site, directory) = (facts.Site, facts.PeopleDirectory);
        List<Remark> left = [.. HostChanges.NotInUse(facts), .. HostChanges.NotReported(site, AccessStep.Restrict)];
        if (left.Count > 0)
        {
            return new RemedyOutcome(remedies, false, left);
        }

        var changes = new Dictionary<string, GrantChange>();
        if (remedies.Contains(Remedy.Restrict))
        {
            if (RestrictReach.Remedy(line).Has(out var target))
            {
                var restricting = new Restricting(facts, target);
                foreach (var change in restricting.Of(site.Expected.Or([])))
                {
                    changes[change.Key] = change;
                }

                left.AddRange(restricting.Unaffected);
                left.AddRange(Joining(site));
            }
            else
            {
                left.Add(new LimitUnknown());
            }
        }

        foreach (var person in line.LeftWithAccess)
        {
            switch (RemoveAccess.Decide(facts, new RemoveAccessRequest(person.Id, null, null), default, Actor.Product))
            {
                case Decision.Plan plan:
                    foreach (var change in plan.Effect.Grants)
                    {
                        changes[change.Key] = change;
                    }

                    left.AddRange(plan.Unaffected.Where(IsOtherwise));
                    break;
                case Decision.Refusal(var reasons):
                    left.AddRange(reasons.Where(IsOtherwise));
                    break;
            }
        }

        left.AddRange(LeaversThrough(site, line.LeftWithAccess, directory));

        var clears =
            changes.Count > 0
            && Predict.Change(site, [.. changes.Values], facts.Organisation, facts.Rules, directory).Cleared.Contains(rule.Id);
        return new RemedyOutcome(
            remedies,
            clears,
            clears ? []
                : left.Count > 0 ? [.. left.Distinct()]
                : WholeUnit(site, directory) is [_, ..] groups ? groups
                : [new NoRemedyKnown()]
        );
    }

    // Said of all leavers of a group at once.
    private static bool IsOtherwise(Remark remark) => remark is not (AccessThrough or AccessNotByName);

    private static IEnumerable<Remark> LeaversThrough(SiteFacts site, IReadOnlyList<Person> left, PeopleDirectory directory) =>
        from grant in site.Expected.Or([])
        where grant.Subject is not Subject.OnePerson
        let lets = Ask.Of(grant, directory).Lets.AtLeast
        let still = left.Where(person =>
                directory.PlaceOf(person.Id) is { } place && (lets.Inside.Contains(place) || lets.Guests.Contains(place))
            )
            .Select(person => person.Name)
            .ToList()
        where still.Count > 0
        select new LeaversThrough([.. still], GrantText.Who(grant, directory), site.Host);

    /// <summary>Groups that contain everybody of the site's unit: what they have counts as the whole unit's.</summary>
    private static List<Remark> WholeUnit(SiteFacts site, PeopleDirectory directory) =>
        site.Unit.Has(out var unit) && directory.OfUnit(unit) is { IsEmpty: false } all
            ?
            [
                .. from grant in site.Expected.Or([])
                where grant.Subject is Subject.OneGroup && grant.Power >= Power.Edit
                where Ask.Of(grant, directory).Lets.AtLeast.Inside.Includes(all)
                select new GroupHoldsUnit(GrantText.Who(grant, directory), site.Host),
            ]
            : [];

    // Joining is a setting of the site at its host, and no grant.
    private static IEnumerable<Remark> Joining(SiteFacts site)
    {
        if (site.Joining.Has(out var joining) && joining is { Way: JoinWay.Open })
        {
            yield return new AnybodyMayJoin(site.Host);
        }
    }
}
