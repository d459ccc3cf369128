using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class MakingFacts
{
    private static readonly GroupId Editors = new(4);

    [Fact]
    public void Every_order_of_every_event_ends_in_a_named_state_and_makes_each_step_once()
    {
        var seen = new HashSet<string>();
        var states = new HashSet<SiteRequestState>();
        var toWalk = new Queue<(SiteRequest Request, int Made)>([(Request(), 0)]);
        while (toWalk.TryDequeue(out var world))
        {
            states.Add(world.Request.State);
            foreach (var next in Events(world.Request, world.Made))
            {
                // The host makes a step the first time it is asked; a repeat changes nothing. Steps follow each other, none is left out.
                Assert.InRange(next.Made, world.Made, world.Made + 1);
                Assert.True(next.Made >= next.Request.Done - (next.Request.State == SiteRequestState.InUse ? 1 : 0));
                Assert.True(
                    next.Request.State.IsOpen() || next.Request.EndedAt is not null,
                    $"{next.Request.State} without an end"
                );
                if (
                    seen.Add(
                        $"{next.Request.State} {next.Request.Done} {next.Request.Lease is null} {Math.Min(2, next.Request.Attempts)} {next.Made}"
                    )
                )
                {
                    toWalk.Enqueue(next);
                }
            }
        }

        Assert.Equal(Enum.GetValues<SiteRequestState>(), states.Order());
    }

    // What can happen in a state, with the number of steps that the host has made.
    private static IEnumerable<(SiteRequest Request, int Made)> Events(SiteRequest request, int made)
    {
        var ended = request with { EndedAt = Now };
        switch (request.State)
        {
            case SiteRequestState.Requested:
                yield return (request.Move(SiteRequestEvent.Grant), made);
                yield return (ended.Move(SiteRequestEvent.Refuse), made);
                yield return (ended.Move(SiteRequestEvent.Withdraw), made);
                yield return (ended.Move(SiteRequestEvent.Lapse), made);
                break;
            case SiteRequestState.Stopped:
                yield return (Making.Resumed(request, Now), made);
                yield return (ended.Move(SiteRequestEvent.GiveUp), made);
                break;
            case SiteRequestState.BeingMade when request.Lease is null:
                // A server takes the step; another that takes it after a kill is the same.
                yield return (Making.Take(request, "one", Now), made);
                break;
            case SiteRequestState.BeingMade:
                var atHost = Math.Max(made, Math.Min(request.Done + 1, request.Steps.Count - 1));
                yield return (request with { Lease = null, LeaseUntil = null }, made);
                yield return (request with { Lease = null, LeaseUntil = null }, atHost);
                yield return request.Step == MakingStep.ReadBack
                    ? (Making.Finished(request, new SiteId(1), null, Now), made)
                    : (
                        Making.Answered(request, new MakingAnswer.Done(request.Step == MakingStep.Site ? "k" : null), Now),
                        atHost
                    );
                yield return (Making.Answered(request, new MakingAnswer.Again(TimeSpan.Zero, "busy"), Now), made);
                yield return (Making.Answered(request, new MakingAnswer.Again(TimeSpan.Zero, "lost"), Now), atHost);
                yield return (
                    Making.Answered(
                        request with
                        {
                            Attempts = Making.MostAttempts,
                        },
                        new MakingAnswer.Again(TimeSpan.Zero, "busy"),
                        Now
                    ),
                    made
                );
                yield return (Making.Answered(request, new MakingAnswer.Refused("no"), Now), made);
                break;
        }
    }

    [Fact]
    public void A_step_is_taken_by_one_worker_until_its_lease_is_over()
    {
        var taken = Making.Take(Request().Move(SiteRequestEvent.Grant), "one", Now);
        Assert.False(Making.IsDue(taken, Now));
        Assert.True(Making.IsDue(taken, Now + Making.LeaseTime));
    }

    [Fact]
    public void A_failed_step_is_tried_again_later_and_the_host_decides_how_much_later()
    {
        var taken = Making.Take(Request().Move(SiteRequestEvent.Grant), "one", Now);
        Assert.Equal(
            Now + TimeSpan.FromSeconds(1),
            Making.Answered(taken, new MakingAnswer.Again(TimeSpan.Zero, ""), Now).NextTry
        );
        Assert.Equal(
            Now + TimeSpan.FromMinutes(3),
            Making.Answered(taken, new MakingAnswer.Again(TimeSpan.FromMinutes(3), ""), Now).NextTry
        );
    }

    [Fact]
    public void A_default_of_the_host_that_lets_in_more_is_taken_away_and_what_is_within_stays()
    {
        IReadOnlyList<Grant> granted = [ByMail(Vane, Power.Own), ByMail(Quist, Power.Edit), ToStaff(Power.View)];
        var difference = Difference(
            granted,
            [ByMail(Vane, Power.Own), ByMail(Quist, Power.Edit), ToStaff(Power.Edit), ToPerson(Power.Edit, Quist)]
        );
        Assert.Equal([new GrantChange("everyone", ToStaff(Power.View))], difference.Changes);
        Assert.Equal([ToStaff(Power.Edit)], difference.Wider);
        Assert.Empty(difference.Missing);
    }

    [Fact]
    public void A_group_with_the_editors_gives_what_was_granted_and_one_with_others_does_not()
    {
        IReadOnlyList<Grant> granted = [ByMail(Vane, Power.Own), ByMail(Quist, Power.Edit)];
        Assert.Empty(Difference(granted, [ByMail(Vane, Power.Own), ToGroup(Power.Edit, Editors)], Quist).Changes);
        Assert.Equal(
            [
                new GrantChange("group:4", null),
                new GrantChange("person:renata.quist@merrowby.example", ByMail(Quist, Power.Edit)),
            ],
            Difference(granted, [ByMail(Vane, Power.Own), ToGroup(Power.Edit, Editors)], Aske).Changes
        );
    }

    [Fact]
    public void What_the_host_does_not_report_is_not_compared()
    {
        var made = Site() with { Sharing = Known<Sharing>.Unknown };
        Assert.False(Making.Difference([], made, new Harbour().Organisation, new Harbour().PeopleDirectory).IsReported);
    }

    private static MakingDifference Difference(
        IReadOnlyList<Grant> granted,
        IReadOnlyList<Grant> atHost,
        params IReadOnlyList<PersonId> inGroup
    )
    {
        var harbour = new Harbour();
        harbour.Groups.Add(new Group(Editors, "Editors", [.. inGroup.Select(Member.Of)]));
        return Making.Difference(granted, Site(atHost), harbour.Organisation, harbour.PeopleDirectory);
    }

    private static Grant ByMail(PersonId person, Power power)
    {
        var mail = new Harbour().PeopleDirectory.Find(person)!.Mail;
        return new Grant($"person:{mail}", power, new Subject.OnePerson(person));
    }

    private static SiteRequest Request() =>
        new()
        {
            Id = new RequestId(Guid.Empty),
            Wanted = new NewSite { Name = "Ferry" },
            Host = "Slipway",
            Address = "slipway.example/ferry",
            By = Vane,
            RequestedAt = Now,
            Through = new DateOnly(2026, 12, 8),
            NextTry = Now,
            Steps = [MakingStep.Site, MakingStep.People, MakingStep.ReadBack],
        };
}
