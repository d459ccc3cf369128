using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.Batches;

/// <summary>Starts, stops or resumes a batch: only the person who planned it can.</summary>
internal sealed class SteerBatch(ActionName name, Guid id, Viewer viewer, BatchEvent happened, JournalAction what)
    : RequestedAction<SteerBatch.Steered, BatchIdResponse>
{
    /// <summary>The batch afterwards, and how many of its rows wait.</summary>
    public sealed record Steered(Batch Batch, int Waiting);

    private readonly BatchId batchId = new(id);

    public override ActionName Name => name;

    /// <summary>The number of sites as it was typed, if the action requires it.</summary>
    public int? Number { get; init; }

    public string? Reason { get; init; }

    public override async Task<Decided<Steered>> Decide(FactReader facts)
    {
        if (await facts.Connection.Batch(batchId) is not { } batch || batch.By != viewer.Person)
        {
            return new Decided<Steered>.NotSeen("batch");
        }

        if (!BatchStates.Table.Allows(batch.State, happened))
        {
            return Decided<Steered>.Refuse(BatchActions.Standing(batch));
        }

        var lines = await facts.Connection.WaitingLines(batchId, Batch.MostSites);
        var waiting = lines.Count;
        return happened == BatchEvent.Start && Refusal(batch, lines) is { } why
            ? Decided<Steered>.Refuse(why)
            : new Decided<Steered>.Planned(
                new Steered(
                    batch.Move(happened) with
                    {
                        StartedAt = batch.StartedAt ?? facts.Now,
                        Reason = Reason ?? batch.Reason,
                        Words = null,
                    },
                    waiting
                ),
                ""
            );
    }

    public override async Task<Written<BatchIdResponse>> Write(Change change, Steered plan)
    {
        await change.Put(plan.Batch);
        var numbers = await change.Append([plan.Batch.Entry(what, viewer.InJournal, plan.Waiting)]);
        return new Written<BatchIdResponse>(numbers[0], new BatchIdResponse(id));
    }

    public override IReadOnlyList<WorkKind> Wakes => [WorkKind.Batches];

    private Remark? Refusal(Batch batch, IReadOnlyList<BatchLine> waiting)
    {
        var actions = batch.Actions(waiting);
        return Reason?.Length > RestrictReach.LongestReason ? new ReasonTooLong(Reason.Length, RestrictReach.LongestReason)
            : waiting.Count == 0 ? new BatchImpossible()
            : actions.Any(BulkActions.WantsNumber) && Number != waiting.Count ? new BatchNumberTypedWrong(waiting.Count)
            : (Reason ?? batch.Reason) is null && actions.Any(action => BulkActions.WantsReason(action, viewer.Actor()))
                ? new BatchNeedsReason()
            : null;
    }
}
