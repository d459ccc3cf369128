using System.Data;
using System.Threading.Channels;
using System.Threading.Tasks.Dataflow;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Rebuilds the index from all rows, in the snapshot of a connection. Sites and their grants are read ahead on separate
/// connections: while the directory is read, and while earlier sites are computed and added.
/// </summary>
public sealed class IndexFromRows : IAsyncDisposable
{
    private const int Batch = 512;
    private const int BatchesAhead = 8;
    private const int BatchesToAdd = 2;

    // The number of rows that are computed and judged together, while in the cache.
    private const int Together = 64;

    private readonly Channel<IReadOnlyList<SiteFacts>> batches = Channel.CreateBounded<IReadOnlyList<SiteFacts>>(BatchesAhead);
    private readonly CancellationTokenSource stop = new();
    private readonly Task reading;

    private IndexFromRows(Database database, string snapshot) => reading = Task.Run(() => Read(database, snapshot));

    /// <summary>Begins to read. The connection's transaction has to last until this is disposed.</summary>
    public static async Task<IndexFromRows> Begin(Database database, NpgsqlConnection connection) =>
        new(database, await connection.One<string>("select pg_export_snapshot()"));

    public async Task<RegisterIndex> Made(SiteJudge lines)
    {
        var index = RegisterIndex.Empty;
        var cores = Environment.ProcessorCount;
        var judge = new TransformBlock<IReadOnlyList<SiteFacts>, IReadOnlyList<JudgedSite>>(
            sites => [.. sites.Chunk(Together).SelectMany(lines.Of)],
            new()
            {
                MaxDegreeOfParallelism = cores,
                BoundedCapacity = 2 * cores,
                CancellationToken = stop.Token,
            }
        );
        var add = new ActionBlock<IReadOnlyList<JudgedSite>>(
            judged => index = lines.Put(index, judged),
            new() { BoundedCapacity = BatchesToAdd, CancellationToken = stop.Token }
        );
        judge.LinkTo(add, new() { PropagateCompletion = true });
        await foreach (var sites in batches.Reader.ReadAllAsync(stop.Token))
        {
            if (!await judge.SendAsync(sites))
            {
                // Failures are reported at the end.
                break;
            }
        }

        judge.Complete();
        await add.Completion;
        return index;
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
            // The caller that builds the index gets the failure.
            batches.Writer.Complete(fault);
        }
    }

    // Grants come without keys, because the index does not need them.
    private async Task ReadSites(NpgsqlConnection ofSites, NpgsqlConnection ofGrants)
    {
        var besides = await SiteRows.AttachedRows.Of(ofSites);
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
