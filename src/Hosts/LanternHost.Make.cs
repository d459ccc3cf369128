using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <content>Making sites. Lantern does not recognise repeats: the request's id is written into the note of the new site, and looked
/// for before the site is made again.</content>
public sealed partial class LanternHost
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
        try
        {
            switch (step)
            {
                case MakingStep.Site:
                    return isRepeat && await Noted(request, stop) is { } key
                        ? new HostReply.Done(null, Key: key)
                        : await Step(HttpMethod.Post, "sites", New(request, site));
                case MakingStep.People:
                    return await Step(
                        HttpMethod.Put,
                        $"sites/{Uri.EscapeDataString(siteKey!)}/members",
                        Members([
                            .. site.Owners.Select(mail => ($"person:{mail}", (Power?)Power.Own)),
                            .. site.Editors.Except(site.Owners).Select(mail => ($"person:{mail}", (Power?)Power.Edit)),
                            // New sites are open to anybody unless they are shut here.
                            (Open, site.Doors.Any(door => door.Wanted?.Subject is Subject.Anonymous) ? Power.View : null),
                        ])
                    );
                default:
                    return new HostReply.Refused($"{Name} has no such thing as {step}.");
            }
        }
        catch (HostException fault)
        {
            return new HostReply.Lost(fault.Message);
        }

        async Task<HostReply> Step(HttpMethod method, string path, JsonObject content)
        {
            using var message = new HttpRequestMessage(method, path) { Content = JsonContent.Create(content) };
            return await json.Change(message, "message", answer => SiteLists.Made(answer, Name), stop);
        }
    }

    private async Task<string?> Noted(RequestId request, CancellationToken stop)
    {
        await foreach (var site in Items("sites", stop))
        {
            if (site.Text("note") == request.ToString())
            {
                return site.Text("id");
            }
        }

        return null;
    }

    private static JsonObject New(RequestId request, NewHostSite site) =>
        new()
        {
            ["host"] = site.Address,
            ["name"] = site.Name,
            ["theme"] = site.Kind,
            ["language"] = site.Language,
            ["teaser"] = site.Description,
            ["mailbox"] = site.MailAlias,
            ["holder"] = site.Owners.Count > 0 ? site.Owners[0] : null,
            ["note"] = request.ToString(),
        };
}
