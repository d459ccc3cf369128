using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>An entry in the journal: the hashed text, and its projections.</summary>
public sealed record JournalRow(
    long Number,
    DateTimeOffset At,
    string Actor,
    string Action,
    string Subject,
    string Text,
    string Hash
)
{
    /// <summary>The columns in addition to the text.</summary>
    public Projection Projection => new(Number, At, Actor, Action, Subject, Hash);

    /// <summary>The action; null for one that this version does not know.</summary>
    public JournalAction? Known => JournalAction.Find(Action);

    /// <summary>The site concerned; null if it concerns something else.</summary>
    public SiteId? Site => EntrySubject.Parse(Subject) is EntrySubject.Site(var site) ? site : null;

    /// <summary>The acting person; null for a host or the product.</summary>
    public PersonId? Person => EntryActor.Parse(Actor) is EntryActor.Human(var person) ? person : null;
}

/// <summary>An entry of the feed: its number, and what changed. Null for a subject or an action that this version does not
/// know.</summary>
public sealed record FeedEntry(long Number, EntrySubject? Subject, JournalAction? Action);

/// <summary>The filter of a list: newest first, before a number, about some subjects, of one action, by one actor, since an
/// instant.</summary>
public sealed record JournalQuery(
    IReadOnlyCollection<string>? Subjects,
    string? Action,
    long? Before,
    int Limit,
    string? Actor = null,
    DateTimeOffset? Since = null
);

public static class JournalTable
{
    private const string Columns = "number, at, actor, action, subject, text, hash";

    /// <summary>Writes entries and returns their numbers. Locks the head, so it comes last in a transaction, except for rows
    /// that contain an entry's number.
    /// </summary>
    public static async Task<IReadOnlyList<long>> Append(this Change change, IReadOnlyList<Draft> drafts)
    {
        if (drafts.Count == 0)
        {
            return [];
        }

        await change.Queue();
        var head = (await change.Connection.Rows("select number, hash from journal_lock()", ReadHead)).Single();
        var texts = new string[drafts.Count];
        for (var i = 0; i < texts.Length; i++)
        {
            texts[i] = drafts[i].Text(head.Number + 1, change.Now, head.Hash);
            head = new Head(head.Number + 1, Head.HashOf(texts[i]));
        }

        var last = await change.Connection.One<long>("select journal_append($1)", (object)texts);
        return [.. Enumerable.Range(0, texts.Length).Select(i => last - texts.Length + 1 + i)];
    }

    /// <summary>Writes entries, if there are any.</summary>
    /// <returns>The number of the last entry of the journal that this change has seen.</returns>
    public static async Task<long> AppendOrHead(this Change change, IReadOnlyList<Draft> drafts) =>
        drafts.Count > 0 ? (await change.Append(drafts))[^1] : (await change.Connection.JournalHead()).Number;

    public static async Task<Head> JournalHead(this NpgsqlConnection connection) =>
        (await connection.Rows("select number, hash from journal_head", ReadHead)).Single();

    /// <summary>The hash of an entry, or null if there is none: distinguishes journals.</summary>
    public static async Task<string?> HashAt(this NpgsqlConnection connection, long number) =>
        (await connection.Rows("select hash from journal where number = $1", row => row.GetString(0), number)).SingleOrDefault();

    /// <summary>A page of the journal. Null subjects mean all: the caller is responsible for the scope.</summary>
    public static Task<List<JournalRow>> Journal(this NpgsqlConnection connection, JournalQuery query) =>
        connection.Rows(
            $"""
            select {Columns} from journal
            where ($1::text[] is null or subject = any($1))
              and ($2::text is null or action = $2)
              and ($3::bigint is null or number < $3)
              and ($5::text is null or actor = $5)
              and ($6::timestamptz is null or at >= $6)
            order by number desc limit $4
            """,
            Read,
            new NpgsqlParameter
            {
                Value = (object?)query.Subjects?.ToArray() ?? DBNull.Value,
                NpgsqlDbType = NpgsqlTypes.NpgsqlDbType.Array | NpgsqlTypes.NpgsqlDbType.Text,
            },
            query.Action,
            new NpgsqlParameter { Value = (object?)query.Before ?? DBNull.Value, NpgsqlDbType = NpgsqlTypes.NpgsqlDbType.Bigint },
            query.Limit,
            query.Actor,
            Sql.Moment(query.Since)
        );

    /// <summary>The actions of people between two instants, the earliest first; of one person, or of all.</summary>
    public static Task<List<JournalRow>> ActionsOfPeople(
        this NpgsqlConnection connection,
        DateTimeOffset from,
        DateTimeOffset until,
        PersonId? by,
        int most
    ) =>
        connection.Rows(
            $"select {Columns} from journal where at >= $1 and at < $2 and actor like 'person:%' and ($3::text is null or actor = $3) order by number limit $4",
            Read,
            from,
            until,
            by is { } person ? EntryActor.Of(person).Text : null,
            most
        );

    /// <summary>Entries of some actions on sites since an instant, the latest first.</summary>
    public static Task<List<JournalRow>> OnSitesSince(
        this NpgsqlConnection connection,
        DateTimeOffset since,
        IReadOnlyCollection<JournalAction> actions
    ) =>
        connection.Rows(
            $"select {Columns} from journal where at >= $1 and subject like $3 and action = any($2) order by number desc",
            Read,
            since,
            actions.Select(action => action.Name).ToArray(),
            $"{EntrySubject.SitePrefix}%"
        );

    /// <summary>When each source was first loaded completely, by the subject of the entry.</summary>
    public static async Task<Dictionary<EntrySubject, DateTimeOffset>> FirstLoads(this NpgsqlConnection connection) =>
        (
            await connection.Rows(
                "select subject, min(at) from journal where action = $1 group by subject",
                row => (EntrySubject.Parse(row.GetString(0))!, row.GetFieldValue<DateTimeOffset>(1)),
                JournalAction.RegisterImported.Name
            )
        ).ToDictionary();

    /// <summary>The number of the last entry about something; null if there is none.</summary>
    public static async Task<long?> LastEntry(this NpgsqlConnection connection, EntrySubject subject) =>
        (
            await connection.Rows("select max(number) from journal where subject = $1", row => row.OrNull<long>(0), subject.Text)
        ).Single();

    /// <summary>One entry, or null if there is none.</summary>
    public static async Task<JournalRow?> JournalEntry(this NpgsqlConnection connection, long number) =>
        (await connection.JournalEntries([number])).SingleOrDefault();

    public static Task<List<JournalRow>> JournalEntries(this NpgsqlConnection connection, IReadOnlyCollection<long> numbers) =>
        connection.Rows($"select {Columns} from journal where number = any($1) order by number", Read, (object)numbers.ToArray());

    /// <summary>The entries after a position: the feed that keeps indexes current. Null for a subject or an action that this version
    /// does not know.</summary>
    public static Task<List<FeedEntry>> Feed(this NpgsqlConnection connection, long after) =>
        connection.Rows(
            "select number, subject, action from journal where number > $1 order by number",
            row => new FeedEntry(row.GetInt64(0), EntrySubject.Parse(row.GetString(1)), JournalAction.Find(row.GetString(2))),
            after
        );

    /// <summary>All entries in order, streamed.</summary>
    public static async IAsyncEnumerable<JournalRow> JournalRows(this NpgsqlConnection connection)
    {
        await using var command = new NpgsqlCommand($"select {Columns} from journal order by number", connection);
        await using var reader = await command.ExecuteReaderAsync();
        while (await reader.ReadAsync())
        {
            yield return Read(reader);
        }
    }

    /// <summary>All texts in order, streamed.</summary>
    public static async IAsyncEnumerable<string> JournalTexts(this NpgsqlConnection connection)
    {
        await using var command = new NpgsqlCommand("select text from journal order by number", connection);
        await using var reader = await command.ExecuteReaderAsync();
        while (await reader.ReadAsync())
        {
            yield return reader.GetString(0);
        }
    }

    private static Head ReadHead(NpgsqlDataReader row) => new(row.GetInt64(0), row.GetString(1));

    private static JournalRow Read(NpgsqlDataReader row) =>
        new(
            row.GetInt64(0),
            row.GetFieldValue<DateTimeOffset>(1),
            row.GetString(2),
            row.GetString(3),
            row.GetString(4),
            row.GetString(5),
            row.GetString(6)
        );
}
