using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Mail;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.DueWork;

/// <summary>Carries out what falls due: found from the database and the instant, in the sequence in which it fell due, each in
/// its own transaction that checks again first; leavers many at a time, because each change of people makes the directory be
/// read again. If it runs late, twice, or on two servers, the result is the same.
/// </summary>
public sealed class DayRunner(Database database, ILogger<DayRunner> log)
{
    private const int LeaversAtOnce = 500;

    private readonly SemaphoreSlim running = new(1, 1);

    /// <returns>The number of due items done.</returns>
    public async Task<int> RunDue(CancellationToken stop)
    {
        await running.WaitAsync(stop);
        try
        {
            var done = 0;

            // One item can make another due, so it repeats until there is none.
            while (await database.Read(connection => Find(connection, database.Now), stop) is { Count: > 0 } due)
            {
                var carried = 0;
                foreach (var step in Steps(due))
                {
                    carried += await database.Change(change => Carry(change, step), stop);
                }

                done += carried;
                if (carried == 0)
                {
                    log.LogWarning("{Count} due actions failed", due.Count);
                    break;
                }
            }

            await database.SendHeads(stop);
            return done;
        }
        finally
        {
            running.Release();
        }
    }

    private async Task<IReadOnlyList<Due>> Find(NpgsqlConnection connection, DateTimeOffset now)
    {
        var time = await connection.OrganisationTime();
        var atticEntries = await connection.OpenAtticEntries();
        var organisation = await connection.Organisation();
        var holds = await connection.Holds();
        var (questions, settled) = (await connection.OpenQuestions(), await connection.SettledQuestions(time.DayOf(now)));
        var sites =
            atticEntries.Count == 0
                ? []
                : (
                    await connection.Sites(new Scope.Everything(), [.. atticEntries.Select(atticEntry => atticEntry.Site)])
                ).ToDictionary(site => site.Id);
        return DueNow.Of(
            new DueFacts(
                await connection.OpenOffers(),
                await connection.OpenApprovals(),
                [
                    .. atticEntries.Select(atticEntry =>
                        (
                            atticEntry,
                            atticEntry.State.IsInAttic()
                                ? Clock.Of(
                                    atticEntry.ClockFacts(sites[atticEntry.Site], organisation, [.. holds[atticEntry.Site]]),
                                    time,
                                    now
                                )
                                : null
                        )
                    ),
                ],
                await database.PeopleDirectories.Of(connection, now, time),
                await connection.Reminders()
            )
            {
                SiteRequests = await connection.OpenSiteRequests(),
                ManualTasks = await connection.ManualTasksSince(now),
                Exceptions = await connection.ExceptionsThrough(time.DayOf(now), time.DayOf(now).Plus(ExceptionActions.NearDays)),
                Unasked = await connection.UnaskedFindings(time.DayOf(now)),
                Questions = [.. questions.Select(question => (question, settled.Contains(question.Id)))],
            }
        );
    }

    // What is carried out in one transaction: leavers with nothing due between them, anything else alone.
    private static IEnumerable<IReadOnlyList<Due>> Steps(IReadOnlyList<Due> due)
    {
        var leavers = new List<Due>();
        foreach (var one in due)
        {
            if (leavers.Count > 0 && (one is not Due.PersonLeft || leavers.Count == LeaversAtOnce))
            {
                yield return leavers;
                leavers = [];
            }

            if (one is Due.PersonLeft)
            {
                leavers.Add(one);
            }
            else
            {
                yield return [one];
            }
        }

        if (leavers.Count > 0)
        {
            yield return leavers;
        }
    }

    private static async Task<int> Carry(Change change, IReadOnlyList<Due> step) =>
        step[0] is Due.PersonLeft ? await Leave(change, [.. step.Cast<Due.PersonLeft>()])
        : await Carry(change, step[0]) ? 1
        : 0;

    private static async Task<int> Leave(Change change, IReadOnlyList<Due.PersonLeft> leavers)
    {
        var directory = await change.PeopleDirectory(await change.Connection.OrganisationTime());
        var entries = new List<Draft>();
        var left = 0;
        foreach (var (at, leaver) in leavers)
        {
            if (directory.Find(leaver.Id) is not { Standing: Core.People.Standing.Leaving } person || person.Day != leaver.Day)
            {
                continue;
            }

            var plan = DueNow.Leave(person, at);
            await change.UpdatePerson(plan.Person!);
            entries.AddRange(plan.Entries);
            left++;
        }

        await change.Append([.. entries, .. await change.EndSessionsOfLeft()]);
        return left;
    }

    private static async Task<bool> Carry(Change change, Due due)
    {
        var time = await change.Connection.OrganisationTime();
        switch (due)
        {
            case Due.ApprovalEnds(var at, var approval):
                if (await change.Connection.Approval(approval.Id) is not { State: ApprovalState.Requested } open)
                {
                    return false;
                }

                var lapsed = open.Move(ApprovalEvent.Lapse) with { EndedAt = change.Now };
                await change.Put(lapsed);
                await change.Append([DueNow.Lapsed(lapsed, at)]);
                return true;
            case Due.SiteRequestEnds(var at, var request):
                if (await change.Connection.SiteRequest(request.Id) is not { State: SiteRequestState.Requested } asked)
                {
                    return false;
                }

                var ended = DueNow.Lapsed(asked, at, change.Now);
                await change.Put(ended.Request);
                await change.Write(ended.Notifications, time);
                await change.Append([ended.Entry]);
                return true;
            default:
                if (
                    await FactReader.Of(change).OfSite(_ => new Scope.Everything(), SiteOf(due), LooksAround(due))
                        is not { } facts
                    || DueNow.Carry(due, facts, new ChangeId(Guid.NewGuid()), RemarkSentence.Of) is not { } plan
                )
                {
                    return false;
                }

                await change.Keep(facts.Site.Id, plan, time);
                return true;
        }
    }

    // Questions are many, and need no other site.
    private static bool LooksAround(Due due) =>
        due is not (Due.OwnersToAsk or Due.QuestionReminder or Due.QuestionEnds or Due.QuestionSettled or Due.ExceptionNear);

    private static SiteId SiteOf(Due due) =>
        due switch
        {
            Due.OfferEnds(_, var offer, _) => offer.Site,
            Due.OfferReminder(_, var offer) => offer.Site,
            Due.StopTimeOver(_, var atticEntry) => atticEntry.Site,
            Due.ClockTurned(_, var atticEntry, _) => atticEntry.Site,
            Due.LossNear(_, var atticEntry, _) => atticEntry.Site,
            Due.AssigneeLeft(_, var order, _) => order.Site,
            Due.ManualTaskNear(_, var order, _) => order.Site,
            Due.ManualTaskOverdue(_, var order, _) => order.Site,
            Due.OwnersToAsk(_, var finding) => finding.Site,
            Due.QuestionReminder(_, var question) => question.Site,
            Due.QuestionEnds(_, var question) => question.Site,
            Due.QuestionSettled(_, var question) => question.Site,
            Due.ExceptionNear(_, var site, _) => site,
            _ => throw new InvalidOperationException("This is not due on a site."),
        };
}
