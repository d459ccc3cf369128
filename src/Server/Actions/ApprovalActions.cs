using System.Globalization;
using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Store;

namespace AtticLedger.Server.Actions;

/// <summary>The result of a second person's answer.</summary>
public abstract record ApprovalResult
{
    public sealed record NotThere : ApprovalResult;

    public sealed record Done(long Place) : ApprovalResult;

    public sealed record Carried(ActionOutcome.Done Action) : ApprovalResult;

    /// <summary>The facts have changed: the request asks again with this new plan.</summary>
    public sealed record Renewed(Decision.Plan Plan, ActionFacts Facts) : ApprovalResult;

    public sealed record Refused(IReadOnlyList<string> Reasons) : ApprovalResult;
}

/// <summary>Actions that wait for a second person: their plan on today's facts, and the answer.</summary>
public sealed class ApprovalActions(Database database)
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
                        $"{facts.PeopleDirectory.Find(approval.By)?.Name ?? "Somebody"} requests a second person: {approval.Because}",
                        $"It is on your desk until the end of {approval.Through.ToString("d MMM yyyy", CultureInfo.InvariantCulture)}.",
                    ],
                    Urgent: true
                )),
        ];

    /// <summary>How a stored action is decided, with the second person.</summary>
    public static ActionExecutor.Decide Decider(Approval approval, PersonId? second)
    {
        var actor = new Actor(approval.By, approval.As, second);
        return approval.Action switch
        {
            MoveToAttic.Action => (facts, id) =>
                MoveToAttic.Decide(
                    facts,
                    JsonSerializer.Deserialize<MoveToAtticRequest>(approval.Request)!,
                    new ChangeId(id),
                    actor
                ),
            HandOver.Action => (facts, id) =>
                HandOver.Offer(facts, JsonSerializer.Deserialize<OfferRequest>(approval.Request)!, new OfferId(id), actor),
            _ => throw new InvalidOperationException($"The action {approval.Action} needs no second person."),
        };
    }

    public Task<(Approval Approval, Decision Decision, ActionFacts Facts)?> Look(ApprovalId id) =>
        database.Read<(Approval, Decision, ActionFacts)?>(async connection =>
            await connection.Approval(id) is { } approval
            && await database.Facts(connection, _ => new Scope.Everything(), approval.Site) is { } facts
                ? (approval, Decider(approval, null)(facts, Guid.Empty), facts)
                : null
        );

    /// <summary>A second person agrees. The action is decided on today's facts and carried out in the same transaction.</summary>
    public Task<ApprovalResult> Approve(ApprovalId id, string seen, Viewer viewer) =>
        Answer(id, viewer, async (change, approval, facts) =>
        {
            if (!approval.MayBeAnsweredBy(viewer.Person))
            {
                return new ApprovalResult.Refused([
                    approval.State == ApprovalState.Requested ? "You cannot agree to your own request." : Over(approval),
                ]);
            }

            var today = await change.MayStill(approval.By, approval.As)
                ? Decider(approval, viewer.Person)(facts, Guid.NewGuid())
                : new Decision.Refusal([
                    $"{facts.PeopleDirectory.Find(approval.By)?.Name ?? "The person who requested it"} requested it and may no longer do so.",
                ]);
            var answered = approval.Answer(today, seen, viewer.Person, change.Now);
            switch (today)
            {
                case Decision.Plan plan when answered.State == ApprovalState.Approved:
                    await change.Put(answered);
                    var entry = answered.Entry(JournalAction.ApprovalApproved, viewer.InJournal);
                    return new ApprovalResult.Carried(
                        await ActionExecutor.Commit(change, plan with { Entries = [.. plan.Entries, entry] }, facts)
                    );
                case Decision.Plan plan:
                    if (answered.Renewed != approval.Renewed)
                    {
                        await change.Put(answered);
                        await change.Append([answered.Entry(JournalAction.ApprovalRenewed, EntryActor.Product)]);
                    }

                    return new ApprovalResult.Renewed(plan, facts);
                case Decision.Refusal(var reasons):
                    await change.Put(answered);
                    await change.Append([answered.Entry(JournalAction.ApprovalVoid, EntryActor.Product)]);
                    return new ApprovalResult.Refused(reasons);
                default:
                    throw new InvalidOperationException("A decision is a plan or a refusal.");
            }
        });

    public Task<ApprovalResult> Decline(ApprovalId id, string? reason, Viewer viewer) =>
        Answer(id, viewer, async (change, approval, facts) =>
        {
            if (!approval.MayBeAnsweredBy(viewer.Person))
            {
                return new ApprovalResult.Refused([
                    approval.State == ApprovalState.Requested ? "Withdraw your own request instead." : Over(approval),
                ]);
            }

            await change.Put(approval.Move(ApprovalEvent.Decline) with { AnsweredBy = viewer.Person, EndedAt = change.Now });
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
            var numbers = await change.Append([
                approval.Entry(JournalAction.ApprovalDeclined, viewer.InJournal) with
                {
                    Reason = reason,
                },
            ]);
            return new ApprovalResult.Done(numbers[0]);
        });

    public Task<ApprovalResult> Withdraw(ApprovalId id, Viewer viewer) => Answer(id, viewer, async (change, approval, _) =>
        {
            if (approval.By != viewer.Person || approval.State != ApprovalState.Requested)
            {
                return new ApprovalResult.Refused([
                    approval.State == ApprovalState.Requested
                        ? "Only the person who requested it can withdraw it."
                        : Over(approval),
                ]);
            }

            await change.Put(approval.Move(ApprovalEvent.Withdraw) with { EndedAt = change.Now });
            var numbers = await change.Append([approval.Entry(JournalAction.ApprovalWithdrawn, viewer.InJournal)]);
            return new ApprovalResult.Done(numbers[0]);
        });

    private Task<ApprovalResult> Answer(
        ApprovalId id,
        Viewer viewer,
        Func<Change, Approval, ActionFacts, Task<ApprovalResult>> answer
    ) =>
        database.Change<ApprovalResult>(async change =>
        {
            await change.AskStill(viewer);
            return
                await change.Connection.Approval(id) is { } approval
                && (viewer.Role == Role.Administrator || approval.By == viewer.Person)
                && await change.Facts(_ => new Scope.Everything(), approval.Site) is { } facts
                ? await answer(change, approval, facts)
                : new ApprovalResult.NotThere();
        });

    private static string Over(Approval approval) =>
        approval.State switch
        {
            ApprovalState.Approved => "A second person has already agreed.",
            ApprovalState.Declined => "A second person did not agree.",
            ApprovalState.Withdrawn => "It was withdrawn.",
            ApprovalState.Lapsed => "Nobody answered in time, so it lapsed.",
            _ => "The action is no longer possible.",
        };
}
