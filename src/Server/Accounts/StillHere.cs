using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Deeds;
using AtticLedger.Store;

namespace AtticLedger.Server.Accounts;

/// <summary>Whoever acts has left, or is something else than when the request came in. Nothing is done.</summary>
public sealed class NoLongerError() : Exception("Your account has changed since you signed in. Sign in again.");

/// <summary>Whether somebody is still who they were, asked in the transaction that acts for them.</summary>
internal static class StillHere
{
    /// <exception cref="NoLongerError">The account is gone, has another role, or its holder has left.</exception>
    public static async Task AskStill(this Change change, Viewer viewer)
    {
        if (
            await change.Connection.Account(viewer.Account) is not { } account
            || account.Role != viewer.Role
            || account.Part != viewer.Part
            || !account.IsOpen(change.Now, await change.Connection.HouseTime())
        )
        {
            throw new NoLongerError();
        }
    }

    /// <summary>Whether somebody who asked for something earlier may still ask for it, in the capacity in which they did.</summary>
    public static async Task<bool> MayStill(this Change change, PersonId person, Capacity capacity) =>
        await change.Connection.AccountOf(person) is { } account
        && account.IsOpen(change.Now, await change.Connection.HouseTime())
        && Viewer.Of(account) is { MayAct: true } viewer
        && viewer.Doer().As == capacity;

    /// <summary>
    /// Ends the sessions of whoever has left by what was written in this transaction, and tells auditors where no
    /// administrator is left.
    /// </summary>
    /// <returns>The entries that are still to be appended.</returns>
    public static async Task<IReadOnlyList<Draft>> EndSessionsOfLeft(this Change change)
    {
        List<Draft> entries =
        [
            .. (await change.RevokeOfLeft()).Select(account => new Draft("session.revoked", "house", $"account:{account}")
            {
                Reason = "its holder has left",
            }),
        ];
        var accounts = await change.Connection.Accounts(change.Now, SignIn.IdleTime);
        var time = await change.Connection.HouseTime();
        if (
            accounts.Exists(row => row.Account.Role == Role.Administrator)
            && !accounts.Exists(row => row.Account.Role == Role.Administrator && row.Account.IsOpen(change.Now, time))
        )
        {
            await change.Write(
                accounts
                    .Where(row => row.Account.Role == Role.Auditor && row.Account.IsOpen(change.Now, time))
                    .Select(row => new Letter(
                        row.Account.Person,
                        $"no-administrator:{time.DayOf(change.Now):yyyy-MM-dd}",
                        "No administrator is left",
                        [
                            "Every administrator of Attic Ledger has left, so nobody can decide here any more.",
                            "Whoever runs the server gives somebody the role: ./attic account add --mail ADDRESS --name NAME --role Administrator",
                        ],
                        Urgent: true
                    )),
                time
            );
            entries.Add(new Draft("administrators.none", "house", "accounts"));
        }

        return entries;
    }
}
