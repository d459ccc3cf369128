using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Snapshot;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Feed;

/// <summary>
/// The register in memory as a file, with its place in the feed, so that a server that starts reads the file and what was
/// written since. A file of another build or another register is passed over, and so is one that is not whole.
/// </summary>
public sealed class SheetSnapshots(string? folder, ILogger<SheetSnapshots> log)
{
    private static readonly string Build = typeof(JudgedSheet).Module.ModuleVersionId.ToString();
    private long written = -1;

    private string? Path => folder is null ? null : System.IO.Path.Combine(folder, "sheet.snapshot");

    /// <summary>The state that was written last; null where the sheet has to be made from all rows.</summary>
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
                log.LogInformation("The snapshot is of another build or another register and is passed over");
                return null;
            }

            var time = await connection.HouseTime();
            var roll = RollSnapshot.Read(rows, time);
            var rules = await connection.Rules(time.DayOf(roll.Now));
            var state = new LedgerState(head.Place, roll, await connection.House(), rules, JudgedSheet.Read(rows, roll, rules));
            written = head.Place;
            log.LogInformation(
                "The sheet was read from its snapshot: {Sites} sites at place {Place} in {Milliseconds} ms",
                state.Sheet.Count,
                head.Place,
                watch.ElapsedMilliseconds
            );
            return state;
        }
        catch (Exception fault) when (fault is SnapshotError or IOException or UnauthorizedAccessException)
        {
            log.LogWarning("The snapshot cannot be read, so the sheet is made from all rows: {Why}", fault.Message);
            return null;
        }
    }

    /// <summary>Writes a state, unless it is the one that was written last.</summary>
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
                state.Roll.Write(to);
                state.Sheet.Write(to);
            });
            written = state.Place;
        }
        catch (Exception fault) when (fault is IOException or UnauthorizedAccessException)
        {
            log.LogWarning("The snapshot could not be written: {Why}", fault.Message);
        }
    }
}

/// <summary>Writes a snapshot now and then, and when the server stops in order.</summary>
internal sealed class SnapshotKeeper(LedgerSheet sheet, ILogger<SnapshotKeeper> log) : BackgroundService
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

        // Making the sheet needs far more than keeping it.
        GiveBack();
        do
        {
            await sheet.Advanced.WaitAsync(stoppingToken);
        } while (await timer.WaitForNextTickAsync(stoppingToken) && await Keep());
    }

    // How much may be made before the collector looks again, it decides by what it found the last times: so it looks a few
    // times while there is nothing to be found, and the next large list does not begin with room for as much as the sheet took.
    private static void GiveBack()
    {
        GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
        for (var look = 0; look < Looks; look++)
        {
            GC.Collect(0, GCCollectionMode.Forced, blocking: true);
        }
    }

    /// <returns>Always true: what could not be written is tried again.</returns>
    private async Task<bool> Keep()
    {
        try
        {
            await sheet.KeepSnapshot();
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogWarning(fault, "No snapshot was written; it is tried again");
        }

        return true;
    }
}
