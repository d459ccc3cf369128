using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Confirms that the sites that a source no longer reports are gone.</summary>
internal sealed class ConfirmMissing(string source, Viewer viewer) : RequestedAction<string, ActionDone>
{
    public override ActionName Name => ActionName.SourceConfirmMissing;

    public override async Task<Decided<string>> Decide(FactReader facts) =>
        await facts.Connection.HeldBack(source) > 0
            ? new Decided<string>.Planned(source, "")
            : Decided<string>.Refuse(new NothingHeldBack(source));

    public override async Task<Written<ActionDone>> Write(Change change, string plan)
    {
        var held = await change.ConfirmMissing(plan);
        var numbers = await change.Append([
            new Draft(JournalAction.SourceMissingConfirmed, viewer.InJournal, EntrySubject.OfSource(plan))
            {
                After = JournalValue.Of(("sites", JournalValue.Of(held))),
            },
        ]);
        return ActionDone.Written(numbers[^1]);
    }

    public override IReadOnlyList<WorkKind> Wakes => [WorkKind.Syncs];
}

/// <summary>Asks for a sync now. What it finds is journalled; that somebody asked is not.</summary>
internal sealed class WantSync(string source, IReadOnlyCollection<string> names) : RequestedAction<string, ActionDone>
{
    public override ActionName Name => ActionName.SourceSync;

    public override Task<Decided<string>> Decide(FactReader facts) =>
        Task.FromResult(
            names.Contains(source)
                ? new Decided<string>.Planned(source, "")
                : Decided<string>.Refuse(new SourceMissing(source, [.. names]))
        );

    public override async Task<Written<ActionDone>> Write(Change change, string plan)
    {
        await change.Want(plan);
        return ActionDone.Written(await change.AppendOrHead([]));
    }

    public override IReadOnlyList<WorkKind> Wakes => [WorkKind.Syncs];
}
