using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Accounts;

/// <summary>An account as administrators see it.</summary>
/// <param name="Part">The code of a steward's unit; <paramref name="PartName"/> is its name.</param>
/// <param name="HasLeft">True if its person has left the staff list: the account admits nobody.</param>
/// <param name="HasPassword">False until its person has chosen a password.</param>
public sealed record AccountResponse(
    PersonResponse Person,
    Role Role,
    string? Part,
    string? PartName,
    DateTimeOffset? LastSignIn,
    int Sessions,
    bool HasLeft,
    bool HasPassword,
    bool IsSelf
);

/// <param name="Units">The units that can have a steward.</param>
public sealed record AccountsResponse(IReadOnlyList<AccountResponse> Accounts, IReadOnlyList<UnitResponse> Units);

/// <param name="Fingerprint">The fingerprint of the previewed plan: a different effect is refused.</param>
public sealed record AccountChangeRequest(AccountRequest Request, string Fingerprint);

/// <summary>Lists and changes accounts.</summary>
internal static class AccountEndpoints
{
    public static void MapAccounts(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/accounts").WithTags("Accounts").RequireAuthorization(Policies.Administer);
        api.MapGet("", List).WithName("accounts").WithSummary("All accounts with their role and last sign-in.");
        api.MapPost("/plan", Plan)
            .Previews()
            .WithName("planAccountChange")
            .WithSummary("The plan of a change of an account; nothing is changed.");
        api.MapPost("/change", Change)
            .Carries(ActionName.AccountChange)
            .WithName("changeAccount")
            .WithSummary("Changes an account as planned; 409 with the new plan where the effect differs.");
    }

    private static async Task<Ok<AccountsResponse>> List(SeenRegister register, Database database)
    {
        var viewer = register.Viewer;
        var state = register.State;
        var accounts = await database.Read(connection => connection.Accounts(database.Now, SignIn.IdleTime));
        return TypedResults.Ok(
            new AccountsResponse(
                [
                    .. accounts.Select(row => new AccountResponse(
                        new PersonResponse(
                            row.Account.Person.Value,
                            row.Account.Holder.Name,
                            row.Account.Holder.Mail,
                            row.Account.Holder.IsOutside
                        ),
                        row.Account.Role,
                        row.Account.Part?.Value,
                        row.Account.Part is { } part ? state.PeopleDirectory.Find(part)?.Name ?? part.Value : null,
                        row.LastSignIn,
                        row.Sessions,
                        !row.Account.IsOpen(database.Now, state.PeopleDirectory.Time),
                        row.Account.PasswordHash is not null,
                        row.Account.Person == viewer.Person
                    )),
                ],
                [
                    .. state
                        .PeopleDirectory.Units.OrderBy(unit => unit.Name, StringComparer.OrdinalIgnoreCase)
                        .Select(unit => new UnitResponse(unit.Code.Value, unit.Name)),
                ]
            )
        );
    }

    private static async Task<Ok<AccountPlan>> Plan(AccountRequest request, HttpContext context, ActionExecutor executor) =>
        TypedResults.Ok(
            await executor.Preview(new ChangeAccount(request, Viewer.Of(context))) switch
            {
                Decided<ChangeAccount.Planned>.Planned(var planned, _) => planned.Plan,
                Decided<ChangeAccount.Planned>.Refused(var reasons, _) => new AccountPlan(null, [], RemarkResponse.Of(reasons)),
                _ => throw new InvalidOperationException("Everybody may be asked for."),
            }
        );

    private static Task<
        Results<Ok<AccountPlan>, Conflict<AccountPlan>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>
    > Change(AccountChangeRequest request, HttpContext context) =>
        context.Carry(new ChangeAccount(request.Request, Viewer.Of(context)), request.Fingerprint, request, planned =>
            Task.FromResult(planned.Plan)
        );
}
