using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Accounts;

public sealed record Credentials(string Mail, string Password);

/// <param name="Part">The unit of a steward's scope.</param>
/// <param name="IsDemo">True in the demo, whose clock can be moved.</param>
/// <param name="HasMail">False if no mail server is set up: then nobody gets mail.</param>
/// <param name="Zone">The organisation's time zone, by its name in the IANA database: screens show instants in it.</param>
public sealed record Me(string Name, string Mail, Role Role, string? Part, bool MayAct, bool IsDemo, string Zone, bool HasMail);

/// <param name="Used">When it was last used, to the minute; a session ends after two hours without use.</param>
public sealed record SessionResponse(
    Guid Id,
    DateTimeOffset Created,
    DateTimeOffset Expires,
    DateTimeOffset Used,
    string Agent,
    bool IsThis
);

/// <param name="Old">The current password.</param>
public sealed record PasswordChangeRequest(string Old, string Password);

internal static class SessionEndpoints
{
    public static void MapSessions(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Accounts");
        api.MapPost("/session", Begin)
            .AllowAnonymous()
            .OutsideActions("sign-in")
            .WithName("signIn")
            .WithSummary("Signs in. After some failed attempts growing pauses apply; 429 has the wait in Retry-After.");
        api.MapGet("/session", Who)
            .RequireAuthorization(Policies.Read)
            .WithName("me")
            .WithSummary("The person who is signed in.");
        api.MapDelete("/session", End)
            .RequireAuthorization(Policies.Read)
            .OutsideActions("sign-in")
            .WithName("signOut")
            .WithSummary("Ends this session.");
        api.MapPost("/session/password", ChangePassword)
            .RequireAuthorization(Policies.Read)
            .OutsideActions("sign-in")
            .WithName("changePassword")
            .WithSummary("Changes one's own password with the current one; the account's other sessions end.");
        api.MapGet("/sessions", Sessions)
            .RequireAuthorization(Policies.Read)
            .WithName("sessions")
            .WithSummary("One's own sessions.");
        api.MapDelete("/sessions/{session:guid}", Revoke)
            .RequireAuthorization(Policies.Read)
            .Carries(ActionName.SessionEnd)
            .WithName("revokeSession")
            .WithSummary("Ends one of one's own sessions, at once.");
    }

    public static ProblemHttpResult TooMany(TimeSpan wait, HttpContext context)
    {
        var seconds = Math.Max(1, (int)Math.Ceiling(wait.TotalSeconds));
        context.Response.Headers.RetryAfter = seconds.ToString(CultureInfo.InvariantCulture);
        return TypedResults.Problem(
            statusCode: 429,
            title: "Too many attempts.",
            detail: $"Wait {(seconds < 90 ? seconds.Counted("second") : ((seconds + 59) / 60).Counted("minute"))} and try again."
        );
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Begin(
        Credentials credentials,
        SignIn signIn,
        Settings settings,
        HttpContext context
    )
    {
        switch (await signIn.Try(credentials.Mail, credentials.Password, Caller.Of(context)))
        {
            case SignInResult.In(var id, var expires, var browser):
                context.Response.Cookies.Append(SessionHandler.Cookie, id, Cookie(settings, expires));
                context.Response.Cookies.Append(Caller.BrowserCookie, browser, Cookie(settings, expires.AddDays(89)));
                return TypedResults.NoContent();
            case SignInResult.Throttled(var after):
                return TooMany(after, context);
            default:
                return TypedResults.Problem(statusCode: 401, title: "The mail address or the password is wrong.");
        }
    }

    private static async Task<Ok<Me>> Who(HttpContext context, LiveRegister index, Settings settings)
    {
        var viewer = Viewer.Of(context);
        var directory = (await index.Current()).PeopleDirectory;
        Person? person = directory.Find(viewer.Person);
        var part = viewer.Part is { } unit ? directory.Find(unit)?.Name ?? unit.Value : null;
        return TypedResults.Ok(
            new Me(
                person?.Name ?? "",
                person?.Mail ?? "",
                viewer.Role,
                part,
                viewer.MayAct,
                settings.IsDemo,
                directory.Time.Zone.Id,
                settings.Smtp is not null
            )
        );
    }

    private static async Task<NoContent> End(HttpContext context, SignIn signIn, Settings settings)
    {
        var viewer = Viewer.Of(context);
        await signIn.Revoke(viewer.Session, viewer);
        context.Response.Cookies.Delete(SessionHandler.Cookie, Cookie(settings, null));
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> ChangePassword(
        PasswordChangeRequest request,
        HttpContext context,
        SignIn signIn,
        LiveRegister index
    )
    {
        var viewer = Viewer.Of(context);
        var person = (await index.Current()).PeopleDirectory.Find(viewer.Person);
        if (Passwords.Fault(request.Password, person?.Name ?? "", person?.Mail ?? "") is { } fault)
        {
            return TypedResults.Problem(statusCode: 422, title: fault);
        }

        if (!await signIn.Confirms(viewer, request.Old))
        {
            return TypedResults.Problem(
                statusCode: 422,
                title: "The current password is wrong.",
                detail: "After some attempts you have to wait. If you have forgotten it, request a link on the sign-in page."
            );
        }

        await signIn.ChangePassword(viewer, request.Password);
        return TypedResults.NoContent();
    }

    private static async Task<Ok<IReadOnlyList<SessionResponse>>> Sessions(HttpContext context, Database database)
    {
        var viewer = Viewer.Of(context);
        var sessions = await database.Read(connection => connection.SessionsOf(viewer.Account, database.Now, SignIn.IdleTime));
        return TypedResults.Ok<IReadOnlyList<SessionResponse>>([
            .. sessions.Select(session => new SessionResponse(
                session.PublicId,
                session.Created,
                session.Expires,
                session.UsedAt,
                session.Agent,
                session.PublicId == viewer.Session
            )),
        ]);
    }

    private static Task<
        Results<Ok<SessionEnded>, Conflict<string>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>
    > Revoke(Guid session, HttpContext context) =>
        context.Carry(new EndSession(session, Viewer.Of(context)), null, "", id => Task.FromResult(id.ToString()));

    private static CookieOptions Cookie(Settings settings, DateTimeOffset? expires) =>
        new()
        {
            HttpOnly = true,
            SameSite = SameSiteMode.Lax,
            Secure = settings.SecureCookies,
            Path = "/",
            Expires = expires,
            IsEssential = true,
        };
}
