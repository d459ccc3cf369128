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

/// <param name="Decisions">The clauses of groups on the desk; several where the desk shows several people as one.</param>
/// <param name="Through">The last day on which they are not on the desk, unless a site is added to one.</param>
public sealed record PutOffRequest(IReadOnlyList<string> Decisions, DateOnly Through, string Reason);

public sealed record TakeUpRequest(string Decision);

public sealed record PutOffDone(long Place);

/// <summary>Puts decisions of the desk off, for everybody who sees the whole register: all of them or none.</summary>
/// <param name="sitesOf">The sites that a decision concerns now; null if it is not on the desk.</param>
internal sealed class PutOffDecisions(PutOffRequest request, Func<string, IReadOnlyList<SiteId>?> sitesOf, Viewer viewer)
    : RequestedAction<IReadOnlyList<PutOff>, PutOffDone>
{
    public override ActionName Name => ActionName.DecisionPutOff;

    public override async Task<Decided<IReadOnlyList<PutOff>>> Decide(FactReader facts)
    {
        var found = request.Decisions.Distinct().Select(decision => (Decision: decision, Sites: sitesOf(decision))).ToList();
        var reason = SiteActionAnswers.Reason(request.Reason);
        var refused = PuttingOff.Refusals(reason, request.Through, facts.Now, await facts.Time());
        return found.Count == 0 || found.Exists(one => one.Sites is null) ? new Decided<IReadOnlyList<PutOff>>.NotSeen("decision")
            : refused.Count > 0 ? new Decided<IReadOnlyList<PutOff>>.Refused(refused)
            : new Decided<IReadOnlyList<PutOff>>.Planned(
                [
                    .. found.Select(one => new PutOff(
                        one.Decision,
                        request.Through,
                        reason!,
                        viewer.Person,
                        facts.Now,
                        [.. one.Sites!]
                    )),
                ],
                ""
            );
    }

    public override async Task<Written<PutOffDone>> Write(Change change, IReadOnlyList<PutOff> plan)
    {
        var entries = new List<Draft>();
        foreach (var putOff in plan)
        {
            await change.Put(putOff);
            entries.Add(PuttingOff.Entry(putOff, await Decisions.InJournal(change, putOff)));
        }

        var place = (await change.Append(entries))[^1];
        return new Written<PutOffDone>(place, new PutOffDone(place));
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
