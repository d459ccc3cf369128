using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <content>Making sites. Slipway gives each new site its default access, which is wider than what most sites want.</content>
public sealed partial class SlipwayHost
{
    public async Task<HostReply> Make(
        RequestId request,
        NewHostSite site,
        MakingStep step,
        string? siteKey,
        bool isRepeat,
        CancellationToken stop
    )
    {
        if (step == MakingStep.Site)
        {
            return connection.Rest(site.Address) is { } slug
                ? await Step(HttpMethod.Post, "sites", New(site, slug))
                : new HostReply.Refused($"{Name} gives no address like {site.Address}.");
        }

        var path = $"sites/{Uri.EscapeDataString(siteKey!)}";
        try
        {
            return step switch
            {
                MakingStep.Group => await Step(
                    HttpMethod.Post,
                    $"{path}/group",
                    new JsonObject
                    {
                        ["name"] = site.Name,
                        ["mailbox"] = site.MailAlias,
                        ["people"] = Texts(site.People),
                    }
                ),
                MakingStep.People => await Step(
                    HttpMethod.Patch,
                    $"{path}/sharing",
                    new JsonObject { ["changes"] = await Access(site, path, stop) }
                ),
                MakingStep.Tags => await Step(HttpMethod.Put, $"{path}/topics", new JsonObject { ["topics"] = Texts(site.Tags) }),
                _ => await Step(HttpMethod.Put, $"{path}/starter-pages", new JsonObject { ["titles"] = Texts(site.Pages) }),
            };
        }
        catch (HostException fault)
        {
            return new HostReply.Lost(fault.Message);
        }

        Task<HostReply> Step(HttpMethod method, string to, JsonObject content) =>
            Send($"{request}:{step}", method, to, content, Made, stop);
    }

    // The sharing of a site is answered without its key.
    private HostReply.Done Made(JsonElement answer) =>
        answer.TryGetProperty("entries", out _) ? new(null) : SiteLists.Made(answer, Name);

    private static JsonObject New(NewHostSite site, string slug) =>
        new()
        {
            ["slug"] = slug,
            ["title"] = site.Name,
            ["team"] = site.Unit,
            ["label"] = site.Classification,
            ["usedFor"] = site.Purpose,
            ["template"] = site.Kind,
            ["language"] = site.Language,
            ["about"] = site.Description,
            ["notice"] = site.ContentNotice,
            ["ends"] = site.Ends?.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture),
        };

    // Editors get access through the group of the site, if it has one.
    private async Task<JsonArray> Access(NewHostSite site, string path, CancellationToken stop)
    {
        var group = site.HasGroup
            ? (await json.Get(path, stop))?.Text("ownGroup") ?? throw new HostException($"{Name} has no group of {site.Name}.")
            : null;
        JsonArray changes =
        [
            .. site.Owners.Select(mail => Entry($"mail:{mail}", Power.Own)),
            .. group is null
                ? site.Editors.Except(site.Owners).Select(mail => Entry($"mail:{mail}", Power.Edit))
                : [Entry($"g:{group}", Power.Edit)],
        ];
        foreach (var door in site.Doors)
        {
            changes.Add(Change(door));
        }

        return changes;
    }

    private static JsonObject Entry(string entry, Power power) => new() { ["entry"] = entry, ["role"] = RoleLabels[(int)power] };

    private static JsonArray Texts(IEnumerable<string> texts) => [.. texts.Select(text => (JsonNode)text)];
}
