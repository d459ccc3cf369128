using System.Collections.Immutable;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
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

/// <summary>Plans one action for many sites or the remedies of a cause, adjusts the plan, plans it again for some of them, or its
/// undo.</summary>
public sealed class BatchActions(Database database, LiveRegister register)
{
    private static readonly IReadOnlySet<SiteId> None = new HashSet<SiteId>();

    /// <summary>Decides the action for every site on one state of the database, and stores the plan. Nothing is
    /// changed.</summary>
    /// <param name="undoes">The batch that this one undoes.</param>
    public Task<BatchResult> Plan(
        Viewer viewer,
        BulkRequest request,
        IReadOnlyList<BatchTarget> targets,
        BatchId? undoes = null
    ) =>
        Plan(
            viewer,
            new Batch
            {
                Id = new BatchId(Guid.NewGuid()),
                Action = request.Action,
                Person = request.Person,
                Group = request.Group,
                Cause = request.Cause,
                Reason = request.Reason,
                By = viewer.Person,
                PlannedAt = database.Now,
                Undoes = undoes,
            },
            targets,
            None
        );

    /// <summary>Decides to rename every site for which a name is proposed; the others are left out.</summary>
    /// <param name="proposed">The new name of a site; null if it keeps the one that it has.</param>
    public Task<BatchResult> Rename(
        Viewer viewer,
        IReadOnlyList<SiteId> sites,
        Func<SiteFacts, string?> proposed,
        string? reason
    ) =>
        Plan(
            viewer,
            new Batch
            {
                Id = new BatchId(Guid.NewGuid()),
                Action = ActionName.SiteLook,
                Reason = reason,
                By = viewer.Person,
                PlannedAt = database.Now,
            },
            [.. sites.Select(site => new BatchTarget(site))],
            None,
            proposed
        );

    /// <summary>Plans it again with another action on some of its sites, or without them.</summary>
    /// <param name="sites">The sites; null for all.</param>
    /// <param name="action">What is done there instead; null to leave them out; the batch's own for what is proposed.</param>
    /// <param name="person">Who is asked to become an owner; null for who is proposed.</param>
    /// <param name="through">The last day of an exception; null for the one that is proposed.</param>
    /// <param name="name">The new name, where sites are renamed; null for the one that is planned.</param>
    public async Task<BatchResult> Adjust(
        BatchId id,
        Viewer viewer,
        IReadOnlySet<SiteId>? sites,
        ActionName? action,
        PersonId? person,
        DateOnly? through,
        string? name
    )
    {
        if (await Look(id, viewer) is not var (batch, lines) || batch.By != viewer.Person)
        {
            return new BatchResult.NotThere();
        }

        if (batch.State != BatchState.Planned)
        {
            return new BatchResult.Refused(Standing(batch));
        }

        bool IsMeant(SiteId site) => sites is null || sites.Contains(site);
        var leftOut = lines
            .Where(row => IsMeant(row.Line.Site) ? action is null : row.Line.State == BatchLineState.LeftOut)
            .Select(row => row.Line.Site)
            .ToHashSet();
        var chosen =
            action is null || batch.Cause is null || batch.Undoes is not null
                ? []
                : (await Choices(batch, viewer, [.. lines.Select(row => row.Line.Site).Where(IsMeant)])).ToDictionary(
                    one => one.Facts.Site.Id,
                    one => Chosen(one.Choices, action.Value, person, through)
                );
        return await Plan(
            viewer,
            batch,
            [
                .. lines
                    .Select(row => row.Line.Target)
                    .Select(target =>
                        chosen.GetValueOrDefault(target.Site) is { } own ? target with { Own = own }
                        : !IsMeant(target.Site) || action != batch.Action || batch.Undoes is not null ? target
                        : batch.Cause is not null ? target with { Own = null }
                        : name is not null && action == ActionName.SiteLook ? target with { Own = Named(batch, name) }
                        : target
                    ),
            ],
            leftOut
        );
    }

    /// <summary>What can be done on some sites about the cause of a batch.</summary>
    public async Task<IReadOnlyList<(ActionFacts Facts, IReadOnlyList<RemedyChoice> Choices)>> Choices(
        Batch batch,
        Viewer viewer,
        IReadOnlyCollection<SiteId> sites
    )
    {
        var facts = await database.Read(connection =>
            FactReader.Of(database, connection).OfBatch(viewer, [batch.Request], sites)
        );
        var load = await Load(viewer);
        return [.. facts.Select(one => (one, RemedyChoices.Of(one, batch.Cause!, load, viewer.Actor())))];
    }

    // Of several exceptions the first: the others are granted one by one.
    private static BulkRequest? Chosen(
        IReadOnlyList<RemedyChoice> choices,
        ActionName action,
        PersonId? person,
        DateOnly? through
    ) =>
        choices.FirstOrDefault(choice => choice.Request.Action == action)?.Request is not { } request
            ? null
            : request with
            {
                Person = action == ActionName.OwnerOffer ? person ?? request.Person : request.Person,
                Through = action == ActionName.ExceptionGrant ? through ?? request.Through : request.Through,
            };

    private static BulkRequest Named(Batch batch, string? name) => batch.Request with { Name = name };

    /// <param name="proposed">The new name of a site, where sites are renamed and no names are chosen yet.</param>
    private async Task<BatchResult> Plan(
        Viewer viewer,
        Batch batch,
        IReadOnlyList<BatchTarget> targets,
        IReadOnlySet<SiteId> leftOut,
        Func<SiteFacts, string?>? proposed = null
    )
    {
        List<SiteId> sites = [.. targets.Select(target => target.Site)];
        var facts = await database.Read(connection =>
            FactReader
                .Of(database, connection)
                .OfBatch(viewer, [.. targets.Select(batch.RequestFor).DistinctBy(request => request.Action)], sites)
        );
        if (facts.Count < sites.Count)
        {
            return new BatchResult.Refused(new BatchSitesMissing(sites.Count - facts.Count));
        }

        if (proposed is not null)
        {
            var names = facts.ToDictionary(one => one.Site.Id, one => proposed(one.Site));
            targets = [.. targets.Select(target => target with { Own = Named(batch, names[target.Site]) })];
            leftOut = targets.Where(target => target.Own!.Name is null).Select(target => target.Site).ToHashSet();
            if (leftOut.Count == targets.Count)
            {
                return new BatchResult.Refused(new NoNameProposed());
            }
        }

        var load = batch.Cause is null ? ImmutableDictionary<PersonId, int>.Empty : await Load(viewer);
        var plan = new BatchPlanning(batch, viewer.Actor(), load).Of(targets, facts.ToDictionary(one => one.Site.Id), leftOut);
        return await database.Change<BatchResult>(async change =>
        {
            await change.ForgetPlans(change.Now - Batch.PlanKept);
            if (await change.Connection.Batch(batch.Id) is { State: not BatchState.Planned } started)
            {
                return new BatchResult.Refused(Standing(started));
            }

            await change.Put(batch with { Gain = plan.Gain, Lose = plan.Lose });
            await change.ForgetLines(batch.Id);
            await change.AddLines(plan.Lines);
            return new BatchResult.Done(batch.Id);
        });
    }

    private async Task<IReadOnlyDictionary<PersonId, int>> Load(Viewer viewer)
    {
        var state = await register.Current();
        return state.Load(viewer.ScopeOn(state.PeopleDirectory));
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

        if (batch.State is BatchState.Planned or BatchState.Running)
        {
            return new BatchResult.Refused(batch.State == BatchState.Running ? new BatchToStop() : Standing(batch));
        }

        var done = lines.Where(row => row.WasDone).ToList();
        var undone = done.Select(row => Undone(batch, row.Line)).OfType<BatchTarget>().ToList();
        return done.Count == 0 ? new BatchResult.Refused(new BatchDidNothing())
            : undone.Count == 0 ? new BatchResult.Refused(new BatchNotUndone())
            : await Plan(viewer, batch.Request with { Action = UndoOf(batch), Reason = null }, undone, id);
    }

    /// <summary>The action of the batch that undoes another.</summary>
    private static ActionName UndoOf(Batch batch) => BulkActions.UndoOf(batch.Action) ?? batch.Action;

    // What was done on a site by an action of its own is undone by one of its own.
    private static BatchTarget? Undone(Batch batch, BatchLine line) =>
        BulkActions.UndoOf(batch.RequestFor(line.Target).Action) is { } action
            ? new BatchTarget(line.Site, line.HostChange, line.Target.Own is { } own ? own with { Action = action } : null)
            : null;

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
