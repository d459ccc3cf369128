using AtticLedger.Core.Deeds;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Lanes;
using AtticLedger.Server.Mail;
using AtticLedger.Store;

namespace AtticLedger.Server.Batches;

/// <summary>
/// Works off batches, a few lines a transaction: each line is decided on the facts of its turn, and written and marked
/// together. Whatever stops a server, its lines are done or wait, and any server goes on with them.
/// </summary>
public sealed class BatchRunner(Database database, OrderLanes lanes, MailRoom room, ILogger<BatchRunner> log)
{
    private const int LinesAtOnce = 10;
    private int running;

    /// <summary>Works off what runs, in the background.</summary>
    public void Wake(CancellationToken stop)
    {
        if (Interlocked.Exchange(ref running, 1) == 0)
        {
            _ = Task.Run(() => InBackground(stop), stop);
        }
    }

    /// <returns>How many lines were decided.</returns>
    public async Task<int> RunDue(CancellationToken stop)
    {
        var decided = 0;
        foreach (var batch in await database.Read(connection => connection.RunningBatches(), stop))
        {
            while (await Step(batch.Id, stop) is > 0 and var lines)
            {
                decided += lines;
                lanes.Wake(stop);
                room.Wake(stop);
            }
        }

        return decided;
    }

    /// <summary>A few lines of a batch, in one transaction.</summary>
    /// <returns>How many were decided: none where it runs no more, or another server is at it.</returns>
    public Task<int> Step(BatchId id, CancellationToken stop) => database.Change(change => Step(change, id), stop);

    private async Task InBackground(CancellationToken stop)
    {
        try
        {
            await RunDue(stop);
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogError(fault, "The batches stopped; the schedule wakes them again");
        }
        finally
        {
            Volatile.Write(ref running, 0);
        }
    }

    private static async Task<int> Step(Change change, BatchId id)
    {
        if (await change.Claim(id) is not { } batch)
        {
            return 0;
        }

        if (
            await change.Connection.AccountOf(batch.By) is not { } account
            || !account.IsOpen(change.Now, await change.Connection.HouseTime())
            || Viewer.Of(account) is not { MayAct: true } viewer
        )
        {
            var stopped = batch.Move(BatchEvent.Stop) with { Words = "Whoever started it may no longer act." };
            await change.Put(stopped);
            await change.Append([
                stopped.Entry("stopped", "house", (await change.Connection.WaitingLines(id, Batch.MostSites)).Count),
            ]);
            return 0;
        }

        var lines = await change.Connection.WaitingLines(id, LinesAtOnce);
        var facts = (
            await change.Facts(viewer.SightOn, [.. lines.Select(line => line.Site)], BulkDeeds.LooksAround(batch.Deed))
        ).ToDictionary(one => one.Site.Id);
        List<(BatchLine Line, Decision Decision)> decisions =
        [
            .. lines.Select(line =>
                (
                    line,
                    facts.TryGetValue(line.Site, out var known)
                        ? BulkDeeds.Decide(batch.Deed, known, batch.Reason, Guid.NewGuid(), viewer.Doer(), line.Target.Undoes)
                        : new Decision.Refusal(["The site is not there any more, or no longer in your part."])
                )
            ),
        ];
        foreach (var (line, decision) in decisions)
        {
            await change.Put(
                await Written(change, batch, line.Decided(decision), decision, facts.GetValueOrDefault(line.Site), viewer.Doer())
            );
        }

        if (lines.Count < LinesAtOnce)
        {
            var ended = batch.Move(BatchEvent.Finish) with { EndedAt = change.Now };
            await change.Put(ended);
            await change.Append([
                ended.Entry(
                    "ended",
                    "house",
                    (await change.Connection.BatchLines(id)).Count(row => row.Line.State == BatchLineState.Carried)
                ),
            ]);
        }

        return lines.Count;
    }

    private static async Task<BatchLine> Written(
        Change change,
        Batch batch,
        BatchLine line,
        Decision decision,
        DeedFacts? facts,
        Doer doer
    )
    {
        switch (line.State)
        {
            case BatchLineState.Carried:
                await DeedDesk.Commit(change, (Decision.Plan)decision, facts!);
                return line;
            case BatchLineState.AsksSecond:
                var asked = await DeedDesk.AskSecond(
                    change,
                    facts!,
                    batch.Deed,
                    BulkDeeds.Wish(batch.Deed, batch.Reason),
                    batch.Reason,
                    doer,
                    (Decision.Plan)decision
                );
                return line with { Approval = new ApprovalId(asked.Approval!.Value) };
            default:
                return line;
        }
    }
}
