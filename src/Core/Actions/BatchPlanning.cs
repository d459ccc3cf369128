using AtticLedger.Core.Naming;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The rows of a batch, decided on one state of the facts.</summary>
/// <param name="Gain">The number of different people to whom it gives access somewhere; <paramref name="Lose"/>: from whom it
/// removes some.</param>
public sealed record BatchPlan(IReadOnlyList<BatchLine> Lines, int Gain, int Lose);

/// <summary>Decides a batch for each of its sites. Where it ends the findings of a cause, a site without an action of its own gets the
/// one that is proposed.</summary>
/// <param name="load">The number of sites each person owns: who is asked to own one counts as having it.</param>
public sealed class BatchPlanning(Batch batch, Actor actor, IReadOnlyDictionary<PersonId, int> load)
{
    private readonly Dictionary<PersonId, int> load = load.ToDictionary();

    // Sites below one that is moved to the attic are moved first and do not block it.
    private readonly HashSet<SiteId> going = [];

    // Names that sites before get, by host and meaning.
    private readonly Dictionary<(string Host, string Meaning), string> names = [];

    /// <param name="targets">The sites in the sequence of their turns; the facts of each must be there.</param>
    /// <param name="leftOut">Sites on which nothing is done.</param>
    public BatchPlan Of(
        IReadOnlyList<BatchTarget> targets,
        IReadOnlyDictionary<SiteId, ActionFacts> facts,
        IReadOnlySet<SiteId> leftOut
    )
    {
        var (gain, lose, lines) = (new HashSet<PersonId>(), new HashSet<PersonId>(), new List<BatchLine>(targets.Count));
        foreach (var (place, wanted) in targets.Index())
        {
            if (leftOut.Contains(wanted.Site))
            {
                lines.Add(new BatchLine(batch.Id, place, wanted, BatchLineState.LeftOut, null, LineEffect.None, []));
                continue;
            }

            var (target, decision) = Decide(wanted, facts[wanted.Site]);
            decision = WithNamesBefore(decision, batch.RequestFor(target), facts[wanted.Site].Site);
            if (decision is Decision.Plan plan)
            {
                if (batch.RequestFor(target) is { Action: ActionName.OwnerOffer, Person: { } asked })
                {
                    load[asked] = load.GetValueOrDefault(asked) + 1;
                }

                going.Add(target.Site);
                foreach (var power in plan.Effect.Powers)
                {
                    gain.UnionWith(power.Gain);
                    lose.UnionWith(power.Lose);
                }
            }

            lines.Add(BatchLine.Planned(batch.Id, place, target, decision));
        }

        return new BatchPlan(lines, gain.Count, lose.Count);
    }

    // Two sites of a batch can get the same name, which neither has yet.
    private Decision WithNamesBefore(Decision decision, BulkRequest request, SiteFacts site) =>
        decision is not Decision.Plan plan
        || request.Name is not { } name
        || LookAlikes.Bare(name) is not { Length: > 0 } meaning
        || names.TryAdd((site.Host, meaning), name)
            ? decision
            : plan with
            {
                Advice = [.. plan.Advice, new NameUsedToo([names[(site.Host, meaning)]])],
            };

    private (BatchTarget Target, Decision Decision) Decide(BatchTarget target, ActionFacts facts)
    {
        var request = batch.RequestFor(target);
        if (request.Action != ActionName.FindingsRemedy)
        {
            return (target, RemedyChoices.Decide(request, facts.After(request.Action, going), actor, target.Undoes));
        }

        var choices = RemedyChoices.Of(facts.After(ActionName.SiteMoveToAttic, going), request.Cause!, load, actor);
        return RemedyChoices.Proposed(choices) is { } proposed
            ? (target with { Own = proposed.Request }, proposed.Decision)
            : (target, new Decision.Refusal(RemedyChoices.WhyNone(facts, request.Cause!, choices)));
    }
}
