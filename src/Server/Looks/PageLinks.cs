using AngleSharp.Html.Parser;

namespace AtticLedger.Server.Looks;

/// <summary>Finds the addresses of sites that a page links to.</summary>
internal static class PageLinks
{
    private const int MostLinks = 500;
    private const int LongestTarget = 500;
    private static readonly HtmlParser Parser = new();

    /// <param name="html">The content of the page.</param>
    /// <param name="site">The address of its site, to which relative addresses belong.</param>
    /// <param name="hosts">The hosts in the addresses of sites, in lower case; links to all others are left out.</param>
    /// <returns>Each target once, without a scheme, a query and a slash at the end, in lower case.</returns>
    public static IReadOnlyList<string> Of(string html, string site, IReadOnlySet<string> hosts)
    {
        // A site without an address has whole links all the same.
        if (!Uri.TryCreate($"https://{(site.Length == 0 ? "none.invalid" : site)}/", UriKind.Absolute, out var at))
        {
            return [];
        }

        return
        [
            .. Parser
                .ParseDocument(html)
                .All.Select(element => element.GetAttribute("href") ?? element.GetAttribute("src"))
                .OfType<string>()
                .Select(address => Target(address, at, hosts))
                .OfType<string>()
                .Distinct()
                .Take(MostLinks),
        ];
    }

    private static string? Target(string address, Uri at, IReadOnlySet<string> hosts) =>
        Uri.TryCreate(at, address.Trim(), out var uri)
        && (uri.Scheme == Uri.UriSchemeHttps || uri.Scheme == Uri.UriSchemeHttp)
        && hosts.Contains(uri.Host.ToLowerInvariant())
        && $"{uri.Host}{uri.AbsolutePath.TrimEnd('/')}".ToLowerInvariant() is { Length: <= LongestTarget } target
            ? target
            : null;
}
