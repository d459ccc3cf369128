using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using AtticLedger.Cli.Demo;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.Server.Work;
using AtticLedger.StandIns.Demo;
using AtticLedger.StandIns.Mail;
using AtticLedger.StandIns.People;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;

namespace AtticLedger.Server.Tests;

/// <summary>A whole installation on real sockets: PostgreSQL, the stand-ins with the demo's data, and one server. More servers
/// can be added.</summary>
public sealed class Installation : IAsyncLifetime
{
    public const string Token = "test-token";
    public const string Password = "merrowby-harbour";
    private readonly List<WebApplication> running = [];

    public string DatabaseName { get; private set; } = "";

    public SlipwayBooks Slipway { get; private set; } = null!;

    public Uri Front { get; private set; } = null!;

    public Mailbox Mailbox { get; private set; } = null!;

    public Uri SlipwayAddress { get; private set; } = null!;

    public Uri Smtp { get; private set; } = null!;

    public WebApplication Server { get; private set; } = null!;

    public Uri Address { get; private set; } = null!;

    public Database Database => Server.Services.GetRequiredService<Database>();

    private SourceSync Reader => Server.Services.GetRequiredService<SourceSync>();

    private readonly CancellationTokenSource stop = new();
    private readonly Lazy<Task<string>> founded;
    private Task serving = Task.CompletedTask;
    private Uri staffAddress = null!;

    public Installation() => founded = new Lazy<Task<string>>(FoundOnce);

    public async ValueTask InitializeAsync()
    {
        var merrowby = Merrowby.On(DateOnly.FromDateTime(DateTime.UtcNow), seed: 1871);
        Slipway = new SlipwayBooks(merrowby.Slipway, file: null);
        Mailbox = new Mailbox(folder: null);
        var smtp = FreePort();
        serving = Mailbox.Serve(smtp, stop.Token);
        Smtp = new Uri($"smtp://127.0.0.1:{smtp}");
        SlipwayAddress = await Run(app => app.MapSlipway(Slipway, Token, TimeProvider.System));
        Front = await Run(app => app.MapFront(Slipway, TimeProvider.System));
        staffAddress = await Run(app => app.MapStaffList(merrowby.Staff, Token));
        DatabaseName = await Databases.Migrated();
        (Server, Address) = await Join();
        await MerrowbyOrganisation.Found(Database);
        await Reader.ReadAll(CancellationToken.None);
        Assert.Empty(await MerrowbyOrganisation.GiveAccounts(Database, Password));
    }

    /// <summary>Another server on the same database.</summary>
    public Task<(WebApplication Server, Uri Address)> Join() => Start(SlipwayAddress, staffAddress, DatabaseName);

    public async Task<(WebApplication Server, Uri Address)> Start(
        Uri? slipway,
        Uri? staff,
        string database,
        bool isDemo = false,
        Uri? lantern = null,
        Uri? quay = null,
        IReadOnlyList<IPAddress>? proxies = null,
        string? connection = null,
        Uri? smtp = null
    )
    {
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = AppContext.BaseDirectory });
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        var settings = new Settings
        {
            Database = connection ?? Databases.Server(database),
            Hosts =
            [
                .. new[] { ("Slipway", slipway, "slipway.example"), ("Lantern", lantern, ""), ("Quay", quay, "quay.example") }
                    .Where(host => host.Item2 is not null)
                    .Select(host => new HostSettings
                    {
                        Name = host.Item1,
                        Kind = host.Item1.ToLowerInvariant(),
                        Address = host.Item2,
                        Token = Token,
                        Prefix = host.Item3,
                        Front = host.Item1 == "Slipway" ? Front : null,
                    }),
            ],
            SimulatedClock = slipway,
            SimulatedClockToken = Token,
            StaffList = staff,
            StaffListToken = Token,
            Smtp = smtp ?? Smtp,
            MailFrom = "ledger@merrowby.example",
            IsDemo = isDemo,
            Proxies = proxies ?? [],
        };
        var app = Program.Build(builder, settings, services => services.AddHostedService<LedgerListener>());
        await app.StartAsync();
        running.Add(app);
        return (app, AddressOf(app));
    }

    /// <summary>A server on its own database with the staff list, and with another host than Slipway or none.</summary>
    public async Task<(WebApplication Server, Uri Address)> Beside(
        Uri? lantern = null,
        Uri? quay = null,
        bool isDemo = false,
        Uri? slipway = null
    )
    {
        if ((lantern ?? quay ?? slipway) is null)
        {
            return await Start(null, staffAddress, await Databases.Copy(await founded.Value), isDemo);
        }

        var (server, address) = await Start(slipway, staffAddress, await Databases.Migrated(), isDemo, lantern, quay);
        await Found(server);
        return (server, address);
    }

    private static async Task Found(WebApplication server)
    {
        var database = server.Services.GetRequiredService<Database>();
        await MerrowbyOrganisation.Found(database);
        await server.Services.GetRequiredService<SourceSync>().ReadAll(CancellationToken.None);
        Assert.Empty(await MerrowbyOrganisation.GiveAccounts(database, Password));
    }

    // Most servers of their own begin with the same organisation: it is founded once and copied.
    private async Task<string> FoundOnce()
    {
        var name = await Databases.Migrated();
        var (server, _) = await Start(null, staffAddress, name);
        await Found(server);
        await Leave(server);
        return name;
    }

    /// <summary>A server on its own database with one administrator, and with a host that has been synced once.</summary>
    public async Task<(WebApplication Server, Caller Bell)> Against(Action<WebApplication> host)
    {
        var (server, address) = await Start(await Run(host), null, await Databases.Migrated());
        var database = server.Services.GetRequiredService<Database>();
        await database.Change(async change =>
            await change.PutAccount(
                await change.AddPerson(
                    new(
                        default,
                        Core.People.PersonKind.Staff,
                        "Nora Bell",
                        "n.bell@merrowby.example",
                        Core.People.Standing.Current,
                        null,
                        Core.Terms.Known<Core.Terms.UnitCode>.None
                    )
                ),
                Role.Administrator,
                null,
                Identity.Passwords.Hash(Password)
            )
        );
        await server.Services.GetRequiredService<SourceSync>().ReadAll(CancellationToken.None);
        await server.Services.GetRequiredService<LiveRegister>().Refresh();
        return (server, await SignIn("n.bell", address));
    }

    /// <summary>Stops a server and closes its connections, because a cluster allows only a limited number.</summary>
    public async Task Leave(WebApplication server)
    {
        running.Remove(server);
        await server.StopAsync();
        await server.DisposeAsync();
    }

    /// <summary>An HTTP server on its own port.</summary>
    public async Task<Uri> Run(Action<WebApplication> map)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        var app = builder.Build();
        map(app);
        await app.StartAsync();
        running.Add(app);
        return AddressOf(app);
    }

    public async Task<Caller> SignIn(string who, Uri? server = null)
    {
        var caller = new Caller(server ?? Address);
        var answer = await caller.Http.PostAsJsonAsync(
            "/api/session",
            new { mail = $"{who}@merrowby.example", password = Password }
        );
        Assert.Equal(HttpStatusCode.NoContent, answer.StatusCode);
        return caller;
    }

    /// <summary>The id of the site with this slug.</summary>
    public async Task<long> SiteId(string slug)
    {
        var state = await Server.Services.GetRequiredService<LiveRegister>().Refresh();
        var all = state.Seen(new Scope.Everything());
        return all.Lines(all.All).Single(line => line.Address.Or("") == $"slipway.example/{slug}").Id.Value;
    }

    /// <summary>Adds a site at Slipway and syncs it.</summary>
    public async Task<long> NewSite(string slug, params SlipwayEntry[] entries)
    {
        var now = DateTimeOffset.UtcNow;
        Slipway.Edit(records =>
            records.Sites[$"t-{slug}"] = new SlipwaySite
            {
                Id = $"t-{slug}",
                Slug = slug,
                Title = $"Test {slug}",
                Team = "PIL",
                Label = "Guarded",
                Created = now,
                Edited = now,
                Published = now,
                Entries = entries,
                Working = [new("Home", "Text")],
                Live = [new("Home", "Text")],
            }
        );
        await ReadSlipway();
        return await SiteId(slug);
    }

    /// <summary>True if the visitors' front shows a site to a visitor.</summary>
    /// <param name="mail">Null for somebody who does not sign in.</param>
    public async Task<bool> Visits(string slug, string? mail)
    {
        using var visitor = new HttpClient { BaseAddress = Front };
        if (mail is not null)
        {
            visitor.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
                "Basic",
                Convert.ToBase64String(Encoding.UTF8.GetBytes($"{mail}:{VisitorsFront.Password}"))
            );
        }

        using var answer = await visitor.GetAsync(slug);
        return answer.StatusCode == HttpStatusCode.OK;
    }

    public Task ReadSlipway() => Reader.Read("Slipway", CancellationToken.None);

    /// <summary>Waits until no change of an earlier test is under way.</summary>
    public Task Quiet() =>
        Until(
            async () =>
                (await Database.Read(Store.HostChangeTable.ChangesUnderWay)).Count == 0
                && await Server.Services.GetRequiredService<LiveRegister>().Refresh() is not null,
            "no order is under way"
        );

    public static async Task Until(Func<Task<bool>> holds, string what, int seconds = 180)
    {
        // Asks less often what takes longer, so that asking does not slow down what is waited for.
        var pause = 10;
        for (var until = DateTime.UtcNow.AddSeconds(seconds); !await holds(); pause = Math.Min(pause * 3 / 2, 250))
        {
            Assert.True(DateTime.UtcNow < until, $"Waited in vain until {what}.");
            await Task.Delay(pause);
        }
    }

    public async ValueTask DisposeAsync()
    {
        // Whatever the tests did: its entries can be shown and filtered.
        Assert.All(await Database.Read(connection => connection.Feed(0)), entry =>
            Assert.True(entry is { Action: not null, Subject: not null })
        );
        foreach (var app in Enumerable.Reverse(running))
        {
            await app.StopAsync();
            await app.DisposeAsync();
        }

        await stop.CancelAsync();
        await serving;
        stop.Dispose();
    }

    public static int FreePort()
    {
        using var listener = new System.Net.Sockets.TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    private static Uri AddressOf(WebApplication app) =>
        new(app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.Single());
}

/// <summary>A client like a browser: cookies, the application's header, and the highest feed position seen.</summary>
public sealed class Caller
{
    private string? seen;

    public Caller(Uri address)
    {
        Http = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false, CookieContainer = Cookies })
        {
            BaseAddress = address,
        };
        Http.DefaultRequestHeaders.Add("X-Attic-Ledger", "1");
    }

    public CookieContainer Cookies { get; } = new();

    public HttpClient Http { get; }

    /// <summary>The same person at another server.</summary>
    public Caller At(Uri server)
    {
        var other = new Caller(server) { seen = seen };
        foreach (Cookie cookie in Cookies.GetAllCookies())
        {
            other.Cookies.Add(server, new Cookie(cookie.Name, cookie.Value));
        }

        return other;
    }

    public async Task<JsonElement> Get(string path)
    {
        var (status, body) = await Send(HttpMethod.Get, path);
        Assert.Equal(HttpStatusCode.OK, status);
        return body;
    }

    public async Task<(HttpStatusCode Status, JsonElement Body)> Send(
        HttpMethod method,
        string path,
        object? body = null,
        string? key = null
    )
    {
        using var request = new HttpRequestMessage(method, path);
        if (body is not null)
        {
            request.Content = body as HttpContent ?? JsonContent.Create(body);
        }

        // As the web does: every request that may change something has its own key.
        if ((key ?? (method == HttpMethod.Get ? null : Guid.NewGuid().ToString())) is { Length: > 0 } its)
        {
            request.Headers.Add("Idempotency-Key", its);
        }

        if (seen is not null)
        {
            request.Headers.Add("Register-At", seen);
        }

        using var response = await Http.SendAsync(request);
        if (response.Headers.TryGetValues("Register-At", out var place))
        {
            seen = place.Single();
        }

        var text = await response.Content.ReadAsStringAsync();
        return (
            response.StatusCode,
            text.StartsWith('{') || text.StartsWith('[') ? JsonDocument.Parse(text).RootElement : default
        );
    }

    /// <summary>Previews and carries out a restriction to policy.</summary>
    public async Task<JsonElement> Restrict(long site)
    {
        var target = (await Get($"/api/sites/{site}")).GetProperty("remedy");
        var preview = await Send(HttpMethod.Post, $"/api/sites/{site}/restrict/plan", new { target });
        Assert.Equal(HttpStatusCode.OK, preview.Status);
        var fingerprint = preview.Body.GetProperty("plan").GetProperty("fingerprint").GetString();
        var (status, done) = await Send(
            HttpMethod.Post,
            $"/api/sites/{site}/restrict",
            new
            {
                target,
                reason = "tidy",
                fingerprint,
            },
            Guid.NewGuid().ToString()
        );
        Assert.Equal(HttpStatusCode.OK, status);
        return done;
    }

    /// <summary>Carries out an action; the caller states the expected status.</summary>
    public Task<JsonElement> Post(string path, object body, HttpStatusCode expected = HttpStatusCode.OK) =>
        Expect(HttpMethod.Post, path, body, expected);

    public Task<JsonElement> Put(string path, object body, HttpStatusCode expected = HttpStatusCode.OK) =>
        Expect(HttpMethod.Put, path, body, expected);

    private async Task<JsonElement> Expect(HttpMethod method, string path, object body, HttpStatusCode expected)
    {
        var (status, answer) = await Send(method, path, body, Guid.NewGuid().ToString());
        Assert.True(status == expected, $"{method} {path} answered {status}: {answer}");
        return answer;
    }

    /// <summary>The fingerprint of an action's plan.</summary>
    public async Task<string> Plan(string path, object? body = null)
    {
        var preview = await Post(path, body ?? new { });
        var plan = preview.GetProperty("plan");
        Assert.True(plan.ValueKind == JsonValueKind.Object, $"{path} was refused: {preview.GetProperty("refused")}");
        return plan.GetProperty("fingerprint").GetString()!;
    }

    /// <summary>The sentence of a remark.</summary>
    public static string Sentence(JsonElement remark) => remark.GetProperty("sentence").GetString()!;

    /// <summary>Why a request was not carried out: every reason of a refusal, or the title of a problem.</summary>
    public static string? Why(JsonElement answer) =>
        answer.TryGetProperty("reasons", out var reasons)
            ? string.Join(" ", reasons.EnumerateArray().Select(Sentence))
            : answer.GetProperty("title").GetString();

    /// <summary>Waits until the attic entry of a site is in a state.</summary>
    public Task Comes(long site, string state) =>
        Installation.Until(
            async () =>
                (await Get($"/api/sites/{site}/attic-entry")).GetProperty("atticEntry").GetProperty("state").GetString() == state,
            $"the site is {state}"
        );

    public async Task<string?> StateOf(long site, Guid hostChange) =>
        (await Get($"/api/sites/{site}"))
            .GetProperty("hostChanges")
            .EnumerateArray()
            .Single(one => one.GetProperty("id").GetGuid() == hostChange)
            .GetProperty("state")
            .GetString();
}
