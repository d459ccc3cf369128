using System.Globalization;
using System.Text.Json;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Store;

namespace AtticLedger.Server.Deeds;

/// <summary>What a second person's answer came to.</summary>
public abstract record ApprovalResult
{
    public sealed record NotThere : ApprovalResult;

    public sealed record Done(long Place) : ApprovalResult;

    public sealed record Carried(DeedResult.Done Deed) : ApprovalResult;

    /// <summary>The facts have changed: it is asked anew, and this is what it would come to now.</summary>
    public sealed record Renewed(Decision.Plan Plan, DeedFacts Facts) : ApprovalResult;

    public sealed record Refused(IReadOnlyList<string> Reasons) : ApprovalResult;
}

/// <summary>Deeds that wait for a second person: what they would come to today, and the answer.</summary>
public sealed class ApprovalDesk(Database database)
{
    public static IReadOnlyList<Letter> Letters(Approval approval, DeedFacts facts) =>
        [
            .. facts
                .Administrators.Where(person => person != approval.By)
                .Select(person => new Letter(
                    person,
                    $"approval:{approval.Id}",
                    $"{facts.Site.Title} waits for a second person",
                    [
                        $"{facts.Roll.Find(approval.By)?.Name ?? "Somebody"} asks for a second person: {approval.Because}",
                        $"It stands on the desk through {approval.Through.ToString("d MMM yyyy", CultureInfo.InvariantCulture)}.",
                    ],
                    Urgent: true
                )),
        ];

    /// <summary>How a deed that was kept is decided, with the second person in it.</summary>
    public static DeedDesk.Decide Decider(Approval approval, PersonId? second)
    {
        var doer = new Doer(approval.By, approval.As, second);
        return approval.Deed switch
        {
            PutAway.Deed => (facts, id) =>
                PutAway.Decide(facts, JsonSerializer.Deserialize<PutAwayWish>(approval.Wish)!, new OrderId(id), doer),
            HandOver.Deed => (facts, id) =>
                HandOver.Offer(facts, JsonSerializer.Deserialize<OfferWish>(approval.Wish)!, new OfferId(id), doer),
            _ => throw new InvalidOperationException($"The deed {approval.Deed} needs no second person."),
        };
    }

    public Task<(Approval Approval, Decision Decision, DeedFacts Facts)?> Look(ApprovalId id) =>
        database.Read<(Approval, Decision, DeedFacts)?>(async connection =>
            await connection.Approval(id) is { } approval
            && await database.Facts(connection, _ => new Sight.Everything(), approval.Site) is { } facts
                ? (approval, Decider(approval, null)(facts, Guid.Empty), facts)
                : null
        );

    /// <summary>A second person agrees. The deed is decided on today's facts and carried out in the same transaction.</summary>
    public Task<ApprovalResult> Give(ApprovalId id, string seen, Viewer viewer) =>
        Answer(id, viewer, async (change, approval, facts) =>
        {
            if (!approval.MayBeAnsweredBy(viewer.Person))
            {
                return new ApprovalResult.Refused([
                    approval.State == ApprovalState.Asked ? "Nobody agrees to what they asked for themselves." : Over(approval),
                ]);
            }

            var today = await change.MayStill(approval.By, approval.As)
                ? Decider(approval, viewer.Person)(facts, Guid.NewGuid())
                : new Decision.Refusal([
                    $"{facts.Roll.Find(approval.By)?.Name ?? "Whoever asked for it"} asked for it and may no longer do so.",
                ]);
            var answered = approval.Answer(today, seen, viewer.Person, change.Now);
            switch (today)
            {
                case Decision.Plan plan when answered.State == ApprovalState.Given:
                    await change.Put(answered);
                    var entry = answered.Entry("given", viewer.InJournal);
                    return new ApprovalResult.Carried(
                        await DeedDesk.Commit(change, plan with { Entries = [.. plan.Entries, entry] }, facts)
                    );
                case Decision.Plan plan:
                    if (answered.Renewed != approval.Renewed)
                    {
                        await change.Put(answered);
                        await change.Append([answered.Entry("renewed", "house")]);
                    }

                    return new ApprovalResult.Renewed(plan, facts);
                case Decision.Refusal(var reasons):
                    await change.Put(answered);
                    await change.Append([answered.Entry("void", "house")]);
                    return new ApprovalResult.Refused(reasons);
                default:
                    throw new InvalidOperationException("A decision is a plan or a refusal.");
            }
        });

    public Task<ApprovalResult> TurnDown(ApprovalId id, string? reason, Viewer viewer) =>
        Answer(id, viewer, async (change, approval, facts) =>
        {
            if (!approval.MayBeAnsweredBy(viewer.Person))
            {
                return new ApprovalResult.Refused([
                    approval.State == ApprovalState.Asked ? "Withdraw what you asked for yourself." : Over(approval),
                ]);
            }

            await change.Put(approval.Move(ApprovalEvent.TurnDown) with { AnsweredBy = viewer.Person, EndedAt = change.Now });
            var who = facts.Roll.Find(viewer.Person)?.Name ?? "An administrator";
            await change.Write(
                [
                    new Letter(
                        approval.By,
                        $"turned-down:{approval.Id}",
                        $"{facts.Site.Title}: a second person did not agree",
                        [$"{who} did not agree{(reason is null ? "" : $": {reason}")}."]
                    ),
                ],
                facts.Roll.Time
            );
            var numbers = await change.Append([approval.Entry("turned-down", viewer.InJournal) with { Reason = reason }]);
            return new ApprovalResult.Done(numbers[0]);
        });

    public Task<ApprovalResult> Withdraw(ApprovalId id, Viewer viewer) => Answer(id, viewer, async (change, approval, _) =>
        {
            if (approval.By != viewer.Person || approval.State != ApprovalState.Asked)
            {
                return new ApprovalResult.Refused([
                    approval.State == ApprovalState.Asked ? "Only who asked can withdraw it." : Over(approval),
                ]);
            }

            await change.Put(approval.Move(ApprovalEvent.Withdraw) with { EndedAt = change.Now });
            var numbers = await change.Append([approval.Entry("withdrawn", viewer.InJournal)]);
            return new ApprovalResult.Done(numbers[0]);
        });

    private Task<ApprovalResult> Answer(
        ApprovalId id,
        Viewer viewer,
        Func<Change, Approval, DeedFacts, Task<ApprovalResult>> answer
    ) =>
        database.Change<ApprovalResult>(async change =>
        {
            await change.AskStill(viewer);
            return
                await change.Connection.Approval(id) is { } approval
                && (viewer.Role == Role.Administrator || approval.By == viewer.Person)
                && await change.Facts(_ => new Sight.Everything(), approval.Site) is { } facts
                ? await answer(change, approval, facts)
                : new ApprovalResult.NotThere();
        });

    private static string Over(Approval approval) =>
        approval.State switch
        {
            ApprovalState.Given => "Somebody has agreed already.",
            ApprovalState.TurnedDown => "It was turned down.",
            ApprovalState.Withdrawn => "It was withdrawn.",
            ApprovalState.Lapsed => "Nobody answered in time; it has lapsed.",
            _ => "The deed can no longer be done.",
        };
}
