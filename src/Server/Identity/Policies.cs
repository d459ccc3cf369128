using System.Security.Cryptography;
using System.Text;
using System.Text.Encodings.Web;
using AtticLedger.Store;
using Microsoft.AspNetCore.Authentication;
using Microsoft.Extensions.Options;

namespace AtticLedger.Server.Identity;

/// <summary>The policies of endpoints. An endpoint without a policy admits nobody.</summary>
public static class Policies
{
    /// <summary>Everybody who is signed in; the scope limits what they see.</summary>
    public const string Read = "read";

    /// <summary>Everybody except auditors, within their scope.</summary>
    public const string Act = "act";

    /// <summary>Administrators.</summary>
    public const string Administer = "administer";

    /// <summary>Administrators and auditors: the whole journal.</summary>
    public const string Evidence = "evidence";

    public static void AddLedgerPolicies(this IServiceCollection services)
    {
        services
            .AddAuthentication(SessionHandler.Scheme)
            .AddScheme<AuthenticationSchemeOptions, SessionHandler>(SessionHandler.Scheme, null);
        services
            .AddAuthorizationBuilder()
            .AddPolicy(Read, policy => policy.RequireAuthenticatedUser())
            .AddPolicy(Act, policy => policy.RequireRole(nameof(Role.Administrator), nameof(Role.Steward), nameof(Role.Owner)))
            .AddPolicy(Administer, policy => policy.RequireRole(nameof(Role.Administrator)))
            .AddPolicy(Evidence, policy => policy.RequireRole(nameof(Role.Administrator), nameof(Role.Auditor)))
            .SetFallbackPolicy(
                new Microsoft.AspNetCore.Authorization.AuthorizationPolicyBuilder().RequireAssertion(_ => false).Build()
            );
    }
}

/// <summary>Reads the session cookie on every request, from the database, so that a revoked session ends at once.</summary>
public sealed class SessionHandler(
    IOptionsMonitor<AuthenticationSchemeOptions> options,
    ILoggerFactory logger,
    UrlEncoder encoder,
    Database database
) : AuthenticationHandler<AuthenticationSchemeOptions>(options, logger, encoder)
{
    public new const string Scheme = "session";
    public const string Cookie = "attic-session";

    // The use of a session is recorded at most this often, so most requests write nothing.
    private static readonly TimeSpan UsedLately = TimeSpan.FromMinutes(1);

    public static byte[] HashOf(string id) => SHA256.HashData(Encoding.UTF8.GetBytes(id));

    protected override async Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        if (Request.Cookies[Cookie] is not { Length: > 0 and < 200 } id)
        {
            return AuthenticateResult.NoResult();
        }

        var hash = HashOf(id);
        if (
            await database.Atomically(
                connection => connection.AccountBySession(hash, database.Now, SignIn.IdleTime),
                Context.RequestAborted
            )
            is not { } found
        )
        {
            return AuthenticateResult.NoResult();
        }

        if (found.UsedAt < database.Now - UsedLately)
        {
            await database.Atomically(
                connection => connection.UseSession(hash, database.Now, UsedLately),
                Context.RequestAborted
            );
        }

        var viewer = new Viewer(found.Account.Id, found.Account.Person, found.Account.Role, found.Account.Part, found.Session);
        Context.Items[typeof(Viewer)] = viewer;
        return AuthenticateResult.Success(new AuthenticationTicket(viewer.Principal(Scheme), Scheme));
    }
}
