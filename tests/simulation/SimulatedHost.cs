using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Hosts;
using AtticLedger.StandIns;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.Logging;

namespace AtticLedger.Simulation.Tests;

/// <summary>A stand-in behind its adapter: what a run does there, and what its own log has to contain at the end.</summary>
internal abstract class SimulatedHost : IAsyncDisposable
{
    private WebApplication app = null!;
    private HttpClient http = null!;

    public abstract ISiteHost Host { get; }

    public abstract Faults Faults { set; }

    /// <summary>The token that the connector sends.</summary>
    public string Credentials
    {
        set => http.DefaultRequestHeaders.Authorization = new("Bearer", value);
    }

    public abstract void Add(string key);

    /// <summary>Somebody changes access at the host itself.</summary>
    public abstract void ChangeThere(string key, Random chance);

    /// <summary>True if the host has carried out a change.</summary>
    public abstract bool HadEffect(HostChange hostChange);

    public abstract void CheckLog(string key, IReadOnlyList<HostChange> carried);

    public async Task<SiteFacts> Read(string key, DateTimeOffset now) =>
        SmallOrganisation.Known.Site(Host.Name, (await Host.ReadSite(key, default))!, now);

    public ValueTask DisposeAsync() => app.DisposeAsync();

    protected async Task<HttpClient> Serve(string path, Action<WebApplication> map)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseTestServer();
        app = builder.Build();
        map(app);
        await app.StartAsync();
        http = app.GetTestClient();
        http.BaseAddress = new Uri(http.BaseAddress!, path);
        Credentials = "token";
        return http;
    }

    /// <summary>The stand-in's clock does not move: days do not matter here.</summary>
    internal sealed class StandingClock : TimeProvider
    {
        public override DateTimeOffset GetUtcNow() => SmallOrganisation.Start;
    }
}
