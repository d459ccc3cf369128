using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Register;
using AtticLedger.Store;

namespace AtticLedger.Server.Desk;

/// <param name="Decision">The clause of its group on the desk.</param>
/// <param name="Through">The last day on which it is not on the desk, unless a site is added to it.</param>
public sealed record PutOffRequest(string Decision, DateOnly Through, string Reason);

public sealed record TakeUpRequest(string Decision);

public sealed record PutOffDone(long Place);

/// <summary>Puts a decision of the desk off, for everybody who sees the whole register.</summary>
/// <param name="sites">The sites that it concerns now; null if it is not on the desk.</param>
internal sealed class PutOffDecision(PutOffRequest request, IReadOnlyList<SiteId>? sites, Viewer viewer)
    : RequestedAction<PutOff, PutOffDone>
{
    public override ActionName Name => ActionName.DecisionPutOff;

    public override async Task<Decided<PutOff>> Decide(FactReader facts)
    {
        var reason = SiteActionAnswers.Reason(request.Reason);
        var refused = PuttingOff.Refusals(reason, request.Through, facts.Now, await facts.Time());
        return sites is null ? new Decided<PutOff>.NotSeen("decision")
            : refused.Count > 0 ? new Decided<PutOff>.Refused(refused)
            : new Decided<PutOff>.Planned(
                new PutOff(request.Decision, request.Through, reason!, viewer.Person, facts.Now, [.. sites]),
                ""
            );
    }

    public override async Task<Written<PutOffDone>> Write(Change change, PutOff plan)
    {
        await change.Put(plan);
        var numbers = await change.Append([PuttingOff.Entry(plan, await Decisions.InJournal(change, plan))]);
        return new Written<PutOffDone>(numbers[0], new PutOffDone(numbers[0]));
    }
}

/// <summary>Puts a decision back on the desk before its day.</summary>
internal sealed class TakeUpDecision(TakeUpRequest request, Viewer viewer) : RequestedAction<PutOff, PutOffDone>
{
    public override ActionName Name => ActionName.DecisionTakeUp;

    public override async Task<Decided<PutOff>> Decide(FactReader facts) =>
        (await facts.Connection.PutOff()).Find(one => one.Decision == request.Decision) is { } putOff
            ? new Decided<PutOff>.Planned(putOff, "")
            : new Decided<PutOff>.NotSeen("decision that is put off");

    public override async Task<Written<PutOffDone>> Write(Change change, PutOff plan)
    {
        await change.TakeUp(plan);
        var numbers = await change.Append([PuttingOff.TakenUp(viewer.Person, await Decisions.InJournal(change, plan))]);
        return new Written<PutOffDone>(numbers[0], new PutOffDone(numbers[0]));
    }
}

internal static class Decisions
{
    /// <summary>A decision as the journal has it: its clause names people by their mail address.</summary>
    public static async Task<IReadOnlyList<(string, JournalValue)>> InJournal(Change change, PutOff putOff)
    {
        var time = await change.Connection.OrganisationTime();
        return Cause.InJournal(
            Clause.Parse(putOff.Decision).Values[0],
            await change.Connection.Rules(Today.At(change.Now, time)),
            await change.PeopleDirectory(time)
        );
    }
}
