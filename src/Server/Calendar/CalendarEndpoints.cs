using System.Buffers.Text;
using System.Security.Cryptography;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Calendar;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace AtticLedger.Server.Calendar;

/// <param name="Site">The site that it is about; null where it is about a person.</param>
/// <param name="Person">Whose last day it is.</param>
public sealed record DeadlineWire(DeadlineKind Kind, DateOnly Day, string Title, string Words, long? Site, long? Person);

/// <param name="MadeAt">When the link was made; null where there is none.</param>
/// <param name="ReadAt">When a calendar last read under it; null where none has yet.</param>
/// <param name="Days">The days to come, the soonest first.</param>
public sealed record CalendarWire(DateTimeOffset? MadeAt, DateTimeOffset? ReadAt, IReadOnlyList<DeadlineWire> Days);

/// <param name="Link">It is said once, and not kept here.</param>
public sealed record CalendarLinkWire(string Link);

/// <summary>The days that somebody has to know of, on a page and as a calendar under a link that can be revoked.</summary>
internal static class CalendarEndpoints
{
    public const string MadeDeed = "calendar.made";
    public const string RevokedDeed = "calendar.revoked";
    private static readonly Filter<JudgedLine> Dated = Filter.Parse(
        "existence eq \"here\" and vanished eq false and plan pr",
        JudgedLine.Attributes
    );

    public static void MapCalendar(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/calendar").WithTags("Calendar").RequireAuthorization(Policies.Read);
        api.MapGet("", Look)
            .WithName("calendar")
            .WithSummary("The days to come of what the viewer may see, and whether a calendar reads them.");
        api.MapPost("", Make)
            .WithName("makeCalendarLink")
            .WithSummary("Makes the link under which a calendar reads them, in place of one from before.");
        api.MapDelete("", Revoke)
            .WithName("revokeCalendarLink")
            .WithSummary("Revokes the link: a calendar that has it reads nothing any more.");

        app.MapGet("/api/sites/{site:long}/days", OfSite)
            .WithTags("Calendar")
            .RequireAuthorization(Policies.Read)
            .WithName("siteDays")
            .WithSummary("The days to come of one site, the soonest first: what ends, and what is to be done by then.");

        // Under the link alone: calendars sign in nowhere. One that was revoked goes on asking for months, so that is not written down.
        app.MapGet("/calendar/{token}.ics", Read)
            .AllowAnonymous()
            .WithTags("Calendar")
            .WithName("readCalendar")
            .WithSummary("The days to come as a calendar (RFC 5545), for whoever has the link; as its owner may see them now.")
            .Produces<string>(contentType: "text/calendar");
    }

    private static async Task<Ok<CalendarWire>> Look(HttpContext context, LedgerSheet sheet, Database database)
    {
        var viewer = Viewer.Of(context);
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var (link, days) = await database.Read(async connection =>
            (await connection.CalendarLink(viewer.Account), await DaysOf(viewer, state, connection, database.Now))
        );
        return TypedResults.Ok(new CalendarWire(link?.MadeAt, link?.ReadAt, [.. days.Select(Wire)]));
    }

    private static async Task<Results<Ok<IReadOnlyList<DeadlineWire>>, ProblemHttpResult>> OfSite(
        long site,
        HttpContext context,
        LedgerSheet sheet,
        Database database
    )
    {
        var viewer = Viewer.Of(context);
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        return state.Seen(viewer.SightOn(state.Roll)).Find(new SiteId(site)) is null
            ? TypedResults.Problem(statusCode: 404, title: "There is no such site.")
            : TypedResults.Ok<IReadOnlyList<DeadlineWire>>([
                .. (await database.Read(connection => DaysOf(viewer, state, connection, database.Now, new SiteId(site)))).Select(
                    Wire
                ),
            ]);
    }

    private static DeadlineWire Wire(Deadline day) =>
        new(day.Kind, day.Day, day.Title, day.Words, day.Site?.Value, day.Person?.Value);

    private static async Task<Ok<CalendarLinkWire>> Make(HttpContext context, Database database, Settings settings)
    {
        var viewer = Viewer.Of(context);
        var token = Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(32));
        await database.Change(async change =>
        {
            await change.PutCalendarLink(viewer.Account, LinkTokens.HashOf(token));
            return await change.Append([new Draft(MadeDeed, viewer.InJournal, viewer.InJournal)]);
        });
        return TypedResults.Ok(new CalendarLinkWire(new Uri(settings.Address, $"/calendar/{token}.ics").ToString()));
    }

    private static async Task<NoContent> Revoke(HttpContext context, Database database)
    {
        var viewer = Viewer.Of(context);
        await database.Change(async change =>
            await change.DropCalendarLink(viewer.Account)
                ? await change.Append([new Draft(RevokedDeed, viewer.InJournal, viewer.InJournal)])
                : []
        );
        return TypedResults.NoContent();
    }

    private static async Task<Results<ContentHttpResult, ProblemHttpResult>> Read(
        string token,
        HttpContext context,
        LedgerSheet sheet,
        Database database,
        Settings settings
    )
    {
        var state = await sheet.Current();
        if (
            await database.Change(change => change.CalendarReader(LinkTokens.HashOf(token))) is not { } account
            || !account.IsOpen(database.Now, state.Roll.Time)
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

    /// <param name="only">One site; null for all that the viewer may see.</param>
    private static async Task<IReadOnlyList<Deadline>> DaysOf(
        Viewer viewer,
        LedgerState state,
        NpgsqlConnection connection,
        DateTimeOffset now,
        SiteId? only = null
    )
    {
        var sight = viewer.SightOn(state.Roll);
        var seen = state.Seen(sight);
        bool IsWanted(SiteId site) => only is null || only == site;
        List<Stay> stays = [.. (await connection.OpenStays()).Where(stay => IsWanted(stay.Site))];
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
        List<(Order Order, HandOrder Hand)> byHand =
        [
            .. (await connection.HandOrdersSince(now))
                .Where(pair => IsWanted(pair.Order.Site))
                .Where(pair => pair.Hand.To == viewer.Person || seen.Find(pair.Order.Site) is not null),
        ];

        // What is offered or given to somebody they hear of, whether they see its site otherwise or not.
        HashSet<SiteId> told = [.. offers.Select(offer => offer.Site), .. byHand.Select(pair => pair.Order.Site)];
        List<SiteId> wanted =
        [
            .. stays.Select(stay => stay.Site),
            .. approvals.Select(approval => approval.Site),
            .. seen.Lines(seen.Where(Dated)).Select(line => line.Id),
            .. await connection.SitesWithEndingGrants(state.Roll.Time.DayOf(now)),
            .. await connection.SitesExcusedThrough(
                state.Roll.Time.DayOf(now),
                state.Roll.Time.DayOf(now).AddDays(Deadlines.DaysAhead)
            ),
        ];
        var sites = (
            await connection.Sites(sight, [.. wanted.Where(site => IsWanted(site) && seen.Find(site) is not null).Distinct()])
        )
            .Concat(await connection.Sites(new Sight.Everything(), told))
            .DistinctBy(site => site.Id)
            .ToDictionary(site => site.Id);
        var leavers = state
            .Roll.People.Where(person => person is { Standing: Standing.Leaving, Day: not null })
            .ToDictionary(person => person.Id);
        var keys = ((ListColumn<KeyHolder>)seen.Columns.Of("owners"))
            .Counts(seen.InUse.And(seen.All))
            .Where(pair => leavers.ContainsKey(pair.Element.Person.Id))
            .GroupBy(pair => pair.Element.Person.Id, pair => pair.Count)
            .Where(holder => only is null || seen.Find(only.Value)!.Value.Keys.Holders.Any(one => one.Person.Id == holder.Key));
        return Deadlines.Of(
            new DeadlineFacts(
                sites,
                sites.Keys.Where(site => seen.Find(site) is not null).ToHashSet(),
                [
                    .. stays
                        .Where(stay => stay.State.IsInAttic() && seen.Find(stay.Site) is not null && sites.ContainsKey(stay.Site))
                        .Select(stay =>
                            (
                                stay,
                                Clock.Of(
                                    stay.ClockFacts(sites[stay.Site], state.House, [.. holds[stay.Site]]),
                                    state.Roll.Time,
                                    now
                                )
                            )
                        ),
                ],
                offers,
                approvals,
                byHand,
                [.. keys.Select(holder => (leavers[holder.Key], holder.Sum()))],
                state.Roll
            )
        );
    }
}
