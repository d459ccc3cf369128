using AtticLedger.Core.Journal;
using AtticLedger.Store;

namespace AtticLedger.Server.Accounts;

/// <summary>A page of another site can send our cookie but not our header: a change without the header is refused.</summary>
public sealed class ForgeryGuard(RequestDelegate next)
{
    public const string Header = "X-Attic-Ledger";

    public Task InvokeAsync(HttpContext context) =>
        HttpMethods.IsGet(context.Request.Method)
        || HttpMethods.IsHead(context.Request.Method)
        || context.Request.Headers.ContainsKey(Header)
            ? next(context)
            : Refuse(context);

    private static async Task Refuse(HttpContext context)
    {
        await context.RequestServices.GetRequiredService<Refusals>().Record(context, "no forgery header");
        await TypedResults
            .Problem(
                statusCode: 403,
                title: "The request did not come from the application.",
                detail: $"Send the header {Header}."
            )
            .ExecuteAsync(context);
    }
}

/// <summary>Journals refusals to signed-in people. Anonymous attempts are collected per minute.</summary>
public sealed class Refusals(Database database)
{
    private const int LongestPath = 200;

    public async Task Record(HttpContext context, string why)
    {
        if (Viewer.Maybe(context) is { } viewer)
        {
            var path = context.Request.Path.Value ?? "";
            await database.Change(change =>
                change.Append([
                    new Draft(JournalAction.Refused, viewer.InJournal, new EntrySubject.Account(viewer.Account))
                    {
                        After = JournalValue.Of(
                            ("method", JournalValue.Of(context.Request.Method)),
                            ("path", JournalValue.Of(path.Length > LongestPath ? path[..LongestPath] : path))
                        ),
                        Reason = why,
                    },
                ])
            );
        }
    }

    /// <summary>One entry for all sign-ins refused up to the start of this minute.</summary>
    public Task Gather() =>
        database.Change(async change =>
        {
            var minute = new DateTimeOffset(change.Now.Ticks - (change.Now.Ticks % TimeSpan.TicksPerMinute), TimeSpan.Zero);
            var count = await change.GatherFailures(minute);
            await change.ForgetFailures(minute - SignIn.KeepTries);
            if (count > 0)
            {
                await change.Append([
                    new Draft(JournalAction.SignInRefused, EntryActor.Anonymous, EntrySubject.Accounts)
                    {
                        After = JournalValue.Of(("count", JournalValue.Of(count)), ("until", JournalValue.Of(minute))),
                    },
                ]);
            }
        });
}

/// <summary>Reports the requests of signed-in people that policies refused.</summary>
public sealed class RefusalRecorder(RequestDelegate next)
{
    public async Task InvokeAsync(HttpContext context)
    {
        await next(context);
        if (context.Response.StatusCode == StatusCodes.Status403Forbidden)
        {
            await context.RequestServices.GetRequiredService<Refusals>().Record(context, "not allowed by the endpoint's policy");
        }
    }
}
