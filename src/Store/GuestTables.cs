using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>What a source reports of the account of a guest.</summary>
/// <param name="JoinedAt">When the guest first signed in; null if they have not.</param>
public sealed record GuestAccount(PersonId Guest, string Source, DateTimeOffset? JoinedAt, DateTimeOffset? LastSeenAt);

/// <summary>The answer that a guest is still needed.</summary>
public sealed record GuestReview(PersonId Guest, PersonId By, DateTimeOffset AnsweredAt, string? Reason);

/// <summary>A grant to a guest by name, on a site in use.</summary>
public sealed record GuestGrant(PersonId Guest, SiteId Site, Power Power, DateOnly? Through);

public static class GuestTables
{
    public static Task<List<GuestAccount>> GuestAccounts(this NpgsqlConnection connection) =>
        connection.Rows(
            "select guest, source, joined_at, last_seen_at from guest_account order by guest, source collate \"C\"",
            row => new GuestAccount(
                new PersonId(row.GetInt64(0)),
                row.GetString(1),
                row.OrNull<DateTimeOffset>(2),
                row.OrNull<DateTimeOffset>(3)
            )
        );

    /// <summary>Replaces all accounts that a source reports.</summary>
    public static async Task SetGuestAccounts(this Change change, string source, IReadOnlyCollection<GuestAccount> said)
    {
        await change.Connection.Run(
            "delete from guest_account where source = $1 and not guest = any($2)",
            source,
            said.Select(one => one.Guest.Value).ToArray()
        );
        await change.Connection.Run(
            """
            insert into guest_account (guest, source, joined_at, last_seen_at)
            select guest, $1, joined, seen from unnest($2::bigint[], $3::timestamptz[], $4::timestamptz[]) as said(guest, joined, seen)
            on conflict (guest, source) do update set joined_at = excluded.joined_at, last_seen_at = excluded.last_seen_at
            where (guest_account.joined_at, guest_account.last_seen_at) is distinct from (excluded.joined_at, excluded.last_seen_at)
            """,
            source,
            said.Select(one => one.Guest.Value).ToArray(),
            said.Select(one => one.JoinedAt).ToArray(),
            said.Select(one => one.LastSeenAt).ToArray()
        );
    }

    public static Task<List<GuestReview>> GuestReviews(this NpgsqlConnection connection) =>
        connection.Rows("select guest, by_person, answered_at, reason from guest_review", row => new GuestReview(
            new PersonId(row.GetInt64(0)),
            new PersonId(row.GetInt64(1)),
            row.GetFieldValue<DateTimeOffset>(2),
            row.TextOrNull(3)
        ));

    public static Task Put(this Change change, GuestReview review) =>
        change.Connection.Run(
            """
            insert into guest_review (guest, by_person, answered_at, reason) values ($1, $2, $3, $4)
            on conflict (guest) do update set by_person = excluded.by_person, answered_at = excluded.answered_at, reason = excluded.reason
            """,
            review.Guest.Value,
            review.By.Value,
            review.AnsweredAt,
            Sql.Words(review.Reason)
        );

    /// <summary>What guests are granted by name on sites that are in use and still reported.</summary>
    public static Task<List<GuestGrant>> GuestGrants(this NpgsqlConnection connection, DateOnly today) =>
        connection.Rows(
            """
            select g.person, g.site, max(g.power), case when bool_and(g.through is not null) then max(g.through) end
            from site_grant g join person p on p.id = g.person join site s on s.id = g.site
            where p.kind = $2 and s.existence = $3 and not s.no_longer_reported and (g.through is null or g.through >= $1)
            group by g.person, g.site
            """,
            row => new GuestGrant(
                new PersonId(row.GetInt64(0)),
                new SiteId(row.GetInt64(1)),
                (Power)row.GetInt16(2),
                row.OrNull<DateOnly>(3)
            ),
            Sql.Day(today),
            (short)PersonKind.Guest,
            (short)Existence.InUse
        );

    /// <summary>Names a sponsor for a guest, as the product's own claim.</summary>
    public static Task SetSponsor(this Change change, PersonId guest, string source, PersonId sponsor) =>
        change.Connection.Run(
            """
            insert into person_sponsor (guest, source, sponsor) values ($1, $2, $3)
            on conflict (guest, source) do update set sponsor = excluded.sponsor
            """,
            guest.Value,
            source,
            sponsor.Value
        );
}
