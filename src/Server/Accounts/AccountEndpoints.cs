using AtticLedger.Core.Terms;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Mail;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Accounts;

/// <summary>An account as administrators see it.</summary>
/// <param name="Part">A steward's unit, by its code, and <paramref name="PartName"/> its name.</param>
/// <param name="HasLeft">True if its holder is not on the staff list any more: the account lets nobody in.</param>
/// <param name="HasPassword">False until its holder has chosen one.</param>
public sealed record AccountWire(
    PersonWire Person,
    Role Role,
    string? Part,
    string? PartName,
    DateTimeOffset? LastSignIn,
    int Sessions,
    bool HasLeft,
    bool HasPassword,
    bool IsSelf
);

/// <param name="Units">Which units somebody can be steward of.</param>
public sealed record AccountsWire(IReadOnlyList<AccountWire> Accounts, IReadOnlyList<Register.UnitWire> Units);

/// <param name="Fingerprint">Of the plan that was shown: another effect is not carried out.</param>
public sealed record AccountChangeWire(AccountWish Wish, string Fingerprint);

/// <summary>Who has an account, and how that is changed.</summary>
internal static class AccountEndpoints
{
    public static void MapAccounts(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/accounts").WithTags("Accounts").RequireAuthorization(Policies.Administer);
        api.MapGet("", List).WithName("accounts").WithSummary("Who has an account, as what, and when they last signed in.");
        api.MapPost("/plan", Plan)
            .WithName("planAccountChange")
            .WithSummary("What a change of an account comes to; nothing is changed.");
        api.MapPost("/change", Change)
            .WithName("changeAccount")
            .WithSummary(
                "Changes an account as it was shown; 409 with the plan as it is now where the effect is another, or where it is refused."
            );
    }

    private static async Task<Ok<AccountsWire>> List(HttpContext context, LedgerSheet sheet, Database database)
    {
        var viewer = Viewer.Of(context);
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var accounts = await database.Read(connection => connection.Accounts(database.Now, SignIn.IdleTime));
        return TypedResults.Ok(
            new AccountsWire(
                [
                    .. accounts.Select(row => new AccountWire(
                        new PersonWire(
                            row.Account.Person.Value,
                            row.Account.Holder.Name,
                            row.Account.Holder.Mail,
                            row.Account.Holder.IsOutside
                        ),
                        row.Account.Role,
                        row.Account.Part?.Value,
                        row.Account.Part is { } part ? state.Roll.Find(part)?.Name ?? part.Value : null,
                        row.LastSignIn,
                        row.Sessions,
                        !row.Account.IsOpen(database.Now, state.Roll.Time),
                        row.Account.PasswordHash is not null,
                        row.Account.Person == viewer.Person
                    )),
                ],
                [
                    .. state
                        .Roll.Units.OrderBy(unit => unit.Name, StringComparer.OrdinalIgnoreCase)
                        .Select(unit => new Register.UnitWire(unit.Code.Value, unit.Name)),
                ]
            )
        );
    }

    private static async Task<Ok<AccountPlan>> Plan(AccountWish wish, HttpContext context, AccountDesk desk) =>
        TypedResults.Ok(await desk.Plan(wish, Viewer.Of(context)));

    private static async Task<Results<Ok<AccountPlan>, Conflict<AccountPlan>>> Change(
        AccountChangeWire wish,
        HttpContext context,
        AccountDesk desk,
        MailRoom room,
        IHostApplicationLifetime life
    )
    {
        var (place, plan) = await desk.Carry(wish.Wish, wish.Fingerprint, Viewer.Of(context));
        if (place is not { } done)
        {
            return TypedResults.Conflict(plan);
        }

        SheetAt.Say(context, done);
        room.Wake(life.ApplicationStopping);
        return TypedResults.Ok(plan);
    }
}
