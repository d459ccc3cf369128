using AtticLedger.Core.Journal;
using AtticLedger.Store;

namespace AtticLedger.Server.Identity;

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

/// <summary>Refusals for the journal: those of signed-in people and the failed sign-ins. They are counted by the minute, so that many
/// are one entry.</summary>
public sealed class Refusals(Database database)
{
    private const int LongestPath = 200;

    public async Task Record(HttpContext context, string why)
    {
        if (Viewer.Maybe(context) is { } viewer)
        {
            var path = context.Request.Path.Value ?? "";
            await database.Change(change =>
                change.AddRefusal(
                    viewer.Account,
                    viewer.Person,
                    why,
                    context.Request.Method,
                    path.Length > LongestPath ? path[..LongestPath] : path
                )
            );
        }
    }

    /// <summary>One entry for the refused requests of an account in each minute that is over, and one for all sign-ins refused up to
    /// then.</summary>
    public Task Gather() =>
        database.Change(async change =>
        {
            var minute = new DateTimeOffset(change.Now.Ticks - (change.Now.Ticks % TimeSpan.TicksPerMinute), TimeSpan.Zero);
            var requests = await change.GatherRefusals(minute);
            var signIns = await change.GatherFailures(minute);
            await change.ForgetFailures(minute - SignIn.KeepTries);
            await change.Append([
                .. requests.Select(refused => new Draft(
                    JournalAction.Refused,
                    EntryActor.Of(refused.Person),
                    new EntrySubject.Account(refused.Account)
                )
                {
                    After = JournalValue.Of(
                        ("count", JournalValue.Of(refused.Count)),
                        ("minute", JournalValue.Of(refused.Minute)),
                        ("method", JournalValue.Of(refused.Method)),
                        ("path", JournalValue.Of(refused.Path))
                    ),
                    Reason = refused.Reason,
                }),
                .. signIns > 0
                    ?
                    [
                        new Draft(JournalAction.SignInRefused, EntryActor.Anonymous, EntrySubject.Accounts)
                        {
                            After = JournalValue.Of(("count", JournalValue.Of(signIns)), ("until", JournalValue.Of(minute))),
                        },
                    ]
                    : Array.Empty<Draft>(),
            ]);
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
