using System.Globalization;

namespace AtticLedger.StandIns;

/// <summary>The clock of the simulated services: the system clock plus an offset, which never decreases.</summary>
public sealed class MovableClock(string? file, TimeSpan ahead) : TimeProvider
{
    private readonly Lock gate = new();
    private TimeSpan ahead = ahead;

    public static MovableClock Load(string file) =>
        new(
            file,
            File.Exists(file)
                ? TimeSpan.FromSeconds(long.Parse(File.ReadAllText(file), CultureInfo.InvariantCulture))
                : TimeSpan.Zero
        );

    public override DateTimeOffset GetUtcNow()
    {
        lock (gate)
        {
            return base.GetUtcNow() + ahead;
        }
    }

    public void Ahead(TimeSpan by)
    {
        lock (gate)
        {
            if (by > ahead)
            {
                ahead = by;
                if (file is not null)
                {
                    WholeFile.Write(file, ((long)by.TotalSeconds).ToString(CultureInfo.InvariantCulture));
                }
            }
        }
    }
}

public static class ClockApi
{
    /// <summary>Moves the clock to a time. A repeated request moves it once.</summary>
    public static void MapClock(this WebApplication app, MovableClock clock, string token) =>
        app.MapPut("/hands/clock", (long seconds, HttpContext http) =>
        {
            if (http.Request.Headers.Authorization != $"Bearer {token}")
            {
                return Results.Unauthorized();
            }

            clock.Ahead(TimeSpan.FromSeconds(seconds));
            return Results.NoContent();
        });
}
