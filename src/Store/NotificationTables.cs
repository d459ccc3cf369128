using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>A notification that waits to be sent, with its recipient.</summary>
public sealed record NotificationRow(
    long Id,
    PersonId Person,
    string Title,
    IReadOnlyList<string> Sentences,
    NotificationLink? Link
);

/// <summary>A stored link: by the hash of its token.</summary>
public sealed record LinkRow(PersonId Person, LinkPurpose Purpose, string Subject, DateTimeOffset Until, DateTimeOffset? UsedAt);

/// <summary>Notifications to people, and the links in them.</summary>
public static class NotificationTables
{
    /// <param name="sendAt">When it is sent: urgent notifications at once, others with the morning's mail.</param>
    public static Task Write(this Change change, Notification notification, DateTimeOffset sendAt) =>
        change.Connection.Run(
            "insert into notification (person, key, title, sentences, link, written_at, send_at) values ($1, $2, $3, $4, $5, $6, $7) on conflict (person, key) do nothing",
            notification.To.Value,
            notification.Key,
            notification.Title,
            Sql.Json(System.Text.Json.JsonSerializer.Serialize(notification.Sentences)),
            Sql.Json(Json.Of(notification.Link)),
            change.Now,
            sendAt
        );

    /// <summary>The keys of reminders by person: a reminder is not repeated.</summary>
    public static async Task<HashSet<(PersonId, string)>> Reminders(this NpgsqlConnection connection) =>
        [
            .. await connection.Rows(
                "select person, key from notification where key like 'remind:%' or key like 'near:%' or key like 'task:%'",
                row => (new PersonId(row.GetInt64(0)), row.GetString(1))
            ),
        ];

    /// <summary>The recipients of notifications with a key, sent or not.</summary>
    public static async Task<HashSet<PersonId>> AddressedUnder(this NpgsqlConnection connection, string key) =>
        [.. await connection.Rows("select person from notification where key = $1", row => new PersonId(row.GetInt64(0)), key)];

    /// <summary>The people with a due notification that no server is sending.</summary>
    public static Task<List<PersonId>> Addressees(this NpgsqlConnection connection, DateTimeOffset now) =>
        connection.Rows(
            "select distinct person from notification where sent_at is null and send_at <= $1 and (claimed_until is null or claimed_until <= $1) order by person",
            row => new PersonId(row.GetInt64(0)),
            now
        );

    /// <summary>All waiting notifications of a person, with the mail in which they were last included, if any.</summary>
    public static Task<List<(NotificationRow Notification, Guid? Mail)>> Waiting(
        this NpgsqlConnection connection,
        PersonId person
    ) =>
        connection.Rows(
            "select id, person, title, sentences, link, mail from notification where person = $1 and sent_at is null order by written_at, id",
            row =>
                (
                    new NotificationRow(
                        row.GetInt64(0),
                        new PersonId(row.GetInt64(1)),
                        row.GetString(2),
                        System.Text.Json.JsonSerializer.Deserialize<string[]>(row.GetString(3))!,
                        row.TextOrNull(4) is { } link ? Json.Link(link) : null
                    ),
                    row.OrNull<Guid>(5)
                ),
            person.Value
        );

    /// <summary>Assigns notifications to a mail that is being sent, while the claim lasts.</summary>
    public static Task Claim(this Change change, IReadOnlyCollection<long> notifications, Guid mail, TimeSpan time) =>
        change.Connection.Run(
            "update notification set mail = $2, claimed_until = $3 where id = any($1)",
            notifications.ToArray(),
            mail,
            change.Now + time
        );

    public static Task Sent(this Change change, Guid mail) =>
        change.Connection.Run("update notification set sent_at = $2 where mail = $1 and sent_at is null", mail, change.Now);

    /// <summary>The mail server did not accept it: it is tried again after the pause.</summary>
    public static Task NotSent(this Change change, Guid mail, TimeSpan pause) =>
        change.Connection.Run(
            "update notification set claimed_until = $2 where mail = $1 and sent_at is null",
            mail,
            change.Now + pause
        );

    /// <summary>People who can no longer get mail are skipped.</summary>
    public static Task Drop(this Change change, PersonId person) =>
        change.Connection.Run("delete from notification where person = $1 and sent_at is null", person.Value);

    /// <summary>Makes a new link; an earlier one of the same notification or, for passwords, of the same person becomes
    /// invalid.</summary>
    public static async Task PutLink(this Change change, byte[] tokenHash, LinkRow link, long? notification)
    {
        if (notification is not null)
        {
            await change.Connection.Run(
                "delete from link where notification = $1 and purpose = $2",
                notification.Value,
                (short)link.Purpose
            );
        }

        await change.Connection.Run(
            "insert into link (token_hash, person, notification, purpose, subject, until, made_at) values ($1, $2, $3, $4, $5, $6, $7)",
            tokenHash,
            link.Person.Value,
            Sql.Id(notification),
            (short)link.Purpose,
            link.Subject,
            link.Until,
            change.Now
        );
    }

    public static async Task<LinkRow?> Link(this NpgsqlConnection connection, byte[] tokenHash) =>
        (
            await connection.Rows(
                "select person, purpose, subject, until, used_at from link where token_hash = $1",
                row => new LinkRow(
                    new PersonId(row.GetInt64(0)),
                    (LinkPurpose)row.GetInt16(1),
                    row.GetString(2),
                    row.GetFieldValue<DateTimeOffset>(3),
                    row.OrNull<DateTimeOffset>(4)
                ),
                tokenHash
            )
        ).SingleOrDefault();

    /// <summary>Uses a link up; false if it was used before.</summary>
    public static async Task<bool> UseLink(this Change change, byte[] tokenHash) =>
        await change.Connection.Run(
            "update link set used_at = $2 where token_hash = $1 and used_at is null",
            tokenHash,
            change.Now
        ) > 0;

    /// <summary>Ends all unused links of a person for one purpose: a new password invalidates older links.</summary>
    public static Task EndLinks(this Change change, PersonId person, LinkPurpose purpose) =>
        change.Connection.Run(
            "update link set used_at = $3 where person = $1 and purpose = $2 and used_at is null",
            person.Value,
            (short)purpose,
            change.Now
        );
}
