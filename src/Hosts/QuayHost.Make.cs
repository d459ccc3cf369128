using System.Net.Http.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <content>Making sites. Quay admits people through circles only, so a new site gets two: one that answers for it, and one that
/// contributes.</content>
public sealed partial class QuayHost
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
        var path = $"sites/{Uri.EscapeDataString(siteKey ?? "")}";
        switch (step)
        {
            case MakingStep.Site when connection.Rest(site.Address) is { } rest:
                return await Step(
                    HttpMethod.Post,
                    "sites",
                    new JsonObject
                    {
                        ["path"] = rest,
                        ["name"] = site.Name,
                        ["department"] = site.Unit,
                        ["label"] = site.Classification,
                        ["kind"] = site.Kind,
                    }
                );
            case MakingStep.Site:
                return new HostReply.Refused($"{Name} gives no address like {site.Address}.");
            case MakingStep.Group:
                return await Step(
                    HttpMethod.Post,
                    $"{path}/circles",
                    new JsonObject
                    {
                        ["answer for"] = new JsonArray([.. site.Owners.Select(mail => (JsonNode)mail)]),
                        ["contribute"] = new JsonArray([.. site.Editors.Select(mail => (JsonNode)mail)]),
                    }
                );
            case MakingStep.People:
                return await Step(HttpMethod.Patch, $"{path}/rights", new JsonObject { ["rights"] = Doors(site) });
            case MakingStep.Tags:
                return await Step(
                    HttpMethod.Put,
                    $"{path}/keywords",
                    new JsonObject { ["keywords"] = string.Join("; ", site.Tags) }
                );
            default:
                return new HostReply.Refused($"{Name} has no starter pages.");
        }

        async Task<HostReply> Step(HttpMethod method, string to, JsonObject content)
        {
            using var message = new HttpRequestMessage(method, to) { Content = JsonContent.Create(content) };
            message.Headers.Add("Request-Key", $"{request}:{step}");
            return await json.Change(message, "reason", answer => SiteLists.Made(answer, Name), stop);
        }
    }

    // The circles have their rights since they were made; this is everybody else.
    private static JsonObject Doors(NewHostSite site)
    {
        var rights = new JsonObject();
        foreach (var door in site.Doors)
        {
            if (Who(door.Key) is { } who && door.Wanted is { } grant)
            {
                rights[who] = Word(grant.Power);
            }
        }

        return rights;
    }
}
