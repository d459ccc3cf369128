using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.Server.Work;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.DueWork;

using ClockAnswer = Results<Ok<ClockMoved>, Conflict<ClockMoved>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <param name="Now">The product's current instant.</param>
/// <param name="AheadSeconds">How far the demo's clock is ahead of the real one.</param>
/// <param name="Zone">The organisation's time zone.</param>
public sealed record ClockNow(DateTimeOffset Now, long AheadSeconds, string Zone);

/// <param name="Hours">Hours to move forward.</param>
public sealed record MoveClockRequest(int Hours);

/// <param name="Due">The number of due items that the move has done.</param>
public sealed record ClockMoved(DateTimeOffset Now, int Due);

/// <summary>Moves the clocks of the demo and of the stand-ins. Outside the demo these endpoints do not exist.</summary>
internal static class ClockEndpoints
{
    public static void MapClock(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/clock").WithTags("Demo").RequireAuthorization(Policies.Administer);
        api.MapGet("", Look).WithName("clock").WithSummary("The demo's clock; 404 outside the demo.");
        api.MapPost("", Move)
            .Carries(ActionName.ClockMove)
            .WithName("moveClock")
            .WithSummary("Moves the clocks of the demo and of the stand-ins forward and does what falls due.");
    }

    private static async Task<Results<Ok<ClockNow>, ProblemHttpResult>> Look(IServiceProvider services, LiveRegister index) =>
        services.GetService<DemoClock>() is { } clock
            ? TypedResults.Ok(
                new ClockNow(
                    clock.GetUtcNow(),
                    (long)clock.Ahead.TotalSeconds,
                    (await index.Current()).PeopleDirectory.Time.Zone.Id
                )
            )
            : NotDemo();

    private static async Task<ClockAnswer> Move(
        MoveClockRequest request,
        HttpContext context,
        IServiceProvider services,
        Database database,
        DayRunner days,
        IHostApplicationLifetime life
    )
    {
        if (services.GetService<DemoClock>() is not { } clock)
        {
            return NotDemo();
        }

        var answer = await context.Carry(new MoveClock(request.Hours, Viewer.Of(context)), null, request, ahead =>
            Task.FromResult(new ClockMoved(clock.GetUtcNow(), 0))
        );
        if (answer.Result is not Ok<ClockAhead> { Value.Seconds: var seconds })
        {
            return answer.Result switch
            {
                Conflict<ClockMoved> conflict => conflict,
                UnprocessableEntity<RefusalResponse> refused => refused,
                ProblemHttpResult problem => problem,
                _ => throw new InvalidOperationException("An answer is one of these."),
            };
        }

        await services.GetRequiredService<DemoTime>().Follow(TimeSpan.FromSeconds(seconds), life.ApplicationStopping);
        var due = await days.RunDue(life.ApplicationStopping);
        foreach (var source in services.GetRequiredService<SourceSync>().Names)
        {
            await database.Change(change => change.Want(source));
        }

        services
            .GetRequiredService<WakeUps>()
            .Wake(life.ApplicationStopping, WorkKind.HostChanges, WorkKind.Mail, WorkKind.Syncs);
        return TypedResults.Ok(new ClockMoved(clock.GetUtcNow(), due));
    }

    private static ProblemHttpResult NotDemo() =>
        TypedResults.Problem(statusCode: 404, title: "The clock can be moved in the demo only.");
}

/// <summary>Keeps this server's clock and the stand-ins' clocks in step with the database.</summary>
public sealed class DemoTime(DemoClock clock, Settings settings, Database database, ILogger<DemoTime> log) : IFollowsLedger
{
    private TimeSpan told = TimeSpan.FromSeconds(-1);

    bool IFollowsLedger.SetsTheClock => true;

    public async Task Follow(CancellationToken stop) =>
        await Follow(
            TimeSpan.FromSeconds(
                long.Parse(
                    await database.Read(connection => connection.Value(Setting.DemoClock), stop),
                    CultureInfo.InvariantCulture
                )
            ),
            stop
        );

    public async Task Follow(TimeSpan ahead, CancellationToken stop)
    {
        clock.MoveTo(ahead);
        if (ahead == told || settings.SimulatedClock is not { } standIns)
        {
            return;
        }

        try
        {
            using var http = new HttpClient
            {
                Timeout = TimeSpan.FromSeconds(5),
                DefaultRequestHeaders = { { "Authorization", $"Bearer {settings.SimulatedClockToken}" } },
            };
            using var answer = await http.PutAsync(
                new Uri(standIns, $"/hands/clock?seconds={(long)ahead.TotalSeconds}"),
                null,
                stop
            );
            answer.EnsureSuccessStatusCode();
            told = ahead;
        }
        catch (Exception fault) when (fault is HttpRequestException or TaskCanceledException && !stop.IsCancellationRequested)
        {
            log.LogWarning("The stand-ins' clock was not moved: {Why} The server retries", fault.Message);
        }
    }
}
