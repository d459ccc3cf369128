using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Store;

public enum Role : byte
{
    Administrator,
    Steward,
    Owner,
    Auditor,
}

/// <param name="Holder">The person whose account it is: a person who may not sign in gets nothing through it anywhere.</param>
public sealed record Account(long Id, PersonId Person, Role Role, UnitCode? Part, string? PasswordHash, Person Holder)
{
    /// <summary>True if its person has not left.</summary>
    public bool IsOpen(DateTimeOffset now, OrganisationTime time) => Holder.MaySignIn(now, time);
}

public sealed record SessionRow(
    Guid PublicId,
    long Account,
    DateTimeOffset Created,
    DateTimeOffset Expires,
    DateTimeOffset UsedAt,
    string Agent
);

/// <summary>An account as the page of accounts shows it.</summary>
/// <param name="Sessions">The number of open sessions.</param>
public sealed record AccountRow(Account Account, DateTimeOffset? LastSignIn, int Sessions);

/// <summary>Requests of one account that were refused for one reason within a minute.</summary>
/// <param name="Method">The method and path of the first of them.</param>
public sealed record RefusedRequests(
    long Account,
    PersonId Person,
    string Reason,
    DateTimeOffset Minute,
    string Method,
    string Path,
    int Count
);

/// <summary>Accounts, sessions and the throttling of attempts. An account is read together with its person, because every reader
/// has to know whether they have left.
/// </summary>
public static class AccountTables
{
    private const string Columns =
        "a.id, a.person, a.role, a.scope, a.password_hash, p.kind, coalesce(n.name, 'name erased'), coalesce(n.mail, ''), p.standing, p.day";
    private const string Holder = "join person p on p.id = a.person left join person_name n on n.person = a.person";
    private const string Tables = $"account a {Holder}";

    public static async Task<Account?> AccountByMail(this Npgsql.NpgsqlConnection connection, string mail) =>
        (await connection.Rows($"select {Columns} from {Tables} where lower(n.mail) = lower($1)", Read, mail)).SingleOrDefault();

    public static async Task<Account?> AccountOf(this Npgsql.NpgsqlConnection connection, PersonId person) =>
        (await connection.Rows($"select {Columns} from {Tables} where a.person = $1", Read, person.Value)).SingleOrDefault();

    public static async Task<Account?> Account(this Npgsql.NpgsqlConnection connection, long id) =>
        (await connection.Rows($"select {Columns} from {Tables} where a.id = $1", Read, id)).SingleOrDefault();

    /// <summary>All accounts, by name.</summary>
    public static Task<List<AccountRow>> Accounts(this Npgsql.NpgsqlConnection connection, DateTimeOffset now, TimeSpan idle) =>
        connection.Rows(
            $"""
            select {Columns}, a.last_sign_in, (select count(*) from session s where s.account = a.id and s.revoked is null and s.expires > $1 and s.used_at > $2)
            from {Tables} order by lower(n.name), a.id
            """,
            row => new AccountRow(Read(row), row.OrNull<DateTimeOffset>(10), (int)row.GetInt64(11)),
            now,
            now - idle
        );

    /// <summary>Administrators who may sign in: the recipients of administrators' notifications.</summary>
    public static async Task<List<PersonId>> Administrators(this Npgsql.NpgsqlConnection connection, DateTimeOffset now)
    {
        var time = await connection.OrganisationTime();
        return
        [
            .. (
                await connection.Rows(
                    $"select {Columns} from {Tables} where a.role = $1 order by a.person",
                    Read,
                    (short)Role.Administrator
                )
            )
                .Where(account => account.IsOpen(now, time))
                .Select(account => account.Person),
        ];
    }

    public static Task SetPassword(this Change change, long account, string passwordHash) =>
        change.Connection.Run("update account set password_hash = $2 where id = $1", account, passwordHash);

    /// <summary>If the demo's clock is moved, sessions last as long as before.</summary>
    public static Task ShiftSessions(this Change change, TimeSpan by) =>
        change.Connection.Run(
            "update session set expires = expires + $1, used_at = used_at + $1 where revoked is null and expires > $2",
            by,
            change.Now
        );

    /// <summary>The account of a session that is not expired, idle or revoked, if its person has not left.</summary>
    public static async Task<(Account Account, Guid Session, DateTimeOffset UsedAt)?> AccountBySession(
        this Npgsql.NpgsqlConnection connection,
        byte[] idHash,
        DateTimeOffset now,
        TimeSpan idle
    )
    {
        var found = await connection.Rows(
            $"""
            select {Columns}, s.public_id, s.used_at, coalesce((select value from organisation_setting where name = '{Setting.Zone.Name}'), '{Setting.Zone.Otherwise}')
            from session s join account a on a.id = s.account {Holder}
            where s.id_hash = $1 and s.revoked is null and s.expires > $2 and s.used_at > $3
            """,
            row =>
                (
                    Account: Read(row),
                    Session: row.GetGuid(10),
                    UsedAt: row.GetFieldValue<DateTimeOffset>(11),
                    Time: OrganisationTables.TimeIn(row.GetString(12))
                ),
            idHash,
            now,
            now - idle
        );
        return found is [var one] && one.Account.IsOpen(now, one.Time) ? (one.Account, one.Session, one.UsedAt) : null;
    }

    /// <summary>Records the use of a session, unless that was recorded recently.</summary>
    public static Task<int> UseSession(
        this Npgsql.NpgsqlConnection connection,
        byte[] idHash,
        DateTimeOffset now,
        TimeSpan lately
    ) => connection.Run("update session set used_at = $2 where id_hash = $1 and used_at < $3", idHash, now, now - lately);

    public static Task PutAccount(this Change change, PersonId person, Role role, UnitCode? part, string? passwordHash) =>
        change.Connection.Run(
            """
            insert into account (person, role, scope, password_hash) values ($1, $2, $3, $4)
            on conflict (person) do update set role = excluded.role, scope = excluded.scope, password_hash = excluded.password_hash
            """,
            person.Value,
            (short)role,
            part?.Value,
            passwordHash
        );

    public static Task SetRole(this Change change, long account, Role role, UnitCode? part) =>
        change.Connection.Run("update account set role = $2, scope = $3 where id = $1", account, (short)role, part?.Value);

    public static Task RemoveAccount(this Change change, long account) =>
        change.Connection.Run("delete from account where id = $1", account);

    public static async Task AddSession(this Change change, byte[] idHash, SessionRow session)
    {
        await change.Connection.Run(
            "insert into session (id_hash, account, public_id, created, expires, used_at, agent) values ($1, $2, $3, $4, $5, $6, $7)",
            idHash,
            session.Account,
            session.PublicId,
            session.Created,
            session.Expires,
            session.UsedAt,
            session.Agent
        );
        await change.Connection.Run("update account set last_sign_in = $2 where id = $1", session.Account, change.Now);
    }

    public static Task<List<SessionRow>> SessionsOf(
        this Npgsql.NpgsqlConnection connection,
        long account,
        DateTimeOffset now,
        TimeSpan idle
    ) =>
        connection.Rows(
            "select public_id, account, created, expires, used_at, agent from session where account = $1 and revoked is null and expires > $2 and used_at > $3 order by created desc",
            row => new SessionRow(
                row.GetGuid(0),
                row.GetInt64(1),
                row.GetFieldValue<DateTimeOffset>(2),
                row.GetFieldValue<DateTimeOffset>(3),
                row.GetFieldValue<DateTimeOffset>(4),
                row.GetString(5)
            ),
            account,
            now,
            now - idle
        );

    /// <summary>Ends one session of an account; false if there is no such session.</summary>
    public static async Task<bool> Revoke(this Change change, long account, Guid session) =>
        await change.Connection.Run(
            "update session set revoked = $3 where account = $1 and public_id = $2 and revoked is null",
            account,
            session,
            change.Now
        ) > 0;

    /// <summary>Ends all sessions of an account but one.</summary>
    /// <returns>The number.</returns>
    public static Task<int> RevokeAll(this Change change, long account, Guid? but = null) =>
        change.Connection.Run(
            "update session set revoked = $2 where account = $1 and revoked is null and expires > $2 and public_id is distinct from $3",
            account,
            change.Now,
            Sql.Id(but)
        );

    /// <summary>Ends the sessions of everybody who has left or is no longer staff, and deletes their known browsers and calendar
    /// links.</summary>
    /// <returns>The accounts concerned.</returns>
    public static async Task<List<long>> RevokeOfLeft(this Change change)
    {
        var time = await change.Connection.OrganisationTime();
        var open = await change.Connection.Rows(
            $"select distinct {Columns} from {Tables} join session s on s.account = a.id where s.revoked is null and s.expires > $1",
            Read,
            change.Now
        );
        List<long> left = [.. open.Where(account => !account.IsOpen(change.Now, time)).Select(account => account.Id)];
        if (left.Count > 0)
        {
            await change.Connection.Run(
                "update session set revoked = $2 where account = any($1) and revoked is null",
                left.ToArray(),
                change.Now
            );
            await change.Connection.Run("delete from known_browser where account = any($1)", (object)left.ToArray());
        }

        return left;
    }

    public static Task AddFailure(this Change change, byte[] keyHash, bool toGather) =>
        change.Connection.Run(
            "insert into sign_in_failure (key_hash, at, to_gather) values ($1, $2, $3)",
            keyHash,
            change.Now,
            toGather
        );

    /// <summary>The number of failures up to an instant that are not journalled yet; each is counted once.</summary>
    public static Task<int> GatherFailures(this Change change, DateTimeOffset upto) =>
        change.Connection.Run("update sign_in_failure set to_gather = false where to_gather and at <= $1", upto);

    /// <summary>Counts a refused request of an account in the current minute.</summary>
    public static Task AddRefusal(this Change change, long account, PersonId person, string why, string method, string path) =>
        change.Connection.Run(
            """
            insert into refused_request (account, person, reason, minute, method, path, count) values ($1, $2, $3, date_trunc('minute', $4::timestamptz), $5, $6, 1)
            on conflict (account, reason, minute) do update set count = refused_request.count + 1
            """,
            account,
            person.Value,
            why,
            change.Now,
            method,
            path
        );

    /// <summary>The refused requests of the minutes before an instant, which are counted no more.</summary>
    public static Task<List<RefusedRequests>> GatherRefusals(this Change change, DateTimeOffset before) =>
        change.Connection.Rows(
            """
            with gone as (delete from refused_request where minute < $1 returning *)
            select account, person, reason, minute, method, path, count from gone order by minute, account, reason
            """,
            row => new RefusedRequests(
                row.GetInt64(0),
                new PersonId(row.GetInt64(1)),
                row.GetString(2),
                row.GetFieldValue<DateTimeOffset>(3),
                row.GetString(4),
                row.GetString(5),
                row.GetInt32(6)
            ),
            before
        );

    /// <summary>Deletes counters that no longer throttle anybody.</summary>
    public static async Task ForgetFailures(this Change change, DateTimeOffset before)
    {
        await change.Connection.Run("delete from sign_in_failure where not to_gather and at < $1", before);
        await change.Connection.Run("delete from sign_in_pause where last_at < $1 and free_at < $2", before, change.Now);
        await change.Connection.Run("delete from known_browser where until < $1", change.Now);
    }

    /// <summary>Counts an attempt under some keys, unless one of them has to wait: in one statement, so that simultaneous
    /// attempts are counted one after the other.
    /// </summary>
    /// <param name="keys">The keys, each with the number of attempts before pauses grow.</param>
    /// <returns>How long to wait; null if the attempt is counted and allowed.</returns>
    public static async Task<TimeSpan?> CountTry(
        this Npgsql.NpgsqlConnection connection,
        IReadOnlyList<(byte[] KeyHash, int Free)> keys,
        DateTimeOffset now,
        TimeSpan longest,
        TimeSpan forgotten
    )
    {
        var pauses = await connection.Rows(
            """
            with wanted as (select * from unnest($1::bytea[], $2::integer[]) as w(key_hash, free)),
            counted as (
                insert into sign_in_pause as s (key_hash, tries, last_at, free_at)
                select key_hash, 1, $3, $3 from wanted order by key_hash
                on conflict (key_hash) do update set
                    tries = case when s.free_at > $3 then s.tries when s.last_at < $5 then 1 else s.tries + 1 end,
                    last_at = case when s.free_at > $3 then s.last_at else $3 end,
                    free_at = case
                        when s.free_at > $3 then s.free_at
                        when s.last_at < $5 then $3
                        else $3 + least($4::interval, interval '1 second' * power(2, greatest(0, least(20, s.tries + 1 - (select free from wanted w where w.key_hash = s.key_hash)))) - interval '1 second') end
                returning s.key_hash, s.last_at, s.free_at
            )
            select max(free_at) from counted where last_at <> $3 and free_at > $3
            """,
            row => row.OrNull<DateTimeOffset>(0),
            keys.Select(key => key.KeyHash).ToArray(),
            keys.Select(key => key.Free).ToArray(),
            now,
            longest,
            now - forgotten
        );
        return pauses is [{ } until] ? until - now : null;
    }

    /// <summary>An attempt succeeded: the account's counter is reset, and the caller's is not increased. The caller's other
    /// failures stay counted, otherwise one own account would allow guessing all others.
    /// </summary>
    public static Task<int> Succeeded(this Npgsql.NpgsqlConnection connection, byte[] ofOne, byte[]? ofCaller) =>
        connection.Run(
            """
            with afresh as (delete from sign_in_pause where key_hash = $1)
            update sign_in_pause set tries = greatest(0, tries - 1), free_at = last_at where key_hash = $2
            """,
            ofOne,
            new Npgsql.NpgsqlParameter { Value = ofCaller ?? (object)DBNull.Value, NpgsqlDbType = NpgsqlTypes.NpgsqlDbType.Bytea }
        );

    /// <summary>True if a browser has signed in to an account before.</summary>
    public static Task<bool> IsKnownBrowser(
        this Npgsql.NpgsqlConnection connection,
        byte[] tokenHash,
        long account,
        DateTimeOffset now
    ) =>
        connection.One<bool>(
            "select exists (select from known_browser where token_hash = $1 and account = $2 and until > $3)",
            tokenHash,
            account,
            now
        );

    public static Task AddKnownBrowser(this Change change, byte[] tokenHash, long account, DateTimeOffset until) =>
        change.Connection.Run(
            "insert into known_browser (token_hash, account, until) values ($1, $2, $3) on conflict (token_hash) do update set account = excluded.account, until = excluded.until",
            tokenHash,
            account,
            until
        );

    public static Task ForgetBrowsers(this Change change, long account) =>
        change.Connection.Run("delete from known_browser where account = $1", account);

    /// <summary>The earlier response for the same key, if any.</summary>
    public static async Task<(string RequestHash, int Status, string Body)?> Answered(
        this Npgsql.NpgsqlConnection connection,
        long account,
        string key
    )
    {
        var found = await connection.Rows(
            "select request_hash, status, body from idempotency_key where account = $1 and key = $2",
            row => (row.GetString(0), row.GetInt32(1), row.GetString(2)),
            account,
            key
        );
        return found.Count == 0 ? null : found[0];
    }

    public static Task Answer(this Change change, long account, string key, string requestHash, int status, string body) =>
        change.Connection.Run(
            "insert into idempotency_key (account, key, request_hash, status, body, at) values ($1, $2, $3, $4, $5, $6)",
            account,
            key,
            requestHash,
            status,
            body,
            change.Now
        );

    internal static Account Read(Npgsql.NpgsqlDataReader row)
    {
        var person = new PersonId(row.GetInt64(1));
        return new(
            row.GetInt64(0),
            person,
            (Role)row.GetInt16(2),
            row.TextOrNull(3) is { } part ? new UnitCode(part) : null,
            row.TextOrNull(4),
            new Person(
                person,
                (PersonKind)row.GetInt16(5),
                row.GetString(6),
                row.GetString(7),
                (Standing)row.GetInt16(8),
                row.OrNull<DateOnly>(9),
                Known<UnitCode>.Unknown
            )
        );
    }
}
