using System.Runtime.CompilerServices;
using System.Text.Json;

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
        [EnumeratorCancellation] CancellationToken stop = default)
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
            var all = 0;
            await foreach (var (page, next) in pages(from ?? firsts[list]).WithCancellation(stop))
            {
                List<string> refused = [.. withheld?.Invoke(page) ?? []];
                var sites = new List<HostSite>();
                foreach (var item in page.Items(items))
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

                all = page.Number(total) ?? all;
                yield return new HostPage(sites, refused, wasLeftOut ? null : before + all, next ?? (list + 1 < firsts.Count ? firsts[list + 1] : null));
            }

            before += all;
        }
    }

    private static string NameOf(string path) => path.Split('?')[0];
}
