using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Accounts;

/// <param name="Id">The session that has ended.</param>
public sealed record SessionEnded(Guid Id);

/// <summary>Ends one of one's own sessions.</summary>
internal sealed class EndSession(Guid session, Viewer viewer) : RequestedAction<Guid, SessionEnded>
{
    public override ActionName Name => ActionName.SessionEnd;

    public override async Task<Decided<Guid>> Decide(FactReader facts) =>
        (await facts.Connection.SessionsOf(viewer.Account, facts.Now, SignIn.IdleTime)).Exists(one => one.PublicId == session)
            ? new Decided<Guid>.Planned(session, "")
            : new Decided<Guid>.NotSeen("session");

    public override async Task<Written<SessionEnded>> Write(Change change, Guid plan)
    {
        await change.Revoke(viewer.Account, plan);
        var numbers = await change.Append([SignIn.Ended(viewer, plan)]);
        return new Written<SessionEnded>(numbers[^1], new SessionEnded(plan));
    }
}
