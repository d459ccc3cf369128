using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Sentences;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.Guests;

/// <summary>Sends invitations that nothing stops any more, and ends those that nobody accepted. Each is decided and written in one
/// transaction, so that none is sent twice.</summary>
public sealed class InvitationRunner(Database database, WakeUps wakeUps, ILogger<InvitationRunner> log) : Worker(log)
{
    /// <summary>The product's own name where it claims who sponsors a guest.</summary>
    public const string Source = "Attic Ledger";

    public override WorkKind Kind => WorkKind.Invitations;

    protected override Task Work(CancellationToken stop) => RunDue(stop);

    /// <summary>One pass over the invitations that wait, and those that were not accepted in time. Nothing is locked for one that is
    /// stopped as before.</summary>
    /// <returns>The number that were sent or ended.</returns>
    public async Task<int> RunDue(CancellationToken stop)
    {
        var (waiting, unanswered) = await database.Read(
            async connection =>
            {
                var today = (await connection.OrganisationTime()).DayOf(database.Now);
                return (
                    await connection.WaitingInvitations(today),
                    await connection.UnansweredInvitations(today, database.Now.AddDays(-Invitation.AcceptWithin))
                );
            },
            stop
        );
        var (done, faults) = (0, new List<Exception>());
        foreach (var invitation in waiting.Concat(unanswered))
        {
            try
            {
                done += await Try(invitation, stop) ? 1 : 0;
            }
            catch (Exception fault) when (fault is not OperationCanceledException)
            {
                // The others of this pass go on.
                faults.Add(fault);
            }
        }

        if (done > 0)
        {
            wakeUps.Wake(stop, WorkKind.HostChanges, WorkKind.Mail);
        }

        return faults.Count == 0 ? done : throw new AggregateException(faults);
    }

    private async Task<bool> Try(Invitation invitation, CancellationToken stop) =>
        invitation.HostChange is not null
            ? await database.Change(change => Expire(change, invitation.Id), stop)
            : !await IsStoppedAsBefore(invitation, stop) && await database.Change(change => Send(change, invitation.Id), stop);

    private Task<bool> IsStoppedAsBefore(Invitation invitation, CancellationToken stop) =>
        database.Read(
            async connection =>
                await FactReader.Of(database, connection).OfSite(_ => new Scope.Everything(), invitation.Site, false)
                    is not { } facts
                || (Sentences(facts, invitation) is { Count: > 0 } sentences && sentences.SequenceEqual(invitation.StoppedBy)),
            stop
        );

    private static List<string> Sentences(ActionFacts facts, Invitation invitation) =>
        [.. RemarkSentence.Of(InviteGuest.StoppedBy(facts, invitation))];

    private static async Task<bool> Send(Change change, InvitationId id)
    {
        var reader = FactReader.Of(change);
        if (
            await change.Connection.Invitation(id) is not { EndedAt: null, HostChange: null } invitation
            || await reader.OfSite(_ => new Scope.Everything(), invitation.Site, false) is not { } facts
        )
        {
            return false;
        }

        if (Sentences(facts, invitation) is { Count: > 0 } sentences)
        {
            await change.Put(invitation with { StoppedBy = sentences });
            return false;
        }

        // A guest whom nobody knows yet is in the register only once the invitation goes.
        if (!facts.PeopleDirectory.ByMail.TryGetValue(invitation.Mail.ToLowerInvariant(), out var guest))
        {
            guest = await change.AddPerson(InviteGuest.NewGuest(invitation.Mail));
            await change.Append([new Draft(JournalAction.GuestAdded, EntryActor.Product, EntrySubject.Of(guest))]);
            facts = (await reader.OfSite(_ => new Scope.Everything(), invitation.Site, false))!;
        }

        await change.SetSponsor(guest, Source, invitation.Sponsor);
        var plan = InviteGuest.Send(facts, invitation, new ChangeId(Guid.NewGuid()));
        await change.Keep(invitation.Site, plan, facts.PeopleDirectory.Time);
        return true;
    }

    private static async Task<bool> Expire(Change change, InvitationId id)
    {
        var time = await change.Connection.OrganisationTime();
        if (
            await change.Connection.Invitation(id) is not { EndedAt: null, HostChange: { } hostChange } invitation
            || await change.Connection.HostChange(hostChange) is not { } sent
            || !invitation.HasExpired(sent, time, change.Now)
            || await FactReader.Of(change).OfSite(_ => new Scope.Everything(), invitation.Site, false) is not { } facts
        )
        {
            return false;
        }

        var state = await change.Connection.StateOf(invitation, facts.PeopleDirectory.Today);
        if (
            state != InvitationState.Sent
            || InviteGuest.End(
                facts,
                invitation,
                state,
                InvitationEnding.Expired,
                new ChangeId(Guid.NewGuid()),
                new Actor(invitation.By)
            )
                is not Decision.Plan plan
        )
        {
            return false;
        }

        await change.Keep(invitation.Site, plan, time);
        return true;
    }
}
