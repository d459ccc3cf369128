using AtticLedger.Core.Terms;

namespace AtticLedger.Store;

public enum Role : byte
{
    Administrator,
    Steward,
    Owner,
    Auditor,
}

public sealed record Account(long Id, PersonId Person, Role Role, UnitCode? Part, string? PasswordHash);

public sealed record SessionRow(Guid PublicId, long Account, DateTimeOffset Created, DateTimeOffset Expires, string Agent);

public static class AccountTables
{
    private const string Columns = "a.id, a.person, a.role, a.part, a.password_hash";

    public static async Task<Account?> AccountByMail(this Npgsql.NpgsqlConnection connection, string mail) =>
        (await connection.Rows($"select {Columns} from account a join person_name n on n.person = a.person where lower(n.mail) = lower($1)", Read, mail)).SingleOrDefault();

    public static async Task<Account?> AccountOf(this Npgsql.NpgsqlConnection connection, PersonId person) =>
        (await connection.Rows($"select {Columns} from account a where a.person = $1", Read, person.Value)).SingleOrDefault();

    /// <summary>Who is told what administrators have to hear of.</summary>
    public static Task<List<PersonId>> Administrators(this Npgsql.NpgsqlConnection connection) =>
        connection.Rows("select person from account where role = $1 order by person", row => new PersonId(row.GetInt64(0)), (short)Role.Administrator);

    public static Task SetPassword(this Change change, long account, string passwordHash) =>
        change.Connection.Run("update account set password_hash = $2 where id = $1", account, passwordHash);

    /// <summary>Where the clock is moved, sessions last as long as before.</summary>
    public static Task ShiftSessions(this Change change, TimeSpan by) =>
        change.Connection.Run("update session set expires = expires + $1 where revoked is null and expires > $2", by, change.Now);

    /// <summary>The account behind a session that is neither over nor revoked.</summary>
    public static async Task<(Account Account, Guid Session)?> AccountBySession(this Npgsql.NpgsqlConnection connection, byte[] idHash, DateTimeOffset now)
    {
        var found = await connection.Rows(
            $"select {Columns}, s.public_id from session s join account a on a.id = s.account where s.id_hash = $1 and s.revoked is null and s.expires > $2",
            row => (Read(row), row.GetGuid(5)), idHash, now);
        return found.Count == 0 ? null : found[0];
    }

    public static Task PutAccount(this Change change, PersonId person, Role role, UnitCode? part, string? passwordHash) =>
        change.Connection.Run(
            """
            insert into account (person, role, part, password_hash) values ($1, $2, $3, $4)
            on conflict (person) do update set role = excluded.role, part = excluded.part, password_hash = excluded.password_hash
            """,
            person.Value, (short)role, part?.Value, passwordHash);

    public static Task AddSession(this Change change, byte[] idHash, SessionRow session) =>
        change.Connection.Run(
            "insert into session (id_hash, account, public_id, created, expires, agent) values ($1, $2, $3, $4, $5, $6)",
            idHash, session.Account, session.PublicId, session.Created, session.Expires, session.Agent);

    public static Task<List<SessionRow>> SessionsOf(this Npgsql.NpgsqlConnection connection, long account, DateTimeOffset now) =>
        connection.Rows(
            "select public_id, account, created, expires, agent from session where account = $1 and revoked is null and expires > $2 order by created desc",
            row => new SessionRow(row.GetGuid(0), row.GetInt64(1), row.GetFieldValue<DateTimeOffset>(2), row.GetFieldValue<DateTimeOffset>(3), row.GetString(4)),
            account, now);

    /// <summary>Ends one session of an account; false where there is no such session.</summary>
    public static async Task<bool> Revoke(this Change change, long account, Guid session) =>
        await change.Connection.Run("update session set revoked = $3 where account = $1 and public_id = $2 and revoked is null", account, session, change.Now) > 0;

    public static Task AddFailure(this Change change, byte[] keyHash, bool toGather) =>
        change.Connection.Run("insert into sign_in_failure (key_hash, at, to_gather) values ($1, $2, $3)", keyHash, change.Now, toGather);

    /// <summary>How many failures nobody has written down yet, up to an instant; they are counted once.</summary>
    public static Task<int> GatherFailures(this Change change, DateTimeOffset upto) =>
        change.Connection.Run("update sign_in_failure set to_gather = false where to_gather and at <= $1", upto);

    /// <summary>What was gathered and no longer throttles anybody.</summary>
    public static Task ForgetFailures(this Change change, DateTimeOffset before) =>
        change.Connection.Run("delete from sign_in_failure where not to_gather and at < $1", before);

    public static Task<long> FailuresSince(this Npgsql.NpgsqlConnection connection, byte[] keyHash, DateTimeOffset since) =>
        connection.One<long>("select count(*) from sign_in_failure where key_hash = $1 and at > $2", keyHash, since);

    public static Task ForgetFailures(this Change change, byte[] keyHash) =>
        change.Connection.Run("delete from sign_in_failure where key_hash = $1", keyHash);

    /// <summary>The answer given before to the same key, if any.</summary>
    public static async Task<(string RequestHash, int Status, string Body)?> Answered(this Npgsql.NpgsqlConnection connection, long account, string key)
    {
        var found = await connection.Rows(
            "select request_hash, status, body from answered where account = $1 and key = $2", row => (row.GetString(0), row.GetInt32(1), row.GetString(2)), account, key);
        return found.Count == 0 ? null : found[0];
    }

    public static Task Answer(this Change change, long account, string key, string requestHash, int status, string body) =>
        change.Connection.Run(
            "insert into answered (account, key, request_hash, status, body, at) values ($1, $2, $3, $4, $5, $6)", account, key, requestHash, status, body, change.Now);

    internal static Account Read(Npgsql.NpgsqlDataReader row) =>
        new(row.GetInt64(0), new PersonId(row.GetInt64(1)), (Role)row.GetInt16(2), row.TextOrNull(3) is { } part ? new UnitCode(part) : null, row.TextOrNull(4));
}
