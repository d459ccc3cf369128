using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Manual tasks, in addition to their changes.</summary>
public static class ManualTaskTables
{
    private const string Columns =
        "id, to_person, given_at, through, steps, account, support, done_by, report, picture_type is not null, checked_by, returned";

    public static async Task<ManualTask?> ManualTask(this NpgsqlConnection connection, ChangeId id) =>
        (await connection.Rows($"select {Columns} from manual_task where id = $1", Read, id.Value)).SingleOrDefault();

    /// <summary>The manual tasks of some changes.</summary>
    public static async Task<Dictionary<ChangeId, ManualTask>> ManualTasks(
        this NpgsqlConnection connection,
        IReadOnlyCollection<ChangeId> hostChanges
    ) =>
        hostChanges.Count == 0
            ? []
            : (
                await connection.Rows(
                    $"select {Columns} from manual_task where id = any($1)",
                    Read,
                    (object)hostChanges.Select(hostChange => hostChange.Value).ToArray()
                )
            ).ToDictionary(manualTask => manualTask.HostChange);

    /// <summary>Manual tasks to do or to verify, and those that ended since an instant; the oldest first.</summary>
    public static async Task<IReadOnlyList<(HostChange HostChange, ManualTask ManualTask)>> ManualTasksSince(
        this NpgsqlConnection connection,
        DateTimeOffset since
    )
    {
        var hands = await connection.Rows(
            $"select {Columns} from manual_task h where exists (select from host_change o where o.id = h.id and (o.state in (1, 2) or coalesce(o.seen_at, o.confirmed_at, o.sent_at) >= $1))",
            Read,
            since
        );
        var hostChanges = (await connection.HostChanges([.. hands.Select(manualTask => manualTask.HostChange)])).ToDictionary(
            hostChange => hostChange.Id
        );
        return
        [
            .. hands.Select(manualTask => (hostChanges[manualTask.HostChange], manualTask)).OrderBy(pair => pair.Item1.Place),
        ];
    }

    public static async Task<ProofPicture?> Picture(this NpgsqlConnection connection, ChangeId id) =>
        (
            await connection.Rows(
                "select picture_type, picture from manual_task where id = $1 and picture is not null",
                row => new ProofPicture(row.GetString(0), row.GetFieldValue<byte[]>(1)),
                id.Value
            )
        ).SingleOrDefault();

    public static Task SetPicture(this Change change, ChangeId id, ProofPicture picture) =>
        change.Connection.Run(
            "update manual_task set picture_type = $2, picture = $3 where id = $1",
            id.Value,
            picture.Type,
            picture.Bytes
        );

    public static Task Put(this Change change, ManualTask manualTask) =>
        change.Connection.Run(
            """
            insert into manual_task (id, to_person, given_at, through, steps, account, support, done_by, report, checked_by, returned) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)
            on conflict (id) do update set to_person = excluded.to_person, given_at = excluded.given_at, through = excluded.through,
                done_by = excluded.done_by, report = excluded.report, checked_by = excluded.checked_by, returned = excluded.returned
            """,
            manualTask.HostChange.Value,
            manualTask.To.Value,
            manualTask.GivenAt,
            Sql.Day(manualTask.Through),
            Sql.Json(JsonSerializer.Serialize(manualTask.Steps)),
            manualTask.Account,
            manualTask.Support,
            Sql.Id(manualTask.DoneBy?.Value),
            manualTask.Report,
            Sql.Id(manualTask.CheckedBy?.Value),
            manualTask.Returned
        );

    private static ManualTask Read(NpgsqlDataReader row) =>
        new()
        {
            HostChange = new ChangeId(row.GetGuid(0)),
            To = new PersonId(row.GetInt64(1)),
            GivenAt = row.GetFieldValue<DateTimeOffset>(2),
            Through = row.GetFieldValue<DateOnly>(3),
            Steps = JsonSerializer.Deserialize<string[]>(row.GetString(4))!,
            Account = row.GetString(5),
            Support = row.GetString(6),
            DoneBy = row.OrNull<long>(7) is { } actor ? new PersonId(actor) : null,
            Report = row.TextOrNull(8),
            HasPicture = row.GetBoolean(9),
            CheckedBy = row.OrNull<long>(10) is { } other ? new PersonId(other) : null,
            Returned = row.GetInt32(11),
        };
}
