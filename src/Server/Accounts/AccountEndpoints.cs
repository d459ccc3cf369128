using AtticLedger.Core.People;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Accounts;

public sealed record Credentials(string Mail, string Password);

/// <param name="Part">The unit of a steward's part.</param>
/// <param name="IsDemo">Whether this is the demo, whose clock can be moved.</param>
public sealed record Me(string Name, string Mail, Role Role, string? Part, bool MayAct, bool IsDemo);

public sealed record SessionWire(Guid Id, DateTimeOffset Created, DateTimeOffset Expires, string Agent, bool IsThis);

internal static class AccountEndpoints
{
    public static void MapAccounts(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Accounts");
        api.MapPost("/session", Begin).AllowAnonymous().WithName("signIn").WithSummary("Signs in; throttled.");
        api.MapGet("/session", Who).RequireAuthorization(Policies.Read).WithName("me").WithSummary("Who is signed in.");
        api.MapDelete("/session", End).RequireAuthorization(Policies.Read).WithName("signOut").WithSummary("Ends this session.");
        api.MapGet("/sessions", Sessions).RequireAuthorization(Policies.Read).WithName("sessions").WithSummary("One's own sessions.");
        api.MapDelete("/sessions/{session:guid}", Revoke).RequireAuthorization(Policies.Read).WithName("revokeSession").WithSummary("Ends one of one's own sessions, at once.");
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Begin(Credentials credentials, SignIn signIn, Settings settings, HttpContext context)
    {
        var caller = context.Connection.RemoteIpAddress?.ToString() ?? "";
        switch (await signIn.Try(credentials.Mail, credentials.Password, caller, context.Request.Headers.UserAgent.ToString()))
        {
            case SignInResult.In(var id, var expires):
                context.Response.Cookies.Append(SessionHandler.Cookie, id, Cookie(settings, expires));
                return TypedResults.NoContent();
            case SignInResult.Throttled(var after):
                context.Response.Headers.RetryAfter = ((int)after.TotalSeconds).ToString(System.Globalization.CultureInfo.InvariantCulture);
                return TypedResults.Problem(statusCode: 429, title: "Too many tries.", detail: $"Wait {after.TotalMinutes:0} minutes and try again.");
            default:
                return TypedResults.Problem(statusCode: 401, title: "The mail address and the password do not go together.");
        }
    }

    private static async Task<Ok<Me>> Who(HttpContext context, LedgerSheet sheet, Settings settings)
    {
        var viewer = Viewer.Of(context);
        var roll = (await sheet.Current()).Roll;
        Person? person = roll.Find(viewer.Person);
        var part = viewer.Part is { } unit ? roll.Find(unit)?.Name ?? unit.Value : null;
        return TypedResults.Ok(new Me(person?.Name ?? "", person?.Mail ?? "", viewer.Role, part, viewer.MayAct, settings.IsDemo));
    }

    private static async Task<NoContent> End(HttpContext context, SignIn signIn, Settings settings)
    {
        var viewer = Viewer.Of(context);
        await signIn.Revoke(viewer.Account, viewer.Session, viewer);
        context.Response.Cookies.Delete(SessionHandler.Cookie, Cookie(settings, null));
        return TypedResults.NoContent();
    }

    private static async Task<Ok<IReadOnlyList<SessionWire>>> Sessions(HttpContext context, Database database)
    {
        var viewer = Viewer.Of(context);
        var sessions = await database.Read(connection => connection.SessionsOf(viewer.Account, database.Now));
        return TypedResults.Ok<IReadOnlyList<SessionWire>>(
            [.. sessions.Select(session => new SessionWire(session.PublicId, session.Created, session.Expires, session.Agent, session.PublicId == viewer.Session))]);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Revoke(Guid session, HttpContext context, SignIn signIn)
    {
        var viewer = Viewer.Of(context);
        return await signIn.Revoke(viewer.Account, session, viewer)
            ? TypedResults.NoContent()
            : TypedResults.Problem(statusCode: 404, title: "There is no such session.");
    }

    private static CookieOptions Cookie(Settings settings, DateTimeOffset? expires) =>
        new() { HttpOnly = true, SameSite = SameSiteMode.Lax, Secure = settings.SecureCookies, Path = "/", Expires = expires, IsEssential = true };
}
