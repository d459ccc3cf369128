using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>A row of a batch with the state of its change.</summary>
public sealed record BatchLineRow(BatchLine Line, ChangeState? HostChange, string? HostWords, ApprovalState? Approval)
{
    public BatchOutcome Outcome => BatchOutcomes.Of(Line.State, HostChange, Approval);

    /// <summary>True if any part was done or is being done, so that it can be undone.</summary>
    public bool WasDone => Outcome is BatchOutcome.Done or BatchOutcome.UnderWay or BatchOutcome.Contradicted;
}

/// <summary>Actions on many sites, with a row for each.</summary>
public static class BatchTables
{
    private const string BatchColumns =
        "id, action, state, by_person, reason, planned_at, started_at, ended_at, message, gain, lose, undoes, person, people_group, cause";
    private const string LineColumns =
        "l.batch, l.place, l.site, l.state, l.fingerprint, l.effect, l.refused, l.change_id, l.approval_id, l.undoes, l.action, l.person, l.people_group, l.rule, l.through, l.name";

    public static async Task<Batch?> Batch(this NpgsqlConnection connection, BatchId id) =>
        (await connection.Rows($"select {BatchColumns} from batch where id = $1", ReadBatch, id.Value)).SingleOrDefault();

    /// <summary>Running batches, the oldest first.</summary>
    public static Task<List<Batch>> RunningBatches(this NpgsqlConnection connection) =>
        connection.Rows(
            $"select {BatchColumns} from batch where state = {(short)BatchState.Running} order by started_at, id",
            ReadBatch
        );

    /// <summary>Started batches that have not ended, and those that ended since an instant; the latest first.</summary>
    public static Task<List<Batch>> BatchesSince(this NpgsqlConnection connection, DateTimeOffset since) =>
        connection.Rows(
            $"select {BatchColumns} from batch where state in (1, 2) or ended_at >= $1 order by started_at desc, id",
            ReadBatch,
            since
        );

    /// <summary>The latest started batch that undoes another.</summary>
    public static async Task<BatchId?> UndoneBy(this NpgsqlConnection connection, BatchId batch) =>
        (
            await connection.Rows(
                $"select id from batch where undoes = $1 and state <> {(short)BatchState.Planned} order by started_at desc limit 1",
                row => new BatchId?(new(row.GetGuid(0))),
                batch.Value
            )
        ).SingleOrDefault();

    /// <summary>A running batch, locked for this transaction; null if it no longer runs or another server works on it.</summary>
    public static async Task<Batch?> Claim(this Change change, BatchId id) =>
        (
            await change.Connection.Rows(
                $"select {BatchColumns} from batch where id = $1 and state = {(short)BatchState.Running} for update skip locked",
                ReadBatch,
                id.Value
            )
        ).SingleOrDefault();

    /// <param name="after">Only rows after this place.</param>
    public static Task<List<BatchLine>> WaitingLines(this NpgsqlConnection connection, BatchId batch, int most, int after = -1) =>
        connection.Rows(
            $"select {LineColumns} from batch_line l where l.batch = $1 and l.state = 0 and l.place > $3 order by l.place limit $2",
            ReadLine,
            batch.Value,
            most,
            after
        );

    public static Task<List<BatchLineRow>> BatchLines(this NpgsqlConnection connection, BatchId batch) =>
        connection.Rows(
            $"""
            select {LineColumns}, o.state, o.message, a.state from batch_line l
            left join host_change o on o.id = l.change_id left join approval a on a.id = l.approval_id
            where l.batch = $1 order by l.place
            """,
            row => new BatchLineRow(
                ReadLine(row),
                (ChangeState?)row.OrNull<short>(16),
                row.TextOrNull(17),
                (ApprovalState?)row.OrNull<short>(18)
            ),
            batch.Value
        );

    /// <summary>The number of rows per outcome of some batches, without reading the rows.</summary>
    public static async Task<ILookup<BatchId, (BatchOutcome Outcome, int Count)>> BatchCounts(
        this NpgsqlConnection connection,
        IReadOnlyCollection<BatchId> batches
    ) => (
            await connection.Rows(
                """
                select l.batch, l.state, o.state, a.state, count(*)::integer from batch_line l
                left join host_change o on o.id = l.change_id left join approval a on a.id = l.approval_id
                where l.batch = any($1) group by l.batch, l.state, o.state, a.state
                """,
                row =>
                    (
                        Batch: new BatchId(row.GetGuid(0)),
                        Outcome: BatchOutcomes.Of(
                            (BatchLineState)row.GetInt16(1),
                            (ChangeState?)row.OrNull<short>(2),
                            (ApprovalState?)row.OrNull<short>(3)
                        ),
                        Count: row.GetInt32(4)
                    ),
                (object)batches.Select(batch => batch.Value).ToArray()
            )
        ).GroupBy(row => (row.Batch, row.Outcome)).ToLookup(same => same.Key.Batch, same => (same.Key.Outcome, same.Sum(row => row.Count)));

    public static Task Put(this Change change, Batch batch) =>
        change.Connection.Run(
            $"""
            insert into batch ({BatchColumns}) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15)
            on conflict (id) do update set state = excluded.state, gain = excluded.gain, lose = excluded.lose, reason = excluded.reason, started_at = excluded.started_at, ended_at = excluded.ended_at, message = excluded.message
            """,
            batch.Id.Value,
            batch.Action.Text(),
            (short)batch.State,
            batch.By.Value,
            batch.Reason,
            batch.PlannedAt,
            Sql.Moment(batch.StartedAt),
            Sql.Moment(batch.EndedAt),
            batch.Words,
            batch.Gain,
            batch.Lose,
            Sql.Id(batch.Undoes?.Value),
            Sql.Id(batch.Person?.Value),
            Sql.Id(batch.Group?.Value),
            batch.Cause
        );

    public static async Task AddLines(this Change change, IReadOnlyList<BatchLine> lines)
    {
        await using var copy = await change.Connection.BeginBinaryImportAsync(
            "copy batch_line (batch, place, site, state, fingerprint, effect, refused, undoes, action, person, people_group, rule, through, name) from stdin (format binary)"
        );
        foreach (var line in lines)
        {
            await copy.StartRowAsync();
            await copy.WriteAsync(line.Batch.Value);
            await copy.WriteAsync(line.Place);
            await copy.WriteAsync(line.Site.Value);
            await copy.WriteAsync((short)line.State);
            await (line.Fingerprint is null ? copy.WriteNullAsync() : copy.WriteAsync(line.Fingerprint));
            await copy.WriteAsync(Json.Of(line.Effect), NpgsqlDbType.Jsonb);
            await copy.WriteAsync(Json.Of(line.Refused), NpgsqlDbType.Jsonb);
            await (line.Target.Undoes is { } hostChange ? copy.WriteAsync(hostChange.Value) : copy.WriteNullAsync());
            var own = line.Target.Own;
            await (own is null ? copy.WriteNullAsync() : copy.WriteAsync(own.Action.Text()));
            await (own?.Person is { } person ? copy.WriteAsync(person.Value) : copy.WriteNullAsync());
            await (own?.Group is { } group ? copy.WriteAsync(group.Value) : copy.WriteNullAsync());
            await (own?.Rule is { } rule ? copy.WriteAsync(rule.Value) : copy.WriteNullAsync());
            await (own?.Through is { } through ? copy.WriteAsync(through, NpgsqlDbType.Date) : copy.WriteNullAsync());
            await (own?.Name is { } name ? copy.WriteAsync(name) : copy.WriteNullAsync());
        }

        await copy.CompleteAsync();
    }

    /// <summary>Forgets the rows of a plan, which is made again.</summary>
    public static Task ForgetLines(this Change change, BatchId batch) =>
        change.Connection.Run("delete from batch_line where batch = $1", batch.Value);

    public static Task Put(this Change change, BatchLine line) =>
        change.Connection.Run(
            "update batch_line set state = $3, effect = $4, refused = $5, change_id = $6, approval_id = $7 where batch = $1 and place = $2",
            line.Batch.Value,
            line.Place,
            (short)line.State,
            Sql.Json(Json.Of(line.Effect)),
            Sql.Json(Json.Of(line.Refused)),
            Sql.Id(line.HostChange?.Value),
            Sql.Id(line.Approval?.Value)
        );

    /// <summary>Deletes plans that nobody has started.</summary>
    public static Task<int> ForgetPlans(this Change change, DateTimeOffset before) =>
        change.Connection.Run("delete from batch where state = 0 and planned_at < $1", before);

    private static Batch ReadBatch(NpgsqlDataReader row) =>
        new()
        {
            Id = new BatchId(row.GetGuid(0)),
            Action = ActionNames.Read(row.GetString(1)),
            State = (BatchState)row.GetInt16(2),
            By = new PersonId(row.GetInt64(3)),
            Reason = row.TextOrNull(4),
            PlannedAt = row.GetFieldValue<DateTimeOffset>(5),
            StartedAt = row.OrNull<DateTimeOffset>(6),
            EndedAt = row.OrNull<DateTimeOffset>(7),
            Words = row.TextOrNull(8),
            Gain = row.GetInt32(9),
            Lose = row.GetInt32(10),
            Undoes = row.OrNull<Guid>(11) is { } undone ? new BatchId(undone) : null,
            Person = row.OrNull<long>(12) is { } person ? new PersonId(person) : null,
            Group = row.OrNull<long>(13) is { } group ? new GroupId(group) : null,
            Cause = row.TextOrNull(14),
        };

    private static BatchLine ReadLine(NpgsqlDataReader row) =>
        new(
            new BatchId(row.GetGuid(0)),
            row.GetInt32(1),
            new BatchTarget(
                new SiteId(row.GetInt64(2)),
                row.OrNull<Guid>(9) is { } undone ? new ChangeId(undone) : null,
                row.TextOrNull(10) is { } action
                    ? new BulkRequest(
                        ActionNames.Read(action),
                        row.OrNull<long>(11) is { } person ? new PersonId(person) : null,
                        row.OrNull<long>(12) is { } group ? new GroupId(group) : null,
                        Rule: row.TextOrNull(13) is { } rule ? new RuleId(rule) : null,
                        Through: row.OrNull<DateOnly>(14),
                        Name: row.TextOrNull(15)
                    )
                    : null
            ),
            (BatchLineState)row.GetInt16(3),
            row.TextOrNull(4),
            Json.LineEffect(row.GetString(5)),
            Json.Remarks(row.GetString(6)),
            row.OrNull<Guid>(7) is { } hostChange ? new ChangeId(hostChange) : null,
            row.OrNull<Guid>(8) is { } approval ? new ApprovalId(approval) : null
        );
}
