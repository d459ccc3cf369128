using System.Data;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>PostgreSQL through plain ADO.NET. Every change is one serializable transaction, retried when the database asks for
/// it.</summary>
public sealed class Database(NpgsqlDataSource source, TimeProvider clock) : IAsyncDisposable
{
    // Somebody else has taken the address or the mail alias meanwhile: decided again, the action is refused.
    private static readonly string[] Holdings = ["address_holding_pkey", "site_request_alias"];
    private const int MostTries = 20;

    // After a conflict, changes queue from the start for a while: working on outdated facts would be wasted.
    private const int CrowdedFor = 500;
    private long crowdedUntil;

    // The number of prepared statements per connection: without them PostgreSQL takes longer to plan an action's statements than
    // to run them.
    private const int MostPrepared = 200;

    public static Database Open(string connection, TimeProvider clock) =>
        new(
            NpgsqlDataSource.Create(
                new NpgsqlConnectionStringBuilder(connection) { MaxAutoPrepare = MostPrepared, AutoPrepareMinUsages = 3 }
            ),
            clock
        );

    public NpgsqlDataSource Source => source;

    public PeopleDirectories PeopleDirectories { get; } = new();

    public DateTimeOffset Now => OrganisationTime.Microsecond(clock.GetUtcNow());

    /// <summary>The current directory, as the transaction of a connection sees it.</summary>
    public async Task<Core.People.PeopleDirectory> PeopleDirectory(NpgsqlConnection connection) =>
        await PeopleDirectories.Of(connection, Now, await connection.OrganisationTime());

    /// <summary>Reads one state of the database: a repeatable-read snapshot.</summary>
    public async Task<T> Read<T>(Func<NpgsqlConnection, Task<T>> read, CancellationToken stop = default)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(IsolationLevel.RepeatableRead, stop);
        return await read(connection);
    }

    /// <summary>
    /// Changes the register, the changes and the journal together or not at all. <paramref name="change"/> may run several
    /// times, each time on facts read again. Writers of the journal wait for its head in a queue. A change that lost to others
    /// runs again with its place in the queue taken first, so that it cannot lose again.
    /// </summary>
    /// <exception cref="BusyError">Others kept changing the same facts. Nothing is done.</exception>
    public async Task<T> Change<T>(Func<Change, Task<T>> change, CancellationToken stop = default)
    {
        for (var attempt = 1; ; attempt++)
        {
            await using var connection = await source.OpenConnectionAsync(stop);
            var isQueued = attempt > 1 || Environment.TickCount64 < Volatile.Read(ref crowdedUntil);
            try
            {
                if (isQueued)
                {
                    await connection.Run("select pg_advisory_lock($1)", Store.Change.HeadLock);
                }

                await using var transaction = await connection.BeginTransactionAsync(IsolationLevel.Serializable, stop);
                var result = await change(new Change(connection, Now, PeopleDirectories) { IsQueued = isQueued });
                await transaction.CommitAsync(stop);
                return result;
            }
            catch (PostgresException conflict)
                when (conflict.SqlState is PostgresErrorCodes.SerializationFailure or PostgresErrorCodes.DeadlockDetected
                    || (conflict.SqlState == PostgresErrorCodes.UniqueViolation && Holdings.Contains(conflict.ConstraintName))
                )
            {
                Volatile.Write(ref crowdedUntil, Environment.TickCount64 + CrowdedFor);
                if (attempt == MostTries)
                {
                    throw new BusyError(conflict);
                }
            }
            finally
            {
                if (isQueued && connection.State == ConnectionState.Open)
                {
                    await connection.Run("select pg_advisory_unlock_all()");
                }
            }
        }
    }

    /// <summary>Runs one statement outside a transaction, which needs no retry.</summary>
    public async Task<T> Atomically<T>(Func<NpgsqlConnection, Task<T>> claim, CancellationToken stop = default)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        return await claim(connection);
    }

    public Task Change(Func<Change, Task> change, CancellationToken stop = default) =>
        Change(
            async within =>
            {
                await change(within);
                return 0;
            },
            stop
        );

    public ValueTask DisposeAsync()
    {
        PeopleDirectories.Dispose();
        return source.DisposeAsync();
    }
}

/// <summary>A change was retried several times, and each time others had changed the facts it had read.</summary>
public sealed class BusyError(Exception last)
    : Exception("Other people kept changing the same facts. Nothing was done; try again.", last);

/// <summary>A running transaction, and the one instant of everything it writes.</summary>
public sealed record Change(NpgsqlConnection Connection, DateTimeOffset Now, PeopleDirectories PeopleDirectories)
{
    // Any number, the same for all servers.
    internal const long HeadLock = 7_420_002;

    /// <summary>True if it had its place in the queue for the journal's head before it began.</summary>
    internal bool IsQueued { get; init; }

    public Task<Core.People.PeopleDirectory> PeopleDirectory(OrganisationTime time) =>
        PeopleDirectories.Of(Connection, Now, time);

    /// <summary>Runs a step that can fail alone because its values cannot be stored: then it is rolled back alone.</summary>
    /// <returns>Why it failed; null if it did not.</returns>
    public async Task<string?> Alone(Func<Task> step)
    {
        await Connection.Run("savepoint alone");
        try
        {
            await step();
            await Connection.Run("release savepoint alone");
            return null;
        }
        catch (PostgresException fault) when (Unstorable.Is(fault))
        {
            await Connection.Run("rollback to savepoint alone");
            return fault.MessageText;
        }
    }

    /// <summary>Waits for the lock of the journal's head and keeps it to the end of the transaction.</summary>
    internal Task Queue() => IsQueued ? Task.CompletedTask : Connection.Run("select pg_advisory_xact_lock($1)", HeadLock);
}
