using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>The directory as in the database. Every action is decided on it, and reading it takes a second with tens of
/// thousands of people; so the last one is cached and used while the database shows the same version.
/// </summary>
public sealed class PeopleDirectories : IDisposable
{
    private readonly SemaphoreSlim reading = new(1);
    private Kept? kept;

    /// <summary>The directory at an instant, as the running transaction sees it.</summary>
    public async Task<PeopleDirectory> Of(NpgsqlConnection connection, DateTimeOffset now, OrganisationTime time)
    {
        // Serializable transactions read the version like any row, so a change of people cannot come in between.
        var (version, isOurs) = (
            await connection.Rows(
                "select changed_by::text, changed_by is not distinct from pg_current_xact_id_if_assigned() from directory_version",
                row => (row.GetString(0), row.GetBoolean(1))
            )
        ).Single();
        if (isOurs)
        {
            // Not committed yet, and more changes can follow.
            return await connection.PeopleDirectory(now, time);
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

            var directory = await connection.PeopleDirectory(now, time);
            Volatile.Write(ref kept, new Kept(version, directory));
            return directory;
        }
        finally
        {
            reading.Release();
        }
    }

    public void Dispose() => reading.Dispose();

    private PeopleDirectory? Again(string version, DateTimeOffset now, OrganisationTime time) =>
        Volatile.Read(ref kept) is { } known && known.Version == version && known.PeopleDirectory.Time.Zone.Equals(time.Zone)
            ? known.PeopleDirectory.At(now)
            : null;

    private sealed record Kept(string Version, PeopleDirectory PeopleDirectory);
}
