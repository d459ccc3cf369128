using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Attic;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Keys;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Desk;

public sealed record SiteNameWire(long Id, string Title);

/// <summary>Findings that are decided together.</summary>
/// <param name="Person">Who leaves or has left; null for a rule's group.</param>
/// <param name="DaysLeft">Until harm: 0 where it is done every day, null where no day is known.</param>
/// <param name="Sites">The first of the sites; <paramref name="Count"/> says how many there are.</param>
public sealed record GroupWire(
    PersonWire? Person,
    Standing? Standing,
    DateOnly? Day,
    RuleWire? Rule,
    int? DaysLeft,
    int Count,
    int Must,
    int Should,
    int Look,
    int OnlyOwner,
    IReadOnlyList<SiteNameWire> Sites
);

/// <summary>An approval in a list.</summary>
public sealed record ApprovalLineWire(
    Guid Id,
    string Deed,
    long Site,
    string Title,
    PersonWire By,
    string Because,
    string? Reason,
    DateTimeOffset AskedAt,
    DateOnly Through,
    bool MayAnswer
);

public sealed record OfferWaitingWire(
    Guid Id,
    long Site,
    string Title,
    PersonWire To,
    PersonWire? Giver,
    DateTimeOffset OfferedAt,
    DateOnly Through,
    int DaysLeft
);

/// <param name="Findings">How many findings stand behind the groups.</param>
/// <param name="Heard">What owners, or somebody at a host, put away of late.</param>
public sealed record DeskWire(
    int Sites,
    int Findings,
    IReadOnlyList<GroupWire> Groups,
    IReadOnlyList<ApprovalLineWire> Approvals,
    IReadOnlyList<OfferWaitingWire> Offers,
    IReadOnlyList<StayWire> Heard
);

internal static class DeskEndpoints
{
    private const int FirstSites = 5;
    private static readonly Filter<JudgedLine> Breaking = Filter.Parse("breaks pr", JudgedLine.Attributes);

    // Offers that stand unanswered for so long are on the desk.
    private static readonly TimeSpan OfferPatience = TimeSpan.FromDays(7);
    private static readonly TimeSpan Lately = TimeSpan.FromDays(2);

    public static void MapDesk(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/desk", Look)
            .WithTags("Desk")
            .RequireAuthorization(Policies.Read)
            .WithName("desk")
            .WithSummary(
                "What is to be decided: findings by person or rule, what waits for a second person, offers unanswered, sites that owners put away."
            );

    private static async Task<Ok<DeskWire>> Look(HttpContext context, LedgerSheet sheet, Database database)
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        var seen = state.Seen(viewer.SightOn(state.Roll));
        var now = database.Now;
        var (approvals, offers, stays, holds) = await database.Read(async connection =>
            (
                await connection.OpenApprovals(),
                await connection.OpenOffers(),
                await connection.OpenStays(),
                await connection.Holds()
            )
        );
        var inUse = seen.InUse;
        var groups = FindingGroups.Of(seen.Lines(inUse.And(seen.Where(Breaking))), state.Roll);
        var heard = stays
            .Where(stay => (stay.ByOwner || stay.AtHost) && stay.AskedAt > now - Lately && seen.Find(stay.Site) is not null)
            .ToList();
        var sites =
            heard.Count == 0
                ? []
                : (
                    await database.Read(connection =>
                        connection.Sites(viewer.SightOn(state.Roll), [.. heard.Select(stay => stay.Site)])
                    )
                ).ToDictionary(site => site.Id);
        heard.RemoveAll(stay => !sites.ContainsKey(stay.Site));
        string? Title(SiteId site) => seen.Find(site)?.Title;
        return TypedResults.Ok(
            new DeskWire(
                inUse.CountYes,
                groups.Sum(group => group.Must + group.Should + group.Look),
                [.. groups.Select(group => Group(group, state))],
                [
                    .. approvals
                        .Where(approval => Title(approval.Site) is not null)
                        .Select(approval => new ApprovalLineWire(
                            approval.Id.Value,
                            approval.Deed,
                            approval.Site.Value,
                            Title(approval.Site)!,
                            PersonWire.Of(approval.By, state.Roll),
                            approval.Because,
                            approval.Reason,
                            approval.AskedAt,
                            approval.Through,
                            viewer.Role == Role.Administrator && approval.MayBeAnsweredBy(viewer.Person)
                        )),
                ],
                [
                    .. offers
                        .Where(offer =>
                            offer.State == OfferState.Offered
                            && Title(offer.Site) is not null
                            && offer.OfferedAt <= now - OfferPatience
                        )
                        .OrderBy(offer => offer.Through)
                        .Select(offer => new OfferWaitingWire(
                            offer.Id.Value,
                            offer.Site.Value,
                            Title(offer.Site)!,
                            PersonWire.Of(offer.To, state.Roll),
                            offer.Giver is { } giver ? PersonWire.Of(giver, state.Roll) : null,
                            offer.OfferedAt,
                            offer.Through,
                            offer.Through.DayNumber - state.Roll.Time.DayOf(now).DayNumber
                        )),
                ],
                [
                    .. heard
                        .OrderByDescending(stay => stay.AskedAt)
                        .Select(stay =>
                            StayWriter.Stay(
                                stay,
                                sites[stay.Site],
                                [.. holds[stay.Site]],
                                state.House,
                                state.Roll,
                                viewer.MayAct ? viewer.Doer().As : null,
                                now
                            )
                        ),
                ]
            )
        );
    }

    private static GroupWire Group(FindingGroup group, LedgerState state) =>
        new(
            group.Person is { } person ? PersonWire.Of(person.Id, state.Roll) : null,
            group.Person is { } one && state.Roll.PlaceOf(one.Id) is { } place ? state.Roll.Standings[place] : null,
            group.Person?.Day,
            group.Rule is { } rule ? new RuleWire(rule.Id.Value, rule.Title, rule.Short, rule.Level) : null,
            group.DaysLeft,
            group.Sites.Count,
            group.Must,
            group.Should,
            group.Look,
            group.OnlyOwner,
            [
                .. group
                    .Sites.OrderByDescending(line => line.Visits.Or(0))
                    .Take(FirstSites)
                    .Select(line => new SiteNameWire(line.Id.Value, line.Title)),
            ]
        );
}
