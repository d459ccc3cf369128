using System.Buffers.Text;
using System.Security.Cryptography;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Calendar;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace AtticLedger.Server.Calendar;

using RevokeAnswer = Results<Ok<ActionDone>, Conflict<string>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <param name="Site">The site concerned; null if it concerns a person.</param>
/// <param name="Person">The person whose last day it is.</param>
public sealed record DeadlineResponse(DeadlineKind Kind, DateOnly Day, string Title, string Words, long? Site, long? Person);

/// <param name="MadeAt">When the link was made; null if there is none.</param>
/// <param name="ReadAt">When a calendar last used the link; null if none has.</param>
/// <param name="Days">The deadlines, the soonest first.</param>
public sealed record DeadlinesResponse(DateTimeOffset? MadeAt, DateTimeOffset? ReadAt, IReadOnlyList<DeadlineResponse> Days);

/// <param name="Link">Returned once; only its hash is stored.</param>
public sealed record CalendarLinkResponse(string Link);

/// <summary>Deadlines, on a page and as a calendar with a link that can be revoked.</summary>
internal static class CalendarEndpoints
{
    private static readonly Filter<JudgedSite> Dated = Filter.Parse(
        "existence eq \"in-use\" and no-longer-reported eq false and plan pr",
        JudgedSite.Attributes
    );

    public static void MapCalendar(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/calendar").WithTags("Deadlines").RequireAuthorization(Policies.Read);
        app.MapGet("/api/deadlines", Look)
            .WithTags("Deadlines")
            .RequireAuthorization(Policies.Read)
            .WithName("deadlines")
            .WithSummary("The deadlines in the viewer's scope, and the state of the calendar link.");
        api.MapPost("", Make)
            .OutsideActions("its answer is a secret of which only the hash is stored, so it cannot be repeated")
            .WithName("makeCalendarLink")
            .WithSummary("Makes the calendar link and revokes an earlier one.");
        api.MapDelete("", (Delegate)Revoke)
            .Carries(ActionName.CalendarRevoke)
            .WithName("revokeCalendarLink")
            .WithSummary("Revokes the calendar link.");

        app.MapGet("/api/sites/{site:long}/dates", OfSite)
            .WithTags("Calendar")
            .RequireAuthorization(Policies.Read)
            .WithName("siteDates")
            .WithSummary("The dates of one site that are still to come, the soonest first.");

        // Through the link alone, because calendars cannot sign in. A calendar with a revoked link asks for months, so that is
        // not journalled.
        app.MapGet("/calendar/{token}.ics", Read)
            .AllowAnonymous()
            .WithTags("Calendar")
            .WithName("readCalendar")
            .WithSummary("The deadlines as a calendar (RFC 5545), for anyone with the link, in the scope of its owner.")
            .Produces<string>(contentType: "text/calendar");
    }

    private static async Task<Ok<DeadlinesResponse>> Look(SeenRegister register, Database database)
    {
        var viewer = register.Viewer;
        var state = register.State;
        var (link, days) = await database.Read(async connection =>
            (await connection.CalendarLink(viewer.Account), await DaysOf(viewer, state, connection, database.Now))
        );
        return TypedResults.Ok(new DeadlinesResponse(link?.MadeAt, link?.ReadAt, [.. days.Select(ToResponse)]));
    }

    private static async Task<Results<Ok<IReadOnlyList<DeadlineResponse>>, ProblemHttpResult>> OfSite(
        long site,
        SeenRegister register,
        Database database
    )
    {
        var viewer = register.Viewer;
        var state = register.State;
        return register.Visible.Find(new SiteId(site)) is null
            ? TypedResults.Problem(statusCode: 404, title: "There is no such site.")
            : TypedResults.Ok<IReadOnlyList<DeadlineResponse>>([
                .. (await database.Read(connection => DaysOf(viewer, state, connection, database.Now, new SiteId(site)))).Select(
                    ToResponse
                ),
            ]);
    }

    private static DeadlineResponse ToResponse(Deadline day) =>
        new(day.Kind, day.Day, day.Title, day.Words, day.Site?.Value, day.Person?.Value);

    private static async Task<Ok<CalendarLinkResponse>> Make(HttpContext context, Database database, Settings settings)
    {
        var viewer = Viewer.Of(context);
        var token = Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(32));
        var numbers = await database.Change(async change =>
        {
            await change.AskStill(viewer);
            await change.PutCalendarLink(viewer.Account, LinkTokens.HashOf(token));
            return await change.Append([
                new Draft(JournalAction.CalendarCreated, viewer.InJournal, EntrySubject.Of(viewer.Person)),
            ]);
        });
        RegisterAt.Set(context, numbers[^1]);
        return TypedResults.Ok(new CalendarLinkResponse(new Uri(settings.Address, $"/calendar/{token}.ics").ToString()));
    }

    private static Task<RevokeAnswer> Revoke(HttpContext context) =>
        context.Carry(new RevokeCalendarLink(Viewer.Of(context)), null, "", plan => Task.FromResult(plan));

    private static async Task<Results<ContentHttpResult, ProblemHttpResult>> Read(
        string token,
        HttpContext context,
        LiveRegister index,
        Database database,
        Settings settings
    )
    {
        var state = await index.Current();
        if (
            await database.Change(change => change.CalendarReader(LinkTokens.HashOf(token))) is not { } account
            || !account.IsOpen(database.Now, state.PeopleDirectory.Time)
        )
        {
            return TypedResults.Problem(
                statusCode: 404,
                title: "There is no such calendar.",
                detail: "Its link was revoked, or replaced by a later one."
            );
        }

        context.Response.Headers.CacheControl = "no-store";
        var days = await database.Read(connection => DaysOf(Viewer.Of(account), state, connection, database.Now));
        return TypedResults.Text(
            CalendarFeed.Write(
                "Attic Ledger",
                settings.Address.Host,
                days.Select(day => new FeedDay(
                    day.Key,
                    day.Day,
                    day.Title,
                    day.Words,
                    new Uri(settings.Address, day.Site is { } site ? $"/sites/{site.Value}" : $"/people/{day.Person?.Value}")
                )),
                database.Now
            ),
            CalendarFeed.ContentType
        );
    }

    /// <param name="only">One site; null for all in the viewer's scope.</param>
    private static async Task<IReadOnlyList<Deadline>> DaysOf(
        Viewer viewer,
        LedgerState state,
        NpgsqlConnection connection,
        DateTimeOffset now,
        SiteId? only = null
    )
    {
        var viewerScope = viewer.ScopeOn(state.PeopleDirectory);
        var seen = state.Seen(viewerScope);
        bool IsWanted(SiteId site) => only is null || only == site;
        List<AtticEntry> atticEntries = [.. (await connection.OpenAtticEntries()).Where(atticEntry => IsWanted(atticEntry.Site))];
        var holds = await connection.Holds();
        List<Offer> offers =
        [
            .. (await connection.OpenOffers())
                .Where(offer => IsWanted(offer.Site))
                .Where(offer => offer.To == viewer.Person || seen.Find(offer.Site) is not null),
        ];
        List<Approval> approvals =
        [
            .. (await connection.OpenApprovals()).Where(approval =>
                IsWanted(approval.Site) && seen.Find(approval.Site) is not null
            ),
        ];
        List<(HostChange HostChange, ManualTask ManualTask)> byHand =
        [
            .. (await connection.ManualTasksSince(now))
                .Where(pair => IsWanted(pair.HostChange.Site))
                .Where(pair => pair.ManualTask.To == viewer.Person || seen.Find(pair.HostChange.Site) is not null),
        ];

        // A person sees offers and tasks of theirs even if the site is outside their scope.
        HashSet<SiteId> told = [.. offers.Select(offer => offer.Site), .. byHand.Select(pair => pair.HostChange.Site)];
        List<SiteId> wanted =
        [
            .. atticEntries.Select(atticEntry => atticEntry.Site),
            .. approvals.Select(approval => approval.Site),
            .. seen.Lines(seen.Where(Dated)).Select(line => line.Id),
            .. await connection.SitesWithEndingGrants(state.PeopleDirectory.Time.DayOf(now)),
            .. await connection.SitesExceptedThrough(
                state.PeopleDirectory.Time.DayOf(now),
                state.PeopleDirectory.Time.DayOf(now).AddDays(Deadlines.DaysAhead)
            ),
        ];
        var sites = (
            await connection.Sites(
                viewerScope,
                [.. wanted.Where(site => IsWanted(site) && seen.Find(site) is not null).Distinct()]
            )
        )
            .Concat(await connection.Sites(new Scope.Everything(), told))
            .DistinctBy(site => site.Id)
            .ToDictionary(site => site.Id);
        var leavers = state
            .PeopleDirectory.People.Where(person => person is { Standing: Standing.Leaving, Day: not null })
            .ToDictionary(person => person.Id);
        var keys = ((ListColumn<SiteOwner>)seen.Columns.Of("owners"))
            .Counts(seen.InUse.And(seen.All))
            .Where(pair => leavers.ContainsKey(pair.Element.Person.Id))
            .GroupBy(pair => pair.Element.Person.Id, pair => pair.Count)
            .Where(holder => only is null || seen.Find(only.Value)!.Value.Owners.Holders.Any(one => one.Person.Id == holder.Key));
        return Deadlines.Of(
            new DeadlineFacts(
                sites,
                sites.Keys.Where(site => seen.Find(site) is not null).ToHashSet(),
                [
                    .. atticEntries
                        .Where(atticEntry =>
                            atticEntry.State.IsInAttic()
                            && seen.Find(atticEntry.Site) is not null
                            && sites.ContainsKey(atticEntry.Site)
                        )
                        .Select(atticEntry =>
                            (
                                atticEntry,
                                Clock.Of(
                                    atticEntry.ClockFacts(
                                        sites[atticEntry.Site],
                                        state.Organisation,
                                        [.. holds[atticEntry.Site]]
                                    ),
                                    state.PeopleDirectory.Time,
                                    now
                                )
                            )
                        ),
                ],
                offers,
                approvals,
                byHand,
                [.. keys.Select(holder => (leavers[holder.Key], holder.Sum()))],
                state.PeopleDirectory
            )
        );
    }
}
