using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

public static class DeskVisitTable
{
    /// <summary>The last day before a day on which a person looked at the desk, and whether they did on that day; null if there is none.
    /// </summary>
    public static async Task<(DateOnly? Before, bool OnDay)> DeskVisits(
        this NpgsqlConnection connection,
        PersonId person,
        DateOnly day
    ) =>
        (
            await connection.Rows(
                "select max(day) filter (where day < $2), coalesce(bool_or(day = $2), false) from desk_visit where person = $1",
                row => (row.OrNull<DateOnly>(0), row.GetBoolean(1)),
                person.Value,
                day
            )
        ).Single();

    /// <summary>Records that a person looked at the desk on a day; of the days before, only the last is kept.</summary>
    public static async Task Visited(this Change change, PersonId person, DateOnly day)
    {
        await change.Connection.Run(
            "insert into desk_visit (person, day) values ($1, $2) on conflict do nothing",
            person.Value,
            day
        );
        await change.Connection.Run(
            """
            delete from desk_visit where person = $1 and day < (
                select max(day) from desk_visit where person = $1 and day < $2)
            """,
            person.Value,
            day
        );
    }
}
