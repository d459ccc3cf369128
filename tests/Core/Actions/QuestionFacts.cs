using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>Owners are asked about a finding, and what follows from their answers and from none.</summary>
public class QuestionFacts
{
    private const int Days = 7;
    private static readonly RuleId Id = new("R-1");
    private static readonly DateOnly LastDay = OnTheDay.Day.AddDays(Days);
    private static readonly SiteFacts Broken = Site(
        ToPerson(Power.Own, Vane),
        ToPerson(Power.Own, Quist),
        ToPerson(Power.Own, Farrow),
        ToStaff(Power.Edit)
    );
    private readonly Harbour harbour = new();
    private EnforcementKind kind = EnforcementKind.Restrict;

    [Fact]
    public void Every_active_owner_is_asked_once_with_the_next_mail_of_the_day_and_told_what_follows()
    {
        var plan = Asked(Broken)!;

        Assert.Equal([Vane, Quist], plan.Notifications.Select(mail => mail.To));
        Assert.DoesNotContain(plan.Notifications, mail => mail.Urgent);
        Assert.Contains("If nobody answers, access is then restricted to what policy allows.", plan.Notifications[0].Sentences);
        Assert.Contains("until the end of 1 Dec 2026", plan.Notifications[0].Sentences[1], StringComparison.Ordinal);
        Assert.Equal(
            (QuestionState.Asked, LastDay, true),
            (plan.Question!.State, plan.Question.Through, plan.Question.Restricts)
        );

        kind = EnforcementKind.AskOwners;
        Assert.False(Asked(Broken)!.Question!.Restricts);
        Assert.DoesNotContain(Asked(Broken)!.Notifications[0].Sentences, said =>
            said.Contains("restricted", StringComparison.Ordinal)
        );
        kind = EnforcementKind.Report;
        Assert.Null(Asked(Broken));
    }

    [Fact]
    public void Nobody_is_asked_twice_nor_about_what_is_not_found()
    {
        Assert.Null(Asked(Broken, Asked(Broken)!.Question!));
        Assert.Null(Asked(Broken.WithGrants([ToPerson(Power.Own, Vane)])));
        Assert.Null(Asked(Broken with { Existence = Existence.Attic }));
    }

    [Fact]
    public void Without_an_active_owner_administrators_are_told_and_nothing_is_restricted()
    {
        var plan = Asked(Broken.WithGrants([ToPerson(Power.Own, Farrow), ToStaff(Power.Edit)]))!;

        Assert.Equal((QuestionState.Overdue, false), (plan.Question!.State, plan.Question.Restricts));
        Assert.Equal([Aske], plan.Notifications.Select(mail => mail.To));
        Assert.Contains("nobody could be asked", plan.Notifications[0].Sentences[0], StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(null, EnforcementKind.Restrict, QuestionState.Restricted)]
    [InlineData(QuestionAnswer.Fixed, EnforcementKind.Restrict, QuestionState.Restricted)]
    [InlineData(QuestionAnswer.NeedsException, EnforcementKind.Restrict, null)]
    [InlineData(QuestionAnswer.NotMine, EnforcementKind.Restrict, null)]
    [InlineData(null, EnforcementKind.AskOwners, QuestionState.Overdue)]
    [InlineData(QuestionAnswer.Fixed, EnforcementKind.AskOwners, QuestionState.Overdue)]
    [InlineData(QuestionAnswer.NotMine, EnforcementKind.AskOwners, null)]
    public void The_last_day_decides_what_nobody_has_answered_otherwise(
        QuestionAnswer? answer,
        EnforcementKind enforcement,
        QuestionState? expected
    )
    {
        kind = enforcement;
        var question = Asked(Broken)!.Question!;
        question = answer is { } said ? Plan(Reply(question, said, "Words", Vane)).Question! : question;

        var plan = AskingOwners.LastDayPassed(Facts(Broken, question), question, new ChangeId(Guid.NewGuid()), _ => "");

        Assert.Equal(expected, plan?.Question?.State);
        Assert.Equal(expected == QuestionState.Restricted ? 1 : 0, plan?.HostChanges.Count ?? 0);
        if (expected == QuestionState.Restricted)
        {
            // Owners keep what they have; everybody else is left what policy allows.
            Assert.Equal(["everyone"], plan!.HostChanges[0].WantedState.Grants.Select(change => change.Key));
            Assert.Equal(Aske, plan.HostChanges[0].By);
            Assert.Equal([Vane, Quist], plan.Notifications.Select(mail => mail.To));
            Assert.All(plan.Entries, entry => Assert.Equal(EntryActor.Product, entry.Actor));
        }
    }

    [Fact]
    public void What_cannot_be_restricted_goes_to_the_administrators_with_every_reason()
    {
        var question = Asked(Broken)!.Question!;
        harbour.Limits.Clear();
        harbour.Limits.Add(new LimitSetting(LayerKind.Organisation, "", Enforcer.Policy, Known<PowerLimits>.Unknown));

        var plan = AskingOwners.LastDayPassed(Facts(Broken, question), question, new ChangeId(Guid.NewGuid()), remark =>
            remark.GetType().Name
        )!;

        Assert.Equal(QuestionState.Overdue, plan.Question!.State);
        Assert.Contains("LimitUnknown", plan.Notifications.Single().Sentences[0], StringComparison.Ordinal);
    }

    [Fact]
    public void Each_reason_alone_refuses_an_answer()
    {
        var question = Asked(Broken)!.Question!;
        Assert.Equal([new QuestionForOwners()], Refused(Reply(question, QuestionAnswer.Fixed, null, Aske)));
        Assert.Equal([new QuestionNeedsWords()], Refused(Reply(question, QuestionAnswer.NotMine, " ", Vane)));
        Assert.Equal([new QuestionNeedsWords()], Refused(Reply(question, QuestionAnswer.NeedsException, null, Vane)));
        Assert.Equal([new ReasonTooLong(501, 500)], Refused(Reply(question, QuestionAnswer.Fixed, new string('x', 501), Vane)));
        Assert.Equal(
            [new QuestionRestricted()],
            Refused(Reply(question.Move(QuestionEvent.Restrict), QuestionAnswer.Fixed, null, Vane))
        );
        Assert.Equal(
            [new QuestionOver("")],
            Refused(AskingOwners.Reply(Facts(Broken), question.Id, QuestionAnswer.Fixed, null, new Actor(Vane, Capacity.Owner)))
        );

        // An owner who leaves cannot be counted on, and can still answer.
        Assert.Equal(Farrow, Plan(Reply(question, QuestionAnswer.NotMine, "Ask Idris.", Farrow)).Question!.AnsweredBy);
    }

    [Fact]
    public void Each_reason_alone_refuses_asking_again()
    {
        var open = Asked(Broken)!.Question!;
        var overdue = open.Move(QuestionEvent.LastDayPassed);
        Assert.Equal([new QuestionStillOpen(LastDay)], Refused(Again(Broken, open)));
        var underWay = Broken with { UnderWay = [new UnderWay(new ChangeId(Guid.NewGuid()), new WantedState([]))] };
        Assert.Equal([new QuestionRestricted()], Refused(Again(underWay, open.Move(QuestionEvent.Restrict))));
        Assert.IsType<Decision.Plan>(Again(Broken, open.Move(QuestionEvent.Restrict)));
        Assert.Equal([new OwnersAskNobody()], Refused(Again(Broken, overdue, new Actor(Vane, Capacity.Owner))));
        Assert.Equal([new QuestionOver("R-1")], Refused(Again(Broken.WithGrants([ToPerson(Power.Own, Vane)]), overdue)));
        Assert.Equal(
            [new NobodyToAsk()],
            Refused(Again(Broken.WithGrants([ToPerson(Power.Own, Lund), ToStaff(Power.Edit)]), overdue))
        );

        var answered = Plan(Reply(open, QuestionAnswer.NotMine, "No", Vane)).Question!;
        var again = Plan(Again(Broken, answered));
        Assert.Equal((QuestionState.Asked, null), (again.Question!.State, again.Question.Answer));
    }

    [Fact]
    public void Who_is_asked_again_is_told_what_the_rule_does_today_and_that_happens()
    {
        kind = EnforcementKind.AskOwners;
        var asked = Asked(Broken)!.Question!;
        Assert.False(asked.Restricts);
        var overdue = asked.Move(QuestionEvent.LastDayPassed);

        // The rule restricts by now: whoever asks again announces it.
        kind = EnforcementKind.Restrict;
        var again = Plan(Again(Broken, overdue));
        Assert.Equal(Aske, again.Question!.RestrictsFor);
        Assert.All(again.Notifications, told =>
            Assert.Contains(told.Sentences, line => line.Contains("restricted", StringComparison.Ordinal))
        );

        kind = EnforcementKind.AskOwners;
        Assert.Null(Plan(Again(Broken, again.Question.Move(QuestionEvent.LastDayPassed))).Question!.RestrictsFor);
    }

    [Fact]
    public void Every_event_in_every_sequence_keeps_one_open_question_for_a_finding_and_restricts_only_what_was_announced()
    {
        var (seen, next) = (new HashSet<string>(), new Queue<World>());
        var states = new HashSet<QuestionState>();
        next.Enqueue(new World(this).Run());
        while (next.TryDequeue(out var world))
        {
            if (!seen.Add(world.Key))
            {
                continue;
            }

            Assert.True(seen.Count < 4000, "There is no end of states.");
            states.UnionWith(world.Question is { } question ? [question.State] : []);
            foreach (var after in world.Next())
            {
                next.Enqueue(after);
            }
        }

        Assert.Equal(Enum.GetValues<QuestionState>(), states.Order());
    }

    /// <summary>One site with its latest question.</summary>
    private sealed record World(QuestionFacts Of)
    {
        private bool IsBroken { get; init; } = true;

        private bool AreOwnersHere { get; init; } = true;

        private bool Asks { get; init; } = true;

        private int Day { get; init; }

        public OwnerQuestion? Question { get; init; }

        private IReadOnlySet<(PersonId, string)> Written { get; init; } = new HashSet<(PersonId, string)>();

        private OwnerQuestion? Open => Question is { State: not QuestionState.Ended } ? Question : null;

        private ActionFacts Facts
        {
            get
            {
                Of.kind = Asks ? EnforcementKind.Restrict : EnforcementKind.Report;
                var now = Now.AddDays(Day);
                Person Shown(Person person) =>
                    AreOwnersHere || person.Standing != Standing.Current || (person.Id != Vane && person.Id != Quist)
                        ? person
                        : person with
                        {
                            Standing = Standing.Absent,
                        };
                return Of.Facts(
                    IsBroken ? Broken : Broken.WithGrants([ToPerson(Power.Own, Vane)]),
                    [.. Open is { } open ? [open] : Array.Empty<OwnerQuestion>()]
                ) with
                {
                    PeopleDirectory = new PeopleDirectory([.. Of.harbour.People.Select(Shown)], Units, [], now, Time),
                };
            }
        }

        // States that no decision tells apart count as one.
        public string Key =>
            $"{IsBroken} {AreOwnersHere} {Asks} {Question?.State} {Question?.Answer} {Question?.Restricts} {Question?.Asked.Count} {Math.Clamp((Question?.Through ?? LastDay).DayNumber - OnTheDay.Day.AddDays(Day).DayNumber, -1, Days)} {(Open is { } open ? Written.Count(one => one.Item2.Contains(open.Id.ToString(), StringComparison.Ordinal) && one.Item2.EndsWith($"{open.Through.DayNumber}", StringComparison.Ordinal)) : 0)}";

        public IEnumerable<World> Next()
        {
            yield return (this with { Day = Day + 1 }).Run();
            // The server is down for longer than there is time to answer.
            yield return (this with { Day = Day + Days + 2 }).Run();
            yield return (this with { IsBroken = !IsBroken }).Run();
            yield return (this with { AreOwnersHere = !AreOwnersHere }).Run();
            yield return (this with { Asks = !Asks }).Run();
            if (Open is { } open)
            {
                var facts = Facts;
                foreach (var answer in Enum.GetValues<QuestionAnswer>())
                {
                    if (
                        AskingOwners.Reply(facts, open.Id, answer, "Words", new Actor(Vane, Capacity.Owner)) is Decision.Plan said
                    )
                    {
                        yield return After(said).Run();
                    }
                }

                if (AskingOwners.AskAgain(facts, open.Id, null, new Actor(Aske)) is Decision.Plan again)
                {
                    yield return After(again).Run();
                }
            }
        }

        /// <summary>All that is due, and what has to hold then.</summary>
        public World Run()
        {
            var world = this;
            for (var round = 0; world.Due() is { Count: > 0 } due; round++)
            {
                Assert.True(round < 5, $"There is always something due: {due[0]}");
                foreach (var one in due)
                {
                    var before = world.Open;
                    var plan = DueNow.Carry(one, world.Facts, new ChangeId(Guid.NewGuid()), _ => "");
                    world = plan is null ? world : world.After(plan);
                    if (plan?.HostChanges.Count > 0)
                    {
                        Assert.True(before is { Restricts: true, Asked.Count: > 0, WaitsForLastDay: true });
                        Assert.True(Time.IsOver(before!.Through, world.Facts.Now));
                        Assert.True(world.IsBroken && world.Asks);
                    }
                }
            }

            Assert.Equal(world.IsBroken && world.Asks, world.Open is not null);
            return world;
        }

        private IReadOnlyList<Due> Due() =>
            DueNow
                .Of(
                    new DueFacts([], [], [], Facts.PeopleDirectory, Written)
                    {
                        Unasked = IsBroken && Asks && Open is null ? [new UnaskedFinding(Broken.Id, Id, Now, Aske)] : [],
                        Questions = Open is { } open ? [(open, !IsBroken || !Asks)] : [],
                    }
                )
                .Where(due => due is not Core.Actions.Due.PersonLeft)
                .ToList();

        private World After(Decision.Plan plan) =>
            this with
            {
                Question = plan.Question ?? Question,
                Written = Written.Union(plan.Notifications.Select(mail => (mail.To, mail.Key))).ToHashSet(),
            };
    }

    private Decision.Plan? Asked(SiteFacts site, params OwnerQuestion[] open) =>
        AskingOwners.Ask(Facts(site, open), new UnaskedFinding(site.Id, Id, Now, Aske), new QuestionId(Guid.Empty));

    private Decision Reply(OwnerQuestion question, QuestionAnswer answer, string? words, PersonId by) =>
        AskingOwners.Reply(Facts(Broken, question), question.Id, answer, words, new Actor(by, Capacity.Owner));

    private Decision Again(SiteFacts site, OwnerQuestion question, Actor? actor = null) =>
        AskingOwners.AskAgain(Facts(site, question), question.Id, null, actor ?? new Actor(Aske));

    private static Decision.Plan Plan(Decision decision) => Assert.IsType<Decision.Plan>(decision);

    private static IReadOnlyList<Remark> Refused(Decision decision) => Assert.IsType<Decision.Refusal>(decision).Reasons;

    private ActionFacts Facts(SiteFacts site, params OwnerQuestion[] open)
    {
        if (harbour.Limits.Count == 0)
        {
            harbour.Limit(LayerKind.Organisation, "", Enforcer.Policy, Only(InsideLimit.Named));
        }

        var rule = new Rule(Id, "Named people edit", "edited by many", Level.Warning, "", new Demand.EditingNamedOnly(), default)
        {
            Enforcement = new Enforcement(kind, kind == EnforcementKind.Report ? 0 : Days),
        };
        return new(site, [], harbour.Organisation, new RuleBook([rule], OnTheDay), harbour.PeopleDirectory)
        {
            Administrators = [Aske],
            Questions = open,
        };
    }

    private static PowerLimits Only(InsideLimit limit) => Inside(limit);
}
