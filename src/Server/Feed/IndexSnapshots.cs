using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Snapshot;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Feed;

/// <summary>Stores the register in memory as a file with its position in the feed, so that a starting server reads the file and
/// the entries since. A file of another build or another register, or an incomplete one, is ignored.
/// </summary>
public sealed class IndexSnapshots(string? folder, ILogger<IndexSnapshots> log)
{
    private static readonly string Build = typeof(RegisterIndex).Module.ModuleVersionId.ToString();
    private long written = -1;

    private string? Path => folder is null ? null : System.IO.Path.Combine(folder, "index.snapshot");

    /// <summary>The last stored state; null if the index has to be built from all rows.</summary>
    internal async Task<LedgerState?> Read(NpgsqlConnection connection)
    {
        if (Path is not { } path || !File.Exists(path))
        {
            return null;
        }

        try
        {
            var watch = System.Diagnostics.Stopwatch.StartNew();
            var (head, rows) = SnapshotFile.Read(path);
            if (head.Build != Build || await connection.HashAt(head.Place) != head.Hash)
            {
                log.LogInformation("The snapshot is from another build or register and is ignored");
                return null;
            }

            var time = await connection.OrganisationTime();
            var directory = DirectorySnapshot.Read(rows, time);
            var rules = RuleBook.Read(rows, await connection.AllRules(), Today.At(directory.Now, time));
            var state = new LedgerState(
                head.Place,
                directory,
                await connection.Organisation(),
                rules,
                RegisterIndex.Read(rows, directory, rules)
            );
            written = head.Place;
            log.LogInformation(
                "The register index was read from its snapshot: {Sites} sites at place {Place} in {Milliseconds} ms",
                state.Index.Count,
                head.Place,
                watch.ElapsedMilliseconds
            );
            return state;
        }
        catch (Exception fault) when (fault is SnapshotError or IOException or UnauthorizedAccessException)
        {
            log.LogWarning("The snapshot cannot be read, so the register index is built from all rows: {Why}", fault.Message);
            return null;
        }
    }

    /// <summary>Writes a state, unless it is the last stored one.</summary>
    internal async Task Write(LedgerState state, Database database)
    {
        if (
            Path is not { } path
            || state.Place == written
            || await database.Read(connection => connection.HashAt(state.Place)) is not { } hash
        )
        {
            return;
        }

        try
        {
            SnapshotFile.Write(path, new SnapshotHead(Build, state.Place, hash), to =>
            {
                state.PeopleDirectory.Write(to);
                state.Rules.Write(to);
                state.Index.Write(to);
            });
            written = state.Place;
        }
        catch (Exception fault) when (fault is IOException or UnauthorizedAccessException)
        {
            log.LogWarning("The snapshot could not be written: {Why}", fault.Message);
        }
    }
}

/// <summary>Writes a snapshot from time to time, and at a regular stop of the server.</summary>
internal sealed class SnapshotKeeper(LiveRegister index, ILogger<SnapshotKeeper> log) : BackgroundService
{
    private const int Looks = 10;
    private static readonly TimeSpan Every = TimeSpan.FromMinutes(5);

    public override async Task StopAsync(CancellationToken cancellationToken)
    {
        await base.StopAsync(cancellationToken);
        await Keep();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every);
        await Keep();

        // Building the index needs far more memory than keeping it.
        GiveBack();
        do
        {
            await index.Advanced.WaitAsync(stoppingToken);
        } while (await timer.WaitForNextTickAsync(stoppingToken) && await Keep());
    }

    // The garbage collector adapts its budget to recent collections: a few collections with nothing to collect reset it, so that
    // the next large list does not start with the budget that the index needed.
    private static void GiveBack()
    {
        GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
        for (var look = 0; look < Looks; look++)
        {
            GC.Collect(0, GCCollectionMode.Forced, blocking: true);
        }
    }

    /// <returns>Always true: a failed write is tried again.</returns>
    private async Task<bool> Keep()
    {
        try
        {
            await index.KeepSnapshot();
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogWarning(fault, "No snapshot was written; the server retries");
        }

        return true;
    }
}
