using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>A view of the register that somebody keeps.</summary>
/// <param name="Id">0 where it is still to be given.</param>
/// <param name="Sentence">As JSON: what the address carries.</param>
/// <param name="Seen">How many sites it showed, and when, the last time that whoever asks looked at it.</param>
public sealed record KeptView(
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
    /// <summary>The views that an account keeps and those that others share, by name.</summary>
    public static Task<List<KeptView>> Views(this NpgsqlConnection connection, long account) =>
        connection.Rows(
            """
            select v.id, v.account, a.person, v.name, v.sentence, v.shared, s.count, s.at
            from kept_view v join account a on a.id = v.account left join kept_view_seen s on s.view = v.id and s.account = $1
            where v.account = $1 or v.shared order by lower(v.name), v.id
            """,
            row => new KeptView(
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

    /// <summary>Keeps a view; one of the same name of the same account is replaced.</summary>
    public static Task<long> Keep(this Change change, KeptView view) =>
        change.Connection.One<long>(
            """
            insert into kept_view (account, name, sentence, shared, kept_at) values ($1, $2, $3, $4, $5)
            on conflict (account, lower(name)) do update set name = excluded.name, sentence = excluded.sentence, shared = excluded.shared, kept_at = excluded.kept_at
            returning id
            """,
            view.Account,
            view.Name,
            Sql.Json(view.Sentence),
            view.IsShared,
            change.Now
        );

    public static Task Forget(this Change change, long view) =>
        change.Connection.Run("delete from kept_view where id = $1", view);

    public static Task Saw(this Change change, long view, long account, int count) =>
        change.Connection.Run(
            "insert into kept_view_seen (view, account, count, at) values ($1, $2, $3, $4) on conflict (view, account) do update set count = excluded.count, at = excluded.at",
            view,
            account,
            count,
            change.Now
        );
}
