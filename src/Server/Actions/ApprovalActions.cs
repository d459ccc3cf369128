using System.Globalization;
using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Mail;
using AtticLedger.Server.Sentences;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.Actions;

/// <summary>A second person's answer to a request, or its withdrawal by the person who made it.</summary>
/// <param name="Plan">The plan of the requested action, if it is carried out or shown again.</param>
internal sealed record ApprovalPlan(Approval Approval, ActionFacts Facts, Decision.Plan? Plan);

/// <summary>Actions that wait for a second person: their plan on today's facts, and the answers.</summary>
internal sealed class ApprovalAction(
    ActionName name,
    Guid id,
    Viewer viewer,
    Func<FactReader, Approval, ActionFacts, Task<Decided<ApprovalPlan>>> decide,
    Func<Change, ApprovalPlan, Task<Written<ActionDone>>> write
) : RequestedAction<ApprovalPlan, ActionDone>
{
    public override ActionName Name => name;

    public override async Task<Decided<ApprovalPlan>> Decide(FactReader facts) =>
        await facts.Connection.Approval(new ApprovalId(id)) is { } approval
        && (viewer.Role == Role.Administrator || approval.By == viewer.Person)
        && await facts.OfSite(_ => new Scope.Everything(), approval.Site) is { } its
            ? await decide(facts, approval, its)
            : new Decided<ApprovalPlan>.NotSeen("request");

    public override Task<Written<ActionDone>> Write(Change change, ApprovalPlan plan) => write(change, plan);

    public override IReadOnlyList<WorkKind> Wakes => [WorkKind.HostChanges, WorkKind.Mail];
}

internal static class ApprovalActions
{
    public static IReadOnlyList<Notification> Notifications(Approval approval, ActionFacts facts) =>
        [
            .. facts
                .Administrators.Where(person => person != approval.By)
                .Select(person => new Notification(
                    person,
                    $"approval:{approval.Id}",
                    $"{facts.Site.Title} waits for a second person",
                    [
                        $"{facts.PeopleDirectory.Find(approval.By)?.Name ?? "Somebody"} requests a second person: {RemarkSentence.Of(approval.Because)}",
                        $"It is on your desk until the end of {approval.Through.InWords()}.",
                    ],
                    Urgent: true
                )),
        ];

    /// <summary>How a stored action is decided, with the second person.</summary>
    public static DecideOnSite Decider(Approval approval, PersonId? second)
    {
        var actor = new Actor(approval.By, approval.As, second);
        return approval.Action switch
        {
            ActionName.SiteMoveToAttic => (facts, id) =>
                MoveToAttic.Decide(
                    facts,
                    JsonSerializer.Deserialize<MoveToAtticRequest>(approval.Request)!,
                    new ChangeId(id),
                    actor
                ),
            ActionName.OwnerOffer => (facts, id) =>
                HandOver.Offer(facts, JsonSerializer.Deserialize<OfferRequest>(approval.Request)!, new OfferId(id), actor),
            ActionName.AccessRemove => (facts, id) =>
                RemoveAccess.Decide(
                    facts,
                    JsonSerializer.Deserialize<RemoveAccessRequest>(approval.Request)!,
                    new ChangeId(id),
                    actor
                ),
            ActionName.AccessGrant => (facts, id) =>
                GrantAccess.Decide(
                    facts,
                    JsonSerializer.Deserialize<GrantAccessRequest>(approval.Request)!,
                    new ChangeId(id),
                    actor
                ),
            ActionName.GuestInvite => (facts, id) =>
                InviteGuest.Decide(
                    facts,
                    JsonSerializer.Deserialize<InviteGuestRequest>(approval.Request)!,
                    new InvitationId(id),
                    actor
                ),
            _ => throw new InvalidOperationException($"The action {approval.Action.Text()} needs no second person."),
        };
    }

    /// <summary>A request with its plan on today's facts; null if there is none.</summary>
    public static Task<(Approval Approval, Decision Decision, ActionFacts Facts)?> Look(this Database database, ApprovalId id) =>
        database.Read<(Approval, Decision, ActionFacts)?>(async connection =>
            await connection.Approval(id) is { } approval
            && await FactReader.Of(database, connection).OfSite(_ => new Scope.Everything(), approval.Site) is { } facts
                ? (approval, Decider(approval, null)(facts, Guid.Empty), facts)
                : null
        );

    /// <summary>A second person agrees. The action is decided on today's facts and carried out in the same transaction.</summary>
    /// <param name="seen">The fingerprint of the plan that they agree to.</param>
    public static ApprovalAction Approve(Guid id, string seen, Viewer viewer) =>
        new(
            ActionName.ApprovalApprove,
            id,
            viewer,
            async (source, approval, facts) =>
            {
                if (!approval.MayBeAnsweredBy(viewer.Person))
                {
                    return Decided<ApprovalPlan>.Refuse(
                        approval.State == ApprovalState.Requested ? new ApprovalOfViewer() : Over(approval)
                    );
                }

                var today = await source.MayStill(approval.By, approval.As)
                    ? Decider(approval, viewer.Person)(facts, Guid.NewGuid())
                    : new Decision.Refusal([new ApprovalRequesterMayNot(facts.PeopleDirectory.Find(approval.By)?.Name)]);
                var answered = approval.Answer(today, seen, viewer.Person, source.Now);
                return today switch
                {
                    Decision.Plan plan when answered.State == ApprovalState.Approved => new Decided<ApprovalPlan>.Planned(
                        new ApprovalPlan(answered, facts, plan),
                        plan.Fingerprint
                    ),
                    Decision.Plan plan => new Decided<ApprovalPlan>.Another(
                        new ApprovalPlan(answered, facts, plan),
                        answered.Renewed == approval.Renewed ? null : Recorded(answered, JournalAction.ApprovalRenewed)
                    ),
                    Decision.Refusal(var reasons) => new Decided<ApprovalPlan>.Refused(
                        reasons,
                        Recorded(answered, JournalAction.ApprovalVoid)
                    ),
                    _ => throw new InvalidOperationException("A decision is a plan or a refusal."),
                };
            },
            async (change, plan) =>
            {
                await change.Put(plan.Approval);
                var entry = plan.Approval.Entry(JournalAction.ApprovalApproved, viewer.InJournal);
                return await SiteAction.Commit(
                    change,
                    new PlanOnSite(plan.Plan! with { Entries = [.. plan.Plan.Entries, entry] }, plan.Facts)
                );
            }
        );

    public static ApprovalAction Decline(Guid id, string? reason, Viewer viewer) =>
        new(
            ActionName.ApprovalDecline,
            id,
            viewer,
            (source, approval, facts) =>
                Task.FromResult(
                    approval.MayBeAnsweredBy(viewer.Person)
                        ? Planned(
                            approval.Move(ApprovalEvent.Decline) with
                            {
                                AnsweredBy = viewer.Person,
                                EndedAt = source.Now,
                            },
                            facts
                        )
                        : Decided<ApprovalPlan>.Refuse(
                            approval.State == ApprovalState.Requested ? new ApprovalToWithdraw() : Over(approval)
                        )
                ),
            async (change, plan) =>
            {
                var (approval, facts) = (plan.Approval, plan.Facts);
                await change.Put(approval);
                var who = facts.PeopleDirectory.Find(viewer.Person)?.Name ?? "An administrator";
                await change.Write(
                    [
                        new Notification(
                            approval.By,
                            $"declined:{approval.Id}",
                            $"{facts.Site.Title}: a second person did not agree",
                            [$"{who} did not agree{(reason is null ? "" : $": {reason}")}."]
                        ),
                    ],
                    facts.PeopleDirectory.Time
                );
                return ActionDone.Written(
                    (
                        await change.Append([
                            approval.Entry(JournalAction.ApprovalDeclined, viewer.InJournal) with
                            {
                                Reason = reason,
                            },
                        ])
                    )[^1]
                );
            }
        );

    public static ApprovalAction Withdraw(Guid id, Viewer viewer) =>
        new(
            ActionName.ApprovalWithdraw,
            id,
            viewer,
            (source, approval, facts) =>
                Task.FromResult(
                    approval.By == viewer.Person && approval.State == ApprovalState.Requested
                        ? Planned(approval.Move(ApprovalEvent.Withdraw) with { EndedAt = source.Now }, facts)
                        : Decided<ApprovalPlan>.Refuse(
                            approval.State == ApprovalState.Requested ? new ApprovalOfAnother() : Over(approval)
                        )
                ),
            async (change, plan) =>
            {
                await change.Put(plan.Approval);
                return ActionDone.Written(
                    (await change.Append([plan.Approval.Entry(JournalAction.ApprovalWithdrawn, viewer.InJournal)]))[^1]
                );
            }
        );

    private static Decided<ApprovalPlan> Planned(Approval approval, ActionFacts facts) =>
        new Decided<ApprovalPlan>.Planned(new ApprovalPlan(approval, facts, null), "");

    // That a request asks again or has become void is written although nothing is carried out.
    private static Func<Change, Task> Recorded(Approval answered, JournalAction what) =>
        async change =>
        {
            await change.Put(answered);
            await change.Append([answered.Entry(what, EntryActor.Product)]);
        };

    private static Remark Over(Approval approval) =>
        approval.State switch
        {
            ApprovalState.Approved => new ApprovalGiven(),
            ApprovalState.Declined => new ApprovalDeclined(),
            ApprovalState.Withdrawn => new ApprovalWithdrawn(),
            ApprovalState.Lapsed => new ApprovalLapsed(),
            _ => new ApprovalVoid(),
        };

    /// <summary>True if a person who made a request earlier may still make it in the same capacity.</summary>
    private static async Task<bool> MayStill(this FactReader facts, PersonId person, Capacity capacity) =>
        await facts.Connection.AccountOf(person) is { } account
        && account.IsOpen(facts.Now, await facts.Time())
        && Viewer.Of(account) is { MayAct: true } viewer
        && viewer.Actor().As == capacity;
}
