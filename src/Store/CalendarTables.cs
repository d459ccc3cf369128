using Npgsql;

namespace AtticLedger.Store;

/// <param name="ReadAt">When a calendar last used it; null if none has.</param>
public sealed record CalendarLink(DateTimeOffset MadeAt, DateTimeOffset? ReadAt);

/// <summary>The calendar links of accounts.</summary>
public static class CalendarTables
{
    public static async Task<CalendarLink?> CalendarLink(this NpgsqlConnection connection, long account) =>
        (
            await connection.Rows(
                "select made_at, read_at from calendar_link where account = $1",
                row => new CalendarLink(row.GetFieldValue<DateTimeOffset>(0), row.OrNull<DateTimeOffset>(1)),
                account
            )
        ).SingleOrDefault();

    /// <summary>Sets the account's link; an earlier one becomes invalid.</summary>
    public static Task PutCalendarLink(this Change change, long account, byte[] tokenHash) =>
        change.Connection.Run(
            "insert into calendar_link (account, token_hash, made_at) values ($1, $2, $3) on conflict (account) do update set token_hash = excluded.token_hash, made_at = excluded.made_at, read_at = null",
            account,
            tokenHash,
            change.Now
        );

    public static async Task<bool> DropCalendarLink(this Change change, long account) =>
        await change.Connection.Run("delete from calendar_link where account = $1", account) > 0;

    /// <summary>The account of a token; null if there is no such link.</summary>
    public static async Task<Account?> CalendarReader(this Change change, byte[] tokenHash)
    {
        var accounts = await change.Connection.Rows(
            "update calendar_link set read_at = $2 where token_hash = $1 returning account",
            row => row.GetInt64(0),
            tokenHash,
            change.Now
        );
        return accounts is [var id] ? await change.Connection.Account(id) : null;
    }
}
