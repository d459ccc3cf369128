using AtticLedger.Core.Access;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A request to limit the access that is set for a site.</summary>
public sealed record RestrictRequest(PowerLimits Target, string? Reason);

/// <summary>Restricts the access that is set for a site at its host. A grant that the target refuses is lowered to the strongest
/// power that the target admits, or removed. Only a whole grant can be changed: a group with one refused member stays, and the
/// plan says so.
/// </summary>
public static class RestrictReach
{
    public const int LongestReason = 500;

    /// <summary>The remedy: exactly what policy allows; unknown if a layer is unknown.</summary>
    public static Known<PowerLimits> Remedy(ComputedSite line)
    {
        Known<Limit> Permitted(Power power) => line.AccessPath(power).Permitted;
        return
            Permitted(Power.View).Has(out var view)
            && Permitted(Power.Preview).Has(out var preview)
            && Permitted(Power.Edit).Has(out var edit)
            ? Known.Of(new PowerLimits(view, preview, edit with { Inside = edit.Inside | InsideLimit.Named }))
            : Known<PowerLimits>.Unknown;
    }

    public static Decision Decide(ActionFacts facts, RestrictRequest request, ChangeId newHostChange, Actor actor)
    {
        var site = facts.Site;
        var refused = RefusalsBefore(facts, request).ToList();
        if (refused.Count > 0 || !site.Expected.Has(out var grants))
        {
            return new Decision.Refusal(refused);
        }

        var restricting = new Restricting(facts, request.Target);
        var changes = restricting.Of(grants);
        if (changes.Count == 0)
        {
            return new Decision.Refusal([.. NothingToRestrict(facts, restricting.Unaffected)]);
        }

        var effect = Predict.Change(site, changes, facts.Organisation, facts.Rules, facts.PeopleDirectory);
        var hostChange = HostChanges.New(newHostChange, facts, new WantedState(changes), actor, request.Reason);
        return new Decision.Plan(
            [.. HostChanges.Superseded(facts.ChangeQueue, hostChange), hostChange],
            [
                new Draft(JournalAction.SiteRestrict, actor.InJournal, EntrySubject.Of(site.Id))
                {
                    Before = JournalValue.Of(hostChange.Before.Select(GrantText.InJournal)),
                    After = JournalValue.Of(
                        ("change", JournalValue.Of(newHostChange.ToString())),
                        ("predicted", effect.InJournal)
                    ),
                    Reason = request.Reason,
                },
            ],
            effect
        )
        {
            Unaffected = restricting.Unaffected,
        };
    }

    private static IEnumerable<Remark> RefusalsBefore(ActionFacts facts, RestrictRequest request)
    {
        var site = facts.Site;
        foreach (var reason in HostChanges.TooLong(request.Reason))
        {
            yield return reason;
        }

        foreach (var reason in HostChanges.NotInUse(facts).Concat(HostChanges.NotReported(site, AccessStep.Restrict)))
        {
            yield return reason;
        }
    }

    private static IEnumerable<Remark> NothingToRestrict(ActionFacts facts, IReadOnlyList<Remark> unaffected)
    {
        yield return facts.Site.UnderWay.Count > 0 ? new UnderWayAlready() : new WithinAlready();
        foreach (var remark in unaffected)
        {
            yield return remark;
        }
    }
}
