using AtticLedger.Core.Journal;
using AtticLedger.Server.DueWork;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>The journal's head is mailed once a day.</summary>
public class HeadNotifications(Installation here)
{
    [Fact]
    public async Task Every_auditor_gets_the_head_once_a_day_and_an_export_verifies_against_it()
    {
        var (server, address) = await here.Beside();
        var (database, days) = (server.Services.GetRequiredService<Database>(), server.Services.GetRequiredService<DayRunner>());
        await days.RunDue(CancellationToken.None);
        await here.SignIn("n.bell", address);
        await days.RunDue(CancellationToken.None);
        var sollis = (await database.Read(connection => connection.AccountByMail("g.sollis@merrowby.example")))!.Person;
        var heads = (await database.Read(connection => connection.Waiting(sollis)))
            .Where(waiting => waiting.Notification.Title.StartsWith("The journal's head", StringComparison.Ordinal))
            .ToList();
        var hash = Assert.Single(heads).Notification.Sentences[0].Split(' ')[^1];

        using var export = new MemoryStream();
        var auditor = await here.SignIn("g.sollis", address);
        await (await auditor.Http.GetStreamAsync("/api/journal/export")).CopyToAsync(export);
        export.Position = 0;
        Assert.IsType<ChainCheck.Unbroken>(await Formats.JournalFile.Verify(export, hash));
        export.Position = 0;
        Assert.IsNotType<ChainCheck.Unbroken>(await Formats.JournalFile.Verify(export, new string('a', 64)));
        await here.Leave(server);
    }
}
