using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Mail;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Accounts;

/// <summary>The purpose of a link, shown before sign-in.</summary>
public sealed record LinkPreview(LinkPurpose Purpose);

/// <summary>The target of a link.</summary>
/// <param name="Subject">The id of the offer or the site.</param>
public sealed record LinkTarget(LinkPurpose Purpose, string Subject);

public sealed record NewPasswordRequest(string Password);

public sealed record MailAddressRequest(string Mail);

internal static class LinkEndpoints
{
    private static readonly TimeSpan PasswordLinkTime = TimeSpan.FromDays(1);

    public static void MapLinks(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Links");
        api.MapGet("/links/{token}", Look)
            .AllowAnonymous()
            .WithName("previewLink")
            .WithSummary("The purpose of a link from a mail. Changes nothing and needs no sign-in.");
        api.MapPost("/links/{token}/open", Open)
            .RequireAuthorization(Policies.Read)
            .OutsideActions("sign-in")
            .WithName("openLink")
            .WithSummary("The target of a link, for the account that it was sent to. The link stays valid.");
        api.MapPost("/links/{token}/password", Choose)
            .AllowAnonymous()
            .OutsideActions("sign-in")
            .WithName("choosePassword")
            .WithSummary("Chooses a password through a single-use link; the account's sessions end.");
        api.MapPost("/session/link", Ask)
            .AllowAnonymous()
            .OutsideActions("sign-in")
            .WithName("mailPassword")
            .WithSummary(
                "Sends a mail with a link to choose a password. The response is the same for known and unknown addresses."
            );
    }

    private static async Task<Results<Ok<LinkPreview>, ProblemHttpResult>> Look(string token, Database database) =>
        await database.Read(async connection =>
            (Link: await connection.Link(LinkTokens.HashOf(token)), PeopleDirectory: await database.PeopleDirectory(connection))
        )
            is var (link, directory)
        && Links.Fault(link, null, database.Now) is { } fault
            ? Links.Problem(fault)
        : directory.MaySignIn(link!.Person) ? TypedResults.Ok(new LinkPreview(link.Purpose))
        : Links.Problem(LinkFault.Over);

    private static Task<Results<Ok<LinkTarget>, ProblemHttpResult>> Open(string token, HttpContext context, Database database) =>
        database.Change<Results<Ok<LinkTarget>, ProblemHttpResult>>(async change =>
        {
            var viewer = Viewer.Of(context);
            var link = await change.Connection.Link(LinkTokens.HashOf(token));
            if (Links.Fault(link, viewer.Person, change.Now) is { } fault)
            {
                await change.Append([Links.Refused(viewer, fault)]);
                return Links.Problem(fault);
            }

            return TypedResults.Ok(new LinkTarget(link!.Purpose, link.Subject));
        });

    private static async Task<Results<NoContent, ProblemHttpResult>> Choose(
        string token,
        NewPasswordRequest request,
        SignIn signIn,
        Database database,
        HttpContext context
    )
    {
        var caller = context.Connection.RemoteIpAddress?.ToString() ?? "";
        if (await signIn.Count("link", caller) is { } wait)
        {
            return SessionEndpoints.TooMany(wait, context);
        }

        if (Passwords.Fault(request.Password) is { } inactive)
        {
            return TypedResults.Problem(statusCode: 422, title: inactive);
        }

        var hash = Passwords.Hash(request.Password);
        var fault = await database.Change<LinkFault?>(async change =>
        {
            var link = await change.Connection.Link(LinkTokens.HashOf(token));
            var directory = await change.PeopleDirectory(await change.Connection.OrganisationTime());
            if (Links.Fault(link, null, change.Now) is { } wrong)
            {
                await Refuse(change, link, wrong);
                return wrong;
            }

            if (
                link!.Purpose != LinkPurpose.Password
                || directory.Find(link.Person) is not { } person
                || !person.MaySignIn(change.Now, directory.Time)
            )
            {
                await Refuse(change, link, LinkFault.Over);
                return LinkFault.Over;
            }

            var account = await change.Connection.AccountOf(person.Id);
            await change.PutAccount(person.Id, account?.Role ?? Role.Owner, account?.Part, hash);
            await change.EndLinks(person.Id, LinkPurpose.Password);
            if (account is not null)
            {
                await change.RevokeAll(account.Id);
                await change.ForgetBrowsers(account.Id);
            }

            await change.Append([
                new Draft(
                    JournalAction.PasswordChosen,
                    EntryActor.Of(person.Id),
                    new EntrySubject.Account((await change.Connection.AccountOf(person.Id))!.Id)
                ),
            ]);
            return null;
        });
        if (fault is { } bad)
        {
            await signIn.Failed(caller);

            return Links.Problem(bad);
        }

        return TypedResults.NoContent();
    }

    private static async Task<Accepted> Ask(
        MailAddressRequest request,
        SignIn signIn,
        Database database,
        Outbox outbox,
        HttpContext context,
        IHostApplicationLifetime life
    )
    {
        var caller = context.Connection.RemoteIpAddress?.ToString() ?? "";
        if (await signIn.Count("mail", caller) is not null)
        {
            return TypedResults.Accepted((string?)null);
        }

        await database.Change(async change =>
        {
            var time = await change.Connection.OrganisationTime();
            var directory = await change.PeopleDirectory(time);
            if (!directory.ByMail.TryGetValue(request.Mail.Trim().ToLowerInvariant(), out var id))
            {
                return;
            }

            if (directory.Find(id) is { } person && person.MaySignIn(change.Now, time))
            {
                // At most one mail in ten minutes, however often requested.
                var window = change.Now.UtcTicks / TimeSpan.FromMinutes(10).Ticks;
                await change.Write([PasswordNotification(person.Id, $"password:{window}", change.Now)], time);
            }
        });
        outbox.Wake(life.ApplicationStopping);
        return TypedResults.Accepted((string?)null);
    }

    /// <summary>The mail with a link to choose a password.</summary>
    public static Notification PasswordNotification(PersonId to, string key, DateTimeOffset now) =>
        new(
            to,
            key,
            "Choose a password",
            [
                "You, or another person who entered your address, requested a link to choose a password. If it was not you, ignore this mail.",
            ],
            Urgent: true,
            new NotificationLink(LinkPurpose.Password, "", now + PasswordLinkTime, "Choose a password")
        );

    private static async Task Refuse(Change change, LinkRow? link, LinkFault fault)
    {
        if (link is not null)
        {
            await change.Append([
                new Draft(JournalAction.LinkRefused, EntryActor.Anonymous, EntrySubject.Of(link.Person))
                {
                    Reason = Links.Words(fault),
                },
            ]);
        }
    }
}
