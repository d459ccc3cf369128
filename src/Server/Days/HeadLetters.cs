using AtticLedger.Core.Deeds;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Days;

/// <summary>
/// The journal's head, to every auditor once a day: kept outside the house, it shows later whether anything up to it was
/// changed or cut off, also by somebody who can write over the whole database.
/// </summary>
internal static class HeadLetters
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
        var (time, head) = (await change.Connection.HouseTime(), await change.Connection.JournalHead());
        var day = time.DayOf(change.Now);
        await change.Write(
            (await Lacking(change.Connection, change.Now)).Select(auditor => new Letter(
                auditor,
                Key(day),
                $"The journal's head of {day:d MMMM yyyy}",
                [
                    $"The journal has {head.Number} entries; the hash of the last is {head.Hash}",
                    "Keep this mail. An export that still has all of them, unchanged, passes: ./attic journal verify FILE --head HASH",
                ]
            )),
            time
        );
    }

    private static async Task<List<PersonId>> Lacking(NpgsqlConnection connection, DateTimeOffset now)
    {
        var time = await connection.HouseTime();
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
