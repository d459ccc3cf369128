using AtticLedger.Core.Deeds;

namespace AtticLedger.Hosts;

/// <summary>How an order is brought to whichever host, so that it has its effect once.</summary>
public static class Bringing
{
    /// <summary>
    /// Brings an order that was taken. Where the host does not know one that comes twice, an earlier try may have had its
    /// effect, or half of it, although its answer was lost: the site is read back first, and only what is not so is asked for.
    /// </summary>
    /// <param name="known">Who and what the register knows; asked for only where a site is read back.</param>
    public static async Task<HostReply> Bring(
        this ISiteHost host,
        Order order,
        string siteKey,
        Func<Task<Resolution>> known,
        DateTimeOffset now,
        CancellationToken stop
    )
    {
        if (host.Habits.KnowsRepeats || order.Attempts == 1)
        {
            return await host.Carry(order.Id, siteKey, order.Wish, stop);
        }

        try
        {
            if (await host.ReadSite(siteKey, stop) is { } said && said.Sharing.Has(out var sharing))
            {
                return order.Wish.LeftIn((await known()).Site(host.Name, said, now)) is { } left
                    ? await host.Carry(order.Id, siteKey, left, stop)
                    : new HostReply.Done(sharing, said.Bin, said.Address.Has(out var address) ? address : null);
            }
        }
        catch (HostException fault)
        {
            return new HostReply.Lost(fault.Message);
        }

        return await host.Carry(order.Id, siteKey, order.Wish, stop);
    }
}
