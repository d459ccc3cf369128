using AtticLedger.Core.Actions;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Questions to owners about findings.</summary>
public static class QuestionTables
{
    private const string Columns =
        "id, site, rule, state, asked_at, through, restricts_for, asked, answer, answered_by, answered_at, message, ended_at";

    /// <summary>Questions that have not ended, the earliest last day first.</summary>
    public static Task<List<OwnerQuestion>> OpenQuestions(this NpgsqlConnection connection) =>
        connection.Rows($"select {Columns} from owner_question where state <> 4 order by through, asked_at, id", Read);

    /// <summary>Questions about some sites that have not ended.</summary>
    public static async Task<ILookup<SiteId, OwnerQuestion>> OpenQuestions(
        this NpgsqlConnection connection,
        IReadOnlyCollection<SiteId> sites
    ) =>
        (
            await connection.Rows(
                $"select {Columns} from owner_question where site = any($1) and state <> 4 order by through, asked_at, id",
                Read,
                Sql.Ids(sites)
            )
        ).ToLookup(question => question.Site);

    /// <summary>The site of a question; null if there is no such question.</summary>
    public static async Task<SiteId?> SiteOfQuestion(this NpgsqlConnection connection, QuestionId id) =>
        await connection.Rows("select site from owner_question where id = $1", row => row.GetInt64(0), id.Value) is [var site]
            ? new SiteId(site)
            : null;

    // Other due work takes its turn between them.
    private const int MostAtOnce = 500;

    /// <summary>The first findings on sites in use, of rules in force that ask owners, about which nobody was asked.</summary>
    public static Task<List<UnaskedFinding>> UnaskedFindings(this NpgsqlConnection connection, DateOnly today) =>
        connection.Rows(
            $"""
            {InForce}
            select f.site, f.rule, f.since, r.written_by
            from finding f join in_force r on r.rule = f.rule join site s on s.id = f.site
            where r.enforcement <> 0 and not r.is_off and f.verdict = $2 and s.existence = $3 and not s.no_longer_reported
                and not exists (select from owner_question q where q.site = f.site and q.rule = f.rule and q.state <> 4)
            order by f.since, f.site, f.rule limit {MostAtOnce}
            """,
            row => new UnaskedFinding(
                new SiteId(row.GetInt64(0)),
                new RuleId(row.GetString(1)),
                row.GetFieldValue<DateTimeOffset>(2),
                row.PersonOrNull(3)
            ),
            today,
            (short)Verdict.Breaks,
            (short)Existence.InUse
        );

    /// <summary>The questions whose finding has ended or has an exception, whose site is not in use, or whose rule asks nobody.
    /// </summary>
    public static async Task<HashSet<QuestionId>> SettledQuestions(this NpgsqlConnection connection, DateOnly today) =>
        [
            .. await connection.Rows(
                $"""
                {InForce}
                select q.id
                from owner_question q join site s on s.id = q.site
                    left join finding f on f.site = q.site and f.rule = q.rule and f.verdict <> $2
                    left join in_force r on r.rule = q.rule and r.enforcement <> 0 and not r.is_off
                where q.state <> 4 and (f.site is null or r.rule is null or s.existence <> $3 or s.no_longer_reported)
                """,
                row => new QuestionId(row.GetGuid(0)),
                today,
                (short)Verdict.Excepted,
                (short)Existence.InUse
            ),
        ];

    public static Task Put(this Change change, OwnerQuestion question) =>
        change.Connection.Run(
            $"""
            insert into owner_question ({Columns}) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)
            on conflict (id) do update set state = excluded.state, asked_at = excluded.asked_at, through = excluded.through, asked = excluded.asked, answer = excluded.answer, answered_by = excluded.answered_by, answered_at = excluded.answered_at, message = excluded.message, ended_at = excluded.ended_at
            """,
            question.Id.Value,
            question.Site.Value,
            question.Rule.Value,
            (short)question.State,
            question.AskedAt,
            question.Through,
            Sql.Id(question.RestrictsFor?.Value),
            question.Asked.Select(person => person.Value).ToArray(),
            question.Answer is { } answer ? (short)answer : DBNull.Value,
            Sql.Id(question.AnsweredBy?.Value),
            Sql.Moment(question.AnsweredAt),
            Sql.Words(question.Words),
            Sql.Moment(question.EndedAt)
        );

    // The version in force on a day is the greatest that has begun.
    private const string InForce =
        "with in_force as (select distinct on (rule) rule, enforcement, is_off, written_by from rule_version where from_day <= $1 order by rule, version desc)";

    private static OwnerQuestion Read(NpgsqlDataReader row) =>
        new()
        {
            Id = new QuestionId(row.GetGuid(0)),
            Site = new SiteId(row.GetInt64(1)),
            Rule = new RuleId(row.GetString(2)),
            State = (QuestionState)row.GetInt16(3),
            AskedAt = row.GetFieldValue<DateTimeOffset>(4),
            Through = row.GetFieldValue<DateOnly>(5),
            RestrictsFor = row.PersonOrNull(6),
            Asked = [.. row.GetFieldValue<long[]>(7).Select(person => new PersonId(person))],
            Answer = row.OrNull<short>(8) is { } answer ? (QuestionAnswer)answer : null,
            AnsweredBy = row.PersonOrNull(9),
            AnsweredAt = row.OrNull<DateTimeOffset>(10),
            Words = row.TextOrNull(11),
            EndedAt = row.OrNull<DateTimeOffset>(12),
        };
}
