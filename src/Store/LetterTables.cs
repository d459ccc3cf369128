using AtticLedger.Core.Deeds;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>A text that waits to be sent, with where it goes.</summary>
public sealed record LetterRow(long Id, PersonId Person, string Title, IReadOnlyList<string> Sentences, LetterLink? Link);

/// <summary>A link as it is kept: by the hash of its token.</summary>
public sealed record LinkRow(PersonId Person, LinkPurpose Purpose, string Subject, DateTimeOffset Until, DateTimeOffset? UsedAt);

/// <summary>Letters to people, and the links in them.</summary>
public static class LetterTables
{
    /// <param name="sendAt">Urgent letters go at once, the others with the mail of the morning.</param>
    public static Task Write(this Change change, Letter letter, DateTimeOffset sendAt) =>
        change.Connection.Run(
            "insert into letter (person, key, title, sentences, link, written_at, send_at) values ($1, $2, $3, $4, $5, $6, $7) on conflict (person, key) do nothing",
            letter.To.Value,
            letter.Key,
            letter.Title,
            Sql.Json(System.Text.Json.JsonSerializer.Serialize(letter.Sentences)),
            Sql.Json(Json.Of(letter.Link)),
            change.Now,
            sendAt
        );

    /// <summary>Keys of letters that remind, by person: what was written is not written again.</summary>
    public static async Task<HashSet<(PersonId, string)>> Reminders(this NpgsqlConnection connection) =>
        [
            .. await connection.Rows(
                "select person, key from letter where key like 'remind:%' or key like 'near:%' or key like 'by-hand:%'",
                row => (new PersonId(row.GetInt64(0)), row.GetString(1))
            ),
        ];

    /// <summary>Who has been written to under a key, sent or not.</summary>
    public static async Task<HashSet<PersonId>> AddressedUnder(this NpgsqlConnection connection, string key) =>
        [.. await connection.Rows("select person from letter where key = $1", row => new PersonId(row.GetInt64(0)), key)];

    /// <summary>Who has a letter that is to go out by now and that nobody is sending.</summary>
    public static Task<List<PersonId>> Addressees(this NpgsqlConnection connection, DateTimeOffset now) =>
        connection.Rows(
            "select distinct person from letter where sent_at is null and send_at <= $1 and (claimed_until is null or claimed_until <= $1) order by person",
            row => new PersonId(row.GetInt64(0)),
            now
        );

    /// <summary>All that waits for a person, with the mail that it was last put into, if it was.</summary>
    public static Task<List<(LetterRow Letter, Guid? Mail)>> Waiting(this NpgsqlConnection connection, PersonId person) =>
        connection.Rows(
            "select id, person, title, sentences, link, mail from letter where person = $1 and sent_at is null order by written_at, id",
            row =>
                (
                    new LetterRow(
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

    /// <summary>Puts letters into a mail that is now being sent, for as long as the claim lasts.</summary>
    public static Task Claim(this Change change, IReadOnlyCollection<long> letters, Guid mail, TimeSpan time) =>
        change.Connection.Run(
            "update letter set mail = $2, claimed_until = $3 where id = any($1)",
            letters.ToArray(),
            mail,
            change.Now + time
        );

    public static Task Sent(this Change change, Guid mail) =>
        change.Connection.Run("update letter set sent_at = $2 where mail = $1 and sent_at is null", mail, change.Now);

    /// <summary>The mail server did not take it: it is tried again after the pause.</summary>
    public static Task NotSent(this Change change, Guid mail, TimeSpan pause) =>
        change.Connection.Run(
            "update letter set claimed_until = $2 where mail = $1 and sent_at is null",
            mail,
            change.Now + pause
        );

    /// <summary>Who can no longer get mail is sent none.</summary>
    public static Task Drop(this Change change, PersonId person) =>
        change.Connection.Run("delete from letter where person = $1 and sent_at is null", person.Value);

    /// <summary>A new link; one of the same letter or, for passwords, of the same person, is no longer good.</summary>
    public static async Task PutLink(this Change change, byte[] tokenHash, LinkRow link, long? letter)
    {
        if (letter is not null)
        {
            await change.Connection.Run("delete from link where letter = $1 and purpose = $2", letter.Value, (short)link.Purpose);
        }

        await change.Connection.Run(
            "insert into link (token_hash, person, letter, purpose, subject, until, made_at) values ($1, $2, $3, $4, $5, $6, $7)",
            tokenHash,
            link.Person.Value,
            Sql.Id(letter),
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

    /// <summary>Uses a link up; false where somebody did before.</summary>
    public static async Task<bool> UseLink(this Change change, byte[] tokenHash) =>
        await change.Connection.Run(
            "update link set used_at = $2 where token_hash = $1 and used_at is null",
            tokenHash,
            change.Now
        ) > 0;

    /// <summary>Ends all unused links of a person for one purpose: a new password makes older links worthless.</summary>
    public static Task EndLinks(this Change change, PersonId person, LinkPurpose purpose) =>
        change.Connection.Run(
            "update link set used_at = $3 where person = $1 and purpose = $2 and used_at is null",
            person.Value,
            (short)purpose,
            change.Now
        );
}
