using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>Undoing is a new action that is decided on today's facts and refers to the first: an unsent change is withdrawn, a
/// confirmed one is countered.
/// </summary>
public static class UndoHostChange
{
    public static Decision Decide(ActionFacts facts, HostChange undone, ChangeId newHostChange, Actor actor, string? reason)
    {
        if (undone.Purpose != ChangePurpose.Reach)
        {
            return new Decision.Refusal([
                undone.Purpose == ChangePurpose.Owners ? new HandoverNotUndone() : new AtticNotUndone(),
            ]);
        }

        if (undone.State == ChangeState.Queued)
        {
            return Withdraw(facts, undone, actor, reason);
        }

        var grants = facts.Site.Expected.Or([]);
        var refused = Refusals(facts, undone, grants).ToList();
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var changes = undone
            .Before.Where(change => grants.FirstOrDefault(grant => grant.Key == change.Key) != change.Wanted)
            .ToList();
        var effect = Predict.Change(facts.Site, changes, facts.Organisation, facts.Rules, facts.PeopleDirectory);
        var hostChange = HostChanges.New(newHostChange, facts, new WantedState(changes), actor, reason) with
        {
            UndoOf = undone.Id,
        };
        return new Decision.Plan(
            [.. HostChanges.Superseded(facts.ChangeQueue, hostChange), hostChange],
            [Entry(facts, undone, effect, actor, reason, newHostChange)],
            effect
        );
    }

    private static Decision Withdraw(ActionFacts facts, HostChange undone, Actor actor, string? reason)
    {
        var effect = Predict.Change(facts.Site, undone.Before, facts.Organisation, facts.Rules, facts.PeopleDirectory);
        return new Decision.Plan(
            [undone.Move(ChangeEvent.Withdraw)],
            [Entry(facts, undone, effect, actor, reason, null)],
            effect
        );
    }

    private static IEnumerable<Remark> Refusals(ActionFacts facts, HostChange undone, IReadOnlyList<Grant> grants)
    {
        if (!undone.State.HadEffect() && undone.State != ChangeState.Contradicted)
        {
            yield return undone.State == ChangeState.Sent
                ? facts.Organisation.CapabilitiesOf(facts.Site.Host).ManualProcedure is not null
                    ? new ChangeIsTask()
                    : new ChangeUnanswered()
                : new ChangeHadNoEffect();
        }

        foreach (var reason in HostChanges.NotInUse(facts).Concat(HostChanges.NotReported(facts.Site, AccessStep.Undo)))
        {
            yield return reason;
        }

        if (grants.With(undone.Before).SequenceEqual(grants.OrderBy(grant => grant.Key, StringComparer.Ordinal)))
        {
            yield return new UndoneAlready();
        }
        else if (
            !grants.With(undone.WantedState.Grants).SequenceEqual(grants.OrderBy(grant => grant.Key, StringComparer.Ordinal))
        )
        {
            yield return new AccessChangedLater();
        }
    }

    private static Draft Entry(
        ActionFacts facts,
        HostChange undone,
        Effect effect,
        Actor actor,
        string? reason,
        ChangeId? hostChange
    ) =>
        new(JournalAction.ChangeUndo, actor.InJournal, EntrySubject.Of(facts.Site.Id))
        {
            Before = JournalValue.Of(
                ("change", JournalValue.Of(undone.Id.ToString())),
                ("state", JournalValue.Of(undone.State.ToString().ToLowerInvariant()))
            ),
            After = JournalValue.Of(("change", JournalValue.Of(hostChange?.ToString())), ("predicted", effect.InJournal)),
            Reason = reason,
            UndoOf = undone.Place,
        };
}
