using AtticLedger.Core.Deeds;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Store;

namespace AtticLedger.Server.Batches;

/// <summary>What was wished of a batch came to.</summary>
public abstract record BatchResult
{
    public sealed record NotThere : BatchResult;

    public sealed record Refused(string Reason) : BatchResult;

    /// <param name="Place">The place in the feed; null where nothing stands in the journal.</param>
    public sealed record Done(BatchId Id, long? Place) : BatchResult;
}

/// <summary>Plans one deed for many sites, and starts, stops and resumes it. Whoever planned it steers it.</summary>
public sealed class BatchDesk(Database database)
{
    /// <summary>Decides the deed for every site in one state of the database, and keeps the plan. Nothing is changed by it.</summary>
    /// <param name="undoes">The batch that this one is to take back.</param>
    public async Task<BatchResult> Plan(Viewer viewer, string deed, IReadOnlyList<BatchTarget> targets, BatchId? undoes = null)
    {
        List<SiteId> sites = [.. targets.Select(target => target.Site)];
        var facts = await database.Read(connection =>
            database.Facts(connection, viewer.SightOn, sites, BulkDeeds.LooksAround(deed))
        );
        if (facts.Count < sites.Count)
        {
            return new BatchResult.Refused(
                sites.Count - facts.Count == 1
                    ? "One of these sites is not there."
                    : $"{sites.Count - facts.Count} of these sites are not there."
            );
        }

        var batch = new Batch
        {
            Id = new BatchId(Guid.NewGuid()),
            Deed = deed,
            By = viewer.Person,
            PlannedAt = database.Now,
            Undoes = undoes,
        };
        var bySite = facts.ToDictionary(one => one.Site.Id);
        var (gain, lose, lines) = (new HashSet<PersonId>(), new HashSet<PersonId>(), new List<BatchLine>(sites.Count));
        foreach (var (place, target) in targets.Index())
        {
            var decision = BulkDeeds.Decide(deed, bySite[target.Site], null, Guid.Empty, viewer.Doer(), target.Undoes);
            lines.Add(BatchLine.Planned(batch.Id, place, target, decision));
            foreach (var power in (decision as Decision.Plan)?.Effect.Powers ?? [])
            {
                gain.UnionWith(power.Gain);
                lose.UnionWith(power.Lose);
            }
        }

        return await database.Change<BatchResult>(async change =>
        {
            await change.ForgetPlans(change.Now - Batch.PlanKept);
            await change.Put(batch with { Gain = gain.Count, Lose = lose.Count });
            await change.AddLines(lines);
            return new BatchResult.Done(batch.Id, null);
        });
    }

    /// <summary>The batch that took it back, or is doing so, and whether the viewer may look at it.</summary>
    public Task<(BatchId Id, bool MayLook)?> UndoneBy(BatchId id, Viewer viewer) =>
        database.Read<(BatchId, bool)?>(async connection =>
            await connection.UndoneBy(id) is { } by
                ? (by, await connection.Batch(by) is { } batch && MayLook(batch, viewer))
                : null
        );

    /// <summary>The batch, for whoever planned it and for those who see everything.</summary>
    public Task<(Batch Batch, IReadOnlyList<BatchLineRow> Lines)?> Look(BatchId id, Viewer viewer) =>
        database.Read<(Batch, IReadOnlyList<BatchLineRow>)?>(async connection =>
            await connection.Batch(id) is { } batch && MayLook(batch, viewer) ? (batch, await connection.BatchLines(id)) : null
        );

    public Task<List<(Batch Batch, List<(BatchOutcome Outcome, int Count)> Counts)>> Lately(Viewer viewer, TimeSpan since) =>
        database.Read(async connection =>
        {
            var batches = (await connection.BatchesSince(database.Now - since)).FindAll(batch => MayLook(batch, viewer));
            var counts = await connection.BatchCounts([.. batches.Select(batch => batch.Id)]);
            return batches.ConvertAll(batch => (batch, counts[batch.Id].ToList()));
        });

    /// <param name="number">The number of sites as it was typed, where the deed wants it.</param>
    public Task<BatchResult> Start(BatchId id, Viewer viewer, int? number, string? reason) =>
        Steer(
            id,
            viewer,
            BatchEvent.Start,
            "started",
            async (change, batch) =>
            {
                if (reason?.Length > NarrowReach.LongestReason)
                {
                    return $"The reason is {reason.Length} characters long; {NarrowReach.LongestReason} is the most.";
                }

                var waiting = (await change.Connection.WaitingLines(id, Batch.MostSites)).Count;
                return waiting == 0 ? "There is no site on which it could be done."
                    : BulkDeeds.WantsNumber(batch.Deed) && number != waiting ? $"Type the number of sites: {waiting}."
                    : null;
            },
            reason
        );

    public Task<BatchResult> Stop(BatchId id, Viewer viewer) => Steer(id, viewer, BatchEvent.Stop, "stopped");

    public Task<BatchResult> Resume(BatchId id, Viewer viewer) => Steer(id, viewer, BatchEvent.Resume, "resumed");

    /// <summary>Plans the deed anew for the sites on which it was not done, because the effect was another or something stood against it.</summary>
    public async Task<BatchResult> Again(BatchId id, Viewer viewer)
    {
        if (await Look(id, viewer) is not var (batch, lines) || batch.By != viewer.Person)
        {
            return new BatchResult.NotThere();
        }

        List<BatchTarget> left =
        [
            .. lines
                .Where(row =>
                    row.Outcome
                        is BatchOutcome.Changed
                            or BatchOutcome.Refused
                            or BatchOutcome.HostRefused
                            or BatchOutcome.Contradicted
                    || (batch.State == BatchState.Planned && row.Line.State == BatchLineState.Waiting)
                )
                .Select(row => row.Line.Target),
        ];
        return left.Count == 0
            ? new BatchResult.Refused("No site is left on which it was not done.")
            : await Plan(viewer, batch.Deed, left, batch.Undoes);
    }

    /// <summary>Plans to take a batch back on every site where it was done: a batch of its own, decided on today's facts.</summary>
    public async Task<BatchResult> PlanUndo(BatchId id, Viewer viewer)
    {
        if (await Look(id, viewer) is not var (batch, lines))
        {
            return new BatchResult.NotThere();
        }

        if (BulkDeeds.UndoOf(batch.Deed) is not { } deed)
        {
            return new BatchResult.Refused(
                "What it did cannot be taken back: letters are sent, and sites that came back are put away one by one."
            );
        }

        if (batch.State is BatchState.Planned or BatchState.Running)
        {
            return new BatchResult.Refused(
                batch.State == BatchState.Running ? "It is still under way. Stop it first." : Standing(batch)
            );
        }

        List<BatchTarget> done =
        [
            .. lines.Where(row => row.WasDone).Select(row => new BatchTarget(row.Line.Site, row.Line.Order)),
        ];
        return done.Count == 0
            ? new BatchResult.Refused("Nothing of it was done, so there is nothing to take back.")
            : await Plan(viewer, deed, done, id);
    }

    private Task<BatchResult> Steer(
        BatchId id,
        Viewer viewer,
        BatchEvent happened,
        string what,
        Func<Change, Batch, Task<string?>>? refuse = null,
        string? reason = null
    ) =>
        database.Change<BatchResult>(async change =>
        {
            await change.AskStill(viewer);
            if (await change.Connection.Batch(id) is not { } batch || batch.By != viewer.Person)
            {
                return new BatchResult.NotThere();
            }

            if (BatchStates.After(batch.State, happened) is not { } next)
            {
                return new BatchResult.Refused(Standing(batch));
            }

            if (refuse is not null && await refuse(change, batch) is { } against)
            {
                return new BatchResult.Refused(against);
            }

            var moved = batch.Move(happened) with
            {
                StartedAt = batch.StartedAt ?? change.Now,
                Reason = reason ?? batch.Reason,
                Words = null,
            };
            await change.Put(moved);
            var numbers = await change.Append([
                moved.Entry(what, viewer.InJournal, (await change.Connection.WaitingLines(id, Batch.MostSites)).Count),
            ]);
            return new BatchResult.Done(id, numbers[0]);
        });

    private static bool MayLook(Batch batch, Viewer viewer) =>
        batch.By == viewer.Person || (viewer.Role is Role.Administrator or Role.Auditor && batch.State != BatchState.Planned);

    private static string Standing(Batch batch) =>
        batch.State switch
        {
            BatchState.Planned => "It has not been started.",
            BatchState.Running => "It runs already.",
            BatchState.Stopped => "It is stopped already.",
            _ => "It has ended.",
        };
}
