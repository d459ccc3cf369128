using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Attic;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Register;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Desk;

/// <summary>The desk: what waits for a decision, in the viewer's scope.</summary>
internal static class DeskEndpoints
{
    private const int FirstSites = 5;
    private const int FirstPeople = 12;

    // Offers that are unanswered for this long appear on the desk.
    private static readonly TimeSpan OfferPatience = TimeSpan.FromDays(7);
    private static readonly TimeSpan Lately = TimeSpan.FromDays(2);
    private static readonly TimeSpan NotDoneTime = TimeSpan.FromDays(14);

    public static void MapDesk(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/desk", Look)
            .WithTags("Desk")
            .RequireAuthorization(Policies.Read)
            .WithName("desk")
            .WithSummary(
                "The decisions of the day: findings by person or rule, requests for a second person, unanswered offers, sites that owners moved to the attic."
            );
        app.MapPost("/api/desk/put-off", PutOff)
            .WithTags("Desk")
            .RequireAuthorization(Policies.Administer)
            .Carries(ActionName.DecisionPutOff)
            .WithName("putOffDecisions")
            .WithSummary(
                "Takes groups of findings off the desk until the end of a day, or until one has a site that it did not have; no finding changes."
            );
        app.MapPost("/api/desk/take-up", TakeUp)
            .WithTags("Desk")
            .RequireAuthorization(Policies.Administer)
            .Carries(ActionName.DecisionTakeUp)
            .WithName("takeUpDecision")
            .WithSummary("Puts a group of findings back on the desk before its day.");
    }

    private static Task<
        Results<Ok<PutOffDone>, Conflict<string>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>
    > PutOff(PutOffRequest request, SeenRegister register, HttpContext context)
    {
        var groups = Groups(register).ToLookup(ClauseOf);
        return context.Carry(
            new PutOffDecisions(
                request,
                decision => groups[decision].FirstOrDefault()?.Sites.Select(line => line.Id).ToList(),
                register.Viewer
            ),
            null,
            request,
            plan => Task.FromResult(plan[0].Decision)
        );
    }

    private static Task<
        Results<Ok<PutOffDone>, Conflict<string>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>
    > TakeUp(TakeUpRequest request, HttpContext context) =>
        context.Carry(new TakeUpDecision(request, Viewer.Of(context)), null, request, plan => Task.FromResult(plan.Decision));

    private static IReadOnlyList<FindingGroup> Groups(SeenRegister register) =>
        FindingGroups.InUse(register.Visible, register.State.PeopleDirectory);

    private static string ClauseOf(FindingGroup group) =>
        new Clause(FindingAttributes.Causes, "is", [group.Cause.Name]).ToString();

    private static async Task<Ok<DeskResponse>> Look(SeenRegister register, Database database)
    {
        var state = register.State;
        var viewer = register.Viewer;
        var seen = register.Visible;
        var now = database.Now;
        var seesAll = viewer.Role is Role.Administrator or Role.Auditor;
        var (approvals, offers, atticEntries, holds, notDone, questions, putOff, began) = await database.Read(async connection =>
            (
                await connection.OpenApprovals(),
                await connection.OpenOffers(),
                await connection.OpenAtticEntries(),
                await connection.Holds(),
                await connection.ChangesNotDone(now - NotDoneTime),
                await connection.OpenQuestions(),
                seesAll ? await connection.PutOff() : [],
                seesAll ? await BegunFindings.Read(connection) : BegunFindings.None
            )
        );
        var inUse = seen.InUse;
        var all = Groups(register);
        var waiting = (
            from one in putOff
            let concerned = all.FirstOrDefault(its => ClauseOf(its) == one.Decision)
            where concerned is not null && one.Holds(concerned.Sites.Select(line => line.Id), now, state.PeopleDirectory.Time)
            select (Group: concerned, PutOff: one)
        ).ToList();
        var groups = all.Except(waiting.Select(one => one.Group)).ToList();
        var movedRecently = atticEntries
            .Where(atticEntry =>
                (atticEntry.ByOwner || atticEntry.AtHost)
                && atticEntry.RequestedAt > now - Lately
                && seen.Find(atticEntry.Site) is not null
            )
            .ToList();
        var sites =
            movedRecently.Count == 0
                ? []
                : (
                    await database.Read(connection =>
                        connection.Sites(
                            viewer.ScopeOn(state.PeopleDirectory),
                            [.. movedRecently.Select(atticEntry => atticEntry.Site)]
                        )
                    )
                ).ToDictionary(site => site.Id);
        movedRecently.RemoveAll(atticEntry => !sites.ContainsKey(atticEntry.Site));
        var together = FindingGroups.Together(groups);
        var omitted = together
            .SelectMany(people => people.Groups.Skip(FirstPeople))
            .Select(group => group.Cause.Name)
            .ToHashSet();
        var shown = groups.Where(group => !omitted.Contains(group.Cause.Name)).ToList();
        List<PersonId> leavers =
        [
            .. shown
                .Where(group => group.Cause.Kind == CauseKind.StillHasAccess)
                .Select(group => group.Cause.Person!.Id)
                .Distinct(),
        ];
        var named = await database.Read(connection => connection.NamedOn(leavers));
        string? Title(SiteId site) => seen.Find(site)?.Title;
        var placeOf = together
            .Index()
            .SelectMany(one => one.Item.Groups.Select(group => (group.Cause.Name, one.Index)))
            .DistinctBy(one => one.Name)
            .ToDictionary(one => one.Name, one => (int?)one.Index);
        return TypedResults.Ok(
            new DeskResponse(
                state.PeopleDirectory.Time.DayOf(now),
                inUse.CountYes,
                Findings(groups, level => level != Level.Note),
                Findings(groups, level => level == Level.Note),
                seesAll ? await Since(viewer.Person, state.PeopleDirectory.Time.DayOf(now), database) : null,
                [
                    .. shown.Select(group =>
                        Group(group, named, questions, began, state, placeOf.GetValueOrDefault(group.Cause.Name))
                    ),
                ],
                [.. together.Select(people => Together(people, named))],
                [
                    .. approvals
                        .Where(approval => Title(approval.Site) is not null)
                        .Select(approval => new ApprovalLine(
                            approval.Id.Value,
                            approval.Action,
                            ActionLabels.Of(approval.Action),
                            approval.Site.Value,
                            Title(approval.Site)!,
                            PersonResponse.Of(approval.By, state.PeopleDirectory),
                            RemarkSentence.Of(approval.Because),
                            approval.Reason,
                            approval.RequestedAt,
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
                        .Select(offer => new OfferWaiting(
                            offer.Id.Value,
                            offer.Site.Value,
                            Title(offer.Site)!,
                            PersonResponse.Of(offer.To, state.PeopleDirectory),
                            offer.CurrentOwner is { } currentOwner
                                ? PersonResponse.Of(currentOwner, state.PeopleDirectory)
                                : null,
                            offer.OfferedAt,
                            offer.Through,
                            offer.Through.DayNumber - state.PeopleDirectory.Time.DayOf(now).DayNumber
                        )),
                ],
                [
                    .. movedRecently
                        .OrderByDescending(atticEntry => atticEntry.RequestedAt)
                        .Select(atticEntry =>
                            AtticEntryWriter.AtticEntry(
                                atticEntry,
                                sites[atticEntry.Site],
                                [.. holds[atticEntry.Site]],
                                state.Organisation,
                                state.PeopleDirectory,
                                viewer.MayAct ? viewer.Actor().As : null,
                                now
                            )
                        ),
                ],
                [
                    .. notDone
                        .Where(change => Title(change.Site) is not null)
                        .Select(change => new ChangeNotDone(
                            change.Id.Value,
                            change.Site.Value,
                            Title(change.Site)!,
                            seen.Find(change.Site)!.Value.Host,
                            change.Purpose,
                            change.State,
                            PersonResponse.Of(change.By, state.PeopleDirectory),
                            change.Words,
                            change.RequestedAt
                        )),
                ],
                [
                    .. from question in questions
                    where question.State == QuestionState.Answered && !question.WaitsForLastDay
                    let line = seen.Find(question.Site)
                    // One that is settled waits for the next look at what is due.
                    let rule = line?.Breaks.FirstOrDefault(rule => rule.Id == question.Rule)
                    where rule is not null
                    select new QuestionToDecide(
                        question.Site.Value,
                        line.Value.Title,
                        new RuleResponse(rule.Id.Value, rule.Title, rule.Short, rule.Level),
                        QuestionResponse.Of(question, state.PeopleDirectory)
                    ),
                ],
                [
                    .. waiting
                        .OrderBy(one => one.PutOff.Through)
                        .Select(one => new PutOffGroup(
                            Group(one.Group, named, questions, began, state, null),
                            one.PutOff.Through,
                            one.PutOff.Reason,
                            PersonResponse.Of(one.PutOff.By, state.PeopleDirectory)
                        )),
                ]
            )
        );
    }

    private static async Task<SinceVisit?> Since(PersonId person, DateOnly today, Database database)
    {
        var (last, isKnown) = await database.Read(connection => connection.DeskVisits(person, today));
        if (!isKnown)
        {
            await database.Change(change => change.Visited(person, today));
        }

        if (last is not { } day)
        {
            return null;
        }

        var counts = await database.Read(connection => connection.FindingDaysFrom(day));
        return new SinceVisit(
            day,
            counts.Sum(one => one.Counts.Opened),
            counts.Sum(one => one.Counts.Cleared),
            counts.Sum(one => one.Counts.Excepted)
        );
    }

    // A finding can have several causes, and counts once.
    private static int Findings(IReadOnlyList<FindingGroup> groups, Func<Level, bool> counts) =>
        Distinct(groups).Count(finding => counts(finding.Rule.Level));

    private static IEnumerable<(SiteId Site, Rule Rule)> Distinct(IReadOnlyList<FindingGroup> groups) =>
        groups.SelectMany(group => group.Findings).DistinctBy(finding => (finding.Site, finding.Rule.Id));

    private static GroupResponse Group(
        FindingGroup group,
        ILookup<PersonId, SiteId> named,
        IReadOnlyList<OwnerQuestion> questions,
        BegunFindings began,
        LedgerState state,
        int? together
    )
    {
        var (remedies, fact) = Core.Actions.Remedies.Possible(group.Cause, state.Rules.Today);
        return new GroupResponse(
            group.Cause.Kind,
            group.Cause.Kind == CauseKind.StillHasAccess ? group.Cause.Host : null,
            group.Cause.Person is { } person ? PersonResponse.Of(person.Id, state.PeopleDirectory) : null,
            group.Cause.Person is { } one && state.PeopleDirectory.PlaceOf(one.Id) is { } place
                ? state.PeopleDirectory.Standings[place]
                : null,
            group.Cause.Person?.Day,
            group.Cause is { Kind: CauseKind.Rule, Rule: var rule }
                ? new RuleResponse(rule.Id.Value, rule.Title, rule.Short, rule.Level)
                : null,
            group.DaysLeft,
            group.Sites.Count,
            group.Critical,
            group.Warnings,
            group.Notes,
            group.OnlyOwner,
            ByName(group, named),
            group.Cause.Name,
            remedies,
            Math.Min(group.Sites.Count, Batch.MostSites),
            fact,
            ClauseOf(group),
            [
                .. group
                    .Sites.OrderByDescending(line => line.Visits.Or(0))
                    .Take(FirstSites)
                    .Select(line => new SiteNameResponse(line.Id.Value, line.Title)),
            ],
            group.Cause is { Kind: CauseKind.Rule, Rule.Id: var id }
                ? AskedOf(group, [.. questions.Where(one => one.Rule == id)])
                : null,
            began.Of(group, state.PeopleDirectory),
            together
        );
    }

    // The number of sites on which a person who has left is named.
    private static int ByName(FindingGroup group, ILookup<PersonId, SiteId> named) =>
        group.Cause is { Kind: CauseKind.StillHasAccess, Person.Id: var leaver }
            ? named[leaver].Intersect(group.Sites.Select(line => line.Id)).Count()
            : 0;

    private static TogetherResponse Together(PeopleTogether people, ILookup<PersonId, SiteId> named)
    {
        var byName = people.Groups.Take(FirstPeople).Select(group => (group.Sites.Count, ByName: ByName(group, named))).ToList();
        var levels = Distinct(people.Groups).CountBy(finding => finding.Rule.Level).ToDictionary();
        return new TogetherResponse(
            people.Kind,
            people.Host,
            people.Groups.Count,
            levels.GetValueOrDefault(Level.Critical),
            levels.GetValueOrDefault(Level.Warning),
            levels.GetValueOrDefault(Level.Note),
            byName.Count(one => one.ByName > 0),
            byName.Count(one => one.ByName < one.Count),
            people.Kind is TogetherKind.OwnersLeaveSoon or TogetherKind.OwnersLeaveLater
                ? people.Groups.Max(group => group.Cause.Person!.Day)
                : null
        );
    }

    private static AskedOwners? AskedOf(FindingGroup group, IReadOnlyList<OwnerQuestion> questions)
    {
        var sites = group.Sites.Select(line => line.Id).ToHashSet();
        var asked = questions.Where(one => sites.Contains(one.Site)).ToList();
        var restricts = asked.Where(one => one is { Restricts: true, WaitsForLastDay: true }).ToList();
        return asked.Count == 0
            ? null
            : new AskedOwners(
                asked.Count,
                asked.Count(one => one.Answer is not null),
                asked.Count(one => one.State == QuestionState.Overdue),
                restricts.Count == 0 ? null : restricts.Min(one => one.Through).Plus(1)
            );
    }
}
