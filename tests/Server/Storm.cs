using System.Diagnostics;
using System.Net;
using AtticLedger.Core.Journal;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>A sync of a hundred pages, eight tabs that follow it, and requests that are refused as fast as they come, all at
/// once.</summary>
public class Storm(Installation here)
{
    private const int Sites = 10_000;
    private const int Tabs = 8;

    [Fact]
    public async Task The_product_answers_in_a_storm_and_the_journal_grows_by_minutes()
    {
        await using var organisation = await SmallOrganisation.Found(
            here,
            [
                .. Enumerable
                    .Range(0, Sites)
                    .Select(number => ($"storm-{number}", new SlipwayEntry[] { new("p:1", "own"), new("everyone", "read") })),
            ]
        );
        await using var server = await organisation.Start();
        var (bell, vane) = (await here.SignIn("n.bell", server.Address), await here.SignIn("i.vane", server.Address));
        using var over = new CancellationTokenSource();
        var clock = Stopwatch.StartNew();
        var tabs = Enumerable.Range(0, Tabs).Select(_ => Follow(bell, over.Token)).ToList();
        var refused = Enumerable.Range(0, 3).Select(_ => BeRefused(vane, over.Token)).ToList();
        await server.Read(bell, Sites, seconds: 600);
        await over.CancelAsync();
        var (heard, sent) = (await Task.WhenAll(tabs), (await Task.WhenAll(refused)).Sum());
        var seconds = clock.Elapsed.TotalSeconds;

        // At most one message a second for each tab, and each of them was followed by an answer.
        Assert.All(heard, messages => Assert.InRange(messages, 1, (int)seconds + 2));

        // No refused request is lost, and however many there are, they are one entry a minute.
        var minutes = (int)(seconds / 60) + 2;
        var entries = await organisation.Database.Read(connection =>
            connection.Journal(new JournalQuery(null, JournalAction.Refused.Name, null, 10_000))
        );
        Assert.InRange(entries.Count, 0, minutes);
        Assert.True(sent > minutes * 20, $"Only {sent} requests in {seconds:0} seconds are no storm.");
        await using var waiting = organisation.Database.Source.CreateCommand(
            """
            select coalesce((select sum(count) from refused_request), 0)
                + coalesce((select sum(substring(text from '"count":"([0-9]+)"')::bigint) from journal where action = 'refused'), 0)
            """
        );
        Assert.Equal(
            sent,
            Convert.ToInt64(await waiting.ExecuteScalarAsync(), System.Globalization.CultureInfo.InvariantCulture)
        );
        Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
    }

    /// <summary>A tab that asks for its list again after each message.</summary>
    private static async Task<int> Follow(Caller bell, CancellationToken over)
    {
        var heard = 0;
        using var stream = await bell.Http.GetStreamAsync("/api/events", CancellationToken.None);
        using var reader = new StreamReader(stream);
        try
        {
            while (await reader.ReadLineAsync(over) is { } line)
            {
                if (line.StartsWith("data:", StringComparison.Ordinal))
                {
                    heard++;
                    await bell.Get("/api/register?limit=50");
                }
            }
        }
        catch (OperationCanceledException) { }

        return heard;
    }

    private static async Task<long> BeRefused(Caller vane, CancellationToken over)
    {
        var sent = 0;
        while (!over.IsCancellationRequested)
        {
            Assert.Equal(HttpStatusCode.Forbidden, (await vane.Send(HttpMethod.Get, "/api/accounts", null)).Status);
            sent++;
        }

        return sent;
    }
}
