using AtticLedger.Server.Work;

namespace AtticLedger.Server.Accounts;

/// <summary>Accounts, sessions, and links in mails.</summary>
public sealed class AccountsRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapSessions();
        app.MapAccounts();
        app.MapLinks();
    }
}
