using System.Data;
using System.Threading.Channels;
using System.Threading.Tasks.Dataflow;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>
/// The sheet made anew from all rows, in the snapshot of a connection. Sites and their grants are read ahead on connections
/// of their own: while the roll is read, and while those before them are computed, and those before these added.
/// </summary>
public sealed class SheetFromRows : IAsyncDisposable
{
    private const int Batch = 512;
    private const int BatchesAhead = 8;
    private const int BatchesToAdd = 2;

    // So many lines are computed and judged together, while they are at hand.
    private const int Together = 64;

    private readonly Channel<IReadOnlyList<SiteFacts>> batches = Channel.CreateBounded<IReadOnlyList<SiteFacts>>(BatchesAhead);
    private readonly CancellationTokenSource stop = new();
    private readonly Task reading;

    private SheetFromRows(Database database, string snapshot) => reading = Task.Run(() => Read(database, snapshot));

    /// <summary>Begins to read. The connection's transaction has to last until this is disposed of.</summary>
    public static async Task<SheetFromRows> Begin(Database database, NpgsqlConnection connection) =>
        new(database, await connection.One<string>("select pg_export_snapshot()"));

    public async Task<JudgedSheet> Made(LineMaker lines)
    {
        var sheet = JudgedSheet.Empty;
        var cores = Environment.ProcessorCount;
        var judge = new TransformBlock<IReadOnlyList<SiteFacts>, IReadOnlyList<JudgedLine>>(
            sites => [.. sites.Chunk(Together).SelectMany(lines.Of)],
            new()
            {
                MaxDegreeOfParallelism = cores,
                BoundedCapacity = 2 * cores,
                CancellationToken = stop.Token,
            }
        );
        var add = new ActionBlock<IReadOnlyList<JudgedLine>>(
            judged => sheet = lines.Put(sheet, judged),
            new() { BoundedCapacity = BatchesToAdd, CancellationToken = stop.Token }
        );
        judge.LinkTo(add, new() { PropagateCompletion = true });
        await foreach (var sites in batches.Reader.ReadAllAsync(stop.Token))
        {
            if (!await judge.SendAsync(sites))
            {
                // Whatever it failed at is said at the end.
                break;
            }
        }

        judge.Complete();
        await add.Completion;
        return sheet;
    }

    public async ValueTask DisposeAsync()
    {
        await stop.CancelAsync();
        await reading;
        stop.Dispose();
    }

    private async Task Read(Database database, string snapshot)
    {
        try
        {
            await using var ofSites = await Connection.In(database, snapshot, stop.Token);
            await using var ofGrants = await Connection.In(database, snapshot, stop.Token);
            await ReadSites(ofSites.Open, ofGrants.Open);
            batches.Writer.Complete();
        }
        catch (Exception fault)
        {
            // It is whoever makes the sheet that hears of it.
            batches.Writer.Complete(fault);
        }
    }

    // Grants come without keys, for nothing that the sheet computes asks for them.
    private async Task ReadSites(NpgsqlConnection ofSites, NpgsqlConnection ofGrants)
    {
        var besides = await SiteRows.Besides.Of(ofSites);
        await using var grants = await GrantStream.Open(ofGrants, stop.Token);
        await using var command = new NpgsqlCommand(SiteRows.Select("order by id"), ofSites);
        await using var reader = await command.ExecuteReaderAsync(stop.Token);
        var batch = new List<SiteFacts>(Batch);
        while (await reader.ReadAsync(stop.Token))
        {
            var id = reader.GetInt64(0);
            batch.Add(SiteRows.Read(reader, grants.Of(id), besides));
            if (batch.Count == Batch)
            {
                await batches.Writer.WriteAsync(batch, stop.Token);
                batch = new List<SiteFacts>(Batch);
            }
        }

        if (batch.Count > 0)
        {
            await batches.Writer.WriteAsync(batch, stop.Token);
        }
    }

    private sealed class Connection(NpgsqlConnection open, NpgsqlTransaction transaction) : IAsyncDisposable
    {
        public NpgsqlConnection Open => open;

        public static async Task<Connection> In(Database database, string snapshot, CancellationToken stop)
        {
            var open = await database.Source.OpenConnectionAsync(stop);
            var transaction = await open.BeginTransactionAsync(IsolationLevel.RepeatableRead, stop);
            await open.Run($"set transaction snapshot '{snapshot}'");
            return new Connection(open, transaction);
        }

        public async ValueTask DisposeAsync()
        {
            await transaction.DisposeAsync();
            await open.DisposeAsync();
        }
    }
}
