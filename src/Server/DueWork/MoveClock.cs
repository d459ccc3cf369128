using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.DueWork;

/// <summary>By how many seconds the demo's clock is ahead.</summary>
internal sealed record ClockAhead(long Seconds);

/// <summary>Moves the demo's clock forward.</summary>
internal sealed class MoveClock(int hours, Viewer viewer) : RequestedAction<MoveClock.Moved, ClockAhead>
{
    private const int MostHours = 24 * 100;

    public sealed record Moved(long Before, long After);

    public override ActionName Name => ActionName.ClockMove;

    public override async Task<Decided<Moved>> Decide(FactReader facts)
    {
        if (hours is < 1 or > MostHours)
        {
            return Decided<Moved>.Refuse(new ClockHoursOutOfRange(MostHours));
        }

        var before = long.Parse(await facts.Connection.Value(Setting.DemoClock), CultureInfo.InvariantCulture);
        return new Decided<Moved>.Planned(new Moved(before, before + (hours * 3600L)), "");
    }

    public override async Task<Written<ClockAhead>> Write(Change change, Moved plan)
    {
        await change.Set(Setting.DemoClock, plan.After.ToString(CultureInfo.InvariantCulture));
        await change.ShiftSessions(TimeSpan.FromHours(hours));
        var numbers = await change.Append([
            new Draft(JournalAction.ClockMoved, viewer.InJournal, EntrySubject.Organisation)
            {
                Before = JournalValue.Of(("ahead", JournalValue.Of(plan.Before))),
                After = JournalValue.Of(("ahead", JournalValue.Of(plan.After))),
            },
        ]);
        return new Written<ClockAhead>(numbers[^1], new ClockAhead(plan.After));
    }
}
