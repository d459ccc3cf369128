using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>
/// The roll as the database has it. Every deed is decided on it, and reading it takes a second where there are tens of
/// thousands of people; so the last one that was read is kept, for whoever sees in the database that it is still so.
/// </summary>
public sealed class Rolls : IDisposable
{
    private readonly SemaphoreSlim reading = new(1);
    private Kept? kept;

    /// <summary>The roll at an instant, as the transaction that is under way sees it.</summary>
    public async Task<Roll> Of(NpgsqlConnection connection, DateTimeOffset now, HouseTime time)
    {
        // Serializable transactions read the version like anything else: one that changes people cannot slip in between.
        var (version, isOurs) = (
            await connection.Rows(
                "select changed_by::text, changed_by is not distinct from pg_current_xact_id_if_assigned() from roll_version",
                row => (row.GetString(0), row.GetBoolean(1))
            )
        ).Single();
        if (isOurs)
        {
            // Not committed yet, and more may be to come.
            return await connection.Roll(now, time);
        }

        if (Again(version, now, time) is { } known)
        {
            return known;
        }

        await reading.WaitAsync();
        try
        {
            if (Again(version, now, time) is { } meanwhile)
            {
                return meanwhile;
            }

            var roll = await connection.Roll(now, time);
            Volatile.Write(ref kept, new Kept(version, roll));
            return roll;
        }
        finally
        {
            reading.Release();
        }
    }

    public void Dispose() => reading.Dispose();

    private Roll? Again(string version, DateTimeOffset now, HouseTime time) =>
        Volatile.Read(ref kept) is { } known && known.Version == version && known.Roll.Time.Zone.Equals(time.Zone)
            ? known.Roll.At(now)
            : null;

    private sealed record Kept(string Version, Roll Roll);
}
