using System.Reflection;
using System.Text.Json;
using System.Text.Json.Serialization;
using AtticLedger.Hosts;
using AtticLedger.Server.DueWork;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Hosting;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Work;
using AtticLedger.Store;
using Microsoft.AspNetCore.HttpOverrides;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;
using Quartz;
using Serilog;
using Serilog.Events;

namespace AtticLedger.Server;

public static class Program
{
    private const int LeastThreads = 32;

    // The generator of the API document runs this program too, without a database.
    private static bool IsDescribing => Assembly.GetEntryAssembly()?.GetName().Name == "GetDocument.Insider";

    public static async Task Main(string[] arguments)
    {
        // While the index is built from all rows, every core is busy; requests still get threads at once.
        ThreadPool.SetMinThreads(LeastThreads, LeastThreads);
        var builder = WebApplication.CreateBuilder(
            new WebApplicationOptions { Args = arguments, ContentRootPath = AppContext.BaseDirectory }
        );
        builder.Host.UseSerilog(
            (_, log) =>
                log
                    .MinimumLevel.Information()
                    .MinimumLevel.Override("Microsoft", LogEventLevel.Warning)
                    .MinimumLevel.Override("Quartz", LogEventLevel.Warning)
                    .MinimumLevel.Override("System.Net.Http", LogEventLevel.Warning)
                    .WriteTo.Console(formatProvider: System.Globalization.CultureInfo.InvariantCulture)
        );
        var settings = IsDescribing ? new Settings { Database = "" } : Settings.From(builder.Configuration);
        await using var app = Build(builder, settings, IsDescribing ? null : services => services.AddSchedule(settings));
        if (!IsDescribing)
        {
            await Reached(app);
        }

        await app.RunAsync();
    }

    // The database may start later than the server, for instance after a restart of the machine.
    private static async Task Reached(WebApplication app)
    {
        for (var pause = TimeSpan.FromSeconds(1); ; pause = TimeSpan.FromSeconds(Math.Min(30, pause.TotalSeconds * 2)))
        {
            try
            {
                await Schema.Check(app.Services.GetRequiredService<Database>());
                if (app.Services.GetService<DemoTime>() is { } demo)
                {
                    // The clock has to be right before due items are computed from it.
                    await demo.Follow(CancellationToken.None);
                }

                return;
            }
            catch (Exception fault) when (Unreachable.Is(fault))
            {
                app.Logger.LogWarning(
                    "The database does not answer ({Why}); next attempt in {Seconds} seconds",
                    fault.Message,
                    pause.TotalSeconds
                );
                await Task.Delay(pause);
            }
        }
    }

    // X-Forwarded-For and -Proto, the predecessors of RFC 7239; from any other address they are a caller's claim and are ignored.
    private static ForwardedHeadersOptions Forwarded(IReadOnlyList<System.Net.IPAddress> proxies)
    {
        var options = new ForwardedHeadersOptions
        {
            ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto,
            ForwardLimit = null,
        };
        options.KnownProxies.Clear();
        options.KnownIPNetworks.Clear();
        foreach (var proxy in proxies)
        {
            options.KnownProxies.Add(proxy);
        }

        return options;
    }

    /// <summary>The whole server except its schedule, so that tests can drive the work themselves.</summary>
    public static WebApplication Build(
        WebApplicationBuilder builder,
        Settings settings,
        Action<IServiceCollection>? schedule = null
    )
    {
        var services = builder.Services;
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            kestrel.AddServerHeader = false;
            kestrel.Limits.MaxRequestBodySize = 1024 * 1024;
            kestrel.Limits.MaxRequestLineSize = LongAddress.LongestSync;
        });
        services.AddSingleton(settings);
        services.AddSingleton(provider => Database.Open(settings.Database, provider.GetRequiredService<TimeProvider>()));
        foreach (var room in Room.All)
        {
            room.Services(services, settings);
        }

        services.AddHealthChecks().AddCheck<Ready>("ready");
        services.AddProblemDetails(options => options.CustomizeProblemDetails = InWords);
        services.AddExceptionHandler<Busy>();
        services.AddExceptionHandler<TooLarge>();
        services.AddOpenApi("v1", OpenApiShape.Configure);
        services.ConfigureHttpJsonOptions(json =>
        {
            json.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
            json.SerializerOptions.RespectNullableAnnotations = true;
            json.SerializerOptions.RespectRequiredConstructorParameters = true;
            json.SerializerOptions.Converters.Add(
                new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower, allowIntegerValues: false)
            );
        });
        schedule?.Invoke(services);

        var app = builder.Build();
        if (settings.Proxies.Count > 0)
        {
            app.UseForwardedHeaders(Forwarded(settings.Proxies));
        }

        // Outermost, so that error responses have them too.
        app.UseMiddleware<SecurityHeaders>();
        app.UseExceptionHandler();
        app.UseStatusCodePages();
        app.UseMiddleware<LongAddress>();
        app.UseMiddleware<NoNul>();
        app.UseWeb(settings);
        app.UseRouting();
        app.UseAuthentication();
        app.UseMiddleware<ForgeryGuard>();
        app.UseMiddleware<RefusalRecorder>();
        app.UseAuthorization();
        app.UseMiddleware<RegisterAt>();

        app.MapHealthChecks("/health", new() { Predicate = _ => false }).AllowAnonymous();
        app.MapHealthChecks("/health/ready", new() { ResponseWriter = Ready.Write }).AllowAnonymous();
        app.MapOpenApi().RequireAuthorization(Policies.Read);
        foreach (var room in Room.All)
        {
            room.Endpoints(app);
        }

        app.MapWeb(settings);
        return app;
    }

    // "Forbidden" alone tells nobody what to do.
    private static void InWords(ProblemDetailsContext context)
    {
        var problem = context.ProblemDetails;
        if (problem is { Status: StatusCodes.Status403Forbidden, Title: "Forbidden" })
        {
            problem.Title = "Your role does not include this.";
            problem.Detail = "An administrator can do it for you, or change your role.";
        }
        else if (problem is { Status: StatusCodes.Status401Unauthorized, Title: "Unauthorized" })
        {
            problem.Title = "Sign in first.";
        }
    }
}
