using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Actions;

/// <summary>How a change ends at its host, and what follows from it.</summary>
internal static class ChangeOutcomes
{
    /// <summary>The consequences for the action that the change served are written with it.</summary>
    /// <param name="before">The site before the response, if the entry of the change records the difference.</param>
    public static async Task End(
        this Change change,
        HostChange hostChange,
        SiteFacts site,
        EntryActor actor,
        SiteFacts? before = null
    )
    {
        var directory = await change.PeopleDirectory(await change.Connection.OrganisationTime());
        var atticEntry = (await change.Connection.LatestAtticEntries([hostChange.Site])).GetValueOrDefault(hostChange.Site);
        var after = Aftermath.Answered(
            hostChange,
            site,
            await change.Connection.OfferOfHostChange(hostChange.Id),
            atticEntry,
            directory,
            change.Now
        );
        await change.Keep(after, directory.Time, [StateEntry(actor, hostChange).Telling(before ?? site, site)]);
    }

    private static readonly Dictionary<ChangeState, JournalAction> StateActions = new()
    {
        [ChangeState.Confirmed] = JournalAction.ChangeConfirmed,
        [ChangeState.Verified] = JournalAction.ChangeVerified,
        [ChangeState.Contradicted] = JournalAction.ChangeContradicted,
        [ChangeState.Refused] = JournalAction.ChangeRefused,
        [ChangeState.GivenUp] = JournalAction.ChangeGivenUp,
        [ChangeState.Withdrawn] = JournalAction.ChangeWithdrawn,
        [ChangeState.Superseded] = JournalAction.ChangeSuperseded,
    };

    /// <summary>The entry that a change has reached its state.</summary>
    public static Draft StateEntry(EntryActor actor, HostChange hostChange) =>
        Entry(StateActions[hostChange.State], actor, hostChange);

    /// <summary>An entry about a change.</summary>
    public static Draft Entry(JournalAction action, EntryActor actor, HostChange hostChange) =>
        new(action, actor, EntrySubject.Of(hostChange.Site))
        {
            OnBehalf = EntryActor.Of(hostChange.By),
            After = JournalValue.Of(
                ("change", JournalValue.Of(hostChange.Id.ToString())),
                ("attempts", JournalValue.Of(hostChange.Attempts)),
                ("message", JournalValue.Of(hostChange.Words))
            ),
        };
}
