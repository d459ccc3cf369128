using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Offers of ownership, and requests for approval.</summary>
public static class HandoverTables
{
    private const string OfferColumns =
        "id, site, state, to_person, current_owner, current_owner_after, by_person, second, reason, offered_at, through, answered_at, ended_at, change_id, message";
    private const string ApprovalColumns =
        "id, site, state, action, request, by_person, by_capacity, reason, because, requested_at, through, fingerprint, renewed, answered_by, ended_at";

    public static Task<List<Offer>> OpenOffers(this NpgsqlConnection connection) =>
        connection.Rows($"select {OfferColumns} from offer where state in (0, 1) order by offered_at, id", ReadOffer);

    /// <summary>Open offers of ownership of some sites, the latest first.</summary>
    public static async Task<ILookup<SiteId, Offer>> OpenOffers(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId> sites
    ) =>
        (
            await connection.Rows(
                $"select {OfferColumns} from offer where site = any($1) and state in (0, 1) order by offered_at desc",
                ReadOffer,
                Sql.Ids(sites)
            )
        ).ToLookup(offer => offer.Site);

    /// <summary>Offers to a person, by them, or of a site they own.</summary>
    public static Task<List<Offer>> OffersWith(this NpgsqlConnection connection, PersonId person) =>
        connection.Rows(
            $"select {OfferColumns} from offer where $1 in (to_person, current_owner, by_person) order by offered_at desc",
            ReadOffer,
            person.Value
        );

    public static async Task<Offer?> Offer(this NpgsqlConnection connection, OfferId id) =>
        (await connection.Rows($"select {OfferColumns} from offer where id = $1", ReadOffer, id.Value)).SingleOrDefault();

    public static async Task<Offer?> OfferOfHostChange(this NpgsqlConnection connection, ChangeId hostChange) =>
        (
            await connection.Rows($"select {OfferColumns} from offer where change_id = $1", ReadOffer, hostChange.Value)
        ).SingleOrDefault();

    public static Task Put(this Change change, Offer offer) =>
        change.Connection.Run(
            $"""
            insert into offer ({OfferColumns}) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15)
            on conflict (id) do update set state = excluded.state, answered_at = excluded.answered_at, ended_at = excluded.ended_at, change_id = excluded.change_id, message = excluded.message
            """,
            offer.Id.Value,
            offer.Site.Value,
            (short)offer.State,
            offer.To.Value,
            Sql.Id(offer.CurrentOwner?.Value),
            (short)offer.After,
            offer.By.Value,
            Sql.Id(offer.Second?.Value),
            offer.Reason,
            offer.OfferedAt,
            offer.Through,
            Sql.Moment(offer.AnsweredAt),
            Sql.Moment(offer.EndedAt),
            Sql.Id(offer.HostChange?.Value),
            offer.Words
        );

    public static Task<List<Approval>> OpenApprovals(this NpgsqlConnection connection) =>
        connection.Rows($"select {ApprovalColumns} from approval where state = 0 order by requested_at, id", ReadApproval);

    public static async Task<Approval?> Approval(this NpgsqlConnection connection, ApprovalId id) =>
        (
            await connection.Rows($"select {ApprovalColumns} from approval where id = $1", ReadApproval, id.Value)
        ).SingleOrDefault();

    public static Task Put(this Change change, Approval approval) =>
        change.Connection.Run(
            $"""
            insert into approval ({ApprovalColumns}) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15)
            on conflict (id) do update set state = excluded.state, fingerprint = excluded.fingerprint, renewed = excluded.renewed, answered_by = excluded.answered_by, ended_at = excluded.ended_at
            """,
            approval.Id.Value,
            approval.Site.Value,
            (short)approval.State,
            approval.Action.Text(),
            approval.Request,
            approval.By.Value,
            (short)approval.As,
            approval.Reason,
            Sql.Json(Json.Of(approval.Because)),
            approval.RequestedAt,
            approval.Through,
            approval.Fingerprint,
            approval.Renewed,
            Sql.Id(approval.AnsweredBy?.Value),
            Sql.Moment(approval.EndedAt)
        );

    private static Offer ReadOffer(NpgsqlDataReader row) =>
        new()
        {
            Id = new OfferId(row.GetGuid(0)),
            Site = new SiteId(row.GetInt64(1)),
            State = (OfferState)row.GetInt16(2),
            To = new PersonId(row.GetInt64(3)),
            CurrentOwner = row.PersonOrNull(4),
            After = (CurrentOwnerAfter)row.GetInt16(5),
            By = new PersonId(row.GetInt64(6)),
            Second = row.PersonOrNull(7),
            Reason = row.TextOrNull(8),
            OfferedAt = row.GetFieldValue<DateTimeOffset>(9),
            Through = row.GetFieldValue<DateOnly>(10),
            AnsweredAt = row.OrNull<DateTimeOffset>(11),
            EndedAt = row.OrNull<DateTimeOffset>(12),
            HostChange = row.OrNull<Guid>(13) is { } hostChange ? new ChangeId(hostChange) : null,
            Words = row.TextOrNull(14),
        };

    private static Approval ReadApproval(NpgsqlDataReader row) =>
        new()
        {
            Id = new ApprovalId(row.GetGuid(0)),
            Site = new SiteId(row.GetInt64(1)),
            State = (ApprovalState)row.GetInt16(2),
            Action = ActionNames.Read(row.GetString(3)),
            Request = row.GetString(4),
            By = new PersonId(row.GetInt64(5)),
            As = (Capacity)row.GetInt16(6),
            Reason = row.TextOrNull(7),
            Because = Json.Remark(row.GetString(8)),
            RequestedAt = row.GetFieldValue<DateTimeOffset>(9),
            Through = row.GetFieldValue<DateOnly>(10),
            Fingerprint = row.GetString(11),
            Renewed = row.GetInt32(12),
            AnsweredBy = row.PersonOrNull(13),
            EndedAt = row.OrNull<DateTimeOffset>(14),
        };

    internal static PersonId? PersonOrNull(this NpgsqlDataReader row, int column) =>
        row.OrNull<long>(column) is { } person ? new PersonId(person) : null;
}
