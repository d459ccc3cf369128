using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Decisions of the desk that are put off.</summary>
public static class PutOffTable
{
    public static Task<List<PutOff>> PutOff(this NpgsqlConnection connection) =>
        connection.Rows("select decision, through, reason, by_person, at, sites from put_off", row => new PutOff(
            row.GetString(0),
            row.GetFieldValue<DateOnly>(1),
            row.GetString(2),
            new PersonId(row.GetInt64(3)),
            row.GetFieldValue<DateTimeOffset>(4),
            [.. row.GetFieldValue<long[]>(5).Select(site => new SiteId(site))]
        ));

    /// <summary>Puts a decision off; another day replaces an earlier one.</summary>
    public static Task Put(this Change change, PutOff putOff) =>
        change.Connection.Run(
            """
            insert into put_off (decision, through, reason, by_person, at, sites) values ($1, $2, $3, $4, $5, $6)
            on conflict (decision) do update set through = excluded.through, reason = excluded.reason, by_person = excluded.by_person, at = excluded.at, sites = excluded.sites
            """,
            putOff.Decision,
            putOff.Through,
            putOff.Reason,
            putOff.By.Value,
            putOff.At,
            putOff.Sites.Select(site => site.Value).ToArray()
        );

    public static Task TakeUp(this Change change, PutOff putOff) =>
        change.Connection.Run("delete from put_off where decision = $1", putOff.Decision);
}
