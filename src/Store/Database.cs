using System.Data;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>PostgreSQL through plain ADO.NET. Every change is one serializable transaction, tried again when the database asks for it.</summary>
public sealed class Database(NpgsqlDataSource source, TimeProvider clock) : IAsyncDisposable
{
    private const int MostTries = 20;

    public static Database Open(string connection, TimeProvider clock) => new(NpgsqlDataSource.Create(connection), clock);

    public NpgsqlDataSource Source => source;

    public Rolls Rolls { get; } = new();

    public DateTimeOffset Now => HouseTime.Microsecond(clock.GetUtcNow());

    /// <summary>The roll of now, as the transaction of a connection sees it.</summary>
    public async Task<Core.People.Roll> Roll(NpgsqlConnection connection) => await Rolls.Of(connection, Now, await connection.HouseTime());

    /// <summary>Reads one state of the database: a repeatable-read snapshot.</summary>
    public async Task<T> Read<T>(Func<NpgsqlConnection, Task<T>> read, CancellationToken stop = default)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(IsolationLevel.RepeatableRead, stop);
        return await read(connection);
    }

    /// <summary>
    /// Changes the register, the orders and the journal together or not at all. <paramref name="change"/> may run several
    /// times, each time on facts read anew.
    /// </summary>
    /// <exception cref="BusyError">Others changed the same all the while. Nothing is done.</exception>
    public async Task<T> Change<T>(Func<Change, Task<T>> change, CancellationToken stop = default)
    {
        for (var attempt = 1; ; attempt++)
        {
            try
            {
                await using var connection = await source.OpenConnectionAsync(stop);
                await using var transaction = await connection.BeginTransactionAsync(IsolationLevel.Serializable, stop);
                var result = await change(new Change(connection, Now, Rolls));
                await transaction.CommitAsync(stop);
                return result;
            }
            catch (PostgresException conflict) when (conflict.SqlState is PostgresErrorCodes.SerializationFailure or PostgresErrorCodes.DeadlockDetected)
            {
                if (attempt == MostTries)
                {
                    throw new BusyError(conflict);
                }

                await Task.Delay(TimeSpan.FromMilliseconds(Random.Shared.Next(2, 10 * attempt)), stop);
            }
        }
    }

    public Task Change(Func<Change, Task> change, CancellationToken stop = default) =>
        Change(async within => { await change(within); return 0; }, stop);

    public ValueTask DisposeAsync()
    {
        Rolls.Dispose();
        return source.DisposeAsync();
    }
}

/// <summary>A change was tried again and again, and each time others had changed what it had read.</summary>
public sealed class BusyError(Exception last) : Exception("Others were changing the same all the while. Nothing was done; try again.", last);

/// <summary>A transaction that is under way, and the one instant that all it writes carries.</summary>
public sealed record Change(NpgsqlConnection Connection, DateTimeOffset Now, Rolls Rolls)
{
    public Task<Core.People.Roll> Roll(HouseTime time) => Rolls.Of(Connection, Now, time);
}
