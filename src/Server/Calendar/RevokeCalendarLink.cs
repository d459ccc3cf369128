using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Calendar;

/// <summary>Revokes the calendar link of an account, if there is one.</summary>
internal sealed class RevokeCalendarLink(Viewer viewer) : RequestedAction<string, ActionDone>
{
    public override ActionName Name => ActionName.CalendarRevoke;

    public override Task<Decided<string>> Decide(FactReader facts) =>
        Task.FromResult<Decided<string>>(new Decided<string>.Planned("", ""));

    public override async Task<Written<ActionDone>> Write(Change change, string plan)
    {
        IReadOnlyList<Draft> entries = await change.DropCalendarLink(viewer.Account)
            ? [new Draft(JournalAction.CalendarRevoked, viewer.InJournal, EntrySubject.Of(viewer.Person))]
            : [];
        return ActionDone.Written(await change.AppendOrHead(entries));
    }
}
