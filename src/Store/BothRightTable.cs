using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Sites with near names that are both right.</summary>
public static class BothRightTable
{
    public static Task<List<BothRight>> BothRight(this NpgsqlConnection connection) =>
        connection.Rows(
            "select one, meaning, other, other_meaning, reason, by_person, at from both_right order by one, other",
            row => new BothRight(
                new SiteId(row.GetInt64(0)),
                row.GetString(1),
                new SiteId(row.GetInt64(2)),
                row.GetString(3),
                row.IsDBNull(4) ? null : row.GetString(4),
                new PersonId(row.GetInt64(5)),
                row.GetFieldValue<DateTimeOffset>(6)
            )
        );

    /// <summary>Says it of a pair; said again, it is about the names as they are now.</summary>
    public static Task Put(this Change change, BothRight said) =>
        change.Connection.Run(
            """
            insert into both_right (one, meaning, other, other_meaning, reason, by_person, at) values ($1, $2, $3, $4, $5, $6, $7)
            on conflict (one, other) do update set meaning = excluded.meaning, other_meaning = excluded.other_meaning, reason = excluded.reason, by_person = excluded.by_person, at = excluded.at
            """,
            said.One.Value,
            said.Meaning,
            said.Other.Value,
            said.OtherMeaning,
            said.Reason,
            said.By.Value,
            said.At
        );

    public static Task Drop(this Change change, BothRight said) =>
        change.Connection.Run("delete from both_right where one = $1 and other = $2", said.One.Value, said.Other.Value);
}
