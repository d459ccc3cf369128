using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Mail;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.DueWork;

/// <summary>Mails the journal's head to every auditor once a day: stored outside the organisation, it later shows whether
/// anything before it was changed or cut, even by somebody who can overwrite the whole database.
/// </summary>
internal static class HeadNotifications
{
    private const string Purpose = "journal-head";

    public static async Task SendHeads(this Database database, CancellationToken stop)
    {
        if (await database.Read(connection => Lacking(connection, database.Now), stop) is { Count: > 0 })
        {
            await database.Change(Write, stop);
        }
    }

    private static async Task Write(Change change)
    {
        var (time, head) = (await change.Connection.OrganisationTime(), await change.Connection.JournalHead());
        var day = time.DayOf(change.Now);
        await change.Write(
            (await Lacking(change.Connection, change.Now)).Select(auditor => new Notification(
                auditor,
                Key(day),
                $"The journal's head of {day:d MMMM yyyy}",
                [
                    $"The journal has {head.Number} entries; the hash of the last is {head.Hash}",
                    "Keep this mail. To check that an export still has all of them, unchanged, run: ./attic journal verify FILE --head HASH",
                ]
            )),
            time
        );
    }

    private static async Task<List<PersonId>> Lacking(NpgsqlConnection connection, DateTimeOffset now)
    {
        var time = await connection.OrganisationTime();
        var written = await connection.AddressedUnder(Key(time.DayOf(now)));
        return
        [
            .. (await connection.Accounts(now, SignIn.IdleTime))
                .Where(row =>
                    row.Account.Role == Role.Auditor && row.Account.IsOpen(now, time) && !written.Contains(row.Account.Person)
                )
                .Select(row => row.Account.Person),
        ];
    }

    private static string Key(DateOnly day) => $"{Purpose}:{day:yyyy-MM-dd}";
}
