using AtticLedger.Cli.Demo;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Batches;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;

namespace AtticLedger.Server.Tests;

/// <summary>A batch processed step by step, on its own database with nothing else running.</summary>
public sealed class BatchWork : IAsyncLifetime
{
    private const int Sites = 25;
    private WebApplication app = null!;
    private Viewer bell = null!;
    private BatchId batch;
    private readonly CancellationTokenSource stop = new();

    private Database Database => app.Services.GetRequiredService<Database>();

    private BatchActions Desk => app.Services.GetRequiredService<BatchActions>();

    private BatchRunner Runner => app.Services.GetRequiredService<BatchRunner>();

    public async ValueTask InitializeAsync()
    {
        var settings = new Settings { Database = Databases.Server(await Databases.Migrated()) };
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = AppContext.BaseDirectory });
        builder.Logging.ClearProviders();
        app = Program.Build(builder, settings);
        await MerrowbyOrganisation.Found(Database);
        var sites = await Database.Change(async change =>
        {
            var person = await change.AddPerson(
                new(
                    default,
                    PersonKind.Staff,
                    "Nora Bell",
                    "n.bell@merrowby.example",
                    Core.People.Standing.Current,
                    null,
                    Known<UnitCode>.None
                )
            );
            await change.PutAccount(person, Role.Administrator, null, null);
            var added = new List<SiteId>();
            for (var i = 0; i < Sites; i++)
            {
                added.Add(
                    await change.AddSite(
                        new SiteFacts
                        {
                            Id = default,
                            Host = "Nowhere",
                            HostKey = $"n{i}",
                            Name = Known.Of($"Site {i}"),
                            Status = Known.Of(Status.Published),
                            Unit = Known.Of(new UnitCode("PIL")),
                            Classification = Known.Of("Guarded"),
                            SeenAt = change.Now,
                            StandsAt = change.Now,
                            Sharing = Known.Of(
                                new Sharing(
                                    [new Grant("world", Power.View, new Subject.Anonymous())],
                                    null,
                                    change.Now,
                                    SharingSource.Read
                                )
                            ),
                        }
                    )
                );
            }

            return added;
        });
        bell = Viewer.Of((await Database.Read(connection => connection.AccountByMail("n.bell@merrowby.example")))!);
        batch = Assert
            .IsType<BatchResult.Done>(
                await Desk.Plan(bell, new BulkRequest(ActionName.SiteRestrict), sites.ConvertAll(site => new BatchTarget(site)))
            )
            .Id;
    }

    public async ValueTask DisposeAsync()
    {
        // The change queues work in the background, for a host that is not connected.
        await stop.CancelAsync();
        await app.DisposeAsync();
        stop.Dispose();
    }

    [Fact]
    public async Task It_stops_between_two_steps_and_goes_on_where_it_was()
    {
        await Steer(ActionName.BatchStart, BatchEvent.Start, JournalAction.BatchStarted);
        Assert.Equal(10, await Runner.Step(batch, stop.Token));
        await Steer(ActionName.BatchStop, BatchEvent.Stop, JournalAction.BatchStopped);
        Assert.Equal(0, await Runner.RunDue(stop.Token));
        Assert.Equal((10, 15), await Counted());

        await Steer(ActionName.BatchResume, BatchEvent.Resume, JournalAction.BatchResumed);
        Assert.Equal(15, await Runner.RunDue(stop.Token));
        Assert.Equal((25, 0), await Counted());
        Assert.Equal(BatchState.Ended, (await Desk.Look(batch, bell))!.Value.Batch.State);
        Assert.Equal(25, (await Database.Read(connection => connection.OpenHostChanges("Nowhere"))).Count);
    }

    [Fact]
    public async Task It_stops_by_itself_once_whoever_started_it_may_no_longer_act()
    {
        await Steer(ActionName.BatchStart, BatchEvent.Start, JournalAction.BatchStarted);
        await Runner.Step(batch, stop.Token);
        await Database.Change(change => change.PutAccount(bell.Person, Role.Auditor, null, null));

        Assert.Equal(0, await Runner.RunDue(stop.Token));
        Assert.Equal((10, 15), await Counted());
        var found = (await Desk.Look(batch, bell))!.Value.Batch;
        Assert.Equal((BatchState.Stopped, "The person who started it may no longer act."), (found.State, found.Words));
    }

    [Fact]
    public async Task It_stops_by_itself_once_whoever_started_it_has_left()
    {
        await Steer(ActionName.BatchStart, BatchEvent.Start, JournalAction.BatchStarted);
        await Runner.Step(batch, stop.Token);
        await Database.Change(async change =>
        {
            var directory = await change.PeopleDirectory(await change.Connection.OrganisationTime());
            await change.UpdatePerson(directory.Find(bell.Person)! with { Standing = Core.People.Standing.Left });
            await change.Append([
                new Draft(JournalAction.PeopleSynced, EntryActor.OfSource("Staff list"), EntrySubject.OfSource("Staff list")),
            ]);
        });

        Assert.Equal(0, await Runner.RunDue(stop.Token));
        Assert.Equal((10, 15), await Counted());
    }

    [Fact]
    public async Task Two_servers_at_once_do_each_line_once()
    {
        await Steer(ActionName.BatchStart, BatchEvent.Start, JournalAction.BatchStarted);
        await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Runner.RunDue(stop.Token)));
        await Runner.RunDue(stop.Token);

        Assert.Equal((25, 0), await Counted());
        Assert.Equal(
            25,
            (await Database.Read(connection => connection.OpenHostChanges("Nowhere")))
                .Select(order => order.Site)
                .Distinct()
                .Count()
        );
        Assert.Equal(25, (await Database.Read(connection => connection.OpenHostChanges("Nowhere"))).Count);
    }

    [Fact]
    public async Task A_plan_that_nobody_started_is_forgotten()
    {
        await Database.Change(change => change.ForgetPlans(change.Now.AddDays(1)));
        Assert.Null(await Desk.Look(batch, bell));
        Assert.IsType<ActionOutcome<SteerBatch.Steered, BatchIdResponse>.NotSeen>(
            await Steered(ActionName.BatchStart, BatchEvent.Start, JournalAction.BatchStarted)
        );
    }

    private async Task Steer(ActionName name, BatchEvent happened, JournalAction what) =>
        Assert.IsType<ActionOutcome<SteerBatch.Steered, BatchIdResponse>.Done>(await Steered(name, happened, what));

    private Task<ActionOutcome<SteerBatch.Steered, BatchIdResponse>> Steered(
        ActionName name,
        BatchEvent happened,
        JournalAction what
    ) =>
        app
            .Services.GetRequiredService<ActionExecutor>()
            .Carry(bell, new SteerBatch(name, batch.Value, bell, happened, what), null, Guid.NewGuid().ToString(), "");

    private async Task<(int Carried, int Waiting)> Counted()
    {
        var lines = (await Desk.Look(batch, bell))!.Value.Lines;
        return (
            lines.Count(row => row.Line.State == BatchLineState.Carried),
            lines.Count(row => row.Line.State == BatchLineState.Waiting)
        );
    }
}
