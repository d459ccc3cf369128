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
    /// <summary>True if a change in this state can be undone by itself, as far as the change alone says.</summary>
    public static bool IsPossible(HostChange hostChange) =>
        hostChange.Purpose is ChangePurpose.Reach or ChangePurpose.Look or ChangePurpose.Address
        && (ChangeStates.Table.Allows(hostChange.State, ChangeEvent.Withdraw) || hostChange.State.HadEffect());

    public static Decision Decide(ActionFacts facts, HostChange undone, ChangeId newHostChange, Actor actor, string? reason)
    {
        if (undone.Purpose is ChangePurpose.Look or ChangePurpose.Address)
        {
            return undone.State == ChangeState.Queued
                ? Withdraw(facts, undone, actor, reason)
                : Present(facts, undone, newHostChange, actor, reason);
        }

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

    // How a site presented itself before, and the address that it had.
    private static Decision Present(ActionFacts facts, HostChange undone, ChangeId newHostChange, Actor actor, string? reason)
    {
        var (site, former) = (facts.Site, undone.Former);
        List<Remark> refused = [.. NoEffect(facts, undone), .. HostChanges.NotInUse(facts)];
        if (former?.LeftIn(site) is not { } back)
        {
            refused.Add(former is null or { IsEmpty: true } ? new FormerLookUnknown(site.Host) : new UndoneAlready());
            return new Decision.Refusal(refused);
        }

        if (undone.WantedState.IsSoIn(site) == Truth.No)
        {
            refused.Add(new LookChangedLater());
        }

        if (back.Look?.Logo is { Source: LogoSource.KeptWithSite } && !facts.Around.HasPicture)
        {
            refused.Add(new FormerLogoNotKept());
        }

        // Where it forwards to the site, the former address is its own; elsewhere somebody may have taken it.
        if (back.Address is { } address && facts.Around.OnHost.HolderOf(address, site.Id) is { } holder && back.SwapWith is null)
        {
            refused.Add(new AddressHeld(address, holder.IsSeen ? holder.Name : null, HeldAs.InUse, null));
        }

        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var presented = (back.Look?.On(site) ?? site) with { Address = back.Address is { } own ? Known.Of(own) : site.Address };
        var effect = Predict.Presenting(site, presented, facts.Organisation, facts.Rules, facts.PeopleDirectory);
        var hostChange = HostChanges.New(newHostChange, facts, back, actor, reason) with
        {
            UndoOf = undone.Id,
            Purpose = undone.Purpose,
        };
        return new Decision.Plan(
            [.. HostChanges.Superseded(facts.ChangeQueue, hostChange), hostChange],
            [Entry(facts, undone, effect, actor, reason, newHostChange)],
            effect
        )
        {
            Fields =
            [
                .. back.Look is { } look ? FieldChange.Of(site, look) : [],
                .. back.Address is { } its ? [new FieldChange(LookField.Address, site.Address, its)] : Array.Empty<FieldChange>(),
            ],
        };
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

    private static IEnumerable<Remark> NoEffect(ActionFacts facts, HostChange undone)
    {
        if (!undone.State.HadEffect() && undone.State != ChangeState.Contradicted)
        {
            yield return undone.State == ChangeState.Sent
                ? facts.Organisation.CapabilitiesOf(facts.Site.Host).ManualProcedure is not null
                    ? new ChangeIsTask()
                    : new ChangeUnanswered()
                : new ChangeHadNoEffect();
        }
    }

    private static IEnumerable<Remark> Refusals(ActionFacts facts, HostChange undone, IReadOnlyList<Grant> grants)
    {
        foreach (var reason in NoEffect(facts, undone))
        {
            yield return reason;
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
