using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Undoes an import of sites: each site that has not changed since returns to its state before.</summary>
internal sealed class UndoSiteImport(string name, long siteImport, Viewer viewer)
    : RequestedAction<UndoSiteImport.Planned, ImportDone>
{
    private const int Together = 500;

    /// <param name="Sites">The sites that return.</param>
    public sealed record Planned(UndoImportPlan Shown, IReadOnlyList<SiteId> Sites);

    public override ActionName Name => ActionName.SitesImportUndo;

    public override async Task<Decided<Planned>> Decide(FactReader facts)
    {
        var all = await facts.Connection.SiteImports(name);
        if (all.Find(one => one.Id == siteImport) is not { } its)
        {
            return new Decided<Planned>.NotSeen("import, or it is too old to be undone");
        }

        if (!ImportUndo.MayUndo(its, all))
        {
            return Decided<Planned>.Refuse(
                its.UndoneAt is not null ? new ImportUndone()
                : !its.IsEnded ? new ImportUnfinished()
                : its.Sites == 0 ? new ImportChangedNothing()
                : new ImportIsNotLast()
            );
        }

        var sites = await facts.Connection.ImportedSites(siteImport);
        var (back, changed) = (sites.FindAll(site => site.IsAsLeft), sites.FindAll(site => !site.IsAsLeft));
        var left = await facts.Connection.Sites(new Scope.Everything(), [.. changed.Select(site => site.Site)]);
        var plan = UndoImportPlan.Of(
            [.. back.Select(site => site.Site.Value)],
            back.Count(site => site.IsNew),
            [.. left.Select(site => site.Title)]
        );
        return new Decided<Planned>.Planned(new Planned(plan, [.. back.Select(site => site.Site)]), plan.Fingerprint);
    }

    public override async Task<Written<ImportDone>> Write(Change change, Planned plan)
    {
        foreach (var few in plan.Sites.Chunk(Together))
        {
            var before = await change.Connection.Sites(new Scope.Everything(), few);
            await change.Undo(siteImport, few);
            var after = (await change.Connection.Sites(new Scope.Everything(), few)).ToDictionary(site => site.Id);
            await change.Append([
                .. before.Select(site =>
                    new Draft(JournalAction.ListUndone, viewer.InJournal, EntrySubject.Of(site.Id)).Telling(site, after[site.Id])
                ),
            ]);
        }

        await change.Undone(siteImport);
        var numbers = await change.Append([
            new Draft(JournalAction.ListUndone, viewer.InJournal, EntrySubject.OfSource(name))
            {
                After = JournalValue.Of(("import", JournalValue.Of(siteImport)), ("sites", JournalValue.Of(plan.Sites.Count))),
            },
        ]);
        return new Written<ImportDone>(numbers[^1], new ImportDone(numbers[^1]));
    }
}
