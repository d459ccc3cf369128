using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Mail;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Actions;

/// <summary>Reads the facts for decisions, and writes their results, in the running transaction.</summary>
internal static class ActionStore
{
    /// <summary>The facts of one site; null if outside the scope.</summary>
    public static async Task<ActionFacts?> OfSite(
        this FactReader facts,
        Func<Core.People.PeopleDirectory, Scope> viewerScope,
        SiteId id,
        bool withNeighbours = true
    ) => (await facts.OfSites(viewerScope, [id], withNeighbours)).SingleOrDefault();

    /// <summary>The facts of some sites, sorted by id, without those outside the scope.</summary>
    public static async Task<IReadOnlyList<ActionFacts>> OfSites(
        this FactReader facts,
        Func<Core.People.PeopleDirectory, Scope> viewerScope,
        IReadOnlyCollection<SiteId> ids,
        bool withNeighbours
    )
    {
        var (connection, now) = (facts.Connection, facts.Now);
        var time = await facts.Time();
        var directory = await facts.PeopleDirectory();
        var sites = await connection.Sites(viewerScope(directory), ids);
        if (sites.Count == 0)
        {
            return [];
        }

        var organisation = await connection.Organisation();
        var rules = await connection.Rules(Today.At(now, time));
        var (changeQueues, offers, atticEntries) = (
            await connection.ChangeQueues(ids),
            await connection.OpenOffers(ids),
            await connection.OpenAtticEntries(ids)
        );
        var (questions, invitations) = (await connection.OpenQuestions(ids), await connection.OpenInvitations(ids));
        var (holds, around, administrators) = (
            await connection.Holds(ids),
            await connection.Around(sites, viewerScope(directory), withNeighbours),
            await connection.Administrators(now)
        );
        return
        [
            .. sites.Select(site => new ActionFacts(site, [.. changeQueues[site.Id]], organisation, rules, directory)
            {
                Offers = [.. offers[site.Id]],
                Questions = [.. questions[site.Id]],
                Invitations = [.. invitations[site.Id]],
                AtticEntry = atticEntries.GetValueOrDefault(site.Id),
                Holds = [.. holds[site.Id]],
                Around = around[site.Id],
                Administrators = administrators,
            }),
        ];
    }

    /// <summary>The facts of the sites of a batch: those in the viewer's scope, and those that concern the viewer.</summary>
    /// <param name="requests">What is done on them.</param>
    public static async Task<IReadOnlyList<ActionFacts>> OfBatch(
        this FactReader facts,
        Viewer viewer,
        IReadOnlyList<BulkRequest> requests,
        IReadOnlyCollection<SiteId> ids
    ) =>
        requests is [{ Action: ActionName.OfferAccept and var action }]
            ?
            [
                .. (await facts.OfSites(_ => new Scope.Everything(), ids, false)).Where(one =>
                    BulkActions.Concerns(action, one, viewer.Person)
                ),
            ]
            : await facts.OfSites(viewer.ScopeOn, ids, requests.Any(request => BulkActions.LooksAround(request.Action)));

    /// <summary>Writes all that a plan changes, and its entries last.</summary>
    /// <returns>The numbers of its entries.</returns>
    public static async Task<IReadOnlyList<long>> Keep(this Change change, SiteId site, Decision.Plan plan, OrganisationTime time)
    {
        foreach (var offer in plan.Offers)
        {
            await change.Put(offer);
        }

        if (plan.Hold is { } hold)
        {
            await change.Put(site, hold);
        }

        if (plan.Exception is { } exception)
        {
            await change.Put(site, exception);
        }

        if (plan.Question is { } question)
        {
            await change.Put(question);
        }

        if (plan.ManualTask is { } manualTask)
        {
            await change.Put(manualTask);
        }

        if (plan.Person is { } person)
        {
            await change.UpdatePerson(person);
        }

        await change.Write(plan.Notifications, time);
        var numbers = await change.Append(plan.Entries);
        foreach (var hostChange in plan.HostChanges)
        {
            await change.Put(hostChange.Place == 0 ? hostChange with { Place = numbers[0] } : hostChange);
        }

        // After its change, to which it refers.
        if (plan.Invitation is { } invitation)
        {
            await change.Put(invitation);
        }

        if (plan.AtticEntry is { } atticEntry)
        {
            await change.Put(atticEntry.Id == 0 ? atticEntry with { Place = numbers[0] } : atticEntry);
        }

        return numbers;
    }

    /// <summary>Writes what follows from a host's response or a sync, with other entries before its own.</summary>
    public static async Task Keep(this Change change, Aftermath after, OrganisationTime time, IReadOnlyList<Draft> before) =>
        await change.Append([.. before, .. await change.KeepAllBut(after, time)]);

    /// <summary>Writes what follows, and returns the journal entries to append.</summary>
    public static async Task<IReadOnlyList<Draft>> KeepAllBut(this Change change, Aftermath after, OrganisationTime time)
    {
        if (after.Offer is { } offer)
        {
            await change.Put(offer);
        }

        if (after.AtticEntry is { } atticEntry)
        {
            await change.Put(atticEntry);
        }

        await change.Write(after.Notifications, time);
        return after.Entries;
    }

    /// <summary>Writes a step of a manual task.</summary>
    /// <param name="what">The last part of the action's name in the journal.</param>
    public static async Task Keep(
        this Change change,
        ManualTaskStep step,
        OrganisationTime time,
        JournalAction what,
        EntryActor actor
    )
    {
        await change.Append([await change.KeepAllBut(step, time, what, actor)]);
    }

    /// <summary>Writes a step, and returns the journal entry to append.</summary>
    public static async Task<Draft> KeepAllBut(
        this Change change,
        ManualTaskStep step,
        OrganisationTime time,
        JournalAction what,
        EntryActor actor
    )
    {
        await change.Put(step.HostChange);
        await change.Put(step.ManualTask);
        await change.Write(step.Notifications, time);
        var entry = ManualTaskSteps.Entry(what, actor, step.HostChange, step.ManualTask);
        if (step.Site is not { } site)
        {
            return entry;
        }

        var before = (await change.Connection.Sites(new Scope.Everything(), [site.Id])).Single();
        await change.UpdateSite(site);
        return entry.Telling(before, site);
    }
}
