using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Identity;

/// <summary>The fault of a link.</summary>
public enum LinkFault
{
    /// <summary>There is no such link: it was altered, truncated, or replaced by a later one.</summary>
    Unknown,

    /// <summary>It was sent to another person.</summary>
    NotYours,
    Used,
    Over,
}

/// <summary>Links in mails: a link acts once, for the account it was sent to, until its end, and only after sign-in.
/// </summary>
public static class Links
{
    /// <summary>The fault of a link for this person; null if valid.</summary>
    public static async Task<LinkFault?> Fault(Change change, string token, PersonId? person) =>
        Fault(await change.Connection.Link(LinkTokens.HashOf(token)), person, change.Now);

    public static LinkFault? Fault(LinkRow? link, PersonId? person, DateTimeOffset now) =>
        link is null ? LinkFault.Unknown
        : person is { } viewer && link.Person != viewer ? LinkFault.NotYours
        : link.UsedAt is not null ? LinkFault.Used
        : now >= link.Until ? LinkFault.Over
        : null;

    public static Draft Refused(Viewer viewer, LinkFault fault) =>
        new(JournalAction.LinkRefused, viewer.InJournal, new EntrySubject.Account(viewer.Account)) { Reason = Words(fault) };

    public static string Words(LinkFault fault) =>
        fault switch
        {
            LinkFault.NotYours => "The link is for another person.",
            LinkFault.Used => "The link was used before.",
            LinkFault.Over => "The link has expired.",
            _ => "No such link was sent.",
        };

    /// <summary>What is wrong with a link, and what to do.</summary>
    public static ProblemHttpResult Problem(LinkFault fault) =>
        fault switch
        {
            LinkFault.Used => TypedResults.Problem(
                statusCode: 410,
                title: "This link was used before.",
                detail: "A link works once. Sign in to see the result."
            ),
            LinkFault.Over => TypedResults.Problem(
                statusCode: 410,
                title: "This link has expired.",
                detail: "Request a new one, or sign in to see open requests."
            ),
            LinkFault.NotYours => TypedResults.Problem(
                statusCode: 409,
                title: "This link is for another person.",
                detail: "Sign out, and sign in as the person it was sent to."
            ),
            _ => TypedResults.Problem(
                statusCode: 404,
                title: "This link does not exist.",
                detail: "It may be incomplete, or replaced by a later mail. Use the complete link from the latest mail."
            ),
        };
}
