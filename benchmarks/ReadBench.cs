using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Sources;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;

namespace AtticLedger.Bench;

/// <summary>A host that is synced twice over HTTP into an empty register. The second sync finds nothing new.</summary>
internal static class ReadBench
{
    private const string Token = "bench";

    /// <returns>How long each sync took, in milliseconds, and how many rows and journal entries the second wrote.</returns>
    public static async Task<(double First, double Second, long Written)> Of(Database database, int sites)
    {
        var random = new Random(7);
        var people = Enumerable
            .Range(1, Math.Max(100, sites / 2))
            .Select(number => new SlipwayPerson(
                $"{number}",
                $"Person {number}",
                $"p{number}@merrowby.example",
                false,
                true,
                null
            ))
            .ToDictionary(person => person.Id);
        await database.Change(async change =>
        {
            foreach (var person in people.Values)
            {
                await change.AddPerson(
                    new Person(default, PersonKind.Staff, person.Name, person.Mail, Standing.Current, null, Known<UnitCode>.None)
                );
            }

            await change.Append([
                new(
                    Core.Journal.JournalAction.PeopleSynced,
                    Core.Journal.EntryActor.OfSource("Bench"),
                    Core.Journal.EntrySubject.OfSource("Bench")
                ),
            ]);
        });
        var now = DateTimeOffset.UtcNow;
        var books = new SlipwayBooks(
            new SlipwayRecords
            {
                Workspace = new SlipwayWorkspace("Bench", "world", false, "everyone: edit"),
                People = people,
                Groups = [],
                DirectoryGroups = new Dictionary<string, IReadOnlyList<string>>(),
            },
            file: null
        );
        books.Edit(records =>
        {
            for (var number = 1; number <= sites; number++)
            {
                records.Sites[$"s{number:D7}"] = new SlipwaySite
                {
                    Id = $"s{number:D7}",
                    Slug = $"site-{number}",
                    Title = $"Site {number}",
                    Created = now.AddDays(-random.Next(900)),
                    Edited = now.AddDays(-random.Next(90)),
                    Entries =
                    [
                        .. Enumerable
                            .Range(0, 14)
                            .Select(_ => random.Next(people.Count) + 1)
                            .Distinct()
                            .Select((person, place) => new SlipwayEntry($"p:{person}", place == 0 ? "own" : "edit")),
                        new("everyone", "read"),
                    ],
                };
            }
        });
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        await using var app = builder.Build();
        app.MapSlipway(books, Token, TimeProvider.System);
        await app.StartAsync();
        var address = new Uri(
            app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.Single()
        );
        using var http = new HttpClient
        {
            BaseAddress = new Uri(address, "/api/"),
            DefaultRequestHeaders = { { "Authorization", $"Bearer {Token}" } },
        };
        var reader = new SourceSync(
            database,
            [new SlipwayHost(new HostConnection("Slipway", http, "slipway.example"))],
            app.Services,
            NullLogger<SourceSync>.Instance
        );
        var first = await Timing.Once(() => reader.Read("Slipway", CancellationToken.None));
        var before = await Written(database);
        var second = await Timing.Once(() => reader.Read("Slipway", CancellationToken.None));
        await app.StopAsync();
        return (first, second, await Written(database) - before);
    }

    // The header of a row that was written again names another transaction.
    private static async Task<long> Written(Database database)
    {
        await using var command = database.Source.CreateCommand(
            "select (select number from journal_head) + (select coalesce(max(xmin::text::bigint), 0) from site)"
        );
        return Convert.ToInt64(await command.ExecuteScalarAsync(), System.Globalization.CultureInfo.InvariantCulture);
    }
}
