using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Server.Execution;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Begins to import a list of sites. The list is stored with the plan that was shown; it is then imported in parts, each
/// line decided again on the facts of its turn, and completed even if the server stops.</summary>
/// <param name="fingerprint">The fingerprint of the list's plan on the current facts.</param>
internal sealed class ImportSites(KeptList kept, ParsedList read, string fingerprint, SourceSync sources)
    : RequestedAction<KeptList, ImportBegun>
{
    public override ActionName Name => ActionName.SitesImport;

    public override async Task<Decided<KeptList>> Decide(FactReader facts) =>
        await facts.Connection.IsWorkedOn(kept.Source, facts.Now) ? Decided<KeptList>.Refuse(new ImportRunning(kept.Source))
        : await read.How.Words.Taken(facts.Connection) is { } taken ? Decided<KeptList>.Refuse(taken)
        : new Decided<KeptList>.Planned(kept, fingerprint);

    public override async Task<Written<ImportBegun>> Write(Change change, KeptList plan)
    {
        // The sites of the list are resolved later, when its units exist.
        await change.AppendOrHead(await read.How.Words.AddUnits(change, EntryActor.Of(plan.By)));
        var siteImport = await sources.BeginList(change, plan, read);
        var place = (await change.Connection.JournalHead()).Number;
        return new Written<ImportBegun>(
            place,
            new ImportBegun(siteImport ?? throw new InvalidOperationException("The lease was free in this transaction."))
        );
    }
}
