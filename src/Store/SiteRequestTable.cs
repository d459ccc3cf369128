using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Requests to start a site, and the addresses that they hold.</summary>
public static class SiteRequestTable
{
    private const string Columns =
        "id, state, wanted, host, address, by_person, requested_at, through, answered_by, answered_at, answer, steps, done, attempts, next_try, lease, lease_until, message, host_key, site, restriction, ended_at, mail_alias";

    private const string IsOpen = "state in (0, 1, 2)";

    public static async Task<SiteRequest?> SiteRequest(this NpgsqlConnection connection, RequestId id) =>
        (await connection.Rows($"select {Columns} from site_request where id = $1", Read, id.Value)).SingleOrDefault();

    /// <summary>Requests that have not ended, the oldest first.</summary>
    public static Task<List<SiteRequest>> OpenSiteRequests(this NpgsqlConnection connection) =>
        connection.Rows($"select {Columns} from site_request where {IsOpen} order by requested_at, id", Read);

    /// <summary>Open requests, and those that ended since an instant, the newest first.</summary>
    public static Task<List<SiteRequest>> SiteRequests(this NpgsqlConnection connection, DateTimeOffset since) =>
        connection.Rows(
            $"select {Columns} from site_request where {IsOpen} or ended_at >= $1 order by requested_at desc, id",
            Read,
            since
        );

    /// <summary>The request that a site was made for, if any.</summary>
    public static async Task<SiteRequest?> RequestOf(this NpgsqlConnection connection, SiteId site) =>
        (await connection.Rows($"select {Columns} from site_request where site = $1", Read, site.Value)).FirstOrDefault();

    /// <summary>The addresses on a host that are held by something else than the site that has them: open requests, and forwarding.
    /// </summary>
    public static async Task<IReadOnlyList<Holding>> AddressesBesideSites(this NpgsqlConnection connection, string host) =>
        [
            .. await connection.Rows(
                $"select address, wanted ->> 'name' from site_request where host = $1 and {IsOpen} order by requested_at, id",
                row => new Holding(row.GetString(0), row.GetString(1), HeldAs.Requested),
                host
            ),
            .. await connection.ForwardingAddresses(host),
        ];

    /// <summary>Who has exactly this address on a host, in whatever state: a few at most.</summary>
    /// <param name="but">A request that does not count.</param>
    public static async Task<IReadOnlyList<Holding>> HoldersOf(
        this NpgsqlConnection connection,
        string host,
        string address,
        RequestId? but = null
    ) =>
        [
            .. await connection.Holdings(host, address),
            .. await connection.ForwardingAddresses(host, address),
            .. await connection.Rows(
                $"select address, wanted ->> 'name' from site_request where host = $1 and address = $2 and {IsOpen} and id is distinct from $3",
                row => new Holding(row.GetString(0), row.GetString(1), HeldAs.Requested),
                host,
                address,
                Sql.Id(but?.Value)
            ),
            .. await connection.Rows(
                """
                select h.address, coalesce(s.name, h.address), s.id from address_holding h join site s on s.id = h.site
                where h.host = $1 and h.address = $2 and h.change_id is not null and s.address is distinct from h.address
                """,
                row => new Holding(row.GetString(0), row.GetString(1), HeldAs.InUse, new SiteId(row.GetInt64(2))),
                host,
                address
            ),
        ];

    /// <summary>True if a site that is not erased has the mail alias, or an open request asks for it.</summary>
    public static async Task<bool> IsAliasHeld(this NpgsqlConnection connection, string alias, RequestId? but = null) =>
        await connection.One<bool>(
            $"""
            select exists (select from site where optional ->> 'mailAlias' = $1 and existence < 2)
                or exists (select from site_request where mail_alias = $1 and {IsOpen} and id is distinct from $2)
            """,
            alias,
            Sql.Id(but?.Value)
        );

    public static Task Put(this Change change, SiteRequest request) =>
        change.Connection.Run(
            $"""
            insert into site_request ({Columns}, unit) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $21, $22, $23, $24)
            on conflict (id) do update set state = excluded.state, answered_by = excluded.answered_by, answered_at = excluded.answered_at, answer = excluded.answer, steps = excluded.steps, done = excluded.done, attempts = excluded.attempts, next_try = excluded.next_try, lease = excluded.lease, lease_until = excluded.lease_until, message = excluded.message, host_key = excluded.host_key, site = excluded.site, restriction = excluded.restriction, ended_at = excluded.ended_at
            """,
            request.Id.Value,
            (short)request.State,
            Sql.Json(Json.Of(request.Wanted)),
            request.Host,
            request.Address,
            request.By.Value,
            request.RequestedAt,
            request.Through,
            Sql.Id(request.AnsweredBy?.Value),
            Sql.Moment(request.AnsweredAt),
            Sql.Words(request.Answer),
            request.Steps.Select(step => step.ToString()).ToArray(),
            request.Done,
            request.Attempts,
            request.NextTry,
            Sql.Words(request.Lease),
            Sql.Moment(request.LeaseUntil),
            Sql.Words(request.Words),
            Sql.Words(request.HostKey),
            Sql.Id(request.Site?.Value),
            Sql.Id(request.Restriction?.Value),
            Sql.Moment(request.EndedAt),
            Sql.Words(request.MailAlias),
            Sql.Words(request.Wanted.Unit?.Value)
        );

    private static SiteRequest Read(NpgsqlDataReader row) =>
        new()
        {
            Id = new RequestId(row.GetGuid(0)),
            State = (SiteRequestState)row.GetInt16(1),
            Wanted = Json.NewSite(row.GetString(2)),
            Host = row.GetString(3),
            Address = row.GetString(4),
            By = new PersonId(row.GetInt64(5)),
            RequestedAt = row.GetFieldValue<DateTimeOffset>(6),
            Through = row.GetFieldValue<DateOnly>(7),
            AnsweredBy = row.PersonOrNull(8),
            AnsweredAt = row.OrNull<DateTimeOffset>(9),
            Answer = row.TextOrNull(10),
            Steps = [.. row.GetFieldValue<string[]>(11).Select(Enum.Parse<MakingStep>)],
            Done = row.GetInt32(12),
            Attempts = row.GetInt32(13),
            NextTry = row.GetFieldValue<DateTimeOffset>(14),
            Lease = row.TextOrNull(15),
            LeaseUntil = row.OrNull<DateTimeOffset>(16),
            Words = row.TextOrNull(17),
            HostKey = row.TextOrNull(18),
            Site = row.OrNull<long>(19) is { } site ? new SiteId(site) : null,
            Restriction = row.OrNull<Guid>(20) is { } change ? new ChangeId(change) : null,
            EndedAt = row.OrNull<DateTimeOffset>(21),
            MailAlias = row.TextOrNull(22),
        };
}
