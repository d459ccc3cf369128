using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <content>Name, description, logo and address of a site, and its pages.</content>
public sealed partial class SlipwayHost
{
    private const int MostPages = 500;

    public Task<HostReply> Present(ChangeId hostChange, string siteKey, HostLook look, CancellationToken stop)
    {
        var content = new JsonObject();
        if (look.Name is { } name)
        {
            content["title"] = name;
        }

        if (look.Description is { } description)
        {
            content["about"] = description.Length == 0 ? null : description;
        }

        if (look.Logo is { } logo)
        {
            content["logo"] = logo.Source switch
            {
                LogoSource.KeptWithSite => new JsonObject
                {
                    ["kind"] = "own",
                    ["picture"] = Convert.ToBase64String(logo.Picture!),
                },
                LogoSource.Borrowed => new JsonObject { ["kind"] = "site", ["from"] = logo.From },
                LogoSource.Linked => new JsonObject { ["kind"] = "link", ["from"] = logo.From },
                _ => null,
            };
        }

        return Send(
            hostChange,
            HttpMethod.Patch,
            $"sites/{Uri.EscapeDataString(siteKey)}/look",
            content,
            body =>
                SiteLists.Confirms(
                    Site("", body, []),
                    new WantedState([]) { Look = new WantedLook(look.Name, look.Description) },
                    Name
                ),
            stop
        );
    }

    public async Task<HostReply> Readdress(
        ChangeId hostChange,
        string siteKey,
        string address,
        DateTimeOffset? forwardUntil,
        string? swapWith,
        CancellationToken stop
    ) =>
        connection.Rest(address) is { } slug
            ? await Send(
                hostChange,
                HttpMethod.Put,
                $"sites/{Uri.EscapeDataString(siteKey)}/slug",
                new JsonObject
                {
                    ["slug"] = slug,
                    ["forwardUntil"] = forwardUntil?.UtcDateTime.ToString(
                        "yyyy-MM-dd'T'HH:mm:ss'Z'",
                        CultureInfo.InvariantCulture
                    ),
                    ["swapWith"] = swapWith,
                },
                body => SiteLists.Confirms(Site("", body, []), new WantedState([], Address: address), Name),
                stop
            )
            : new HostReply.Refused($"{Name} gives no address like {address}.");

    public async Task<IReadOnlyList<HostPageContent>?> ReadPages(string key, CancellationToken stop)
    {
        var path = $"sites/{Uri.EscapeDataString(key)}/pages";
        if (await json.Get(path, stop) is not { } answer)
        {
            return null;
        }

        return
        [
            .. answer
                .List("items", path)
                .Take(MostPages)
                .Select(page => new HostPageContent(page.Text("title") ?? "", WholeText(page, "html"))),
        ];
    }

    // The HTML of a page is longer than any fact, and is only read for its links.
    private static string WholeText(JsonElement json, string field) =>
        json.TryGetProperty(field, out var value) && value.ValueKind == JsonValueKind.String ? value.GetString() ?? "" : "";

    private Known<IReadOnlyList<Forward>> Formerly(JsonElement site)
    {
        if (!site.TryGetProperty("formerly", out var said) || said.ValueKind != JsonValueKind.Array)
        {
            return Known<IReadOnlyList<Forward>>.Unknown;
        }

        List<Forward> forwards =
        [
            .. said.EnumerateArray()
                .Select(one =>
                    one.Text("slug") is { } slug && one.Instant("until").Has(out var until)
                        ? new Forward(connection.Address(slug), until)
                        : null
                )
                .OfType<Forward>(),
        ];
        return forwards.Count == 0 ? Known<IReadOnlyList<Forward>>.None : Known<IReadOnlyList<Forward>>.Of(forwards);
    }
}
