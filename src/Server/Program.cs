using System.Reflection;
using System.Text.Json;
using System.Text.Json.Serialization;
using AtticLedger.Hosts;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Attic;
using AtticLedger.Server.Batches;
using AtticLedger.Server.Calendar;
using AtticLedger.Server.ChangeQueues;
using AtticLedger.Server.Classification;
using AtticLedger.Server.Desk;
using AtticLedger.Server.DueWork;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Find;
using AtticLedger.Server.Journal;
using AtticLedger.Server.Mail;
using AtticLedger.Server.ManualTasks;
using AtticLedger.Server.Owners;
using AtticLedger.Server.People;
using AtticLedger.Server.Register;
using AtticLedger.Server.Reports;
using AtticLedger.Server.Sources;
using AtticLedger.Server.Vocabulary;
using AtticLedger.Server.YourSites;
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
        await using var app = Build(builder, settings, IsDescribing ? null : schedule => schedule.AddSchedule(settings));
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
        if (settings.IsDemo)
        {
            services.AddSingleton<DemoClock>();
            services.AddSingleton<DemoTime>();
            services.AddSingleton<TimeProvider>(provider => provider.GetRequiredService<DemoClock>());
        }
        else
        {
            services.AddSingleton(TimeProvider.System);
        }

        services.AddSingleton(provider => Database.Open(settings.Database, provider.GetRequiredService<TimeProvider>()));
        services.AddSingleton(provider => new IndexSnapshots(
            settings.Snapshots,
            provider.GetRequiredService<ILogger<IndexSnapshots>>()
        ));
        services.AddSingleton<LiveRegister>();
        services.AddSingleton<ActionExecutor>();
        services.AddSingleton<BatchActions>();
        services.AddSingleton<ClassificationActions>();
        services.AddSingleton<BatchRunner>();
        services.AddSingleton<DayRunner>();
        services.AddSingleton<Outbox>();
        services.AddSingleton<SignIn>();
        services.AddSingleton<Refusals>();
        services.AddHosts(settings);
        services.AddLedgerPolicies();
        services.AddHealthChecks().AddCheck<Ready>("ready");
        services.AddProblemDetails();
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
        app.MapSessions();
        app.MapAccounts();
        app.MapRegister();
        app.MapViews();
        app.MapFind();
        app.MapPeople();
        app.MapPeopleLists();
        app.MapPeopleListUndo();
        app.MapActions();
        app.MapExceptions();
        app.MapApprovals();
        app.MapBatches();
        app.MapOffers();
        app.MapKeys();
        app.MapAttic();
        app.MapYours();
        app.MapDesk();
        app.MapLinks();
        app.MapClock();
        app.MapJournal();
        app.MapSources();
        app.MapLists();
        app.MapListUndo();
        app.MapMoves();
        app.MapManualTasks();
        app.MapClassification();
        app.MapVocabulary();
        app.MapCalendar();
        app.MapReports();
        app.MapEvents();
        app.MapWeb(settings);
        return app;
    }

    private static void AddHosts(this IServiceCollection services, Settings settings)
    {
        if (settings.Slipway is { } slipway)
        {
            services.AddSingleton<ISiteHost>(_ => new SlipwayHost(Client(new Uri(slipway, "/api/"), settings.SlipwayToken)));
        }

        if (settings.Lantern is { } lantern)
        {
            services.AddSingleton<ISiteHost>(_ => new LanternHost(Client(new Uri(lantern, "/v1/"), settings.LanternToken)));
        }

        if (settings.Quay is { } quay)
        {
            services.AddSingleton<ISiteHost>(_ => new QuayHost(Client(new Uri(quay, "/quay/"), settings.QuayToken)));
        }

        if (settings.StaffList is { } list)
        {
            services.AddSingleton(_ => new StaffList(Client(new Uri(list, "/scim/v2/"), settings.StaffListToken)));
        }

        if (settings.Smtp is { } smtp)
        {
            services.AddSingleton(_ => new Mailer(smtp, settings.SmtpLogin, settings.MailFrom));
        }

        services.AddSingleton<ChangeQueueRunner>();
        services.AddSingleton<SourceSync>();
        services.AddSingleton<ImportActions>();
        services.AddSingleton<PeopleImportActions>();
    }

    private static HttpClient Client(Uri address, string token) =>
        new()
        {
            BaseAddress = address,
            Timeout = TimeSpan.FromSeconds(20),
            DefaultRequestHeaders = { { "Authorization", $"Bearer {token}" } },
        };

    private static void AddSchedule(this IServiceCollection services, Settings settings)
    {
        services.AddHostedService<FeedListener>();
        services.AddHostedService<DueAtStart>();
        services.AddHostedService<SnapshotKeeper>();
        services.AddQuartz(quartz =>
        {
            quartz.UsePersistentStore(store =>
            {
                store.UsePostgres(settings.Database);
                store.UseClustering();
            });
            Schedule.AddJobs(quartz, settings);
        });
        services.AddQuartzHostedService(hosted => hosted.WaitForJobsToComplete = true);
    }
}

/// <summary>Adds to the API document what the code cannot express: required properties, and a stable address.</summary>
internal static class OpenApiShape
{
    private const string Ending = "Response";

    public static void Configure(OpenApiOptions options)
    {
        options.OpenApiVersion = OpenApiSpecVersion.OpenApi3_1;
        // In the document a schema has the plain name: the suffix only distinguishes it from the core's type.
        options.CreateSchemaReferenceId = type =>
            OpenApiOptions.CreateDefaultSchemaReferenceId(type) is { } name && name.EndsWith(Ending, StringComparison.Ordinal)
                ? name[..^Ending.Length]
                : OpenApiOptions.CreateDefaultSchemaReferenceId(type);
        // Every action is done once: its key is a header that each of these endpoints requires.
        options.AddOperationTransformer(
            (operation, context, _) =>
            {
                if (
                    context
                        .Description.ActionDescriptor.EndpointMetadata.OfType<Writes>()
                        .Any(writes => writes.Action is not null)
                )
                {
                    (operation.Parameters ??= []).Add(
                        new OpenApiParameter
                        {
                            Name = ActionEndpoint.KeyHeader,
                            In = ParameterLocation.Header,
                            Required = true,
                            Description =
                                "A key of this request: pressing again with the same key is the same, and gets the same answer.",
                            Schema = new OpenApiSchema { Type = JsonSchemaType.String, MaxLength = ActionEndpoint.LongestKey },
                        }
                    );
                }

                return Task.CompletedTask;
            }
        );
        options.AddDocumentTransformer(
            (document, _, _) =>
            {
                document.Info = new OpenApiInfo
                {
                    Title = "Attic Ledger",
                    Version = "1",
                    Description =
                        "The API of Attic Ledger. Every request that changes something needs the header X-Attic-Ledger.",
                };
                document.Servers = [];

                // A nullable enum has no null in its list of values.
                foreach (var schema in document.Components?.Schemas?.Values.OfType<OpenApiSchema>() ?? [])
                {
                    schema.Enum = schema
                        .Enum?.Where(word => word is not null && word.GetValueKind() != JsonValueKind.Null)
                        .ToList();
                }

                return Task.CompletedTask;
            }
        );
    }
}
