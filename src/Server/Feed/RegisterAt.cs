using System.Globalization;
using AtticLedger.Server.Identity;

namespace AtticLedger.Server.Feed;

/// <summary>Every response names the position of its index; a client sends back the highest it has seen, and the server waits
/// until its own index is there. So the actor sees the effect, whichever server responds.
/// </summary>
public sealed class RegisterAt(RequestDelegate next)
{
    public const string Header = "Register-At";
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(2);

    public async Task InvokeAsync(HttpContext context, LiveRegister index)
    {
        if (
            Viewer.Maybe(context) is not null
            && long.TryParse(context.Request.Headers[Header], NumberStyles.None, CultureInfo.InvariantCulture, out var seen)
            && await index.AtLeast(seen, Patience) is null
        )
        {
            context.Response.Headers.RetryAfter = "1";
            await TypedResults
                .Problem(statusCode: 503, title: "This server is still loading recent changes.", detail: "Try again in a second.")
                .ExecuteAsync(context);
            return;
        }

        await next(context);
    }

    public static void Set(HttpContext context, long place) =>
        context.Response.Headers[Header] = place.ToString(CultureInfo.InvariantCulture);
}
