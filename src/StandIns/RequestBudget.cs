using System.Globalization;

namespace AtticLedger.StandIns;

/// <summary>A number of requests for each period, reported with every answer in the fields of the IETF's draft "RateLimit header
/// fields for HTTP".</summary>
public sealed class RequestBudget(int allowed, TimeSpan span, TimeProvider clock)
{
    private readonly Lock gate = new();
    private DateTimeOffset began;
    private int spent;

    /// <summary>True if one more request may be answered.</summary>
    public bool Spend(HttpResponse response)
    {
        lock (gate)
        {
            var now = clock.GetUtcNow();
            if (now - began >= span)
            {
                (began, spent) = (now, 0);
            }

            var may = spent < allowed;
            spent += may ? 1 : 0;
            var seconds = (int)Math.Ceiling((began + span - now).TotalSeconds);
            response.Headers["RateLimit-Limit"] = allowed.ToString(CultureInfo.InvariantCulture);
            response.Headers["RateLimit-Remaining"] = (allowed - spent).ToString(CultureInfo.InvariantCulture);
            response.Headers["RateLimit-Reset"] = seconds.ToString(CultureInfo.InvariantCulture);
            if (!may)
            {
                response.Headers.RetryAfter = seconds.ToString(CultureInfo.InvariantCulture);
            }

            return may;
        }
    }
}
