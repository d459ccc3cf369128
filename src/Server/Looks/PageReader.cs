using AtticLedger.Hosts;
using AtticLedger.Store;

namespace AtticLedger.Server.Looks;

/// <summary>Reads the pages of sites for what they link to: each site once, and again after its last edit has changed. The schedule
/// runs it on one server at a time; whatever stops it, the rest is read the next time.
/// </summary>
internal sealed class PageReader(Database database, IEnumerable<ISiteHost> hosts, ILogger<PageReader> log)
{
    private const int AtOnce = 4;
    private const int Portion = 200;
    private const int LongestPage = 300;
    private const int LongestFault = 300;
    private static readonly TimeSpan TryAgain = TimeSpan.FromHours(1);

    /// <summary>The part of a host's allowed requests that is left for syncs and changes.</summary>
    private const double LeftForOthers = 0.5;

    /// <summary>All sites that are due, host by host.</summary>
    public async Task ReadDue(CancellationToken stop)
    {
        foreach (var host in hosts.OfType<IReadsPages>())
        {
            while (HasRoom(host) && await ReadPortion(host, stop) == Portion) { }
        }
    }

    private static bool HasRoom(IReadsPages host) =>
        host.Budget is not { } budget || budget.Left > budget.Allowed * LeftForOthers;

    private async Task<int> ReadPortion(IReadsPages host, CancellationToken stop)
    {
        var (due, addressHosts) = await database.Read(
            async connection =>
                (await connection.SitesToRead(host.Name, database.Now - TryAgain, Portion), await connection.AddressHosts()),
            stop
        );
        await Parallel.ForEachAsync(
            due,
            new ParallelOptions { MaxDegreeOfParallelism = AtOnce, CancellationToken = stop },
            async (site, token) =>
            {
                var (links, fault) = await Read(host, site, addressHosts, token);
                await database.Change(change => change.PutLinks(site, links, fault), token);
            }
        );
        return due.Count;
    }

    private async Task<(IReadOnlyCollection<(string Page, string Target)> Links, string? Fault)> Read(
        IReadsPages host,
        SiteToRead site,
        HashSet<string> addressHosts,
        CancellationToken stop
    )
    {
        try
        {
            return await host.ReadPages(site.HostKey, stop) is not { } pages
                ? ([], $"{host.Name} does not show its pages.")
                : (
                    [
                        .. pages.SelectMany(
                            (page, place) =>
                                PageLinks
                                    .Of(page.Html, site.Address, addressHosts)
                                    .Select(target => (Clean($"{place + 1} {page.Title}", LongestPage), target))
                        ),
                    ],
                    null
                );
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            // Whatever is wrong with the pages of one site, the others are read.
            log.LogInformation("The pages of {Site} at {Host} were not read: {Fault}", site.HostKey, host.Name, fault.Message);
            return ([], Clean(fault.Message, LongestFault));
        }
    }

    // The database can store neither NUL nor half a character.
    private static string Clean(string text, int longest) =>
        string.Concat(text.EnumerateRunes().Take(longest)).Replace('\0', '\uFFFD');
}
