using System.Data;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>PostgreSQL through plain ADO.NET. Every change is one serializable transaction, tried again when the database asks for it.</summary>
public sealed class Database(NpgsqlDataSource source, TimeProvider clock) : IAsyncDisposable
{
    private const int MostTries = 20;

    // Where changes have met, they queue from the start for a while: running on facts that will have changed is for nothing.
    private const int CrowdedFor = 500;
    private long crowdedUntil;

    // So many statements a connection keeps planned: without it PostgreSQL is longer at planning a deed's statements than at running them.
    private const int MostPrepared = 200;

    public static Database Open(string connection, TimeProvider clock) =>
        new(
            NpgsqlDataSource.Create(
                new NpgsqlConnectionStringBuilder(connection) { MaxAutoPrepare = MostPrepared, AutoPrepareMinUsages = 3 }
            ),
            clock
        );

    public NpgsqlDataSource Source => source;

    public Rolls Rolls { get; } = new();

    public DateTimeOffset Now => HouseTime.Microsecond(clock.GetUtcNow());

    /// <summary>The roll of now, as the transaction of a connection sees it.</summary>
    public async Task<Core.People.Roll> Roll(NpgsqlConnection connection) =>
        await Rolls.Of(connection, Now, await connection.HouseTime());

    /// <summary>Reads one state of the database: a repeatable-read snapshot.</summary>
    public async Task<T> Read<T>(Func<NpgsqlConnection, Task<T>> read, CancellationToken stop = default)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(IsolationLevel.RepeatableRead, stop);
        return await read(connection);
    }

    /// <summary>
    /// Changes the register, the orders and the journal together or not at all. <paramref name="change"/> may run several
    /// times, each time on facts read anew. Who writes to the journal waits for its head in a queue: a change that others have
    /// come before runs again with its place in the queue taken first, so that none of them can come before it once more.
    /// </summary>
    /// <exception cref="BusyError">Others changed the same all the while. Nothing is done.</exception>
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
                var result = await change(new Change(connection, Now, Rolls) { IsQueued = isQueued });
                await transaction.CommitAsync(stop);
                return result;
            }
            catch (PostgresException conflict)
                when (conflict.SqlState is PostgresErrorCodes.SerializationFailure or PostgresErrorCodes.DeadlockDetected)
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

    /// <summary>Runs one statement by itself: no transaction that others could come before, so none that has to be tried again.</summary>
    public async Task<T> Atomically<T>(Func<NpgsqlConnection, Task<T>> statement, CancellationToken stop = default)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        return await statement(connection);
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
        Rolls.Dispose();
        return source.DisposeAsync();
    }
}

/// <summary>A change was tried again and again, and each time others had changed what it had read.</summary>
public sealed class BusyError(Exception last)
    : Exception("Others were changing the same all the while. Nothing was done; try again.", last);

/// <summary>A transaction that is under way, and the one instant that all it writes carries.</summary>
public sealed record Change(NpgsqlConnection Connection, DateTimeOffset Now, Rolls Rolls)
{
    // Any number, the same for all servers.
    internal const long HeadLock = 7_420_002;

    /// <summary>True if its place in the queue for the journal's head was taken before it began.</summary>
    internal bool IsQueued { get; init; }

    public Task<Core.People.Roll> Roll(HouseTime time) => Rolls.Of(Connection, Now, time);

    /// <summary>Runs a step that may fail by itself, for what it writes cannot be stored: then all is as it was before it.</summary>
    /// <returns>Why it failed; null where it did not.</returns>
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

    /// <summary>Waits for those who have the journal's head; from here on to its end nobody else has it.</summary>
    internal Task Queue() => IsQueued ? Task.CompletedTask : Connection.Run("select pg_advisory_xact_lock($1)", HeadLock);
}
