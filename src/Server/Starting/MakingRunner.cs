using System.Collections.Concurrent;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Classification;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Mail;
using AtticLedger.Server.Sentences;
using AtticLedger.Server.Sources;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.Starting;

/// <summary>Makes granted sites at their hosts, one step after the other, each taken by lease. No lock is held during a request to
/// a host; if a server is killed there, its lease expires and the next server makes the same step, which changes nothing that was
/// done.</summary>
public sealed class MakingRunner(
    Database database,
    IEnumerable<ISiteHost> hosts,
    SourceSync sources,
    WakeUps wakeUps,
    ILogger<MakingRunner> log
) : Worker(log)
{
    private const int AtOnce = 4;
    private static readonly TimeSpan LongestSleep = TimeSpan.FromSeconds(5);
    private static readonly TimeSpan ShortestSleep = TimeSpan.FromMilliseconds(20);

    // A list that will name a site made by hand can come any day.
    private static readonly TimeSpan ByHandAgain = TimeSpan.FromMinutes(5);
    private readonly string worker = $"{Environment.MachineName}:{Environment.ProcessId}:{Guid.NewGuid():N}";

    public override WorkKind Kind => WorkKind.Making;

    /// <summary>Makes what is due, and continues while steps wait for another attempt.</summary>
    protected override async Task Work(CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            await RunDue(stop);
            var waiting = (await BeingMade(stop))
                .Where(request => !request.IsByHand)
                .Select(request => request.LeaseUntil > request.NextTry ? request.LeaseUntil.Value : request.NextTry)
                .ToList();
            if (waiting.Count == 0)
            {
                return;
            }

            var next = waiting.Min() - database.Now;
            await Task.Delay(
                next < ShortestSleep ? ShortestSleep
                    : next < LongestSleep ? next
                    : LongestSleep,
                stop
            );
        }
    }

    /// <summary>One pass: the current step of every request that can be taken now.</summary>
    /// <returns>The number of steps tried.</returns>
    public async Task<int> RunDue(CancellationToken stop)
    {
        var due = (await BeingMade(stop)).Where(request => Making.IsDue(request, database.Now)).ToList();
        var faults = new ConcurrentQueue<Exception>();
        await Parallel.ForEachAsync(
            due,
            new ParallelOptions { MaxDegreeOfParallelism = AtOnce, CancellationToken = stop },
            async (request, token) =>
            {
                try
                {
                    await Step(request.Id, token);
                }
                catch (Exception fault) when (fault is not OperationCanceledException)
                {
                    // The other requests of this pass go on.
                    faults.Enqueue(fault);
                }
            }
        );
        return faults.IsEmpty ? due.Count : throw new AggregateException(faults);
    }

    private async Task<List<SiteRequest>> BeingMade(CancellationToken stop) =>
        [
            .. (await database.Read(connection => connection.OpenSiteRequests(), stop)).Where(request =>
                request.State == SiteRequestState.BeingMade
            ),
        ];

    private async Task Step(RequestId id, CancellationToken stop)
    {
        if (await database.Change(change => Take(change, id), stop) is not { } taken)
        {
            return;
        }

        var request = taken.Request;
        if (request.Step == MakingStep.ReadBack)
        {
            await ReadBack(request, stop);
        }
        else if (!request.IsByHand)
        {
            var answer = taken.Refused is { } why ? new MakingAnswer.Refused(why) : await Ask(request, taken.New!, stop);
            await database.Change(change => Answer(change, request, answer), stop);
        }
    }

    // The step, with what the host is asked for by the facts and rules of now.
    private async Task<(SiteRequest Request, NewHostSite? New, string? Refused)?> Take(Change change, RequestId id)
    {
        if (
            await change.Connection.SiteRequest(id) is not { } request
            || !Making.IsDue(request, change.Now)
            || request is { IsByHand: true, Step: MakingStep.Site }
        )
        {
            return null;
        }

        var taken = Making.Take(request, worker, change.Now);
        await change.Put(taken);
        var (verdict, facts) = await Judge(change, request);
        var directory = facts.PeopleDirectory;
        var kind = facts.Organisation.KindsToStart.FirstOrDefault(one => one.Kind == request.Wanted.Kind);

        // Meanwhile an owner may have left, or the kind may be gone. Whether the requester is still here does not matter any more.
        var refusals = verdict.Refusals.Select(one => one.Remark).Where(remark => remark is not StarterNotStaff).ToList();
        if (refusals.Count > 0 || kind is null)
        {
            return (taken, null, string.Join(' ', RemarkSentence.Of(refusals).Distinct()));
        }

        var wanted = request.Wanted;
        var people = verdict
            .Grants.Where(grant => grant is { Subject: Subject.OnePerson, Power: >= Power.Edit })
            .ToLookup(grant => grant.Power == Power.Own, grant => grant.Key["person:".Length..]);
        return (
            taken,
            new NewHostSite(
                wanted.Name,
                request.Address,
                kind.Kind,
                wanted.Unit?.Value,
                wanted.Classification,
                wanted.Purpose,
                wanted.Language,
                wanted.Description,
                wanted.ContentNotice,
                wanted.Ends is { } last ? directory.Time.EndOf(last) : null,
                [.. wanted.Tags],
                request.MailAlias,
                kind.MakesGroup,
                [.. people[true]],
                [.. people[false]],
                [
                    .. verdict
                        .Grants.Where(grant => grant is not { Subject: Subject.OnePerson, Power: >= Power.Edit })
                        .Select(grant => new GrantChange(grant.Key, grant)),
                ],
                [.. kind.StarterPages]
            ),
            null
        );
    }

    private static async Task<(StartVerdict Verdict, StartFacts Facts)> Judge(Change change, SiteRequest request)
    {
        // A sync may have found the half-made site, which has the address and the mail alias.
        var facts = (await FactReader.Of(change).StartFacts(request.Wanted, null, request.Id)) with
        {
            Addresses = null,
            IsAliasHeld = false,
        };
        return (StartSite.Judge(facts, request.Wanted, new Actor(request.By)), facts);
    }

    private async Task<MakingAnswer> Ask(SiteRequest request, NewHostSite site, CancellationToken stop)
    {
        if (hosts.FirstOrDefault(host => host.Name == request.Host) is not IMakesSites host)
        {
            return NotConnected(request);
        }

        try
        {
            return await host.Make(request.Id, site, request.Step!.Value, request.HostKey, request.Attempts > 1, stop) switch
            {
                HostReply.Done done => new MakingAnswer.Done(done.Key),
                HostReply.Refused(var words) => new MakingAnswer.Refused(words),
                HostReply.Later(var after, var words) => new MakingAnswer.Again(after, words),
                HostReply.Lost(var words) => new MakingAnswer.Again(TimeSpan.Zero, words),
                _ => throw new InvalidOperationException("A reply is one of these."),
            };
        }
        catch (HostException fault)
        {
            return new MakingAnswer.Again(TimeSpan.Zero, fault.Message);
        }
    }

    private static MakingAnswer.Again NotConnected(SiteRequest request) =>
        new(TimeSpan.FromMinutes(1), $"{request.Host} is not connected to this server.");

    // Not if another server has taken the step meanwhile.
    private async Task Answer(Change change, SiteRequest taken, MakingAnswer answer)
    {
        if (
            await change.Connection.SiteRequest(taken.Id) is not { State: SiteRequestState.BeingMade } request
            || request.Lease != worker
        )
        {
            return;
        }

        var answered = Making.Answered(request, answer, change.Now);
        await change.Put(answered);
        if (answered.State == SiteRequestState.Stopped)
        {
            var time = await change.Connection.OrganisationTime();
            await change.Write(await Stopped(change, answered), time);
            await change.Append([answered.Entry(JournalAction.MakingStopped, EntryActor.OfSource(request.Host))]);
        }
        else if (answered.Done > request.Done)
        {
            await change.Append([answered.Entry(JournalAction.MakingStepDone, EntryActor.OfSource(request.Host))]);
        }
    }

    private static async Task<IEnumerable<Notification>> Stopped(Change change, SiteRequest request) =>
        (await change.Connection.Administrators(change.Now))
            .Append(request.By)
            .Distinct()
            .Select(person => new Notification(
                person,
                $"making-stopped:{request.Id}:{change.Now.UtcTicks}",
                $"Making {request.Wanted.Name} stopped",
                [
                    $"Making the site {request.Wanted.Name} at {request.Address} stopped: {request.Words}",
                    "It goes on where it stopped once somebody resumes it on its page.",
                ],
                Urgent: true
            ));

    private async Task ReadBack(SiteRequest request, CancellationToken stop)
    {
        MakingAnswer? fault;
        try
        {
            fault =
                request.HostKey is not { } key ? null
                : hosts.FirstOrDefault(host => host.Name == request.Host) is not { } host ? NotConnected(request)
                : await sources.ReadNew(host, key, request.Steps.Contains(MakingStep.Group), stop) ? null
                : new MakingAnswer.Again(TimeSpan.FromSeconds(5), $"{request.Host} does not list it yet.");
        }
        catch (HostException unread)
        {
            fault = new MakingAnswer.Again(TimeSpan.Zero, unread.Message);
        }

        if (fault is null && await database.Change(change => Finish(change, request), stop))
        {
            wakeUps.Wake(stop, WorkKind.HostChanges, WorkKind.Mail);
            return;
        }

        await database.Change(
            change =>
                Answer(
                    change,
                    request,
                    fault ?? new MakingAnswer.Again(ByHandAgain, $"The next list of {request.Host} has to name it.")
                ),
            stop
        );
    }

    // The site is in the register: it is compared with what was granted, and what the host does not store is set here.
    private async Task<bool> Finish(Change change, SiteRequest taken)
    {
        if (
            await change.Connection.SiteRequest(taken.Id) is not { State: SiteRequestState.BeingMade } request
            || request.Lease != worker
        )
        {
            return true;
        }

        var site = request.HostKey is { } key
            ? (await change.Connection.SitesByKey(request.Host, [key])).SingleOrDefault()
            : (await change.Connection.SitesNamed([(request.Host, request.Address)])).Values.SingleOrDefault();
        if (site is null)
        {
            return false;
        }

        var (verdict, facts) = await Judge(change, request);
        site = await SetHere(change, request, site);
        var difference = Making.Difference(verdict.Grants, site, facts.Organisation, facts.PeopleDirectory);
        var restriction = Making.Restriction(
            request,
            new ActionFacts(site, [], facts.Organisation, facts.Rules, facts.PeopleDirectory),
            difference,
            new ChangeId(Guid.NewGuid())
        );
        await change.Keep(
            site.Id,
            new Decision.Plan(
                restriction is null ? [] : [restriction],
                [Making.SiteEntry(request, site.Id, difference, restriction?.Id)],
                Effect.None
            )
            {
                Notifications = [.. await Ready(change, request, site, difference)],
            },
            facts.PeopleDirectory.Time
        );
        await change.Put(Making.Finished(request, site.Id, restriction?.Id, change.Now));
        return true;
    }

    private static async Task<SiteFacts> SetHere(Change change, SiteRequest request, SiteFacts site)
    {
        var wanted = request.Wanted;
        foreach (
            var (fact, value) in new[]
            {
                (ClaimedFact.Unit, wanted.Unit?.Value),
                (ClaimedFact.Classification, wanted.Classification),
                (ClaimedFact.Purpose, wanted.Purpose),
                (ClaimedFact.Tags, TagWords.Of(wanted.Tags) is var tags && tags.Has(out var words) ? words : null),
            }
        )
        {
            if (
                value is not null
                && !(site.Of(fact).Has(out var there) && there == value)
                && SetFact.Decide(site, fact, Known.Of(value), request.By, null, change.Now) is var (said, entry)
            )
            {
                await change.UpdateFact(fact, [said]);
                await change.Append([entry]);
                site = said;
            }
        }

        return site;
    }

    private static async Task<IEnumerable<Notification>> Ready(
        Change change,
        SiteRequest request,
        SiteFacts site,
        MakingDifference difference
    )
    {
        var ready = request
            .Wanted.Owners.Append(request.By)
            .Distinct()
            .Select(person => new Notification(
                person,
                $"made:{request.Id}",
                $"{request.Wanted.Name} is ready",
                [$"The site {request.Wanted.Name} is ready at {request.Address}."],
                Urgent: true
            ));
        return difference.Wider.Count == 0
            ? ready
            :
            [
                .. ready,
                .. (await change.Connection.Administrators(change.Now)).Select(person => new Notification(
                    person,
                    $"wider:{request.Id}",
                    $"{site.Host} made {request.Wanted.Name} wider than granted",
                    [
                        $"{site.Host} gave the new site {request.Wanted.Name} ({request.Address}) more access than was granted. The change that restricts it is on its way; the journal has it.",
                    ]
                )),
            ];
    }
}
