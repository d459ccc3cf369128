using System.Globalization;
using AtticLedger.Server.Accounts;

namespace AtticLedger.Server.Feed;

/// <summary>
/// Every answer says the place of the sheet it came from; a client sends back the highest that it has seen, and this
/// server waits until its own sheet is there. So whoever does a deed sees it, whichever server answers.
/// </summary>
public sealed class SheetAt(RequestDelegate next)
{
    public const string Header = "Sheet-At";
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(2);

    public async Task InvokeAsync(HttpContext context, LedgerSheet sheet)
    {
        if (
            Viewer.Maybe(context) is not null
            && long.TryParse(context.Request.Headers[Header], NumberStyles.None, CultureInfo.InvariantCulture, out var seen)
            && await sheet.AtLeast(seen, Patience) is null
        )
        {
            context.Response.Headers.RetryAfter = "1";
            await TypedResults
                .Problem(statusCode: 503, title: "This server has not caught up yet.", detail: "Try again in a second.")
                .ExecuteAsync(context);
            return;
        }

        await next(context);
    }

    public static void Say(HttpContext context, long place) =>
        context.Response.Headers[Header] = place.ToString(CultureInfo.InvariantCulture);
}
