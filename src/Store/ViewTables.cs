using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>A saved view of the register.</summary>
/// <param name="Id">0 while new.</param>
/// <param name="Sentence">The filter sentence as JSON, as in the address.</param>
/// <param name="Seen">The number of sites it showed at the viewer's last visit, and when that was.</param>
public sealed record SavedView(
    long Id,
    long Account,
    PersonId By,
    string Name,
    string Sentence,
    bool IsShared,
    (int Count, DateTimeOffset At)? Seen
);

public static class ViewTables
{
    /// <summary>The saved views of an account and those shared by others, by name.</summary>
    public static Task<List<SavedView>> Views(this NpgsqlConnection connection, long account) =>
        connection.Rows(
            """
            select v.id, v.account, a.person, v.name, v.sentence, v.shared, s.count, s.at
            from saved_view v join account a on a.id = v.account left join saved_view_seen s on s.view = v.id and s.account = $1
            where v.account = $1 or v.shared order by lower(v.name), v.id
            """,
            row => new SavedView(
                row.GetInt64(0),
                row.GetInt64(1),
                new PersonId(row.GetInt64(2)),
                row.GetString(3),
                row.GetString(4),
                row.GetBoolean(5),
                row.OrNull<int>(6) is { } count ? (count, row.GetFieldValue<DateTimeOffset>(7)) : null
            ),
            account
        );

    /// <summary>Saves a view; one of the same name and account is replaced.</summary>
    public static Task<long> Keep(this Change change, SavedView view) =>
        change.Connection.One<long>(
            """
            insert into saved_view (account, name, sentence, shared, saved_at) values ($1, $2, $3, $4, $5)
            on conflict (account, lower(name)) do update set name = excluded.name, sentence = excluded.sentence, shared = excluded.shared, saved_at = excluded.saved_at
            returning id
            """,
            view.Account,
            view.Name,
            Sql.Json(view.Sentence),
            view.IsShared,
            change.Now
        );

    public static Task Forget(this Change change, long view) =>
        change.Connection.Run("delete from saved_view where id = $1", view);

    public static Task Saw(this Change change, long view, long account, int count) =>
        change.Connection.Run(
            "insert into saved_view_seen (view, account, count, at) values ($1, $2, $3, $4) on conflict (view, account) do update set count = excluded.count, at = excluded.at",
            view,
            account,
            count,
            change.Now
        );
}
