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

/// <summary>Runs batches, a few rows per transaction: each row is decided on the facts of its turn, and written and marked
/// together. If a server stops, each row is done or waiting, and any server continues.
/// </summary>
public sealed class BatchRunner(Database database, WakeUps wakeUps, ILogger<BatchRunner> log) : Worker(log)
{
    private const int LinesAtOnce = 10;

    public override WorkKind Kind => WorkKind.Batches;

    protected override Task Work(CancellationToken stop) => RunDue(stop);

    /// <returns>The number of rows decided.</returns>
    public async Task<int> RunDue(CancellationToken stop)
    {
        var decided = 0;
        foreach (var batch in await database.Read(connection => connection.RunningBatches(), stop))
        {
            while (await Step(batch.Id, stop) is > 0 and var lines)
            {
                decided += lines;
                wakeUps.Wake(stop, WorkKind.HostChanges, WorkKind.Mail);
            }
        }

        return decided;
    }

    /// <summary>A few rows of a batch, in one transaction.</summary>
    /// <returns>The number decided: 0 if it no longer runs or another server works on it.</returns>
    public Task<int> Step(BatchId id, CancellationToken stop) => database.Change(change => Step(change, id), stop);

    private static async Task<int> Step(Change change, BatchId id)
    {
        if (await change.Claim(id) is not { } batch)
        {
            return 0;
        }

        if (
            await change.Connection.AccountOf(batch.By) is not { } account
            || !account.IsOpen(change.Now, await change.Connection.OrganisationTime())
            || Viewer.Of(account) is not { MayAct: true } viewer
        )
        {
            var stopped = batch.Move(BatchEvent.Stop) with { Words = "The person who started it may no longer act." };
            await change.Put(stopped);
            await change.Append([
                stopped.Entry(
                    JournalAction.BatchStopped,
                    EntryActor.Product,
                    (await change.Connection.WaitingLines(id, Batch.MostSites)).Count
                ),
            ]);
            return 0;
        }

        // Lines that wait for others are passed over.
        var (waiting, facts, lines) = await NextLines(change, batch, viewer);
        var isFirst = true;
        while (lines.Count == 0 && waiting.Count == LinesAtOnce)
        {
            (waiting, facts, lines) = await NextLines(change, batch, viewer, waiting[^1].Place);
            isFirst = false;
        }

        if (lines.Count == 0 && (waiting.Count > 0 || !isFirst))
        {
            return 0;
        }

        List<(BatchLine Line, Decision Decision)> decisions =
        [
            .. lines.Select(line =>
                (
                    line,
                    facts.TryGetValue(line.Site, out var known)
                        ? BulkActions.Decide(
                            batch.RequestFor(line.Target),
                            known,
                            Guid.NewGuid(),
                            viewer.Actor(),
                            line.Target.Undoes
                        )
                        : new Decision.Refusal([new SiteGone()])
                )
            ),
        ];
        foreach (var (line, decision) in decisions)
        {
            await change.Put(
                await Written(change, batch, line.Decided(decision), decision, facts.GetValueOrDefault(line.Site), viewer.Actor())
            );
        }

        if (isFirst && lines.Count == waiting.Count && waiting.Count < LinesAtOnce)
        {
            var ended = batch.Move(BatchEvent.Finish) with { EndedAt = change.Now };
            await change.Put(ended);
            await change.Append([
                ended.Entry(
                    JournalAction.BatchEnded,
                    EntryActor.Product,
                    (await change.Connection.BatchLines(id)).Count(row => row.Line.State == BatchLineState.Carried)
                ),
            ]);
        }

        return lines.Count;
    }

    // Some lines that are waiting, their facts, and those of them whose turn has come.
    private static async Task<(List<BatchLine> Waiting, Dictionary<SiteId, ActionFacts> Facts, List<BatchLine> Lines)> NextLines(
        Change change,
        Batch batch,
        Viewer viewer,
        int after = -1
    )
    {
        var waiting = await change.Connection.WaitingLines(batch.Id, LinesAtOnce, after);
        var facts = (
            await FactReader
                .Of(change)
                .OfBatch(
                    viewer,
                    [.. waiting.Select(line => batch.RequestFor(line.Target)).DistinctBy(request => request.Action)],
                    [.. waiting.Select(line => line.Site)]
                )
        ).ToDictionary(one => one.Site.Id);
        var before = facts.Values.Any(known => known.Around.Children.Count > 0)
            ? (await change.Connection.BatchLines(batch.Id)).FindAll(row =>
                row.Outcome is BatchOutcome.Waiting or BatchOutcome.AsksSecond
            )
            : [];
        bool Waits(BatchLine line, ActionFacts known) =>
            BulkActions.WaitsForOthers(
                batch.RequestFor(line.Target).Action,
                known,
                before.Where(row => row.Line.Place < line.Place).Select(row => row.Line.Site).ToHashSet()
            );
        return (
            waiting,
            facts,
            [
                .. UntilAnAddressIsRepeated(waiting, facts)
                    .Where(line => !facts.TryGetValue(line.Site, out var known) || !Waits(line, known)),
            ]
        );
    }

    // Lines are decided on the same facts: of two sites with one address, the second has to see what became of the first.
    private static List<BatchLine> UntilAnAddressIsRepeated(
        IReadOnlyList<BatchLine> waiting,
        IReadOnlyDictionary<SiteId, ActionFacts> facts
    )
    {
        var addresses = new HashSet<(string Host, string Address)>();
        return
        [
            .. waiting.TakeWhile(line =>
                !facts.TryGetValue(line.Site, out var known)
                || !known.Site.Address.Has(out var address)
                || addresses.Add((known.Site.Host, address))
            ),
        ];
    }

    private static async Task<BatchLine> Written(
        Change change,
        Batch batch,
        BatchLine line,
        Decision decision,
        ActionFacts? facts,
        Actor actor
    )
    {
        switch (line.State)
        {
            case BatchLineState.Carried:
                await SiteAction.Commit(change, new PlanOnSite((Decision.Plan)decision, facts!));
                return line;
            case BatchLineState.AsksSecond:
                var asked = await SiteAction.AskSecond(
                    change,
                    new PlanOnSite((Decision.Plan)decision, facts!),
                    batch.RequestFor(line.Target).Action,
                    BulkActions.Request(batch.RequestFor(line.Target), actor),
                    batch.Reason,
                    actor
                );
                return line with { Approval = new ApprovalId(asked.Done.Approval!.Value) };
            default:
                return line;
        }
    }
}
