using AtticLedger.Core.Ownership;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>One thing that can be done on a site about the findings of a cause, decided on today's facts.</summary>
/// <param name="Ends">True if the cause has no finding on the site any more once it is done.</param>
public sealed record RemedyChoice(BulkRequest Request, Decision Decision, bool Ends);

/// <summary>What can be done on one site about the findings of a cause, by the same decisions as the actions themselves.</summary>
public static class RemedyChoices
{
    /// <summary>An exception is proposed for so many days.</summary>
    public const int ExceptionDays = 90;

    /// <summary>The choices, the one that ends most of the cause's findings first; exceptions last. One that would
    /// open a critical finding is not offered.</summary>
    /// <param name="load">The number of sites each person owns, and is asked to own.</param>
    public static IReadOnlyList<RemedyChoice> Of(
        ActionFacts facts,
        string cause,
        IReadOnlyDictionary<PersonId, int> load,
        Actor actor
    )
    {
        var line = new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory);
        var causes = OfSite(facts, line, cause);
        var rules = causes.Select(one => one.Rule.Id).ToHashSet();
        var remedies = causes.SelectMany(one => Requests(one, facts, line, load)).Distinct().ToList();
        var exceptions = rules.Select(rule => new BulkRequest(
            ActionName.ExceptionGrant,
            Rule: rule,
            Through: facts.PeopleDirectory.Today.Plus(ExceptionDays)
        ));
        return
        [
            .. remedies
                .Select(request => Choice(request, facts, cause, actor))
                .Where(choice => !Opens(choice.Decision, facts).Any())
                .OrderByDescending(choice => choice.Decision is Decision.Plan)
                .ThenByDescending(choice => choice.Ends)
                .ThenByDescending(choice =>
                    choice.Decision is Decision.Plan plan ? plan.Effect.Cleared.Count(rules.Contains) : 0
                ),
            .. exceptions.Select(request => Choice(request, facts, cause, actor)),
        ];
    }

    /// <summary>What is proposed: the first that is possible, no exception, and ends the cause on the site or brings it an owner; null
    /// if there is none.</summary>
    public static RemedyChoice? Proposed(IReadOnlyList<RemedyChoice> choices) =>
        choices.FirstOrDefault(choice =>
            choice is { Decision: Decision.Plan, Request.Action: not ActionName.ExceptionGrant }
            && (choice.Ends || choice.Request.Action is ActionName.OwnerOffer or ActionName.OwnersAsk)
        );

    /// <summary>Why nothing is proposed for a site: what stands against its first remedy, and who can change it.</summary>
    public static IReadOnlyList<Remark> WhyNone(ActionFacts facts, string cause, IReadOnlyList<RemedyChoice> choices)
    {
        var line = new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory);
        var causes = OfSite(facts, line, cause);
        List<Remark> why =
        [
            .. choices
                .Where(choice => choice.Request.Action != ActionName.ExceptionGrant)
                .SelectMany(choice => choice.Decision is Decision.Refusal(var reasons) ? reasons : []),
            .. causes
                .Select(one => Remedies.Try(facts, one.Rule))
                .Where(outcome => !outcome.Clears)
                .SelectMany(outcome => outcome.Left),
            .. causes.Any(one => one.Rule.Demand is Demand.ActiveOwners)
                ? facts.Offers.Select(offer => new OfferOpen(
                    facts.PeopleDirectory.Find(offer.To)?.Name ?? "somebody",
                    offer.Through
                ))
                : [],
        ];
        return why.Count > 0 ? [.. why.Distinct()]
            : causes.Any(one => one.Rule.Demand is Demand.ActiveOwners) ? [new NoOwnerProposed()]
            : [new NoRemedyKnown()];
    }

    /// <summary>The decision for a plan. A reason that is still to be given is no reason to refuse; without it nothing
    /// starts.</summary>
    /// <param name="undone">The change to undo, if that is the action.</param>
    public static Decision Decide(BulkRequest request, ActionFacts facts, Actor actor, ChangeId? undone = null) =>
        BulkActions.Decide(
            request.Reason is null && BulkActions.WantsReason(request.Action, actor) ? request with { Reason = "…" } : request,
            facts,
            Guid.Empty,
            actor,
            undone
        );

    private static RemedyChoice Choice(BulkRequest request, ActionFacts facts, string cause, Actor actor)
    {
        var decision = Decide(request, facts, actor);
        return new RemedyChoice(request, decision, decision is Decision.Plan plan && Ends(request, plan, facts, cause));
    }

    private static bool Ends(BulkRequest request, Decision.Plan plan, ActionFacts facts, string cause)
    {
        if (request.Action is ActionName.SiteMoveToAttic or ActionName.ExceptionGrant)
        {
            return true;
        }

        var look = plan.HostChanges.LastOrDefault()?.WantedState.Look;
        var after = look?.On(facts.Site) ?? facts.Site.WithGrants(facts.Site.Expected.Or([]).With(plan.Effect.Grants));
        return (look is not null || plan.Effect.Grants.Count > 0)
            && OfSite(facts, new ComputedSite(after, facts.Organisation, facts.PeopleDirectory), cause).Count == 0;
    }

    /// <summary>Critical rules that the site would break after it.</summary>
    private static IEnumerable<RuleId> Opens(Decision decision, ActionFacts facts) =>
        decision is Decision.Plan plan ? plan.Effect.Opened.Where(rule => facts.Rules.Find(rule)?.Level == Level.Critical) : [];

    private static IReadOnlyList<Cause> OfSite(ActionFacts facts, ComputedSite line, string cause) =>
        [
            .. facts
                .Rules.Judge(line)
                .Where(finding => finding.Verdict == Verdict.Breaks)
                .SelectMany(finding => Cause.Of(line, finding.Rule))
                .Where(one => one.Name == cause),
        ];

    private static IEnumerable<BulkRequest> Requests(
        Cause cause,
        ActionFacts facts,
        ComputedSite line,
        IReadOnlyDictionary<PersonId, int> load
    )
    {
        if (cause.Kind == CauseKind.StillHasAccess)
        {
            yield return new BulkRequest(ActionName.AccessRemove, cause.Person!.Id);
            yield break;
        }

        foreach (var remedy in Remedies.Try(facts, cause.Rule).Remedies)
        {
            switch (remedy)
            {
                case Remedy.Restrict when cause.Kind == CauseKind.Rule:
                    yield return new BulkRequest(ActionName.SiteRestrict);
                    break;
                case Remedy.MoveToAttic:
                    yield return new BulkRequest(ActionName.SiteMoveToAttic);
                    break;
                case Remedy.Rename when WrittenRuleRemedies.NameFor(facts, cause.Rule) is { } name:
                    yield return new BulkRequest(ActionName.SiteLook, Name: name);
                    break;
                case Remedy.AddOwner or Remedy.RemoveAccess when cause.Kind == CauseKind.OwnerLeaves || remedy == Remedy.AddOwner:
                    if (Asked(facts, line, load) is { } person)
                    {
                        yield return new BulkRequest(ActionName.OwnerOffer, person);
                    }

                    if (AskOwners.Leaving(facts).Any())
                    {
                        yield return new BulkRequest(ActionName.OwnersAsk);
                    }

                    break;
            }
        }
    }

    // A site that somebody was asked to own waits for the answer.
    private static PersonId? Asked(ActionFacts facts, ComputedSite line, IReadOnlyDictionary<PersonId, int> load) =>
        facts.Offers.Count == 0
            ? Successors.First(facts.Site, line.Owners, load, facts.PeopleDirectory, facts.Organisation.ActiveDays)?.Id
            : null;
}
