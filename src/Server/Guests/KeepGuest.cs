using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Guests;

/// <summary>Records that a guest was reviewed and is still needed.</summary>
internal sealed class KeepGuest(PersonId guest, string? reason, Viewer viewer) : RequestedAction<GuestReview, ActionDone>
{
    public override ActionName Name => ActionName.GuestKeep;

    public override async Task<Decided<GuestReview>> Decide(FactReader facts) =>
        (await facts.PeopleDirectory()).Find(guest) is not { IsOutside: true } ? new Decided<GuestReview>.NotSeen("guest")
        : reason?.Length > RestrictReach.LongestReason
            ? Decided<GuestReview>.Refuse(new ReasonTooLong(reason.Length, RestrictReach.LongestReason))
        : new Decided<GuestReview>.Planned(new GuestReview(guest, viewer.Person, facts.Now, reason), "");

    public override async Task<Written<ActionDone>> Write(Change change, GuestReview plan)
    {
        await change.Put(plan);
        var numbers = await change.Append([
            new Draft(JournalAction.GuestKept, EntryActor.Of(viewer.Person), EntrySubject.Of(guest)) { Reason = reason },
        ]);
        return ActionDone.Written(numbers[0]);
    }
}
