using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Mail;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Accounts;

/// <summary>What a link is for, as anybody who holds it may know before signing in.</summary>
public sealed record LinkLookWire(LinkPurpose Purpose);

/// <summary>Where a link leads.</summary>
/// <param name="Subject">The offer's id or the site's.</param>
public sealed record LinkWire(LinkPurpose Purpose, string Subject);

public sealed record NewPasswordWire(string Password);

public sealed record MailWire(string Mail);

internal static class LinkEndpoints
{
    private static readonly TimeSpan PasswordLinkTime = TimeSpan.FromDays(1);

    public static void MapLinks(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Links");
        api.MapGet("/links/{token}", Look)
            .AllowAnonymous()
            .WithName("lookLink")
            .WithSummary("What a link from a mail is for. Changes nothing, whoever asks and however often.");
        api.MapPost("/links/{token}/open", Open)
            .RequireAuthorization(Policies.Read)
            .WithName("openLink")
            .WithSummary("Where a link leads, for the account that it was sent to. Does not use it up.");
        api.MapPost("/links/{token}/password", Choose)
            .AllowAnonymous()
            .WithName("choosePassword")
            .WithSummary("Chooses a password through a single-use link; the account's sessions end.");
        api.MapPost("/session/link", Ask)
            .AllowAnonymous()
            .WithName("mailPassword")
            .WithSummary("Mails a link for choosing a password. The answer is the same whether the address is known or not.");
    }

    public static ProblemHttpResult Problem(LinkFault fault) =>
        fault switch
        {
            LinkFault.Used => TypedResults.Problem(
                statusCode: 410,
                title: "This link was used before.",
                detail: "A link from a mail works once. What it was for is done; you see it when you sign in."
            ),
            LinkFault.Over => TypedResults.Problem(
                statusCode: 410,
                title: "This link's time is over.",
                detail: "Ask for a new one, or sign in to see what is open."
            ),
            LinkFault.NotYours => TypedResults.Problem(
                statusCode: 409,
                title: "This link was sent to somebody else.",
                detail: "Sign out, and sign in as the person it was sent to."
            ),
            _ => TypedResults.Problem(
                statusCode: 404,
                title: "There is no such link.",
                detail: "It may have been cut off on the way, or replaced by a later mail. Use the whole link from the latest mail."
            ),
        };

    private static async Task<Results<Ok<LinkLookWire>, ProblemHttpResult>> Look(string token, Database database) =>
        await database.Read(async connection =>
            (Link: await connection.Link(LinkTokens.HashOf(token)), Roll: await database.Roll(connection))
        )
            is var (link, roll)
        && Links.Fault(link, null, database.Now) is { } fault
            ? Problem(fault)
        : roll.MaySignIn(link!.Person) ? TypedResults.Ok(new LinkLookWire(link.Purpose))
        : Problem(LinkFault.Over);

    private static Task<Results<Ok<LinkWire>, ProblemHttpResult>> Open(string token, HttpContext context, Database database) =>
        database.Change<Results<Ok<LinkWire>, ProblemHttpResult>>(async change =>
        {
            var viewer = Viewer.Of(context);
            var link = await change.Connection.Link(LinkTokens.HashOf(token));
            if (Links.Fault(link, viewer.Person, change.Now) is { } fault)
            {
                await change.Append([Links.Refused(viewer, fault)]);
                return Problem(fault);
            }

            return TypedResults.Ok(new LinkWire(link!.Purpose, link.Subject));
        });

    private static async Task<Results<NoContent, ProblemHttpResult>> Choose(
        string token,
        NewPasswordWire wish,
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

        if (Passwords.Fault(wish.Password) is { } unfit)
        {
            return TypedResults.Problem(statusCode: 422, title: unfit);
        }

        var hash = Passwords.Hash(wish.Password);
        var fault = await database.Change<LinkFault?>(async change =>
        {
            var link = await change.Connection.Link(LinkTokens.HashOf(token));
            var roll = await change.Roll(await change.Connection.HouseTime());
            if (Links.Fault(link, null, change.Now) is { } wrong)
            {
                await Refuse(change, link, wrong);
                return wrong;
            }

            if (
                link!.Purpose != LinkPurpose.Password
                || roll.Find(link.Person) is not { } person
                || !person.MaySignIn(change.Now, roll.Time)
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
                    "password.chosen",
                    $"person:{person.Id.Value}",
                    $"account:{(await change.Connection.AccountOf(person.Id))!.Id}"
                ),
            ]);
            return null;
        });
        if (fault is { } bad)
        {
            await signIn.Failed(caller);

            return Problem(bad);
        }

        return TypedResults.NoContent();
    }

    private static async Task<Accepted> Ask(
        MailWire wish,
        SignIn signIn,
        Database database,
        MailRoom room,
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
            var time = await change.Connection.HouseTime();
            var roll = await change.Roll(time);
            if (!roll.ByMail.TryGetValue(wish.Mail.Trim().ToLowerInvariant(), out var id))
            {
                return;
            }

            if (roll.Find(id) is { } person && person.MaySignIn(change.Now, time))
            {
                // One letter in ten minutes, however often it is asked for.
                var window = change.Now.UtcTicks / TimeSpan.FromMinutes(10).Ticks;
                await change.Write([PasswordLetter(person.Id, $"password:{window}", change.Now)], time);
            }
        });
        room.Wake(life.ApplicationStopping);
        return TypedResults.Accepted((string?)null);
    }

    /// <summary>The letter with a link for choosing a password.</summary>
    public static Letter PasswordLetter(PersonId to, string key, DateTimeOffset now) =>
        new(
            to,
            key,
            "Choose a password",
            [
                "You, or somebody who gave your address, asked for a link to choose a password. Whoever did not ask can leave this mail alone.",
            ],
            Urgent: true,
            new LetterLink(LinkPurpose.Password, "", now + PasswordLinkTime, "Choose a password")
        );

    private static async Task Refuse(Change change, LinkRow? link, LinkFault fault)
    {
        if (link is not null)
        {
            await change.Append([
                new Draft("link.refused", "anonymous", $"person:{link.Person.Value}") { Reason = Links.Words(fault) },
            ]);
        }
    }
}
