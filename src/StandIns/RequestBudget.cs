using System.Globalization;

namespace AtticLedger.StandIns;

/// <summary>So many requests in each span of time, told with every answer by the fields of the IETF's draft "RateLimit header fields for HTTP".</summary>
public sealed class RequestBudget(int allowed, TimeSpan span, TimeProvider clock)
{
    private readonly Lock gate = new();
    private DateTimeOffset began;
    private int spent;

    /// <summary>Whether one more may be answered.</summary>
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
