using System.Runtime.CompilerServices;
using System.Text.Json;
using AtticLedger.Core.Sites;

namespace AtticLedger.Hosts;

/// <summary>What connectors have in common when they read lists of sites in JSON.</summary>
internal static class SiteLists
{
    /// <summary>One list after the other as pages of sites. The expected total grows with each list. The bin comes last: a site
    /// that is deleted during the sync is then in at least one list.
    /// </summary>
    /// <param name="firsts">The first page of each list.</param>
    /// <param name="pages">Reads a list from a page on.</param>
    /// <param name="from">The bookmark of an interrupted sync; null for a complete one.</param>
    /// <param name="items">The field with the sites of a page; <paramref name="total"/>: the field with the list's total.</param>
    /// <param name="read">Reads a site with its id; parts that are not understood are added to the list.</param>
    /// <param name="withheld">What a page declares as not reported.</param>
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
            throw new BeginAgainException($"No list can be continued from {from}.");
        }

        var before = 0;
        var wasLeftOut = list > 0;
        for (; list < firsts.Count; list++, from = null)
        {
            int? all = null;
            var (isWhole, told, largest) = (from is null, 0, 0);
            await foreach (var (page, next, path) in pages(from ?? firsts[list]).WithCancellation(stop))
            {
                List<string> leftOut = [.. withheld?.Invoke(page) ?? []];
                var notUnderstood = new List<string>();
                var sites = new List<HostSite>();
                foreach (var item in page.List(items, path))
                {
                    if (item.Text("id") is { Length: > 0 } id)
                    {
                        sites.Add(read(id, item, notUnderstood));
                    }
                    else
                    {
                        leftOut.Add("a site without an id");
                    }
                }

                all = page.Number(total)
                    ?? throw new HostException(
                        $"The answer to {path} has no valid total (\"{total}\"), so whether it is complete cannot be told."
                    );
                told += sites.Count + leftOut.Count;
                largest = Math.Max(largest, sites.Count + leftOut.Count);
                if (next is null && isWhole && all > told + Drift(all.Value, largest))
                {
                    throw new HostException(
                        $"{NameOf(firsts[list])}: the total is {all}, but {told} were returned. No site is marked as no longer reported."
                    );
                }

                yield return new HostPage(
                    sites,
                    leftOut,
                    notUnderstood,
                    wasLeftOut ? null : before + all,
                    next ?? (list + 1 < firsts.Count ? firsts[list + 1] : null)
                );
            }

            before += all ?? 0;
        }
    }

    /// <summary>
    /// The parts of a request that an answer with a complete site confirms: existence and access, each only if the answer
    /// contains it. Where a host withholds who has access, the rest is confirmed all the same.
    /// </summary>
    /// <exception cref="HostException">It does not contain what was requested, or contains something else.</exception>
    public static HostReply.Done Confirms(HostSite site, WantedState wanted, string host)
    {
        if (wanted.Existence is { } existence && (site.Bin is not null) != (existence == Existence.Attic))
        {
            throw new HostException(
                $"{host} confirmed the change, but the site it returned {(site.Bin is null ? "is not in its bin" : "is in its bin")}."
            );
        }

        if (site.Name.IsUnknown && site.Address.IsUnknown && site.Sharing.IsUnknown && site.Bin is null)
        {
            throw new HostException($"{host} confirmed the change, but returned no site.");
        }

        if (wanted.Look?.IsSoIn(site) == Core.Terms.Truth.No)
        {
            throw new HostException($"{host} confirmed the change, but the site it returned presents itself in another way.");
        }

        return wanted.Grants.Count > 0 && site.Sharing.IsUnknown
            ? throw new HostException($"{host} answered without the access of the site.")
            : new HostReply.Done(
                site.Sharing.Has(out var sharing) ? sharing : null,
                site.Bin,
                site.Address.Has(out var address) ? address : null,
                Forwards: site.Forwards.IsUnknown ? null : site.Forwards
            );
    }

    /// <summary>The key of the site that an answer to a step of making it contains.</summary>
    /// <exception cref="HostException">It contains none.</exception>
    public static HostReply.Done Made(JsonElement answer, string host) =>
        answer.Text("id") is { } id
            ? new HostReply.Done(null, Key: id)
            : throw new HostException($"{host} confirmed the change, but returned no site.");

    private static string NameOf(string path) => path.Split('?')[0];

    // A few sites can appear while several pages are read; a single page is from one instant.
    private static int Drift(int all, int largest) => all > largest ? Math.Max(5, all / 100) : 0;
}
