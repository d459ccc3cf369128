using System.Text.Json;
using AtticLedger.Core.Journal;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Tests;

/// <summary>What the servers' role can do to the journal: add the next entry and nothing else.</summary>
public class JournalRoleFacts
{
    private static readonly Draft Entry = new(JournalAction.ClockMoved, EntryActor.Product, EntrySubject.Organisation);

    [Theory]
    [InlineData("update journal set text = 'x'")]
    [InlineData("delete from journal")]
    [InlineData("truncate journal")]
    [InlineData("drop table journal")]
    [InlineData("alter table journal disable trigger all")]
    [InlineData("alter table journal add column more text")]
    [InlineData("alter table journal owner to attic_server")]
    [InlineData(
        "insert into journal (number, at, actor, action, subject, text, hash) values (99, now(), 'a', 'b', 'c', 'd', 'e')"
    )]
    [InlineData("update journal_head set number = 0")]
    [InlineData("delete from journal_head")]
    [InlineData("truncate journal_head")]
    [InlineData("create or replace function journal_append(texts text[]) returns bigint language sql as 'select 1::bigint'")]
    [InlineData("create table more (id int)")]
    [InlineData("set session_replication_role = replica")]
    [InlineData("set role attic_owner")]
    [InlineData("update schemaversions set scriptname = 'x'")]
    public async Task The_role_cannot(string claim)
    {
        await using var source = NpgsqlDataSource.Create(Databases.Server(await Databases.Migrated()));
        await using var command = source.CreateCommand(claim);
        var refused = await Assert.ThrowsAsync<PostgresException>(() => command.ExecuteNonQueryAsync());

        Assert.Equal(PostgresErrorCodes.InsufficientPrivilege, refused.SqlState);
    }

    [Fact]
    public async Task An_entry_that_does_not_follow_is_refused_by_the_database_itself()
    {
        await using var database = Database.Open(Databases.Server(await Databases.Migrated()), TimeProvider.System);
        await database.Change(change => change.Append([Entry, Entry]));
        var head = await database.Read(connection => connection.JournalHead());
        foreach (var text in new[] { Entry.Text(2, database.Now, head.Hash), Entry.Text(3, database.Now, Head.Start.Hash) })
        {
            await using var append = database.Source.CreateCommand("select journal_append($1)");
            append.Parameters.Add(new NpgsqlParameter { Value = new[] { text } });
            await Assert.ThrowsAsync<PostgresException>(() => append.ExecuteScalarAsync());
        }
    }

    [Theory]
    [InlineData("person:x", "site:1", "test", "the actor")]
    [InlineData("host:two words", "site:1", "test", "the actor")]
    [InlineData("product", "site:1 or 2", "test", "the subject")]
    [InlineData("product", "table:person", "test", "the subject")]
    [InlineData("product", "site:1", "Test it", "the action")]
    public async Task An_entry_that_names_nobody_possible_is_refused(string actor, string subject, string action, string words)
    {
        await using var database = Database.Open(Databases.Server(await Databases.Migrated()), TimeProvider.System);
        var refused = await Assert.ThrowsAsync<PostgresException>(() =>
            Append(
                database,
                Entry
                    .Text(1, database.Now, Head.Start.Hash)
                    .Replace("\"clock.moved\"", JsonSerializer.Serialize(action), StringComparison.Ordinal)
                    .Replace("\"product\"", JsonSerializer.Serialize(actor), StringComparison.Ordinal)
                    .Replace("\"organisation\"", JsonSerializer.Serialize(subject), StringComparison.Ordinal)
            )
        );
        Assert.StartsWith(words, refused.MessageText);
    }

    [Fact]
    public async Task A_text_that_is_not_canonical_or_has_other_fields_is_refused()
    {
        await using var database = Database.Open(Databases.Server(await Databases.Migrated()), TimeProvider.System);
        var text = (Entry with { Reason = "é \"quoted\" \n" }).Text(1, database.Now, Head.Start.Hash);
        foreach (
            var other in new[]
            {
                text.Replace("{\"action\"", "{ \"action\"", StringComparison.Ordinal),
                text.Replace("\"undoOf\":null", "\"undoOf\":null,\"z\":null", StringComparison.Ordinal),
                text.Replace(",\"undoOf\":null", "", StringComparison.Ordinal),
                text.Replace("\"reason\":", "\"reason\":1,\"reason\":", StringComparison.Ordinal),
            }
        )
        {
            Assert.NotEqual(text, other);
            Assert.Equal(
                PostgresErrorCodes.IntegrityConstraintViolation,
                (await Assert.ThrowsAsync<PostgresException>(() => Append(database, other))).SqlState
            );
        }

        Assert.Equal(1, await Append(database, text));
    }

    [Theory]
    [InlineData("actor = 'person:1'")]
    [InlineData("action = 'site.restrict'")]
    [InlineData("subject = 'site:9'")]
    [InlineData("at = at + interval '1 second'")]
    public async Task A_column_that_the_owner_changed_beside_the_text_is_found(string what)
    {
        var name = await Databases.Migrated();
        await using var database = Database.Open(Databases.Server(name), TimeProvider.System);
        await database.Change(change => change.Append([Entry, Entry, Entry]));
        await using (var owner = NpgsqlDataSource.Create(Databases.Owner(name)))
        await using (
            var command = owner.CreateCommand(
                $"alter table journal disable trigger user; update journal set {what} where number = 2"
            )
        )
        {
            await command.ExecuteNonQueryAsync();
        }

        var checker = new ChainChecker();
        await database.Read(async connection =>
        {
            await foreach (var row in connection.JournalRows())
            {
                if (!checker.Take(row.Text, row.Projection))
                {
                    break;
                }
            }

            return 0;
        });
        Assert.Equal(2, Assert.IsType<ChainCheck.Broken>(checker.End()).Line);
    }

    private static async Task<long> Append(Database database, string text)
    {
        await using var append = database.Source.CreateCommand("select journal_append($1)");
        append.Parameters.Add(new NpgsqlParameter { Value = new[] { text } });
        return (long)(await append.ExecuteScalarAsync())!;
    }

    [Fact]
    public async Task Many_at_once_write_one_unbroken_chain()
    {
        await using var database = Database.Open(Databases.Server(await Databases.Migrated()), TimeProvider.System);
        await Task.WhenAll(
            Enumerable
                .Range(0, 12)
                .Select(i => database.Change(change => change.Append([Entry with { Reason = $"test {i}" }, Entry])))
        );

        var checker = new ChainChecker();
        await database.Read(async connection =>
        {
            await foreach (var text in connection.JournalTexts())
            {
                Assert.True(checker.Take(text));
            }

            return 0;
        });
        Assert.Equal(24, Assert.IsType<ChainCheck.Unbroken>(checker.End()).Head.Number);
    }

    [Fact]
    public async Task A_server_refuses_a_schema_that_it_does_not_know()
    {
        var name = await Databases.Migrated();
        await using (var owner = NpgsqlDataSource.Create(Databases.Owner(name)))
        await using (
            var command = owner.CreateCommand(
                "insert into schemaversions (scriptname, applied) values ('9999_future.sql', current_timestamp)"
            )
        )
        {
            await command.ExecuteNonQueryAsync();
        }

        await using var database = Database.Open(Databases.Server(name), TimeProvider.System);
        Assert.Contains(
            "9999_future.sql",
            (await Assert.ThrowsAsync<InvalidOperationException>(() => Schema.Check(database))).Message
        );
    }

    [Fact]
    public async Task Migrating_twice_at_once_carries_each_script_out_once()
    {
        var name = await Databases.Migrated();
        var done = await Task.WhenAll(Schema.Migrate(Databases.Owner(name)), Schema.Migrate(Databases.Owner(name)));

        Assert.All(done, Assert.Empty);
    }
}
