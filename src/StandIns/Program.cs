using AtticLedger.StandIns.Demo;
using AtticLedger.StandIns.Lantern;
using AtticLedger.StandIns.Mail;
using AtticLedger.StandIns.People;
using AtticLedger.StandIns.Quay;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.StandIns;

/// <summary>The simulated services outside: one process, seven ports on loopback, real protocols.</summary>
public static class Program
{
    public static async Task Main(string[] arguments)
    {
        var settings = new ConfigurationBuilder().AddEnvironmentVariables("STANDINS_").AddCommandLine(arguments).Build();
        var folder = settings["folder"]
            ?? throw new InvalidOperationException("Say --folder: where the stand-ins keep what they know.");
        Directory.CreateDirectory(folder);

        // The days of the demo are relative to its first start. After that, days pass as usual.
        var merrowby = new Lazy<Merrowby>(() => Merrowby.On(DateOnly.FromDateTime(DateTime.UtcNow), seed: 1871));
        var slipway = SlipwayBooks.Load(Path.Combine(folder, "slipway.json"), () => merrowby.Value.Slipway);
        var lantern = LanternBooks.Load(Path.Combine(folder, "lantern.json"), () => merrowby.Value.Lantern);
        var quay = QuayBooks.Load(Path.Combine(folder, "quay.json"), () => merrowby.Value.Quay);
        var staff = StaffListApi.Load(Path.Combine(folder, "staff.json"), () => merrowby.Value.Staff);

        var clock = MovableClock.Load(Path.Combine(folder, "clock"));
        var mailbox = Mailbox.Load(Path.Combine(folder, "mail"));

        await using var api = App(settings["slipway"] ?? "7421");
        api.MapSlipway(slipway, Token("slipway"), clock);
        api.MapClock(clock, Token("slipway"));
        await using var rented = App(settings["lantern"] ?? "7427");
        rented.MapLantern(lantern, Token("lantern"), clock);
        await using var intranet = App(settings["quay"] ?? "7428");
        intranet.MapQuay(quay, Token("quay"), clock);
        await using var front = App(settings["front"] ?? "7422");
        front.MapFront(slipway, clock);
        await using var list = App(settings["staff"] ?? "7423");
        list.MapStaffList(staff, Token("staff"));
        await using var reading = App(settings["mail"] ?? "7424");
        reading.MapMailbox(mailbox);
        using var stop = new CancellationTokenSource();
        var smtp = mailbox.Serve(
            int.Parse(settings["smtp"] ?? "7426", System.Globalization.CultureInfo.InvariantCulture),
            stop.Token
        );
        IReadOnlyList<WebApplication> all = [api, rented, intranet, front, list, reading];
        foreach (var one in all)
        {
            // Ends the process if its port is taken: none of them is missing unnoticed.
            await one.StartAsync();
        }

        if (smtp.IsCompleted)
        {
            await smtp;
        }

        await Task.WhenAll(all.Select(one => one.WaitForShutdownAsync()));
        await stop.CancelAsync();
        await smtp;

        string Token(string of) =>
            settings[$"{of}_token"]
            ?? throw new InvalidOperationException($"Set STANDINS_{of.ToUpperInvariant()}_TOKEN: the bearer token of its API.");
    }

    private static WebApplication App(string port)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.SetMinimumLevel(LogLevel.Warning);
        builder.WebHost.UseUrls($"http://127.0.0.1:{port}");
        return builder.Build();
    }
}
