using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Batches;

/// <summary>The result of a request on a batch.</summary>
public abstract record BatchResult
{
    public sealed record NotThere : BatchResult;

    public sealed record Refused(Remark Reason) : BatchResult;

    public sealed record Done(BatchId Id) : BatchResult;
}

/// <summary>Plans one action for many sites, again for some of them, or its undo.</summary>
public sealed class BatchActions(Database database)
{
    /// <summary>Decides the action for every site on one state of the database, and stores the plan. Nothing is
    /// changed.</summary>
    /// <param name="undoes">The batch that this one undoes.</param>
    public async Task<BatchResult> Plan(
        Viewer viewer,
        BulkRequest request,
        IReadOnlyList<BatchTarget> targets,
        BatchId? undoes = null
    )
    {
        List<SiteId> sites = [.. targets.Select(target => target.Site)];
        var facts = await database.Read(connection => FactReader.Of(database, connection).OfBatch(viewer, request.Action, sites));
        if (facts.Count < sites.Count)
        {
            return new BatchResult.Refused(new BatchSitesMissing(sites.Count - facts.Count));
        }

        var batch = new Batch
        {
            Id = new BatchId(Guid.NewGuid()),
            Action = request.Action,
            Person = request.Person,
            Group = request.Group,
            Reason = request.Reason,
            By = viewer.Person,
            PlannedAt = database.Now,
            Undoes = undoes,
        };
        var bySite = facts.ToDictionary(one => one.Site.Id);
        var (gain, lose, lines) = (new HashSet<PersonId>(), new HashSet<PersonId>(), new List<BatchLine>(sites.Count));
        var going = new HashSet<SiteId>();
        foreach (var (place, target) in targets.Index())
        {
            var decision = BulkActions.Decide(
                request,
                bySite[target.Site].After(request.Action, going),
                Guid.Empty,
                viewer.Actor(),
                target.Undoes
            );
            if (decision is Decision.Plan)
            {
                going.Add(target.Site);
            }

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
            return new BatchResult.Done(batch.Id);
        });
    }

    /// <summary>The batch that undid it or is undoing it, and whether the viewer may see it.</summary>
    public Task<(BatchId Id, bool MayLook)?> UndoneBy(BatchId id, Viewer viewer) =>
        database.Read<(BatchId, bool)?>(async connection =>
            await connection.UndoneBy(id) is { } by
                ? (by, await connection.Batch(by) is { } batch && MayLook(batch, viewer))
                : null
        );

    /// <summary>The batch, for the person who planned it and for those who see everything.</summary>
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

    /// <summary>Plans the action again for the sites on which it was not done because the effect differed or it was
    /// refused.</summary>
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
        return left.Count == 0 ? new BatchResult.Refused(new BatchDone()) : await Plan(viewer, batch.Request, left, batch.Undoes);
    }

    /// <summary>Plans to undo a batch on every site where it was done: a new batch, decided on today's facts.</summary>
    public async Task<BatchResult> PlanUndo(BatchId id, Viewer viewer)
    {
        if (await Look(id, viewer) is not var (batch, lines))
        {
            return new BatchResult.NotThere();
        }

        if (BulkActions.UndoOf(batch.Action) is not { } action)
        {
            return new BatchResult.Refused(new BatchNotUndone());
        }

        if (batch.State is BatchState.Planned or BatchState.Running)
        {
            return new BatchResult.Refused(batch.State == BatchState.Running ? new BatchToStop() : Standing(batch));
        }

        List<BatchTarget> done =
        [
            .. lines.Where(row => row.WasDone).Select(row => new BatchTarget(row.Line.Site, row.Line.HostChange)),
        ];
        return done.Count == 0
            ? new BatchResult.Refused(new BatchDidNothing())
            : await Plan(viewer, batch.Request with { Action = action, Reason = null }, done, id);
    }

    /// <summary>The sites of a viewer's scope on which a person or a group is granted something by name.</summary>
    /// <param name="host">Only those of one host.</param>
    public Task<List<SiteId>> Named(BulkRequest request, string? host, VisibleRegister seen, DateOnly today) =>
        database.Read(async connection =>
        {
            var granted = await connection.GrantedTo(request.Person, request.Group is { } group ? [group] : [], [], today);
            return granted
                .Select(grant => grant.Site)
                .Distinct()
                .Where(site =>
                    seen.Find(site) is { Existence: Existence.InUse, NoLongerReported: false } line
                    && (host is null || line.Host == host)
                )
                .ToList();
        });

    /// <summary>Some sites, each after all below it.</summary>
    public Task<List<SiteId>> WithBelow(IEnumerable<long> sites) =>
        database.Read(async connection =>
        {
            var all = new List<SiteId>();
            foreach (var site in sites.Distinct().Select(id => new SiteId(id)))
            {
                all.AddRange(await connection.SitesBelow(site));
                all.Add(site);
            }

            return all.Distinct().ToList();
        });

    private static bool MayLook(Batch batch, Viewer viewer) =>
        batch.By == viewer.Person || (viewer.Role is Role.Administrator or Role.Auditor && batch.State != BatchState.Planned);

    internal static Remark Standing(Batch batch) =>
        batch.State switch
        {
            BatchState.Planned => new BatchNotStarted(),
            BatchState.Running => new BatchRunning(),
            BatchState.Stopped => new BatchStopped(),
            _ => new BatchEnded(),
        };
}
