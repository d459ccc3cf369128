using System.Runtime.CompilerServices;
using System.Text.Json;
using AtticLedger.Core.Sites;

namespace AtticLedger.Hosts;

/// <summary>What adapters do alike when they read lists of sites in JSON.</summary>
internal static class SiteLists
{
    /// <summary>
    /// One list after the other as pages of sites. What is expected grows with each list. The bin comes last: a site that is
    /// deleted during the read is then missed by neither list, at worst in both.
    /// </summary>
    /// <param name="firsts">Where each list begins.</param>
    /// <param name="pages">A list from a page on.</param>
    /// <param name="from">Where an earlier read broke off; null for the whole.</param>
    /// <param name="items">The field that holds the sites of a page, and <paramref name="total"/> the one that says how many the list has.</param>
    /// <param name="read">A site with its id; what is not understood of it goes into the list of what was refused.</param>
    /// <param name="withheld">What a page says that it does not tell of.</param>
    public static async IAsyncEnumerable<HostPage> Read(
        IReadOnlyList<string> firsts,
        Func<string, IAsyncEnumerable<JsonPage>> pages,
        string? from,
        string items,
        string total,
        Func<string, JsonElement, List<string>, HostSite> read,
        Func<JsonElement, IEnumerable<string>>? withheld = null,
        [EnumeratorCancellation] CancellationToken stop = default
    )
    {
        var list = from is null ? 0 : firsts.ToList().FindIndex(first => NameOf(first) == NameOf(from));
        if (list < 0)
        {
            throw new BeginAgainException($"There is no list that goes on with {from}.");
        }

        var before = 0;
        var wasLeftOut = list > 0;
        for (; list < firsts.Count; list++, from = null)
        {
            int? all = null;
            var (isWhole, told, largest) = (from is null, 0, 0);
            await foreach (var (page, next, path) in pages(from ?? firsts[list]).WithCancellation(stop))
            {
                List<string> refused = [.. withheld?.Invoke(page) ?? []];
                var sites = new List<HostSite>();
                foreach (var item in page.List(items, path))
                {
                    if (item.Text("id") is { Length: > 0 } id)
                    {
                        sites.Add(read(id, item, refused));
                    }
                    else
                    {
                        refused.Add("a site without an id");
                    }
                }

                all = page.Number(total)
                    ?? throw new HostException(
                        $"The answer to {path} does not say how many there are in all (\"{total}\"), so it cannot be told whether it is whole."
                    );
                told += sites.Count + refused.Count;
                largest = Math.Max(largest, sites.Count + refused.Count);
                if (next is null && isWhole && all > told + Drift(all.Value, largest))
                {
                    throw new HostException(
                        $"{NameOf(firsts[list])}: {all} are said to be there, and {told} were told. Nothing is taken for gone by it."
                    );
                }

                yield return new HostPage(
                    sites,
                    refused,
                    wasLeftOut ? null : before + all,
                    next ?? (list + 1 < firsts.Count ? firsts[list + 1] : null)
                );
            }

            before += all ?? 0;
        }
    }

    /// <summary>
    /// What an answer with a whole site confirms of what was asked for: whether it lies in the bin by what is said of that,
    /// who is let in by what is said of that. Where a host withholds who is let in, the rest is confirmed all the same.
    /// </summary>
    /// <exception cref="HostException">It does not say what it was asked for, or says something else.</exception>
    public static HostReply.Done Confirms(HostSite site, Wish wish, string host)
    {
        if (wish.Existence is { } existence && (site.Bin is not null) != (existence == Existence.Attic))
        {
            throw new HostException(
                $"{host} answered that it is done, and the site that it shows {(site.Bin is null ? "does not lie in its bin" : "lies in its bin")}."
            );
        }

        if (site.Name.IsUnknown && site.Address.IsUnknown && site.Sharing.IsUnknown && site.Bin is null)
        {
            throw new HostException($"{host} answered that it is done, and shows no site.");
        }

        return wish.Grants.Count > 0 && site.Sharing.IsUnknown
            ? throw new HostException($"{host} answered without who is let in.")
            : new HostReply.Done(
                site.Sharing.Has(out var sharing) ? sharing : null,
                site.Bin,
                site.Address.Has(out var address) ? address : null
            );
    }

    private static string NameOf(string path) => path.Split('?')[0];

    // A few may come while a list of several pages is read; a list of one page is told at one moment.
    private static int Drift(int all, int largest) => all > largest ? Math.Max(5, all / 100) : 0;
}
