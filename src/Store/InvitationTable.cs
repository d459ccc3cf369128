using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>What the register knows of the guest of an invitation.</summary>
/// <param name="HasAccess">True if the site grants something to them by name.</param>
/// <param name="IsReported">True if the site's host reports whether they have signed in.</param>
public sealed record InvitedGuest(InvitationId Invitation, bool HasAccess, bool IsReported, bool HasJoined);

/// <summary>Invitations of people from outside.</summary>
public static class InvitationTable
{
    private const string Columns =
        "i.id, i.site, i.mail, i.power, i.through, i.sponsor, i.by_person, i.asked_at, i.reason, i.stopped_by, i.change_id, i.ending, i.ended_at";

    public static async Task<Invitation?> Invitation(this NpgsqlConnection connection, InvitationId id) =>
        (await connection.Rows($"select {Columns} from invitation i where id = $1", Read, id.Value)).SingleOrDefault();

    /// <summary>The invitations to a site, the newest first.</summary>
    public static Task<List<Invitation>> InvitationsTo(this NpgsqlConnection connection, SiteId site) =>
        connection.Rows($"select {Columns} from invitation i where site = $1 order by asked_at desc, id", Read, site.Value);

    /// <summary>The invitations that have not been ended and whose last day has not passed, the oldest first.</summary>
    public static Task<List<Invitation>> Invitations(this NpgsqlConnection connection, DateOnly today) =>
        connection.Rows(
            $"select {Columns} from invitation i where ended_at is null and through >= $1 order by asked_at, id",
            Read,
            today
        );

    /// <summary>The invitations that have not been sent, the oldest first.</summary>
    public static Task<List<Invitation>> WaitingInvitations(this NpgsqlConnection connection, DateOnly today) =>
        connection.Rows(
            $"select {Columns} from invitation i where change_id is null and ended_at is null and through >= $1 order by asked_at, id",
            Read,
            today
        );

    /// <summary>The invitations that a host confirmed before an instant, and whose guest has never signed in there, where the host reports
    /// that.</summary>
    public static Task<List<Invitation>> UnansweredInvitations(
        this NpgsqlConnection connection,
        DateOnly today,
        DateTimeOffset confirmedBefore
    ) =>
        connection.Rows(
            $"""
            select {Columns} from invitation i join host_change c on c.id = i.change_id
                join site s on s.id = i.site join person_name n on lower(n.mail) = lower(i.mail)
                join guest_account a on a.guest = n.person and a.source = s.host
            where i.ended_at is null and i.through >= $1 and c.confirmed_at < $2 and a.joined_at is null
            order by i.asked_at, i.id
            """,
            Read,
            today,
            confirmedBefore
        );

    public static Task<List<InvitedGuest>> InvitedGuests(
        this NpgsqlConnection connection,
        IReadOnlyCollection<InvitationId> ids,
        DateOnly today
    ) =>
        connection.Rows(
            """
            select i.id,
                exists (select from site_grant g where g.site = i.site and g.person = n.person and (g.through is null or g.through >= $2)),
                a.guest is not null, a.joined_at is not null
            from invitation i join site s on s.id = i.site
                left join person_name n on lower(n.mail) = lower(i.mail)
                left join guest_account a on a.guest = n.person and a.source = s.host
            where i.id = any($1)
            """,
            row => new InvitedGuest(new InvitationId(row.GetGuid(0)), row.GetBoolean(1), row.GetBoolean(2), row.GetBoolean(3)),
            (object)ids.Select(id => id.Value).ToArray(),
            today
        );

    /// <summary>The invitations to some sites that have not been ended.</summary>
    public static async Task<ILookup<SiteId, Invitation>> OpenInvitations(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId> sites
    ) =>
        (
            await connection.Rows(
                $"select {Columns} from invitation i where site = any($1) and ended_at is null order by asked_at, id",
                Read,
                Sql.Ids(sites)
            )
        ).ToLookup(invitation => invitation.Site);

    public static Task Put(this Change change, Invitation invitation) =>
        change.Connection.Run(
            """
            insert into invitation (id, site, mail, power, through, sponsor, by_person, asked_at, reason, stopped_by, change_id, ending, ended_at)
            values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)
            on conflict (id) do update set stopped_by = excluded.stopped_by, change_id = excluded.change_id, ending = excluded.ending, ended_at = excluded.ended_at
            """,
            invitation.Id.Value,
            invitation.Site.Value,
            invitation.Mail,
            (short)invitation.Power,
            invitation.Through,
            invitation.Sponsor.Value,
            invitation.By.Value,
            invitation.AskedAt,
            Sql.Words(invitation.Reason),
            invitation.StoppedBy.ToArray(),
            Sql.Id(invitation.HostChange?.Value),
            (object?)(short?)invitation.Ending ?? DBNull.Value,
            Sql.Moment(invitation.EndedAt)
        );

    private static Invitation Read(NpgsqlDataReader row) =>
        new(
            new InvitationId(row.GetGuid(0)),
            new SiteId(row.GetInt64(1)),
            row.GetString(2),
            (Power)row.GetInt16(3),
            row.GetFieldValue<DateOnly>(4),
            new PersonId(row.GetInt64(5)),
            new PersonId(row.GetInt64(6)),
            row.GetFieldValue<DateTimeOffset>(7),
            row.TextOrNull(8)
        )
        {
            StoppedBy = row.GetFieldValue<string[]>(9),
            HostChange = row.OrNull<Guid>(10) is { } change ? new ChangeId(change) : null,
            Ending = row.OrNull<short>(11) is { } ending ? (InvitationEnding)ending : null,
            EndedAt = row.OrNull<DateTimeOffset>(12),
        };
}
