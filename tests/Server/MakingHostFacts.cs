using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.StandIns.Lantern;
using AtticLedger.StandIns.Quay;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>Making a site at each kind of host: every step twice, as after a lost answer, makes it once.</summary>
public class MakingHostFacts(Installation here)
{
    private const string Vane = "i.vane@merrowby.example";
    private const string Quist = "r.quist@merrowby.example";

    [Theory]
    [InlineData("slipway")]
    [InlineData("quay")]
    [InlineData("lantern")]
    public async Task Each_step_made_twice_makes_one_site_with_just_its_people(string kind)
    {
        var (host, site) = await Connected(kind);
        var request = new RequestId(Guid.NewGuid());
        string? key = null;
        foreach (var step in Steps(host))
        {
            for (var time = 0; time < 2; time++)
            {
                var reply = await host.Make(request, site, step, key, isRepeat: time > 0, TestContext.Current.CancellationToken);
                Assert.True(reply is HostReply.Done, $"{step}: {reply}");
                if (step == MakingStep.Site)
                {
                    var its = ((HostReply.Done)reply).Key;
                    Assert.Equal(key ?? its, its);
                    key = its;
                }
            }
        }

        var made = (await host.ReadSite(key!, TestContext.Current.CancellationToken))!;
        Assert.Equal(("Ferry", site.Address), (made.Name.Or(""), made.Address.Or("")));
        Assert.True(made.Sharing.Has(out var sharing));
        var setting = await host.ReadSetting(TestContext.Current.CancellationToken);
        Assert.Equal(
            [(Vane, Power.Own), (Quist, Power.Edit)],
            sharing
                .Grants.SelectMany(grant =>
                    grant.Subject switch
                    {
                        HostSubject.ByMail(var mail) => [(Mail: mail, grant.Power)],
                        HostSubject.GroupOf(_, var group) => setting
                            .Groups.Single(one => one.Key == group)
                            .Members.Select(member => (Mail: member.Mail!, grant.Power)),
                        _ => [],
                    }
                )
                .GroupBy(pair => pair.Mail, (mail, powers) => (mail, powers.Max(pair => pair.Power)))
                .OrderByDescending(pair => pair.Item2)
        );

        // A second site at the address is refused in the host's words.
        Assert.IsType<HostReply.Refused>(
            await host.Make(
                new RequestId(Guid.NewGuid()),
                site,
                MakingStep.Site,
                null,
                false,
                TestContext.Current.CancellationToken
            )
        );
        var all = new List<HostSite>();
        await foreach (var page in host.ReadSites(null, TestContext.Current.CancellationToken))
        {
            all.AddRange(page.Sites);
        }

        Assert.Single(all);
    }

    [Theory]
    [InlineData("slipway")]
    [InlineData("quay")]
    [InlineData("lantern")]
    public async Task Whom_the_host_does_not_know_stops_the_step_with_the_hosts_words(string kind)
    {
        var (host, site) = await Connected(kind);
        site = site with { Editors = ["nobody@merrowby.example"] };
        var request = new RequestId(Guid.NewGuid());
        string? key = null;
        var words = new List<string>();
        foreach (var step in Steps(host))
        {
            switch (await host.Make(request, site, step, key, false, TestContext.Current.CancellationToken))
            {
                case HostReply.Done done:
                    key ??= done.Key;
                    break;
                case HostReply.Refused(var said):
                    words.Add(said);
                    break;
            }
        }

        Assert.Contains("nobody@merrowby.example", words[0]);
    }

    private static IReadOnlyList<MakingStep> Steps(IMakesSites host) =>
        host is LanternHost ? [MakingStep.Site, MakingStep.People]
        : host is QuayHost ? [MakingStep.Site, MakingStep.Group, MakingStep.People, MakingStep.Tags]
        : [MakingStep.Site, MakingStep.Group, MakingStep.People, MakingStep.Tags, MakingStep.StarterPages];

    private async Task<(IMakesSites Host, NewHostSite Site)> Connected(string kind)
    {
        var address = await here.Run(app =>
        {
            switch (kind)
            {
                case "slipway":
                    var slipway = new SlipwayRecords { Workspace = new SlipwayWorkspace("Test", "world", false, "") };
                    slipway.People["1"] = new("1", "Idris Vane", Vane, false, true, "PIL");
                    slipway.People["2"] = new("2", "Renata Quist", Quist, false, true, "PIL");
                    app.MapSlipway(new SlipwayBooks(slipway, null), Installation.Token, TimeProvider.System);
                    break;
                case "quay":
                    var quay = new QuayRecords();
                    quay.People[Vane] = new(Vane, "Idris Vane", false);
                    quay.People[Quist] = new(Quist, "Renata Quist", false);
                    app.MapQuay(new QuayBooks(quay, null), Installation.Token, TimeProvider.System);
                    break;
                default:
                    var lantern = new LanternRecords();
                    lantern.Seats[Vane] = new(Vane, "Idris Vane");
                    lantern.Seats[Quist] = new(Quist, "Renata Quist");
                    app.MapLantern(new LanternBooks(lantern, null), Installation.Token, TimeProvider.System);
                    break;
            }
        });
        var found = HostKind.Find(kind)!;
        var http = new HttpClient { BaseAddress = new Uri(address, found.Path) };
        http.DefaultRequestHeaders.Add("Authorization", $"Bearer {Installation.Token}");
        var prefix = kind == "lantern" ? "" : $"{kind}.example";
        return (
            (IMakesSites)found.Connect(new HostConnection("Host", http, prefix)),
            new NewHostSite(
                "Ferry",
                kind == "lantern" ? "ferry.lantern.example" : $"{prefix}/ferry",
                "pages",
                "PIL",
                null,
                "notices",
                "en",
                "Boats",
                null,
                null,
                ["ships"],
                null,
                kind != "lantern",
                [Vane],
                [Quist],
                [],
                kind == "slipway" ? ["Plan"] : []
            )
        );
    }
}
