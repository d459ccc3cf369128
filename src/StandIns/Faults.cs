using System.Text.Json.Nodes;

namespace AtticLedger.StandIns;

public enum Fault
{
    None,
    LoseBefore,
    LoseAfter,
    Refuse,
    Busy,
}

/// <summary>Makes a host fail at random (seeded): percentages, for changes only.</summary>
public sealed class Faults(int seed, int loseBefore, int loseAfter, int refuse, int busy, TimeSpan delay)
{
    private readonly Random chance = new(seed);
    private readonly Lock gate = new();

    public static Faults None => new(0, 0, 0, 0, 0, TimeSpan.Zero);

    public TimeSpan Delay { get; } = delay;

    public Fault Next()
    {
        lock (gate)
        {
            var drawn = chance.Next(100);
            return drawn < loseBefore ? Fault.LoseBefore
                : drawn < loseBefore + loseAfter ? Fault.LoseAfter
                : drawn < loseBefore + loseAfter + refuse ? Fault.Refuse
                : drawn < loseBefore + loseAfter + refuse + busy ? Fault.Busy
                : Fault.None;
        }
    }

    /// <summary>Processes a change: perhaps a simulated fault, then the change, then perhaps no answer.</summary>
    /// <param name="words">The field in which the host reports an error.</param>
    /// <param name="wasDone">True if the host has already carried it out; then it is no longer refused.</param>
    public async Task<IResult> Change(HttpContext http, string words, bool wasDone, Func<(int Status, JsonObject Body)> change)
    {
        var fault = Next();
        if (Delay > TimeSpan.Zero)
        {
            await Task.Delay(Delay, http.RequestAborted);
        }

        switch (fault)
        {
            case Fault.LoseBefore:
                http.Abort();
                return Results.Empty;
            case Fault.Refuse when !wasDone:
                return Results.Json(new JsonObject { [words] = "Nothing is changed during a freeze." }, statusCode: 422);
            case Fault.Busy:
                http.Response.Headers.RetryAfter = "2";
                return Results.Json(new JsonObject { [words] = "Too many changes; come back later." }, statusCode: 429);
        }

        var (status, answer) = change();
        if (fault == Fault.LoseAfter)
        {
            http.Abort();
            return Results.Empty;
        }

        return Results.Json(answer, statusCode: status);
    }
}
