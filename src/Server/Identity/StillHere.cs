using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Mail;
using AtticLedger.Store;

namespace AtticLedger.Server.Identity;

/// <summary>The actor has left or has another role than when the request arrived. Nothing is done.</summary>
public sealed class NoLongerError() : Exception("Your account has changed since you signed in. Sign in again.");

/// <summary>Checks, in the transaction that acts for a person, that their account is unchanged.</summary>
internal static class StillHere
{
    /// <exception cref="NoLongerError">The account was removed, has another role, or its person has left.</exception>
    public static async Task AskStill(this Change change, Viewer viewer)
    {
        if (
            await change.Connection.Account(viewer.Account) is not { } account
            || account.Role != viewer.Role
            || account.Part != viewer.Part
            || !account.IsOpen(change.Now, await change.Connection.OrganisationTime())
        )
        {
            throw new NoLongerError();
        }
    }

    /// <summary>Ends the sessions of people who have left by this transaction, and notifies auditors if no administrator is left.
    /// </summary>
    /// <returns>The journal entries to append.</returns>
    public static async Task<IReadOnlyList<Draft>> EndSessionsOfLeft(this Change change)
    {
        List<Draft> entries =
        [
            .. (await change.RevokeOfLeft()).Select(account => new Draft(
                JournalAction.SessionRevoked,
                EntryActor.Product,
                new EntrySubject.Account(account)
            )
            {
                Reason = "its holder has left",
            }),
        ];
        var accounts = await change.Connection.Accounts(change.Now, SignIn.IdleTime);
        var time = await change.Connection.OrganisationTime();
        if (
            accounts.Exists(row => row.Account.Role == Role.Administrator)
            && !accounts.Exists(row => row.Account.Role == Role.Administrator && row.Account.IsOpen(change.Now, time))
        )
        {
            await change.Write(
                accounts
                    .Where(row => row.Account.Role == Role.Auditor && row.Account.IsOpen(change.Now, time))
                    .Select(row => new Notification(
                        row.Account.Person,
                        $"no-administrator:{time.DayOf(change.Now):yyyy-MM-dd}",
                        "No administrator is left",
                        [
                            "Every administrator of Attic Ledger has left, so nobody can administer it.",
                            "On the server, give a person the role: ./attic account add --mail ADDRESS --name NAME --role Administrator",
                        ],
                        Urgent: true
                    )),
                time
            );
            entries.Add(new Draft(JournalAction.AdministratorsNone, EntryActor.Product, EntrySubject.Accounts));
        }

        return entries;
    }
}
