using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A finding of a rule that asks owners, about which there is no question.</summary>
/// <param name="By">Who put the version of the rule in force; null if it came with the organisation.</param>
public sealed record UnaskedFinding(SiteId Site, RuleId Rule, DateTimeOffset Since, PersonId? By);

/// <summary>Asks the owners of a site about a finding, takes their answers, and does what was announced after the last day.</summary>
public static class AskingOwners
{
    public const int ReminderDays = 2;
    private const string Answer = "Open your sites and answer";

    /// <summary>Asks the active owners; without any the question is overdue at once. Null if the site no longer breaks a rule
    /// that asks.</summary>
    public static Decision.Plan? Ask(ActionFacts facts, UnaskedFinding unasked, QuestionId id)
    {
        if (VerdictOn(facts, unasked.Rule) != Verdict.Breaks || facts.Questions.Any(open => open.Rule == unasked.Rule))
        {
            return null;
        }

        var rule = facts.Rules.Find(unasked.Rule)!;
        var asked = ActiveOwners(facts);
        var question = new OwnerQuestion
        {
            Id = id,
            Site = facts.Site.Id,
            Rule = rule.Id,
            State = asked.Count == 0 ? QuestionState.Overdue : QuestionState.Asked,
            AskedAt = facts.Now,
            Through = LastDay(facts, rule),
            RestrictsFor = asked.Count > 0 && rule.Enforcement.Kind == EnforcementKind.Restrict ? unasked.By : null,
            Asked = [.. asked],
        };
        return Plan(
            question,
            asked.Count == 0 ? JournalAction.QuestionOverdue : JournalAction.QuestionAsked,
            EntryActor.Product,
            asked.Count == 0
                ? ToAdministrators(facts, question, rule, "No owner is active, so nobody could be asked.")
                : ToOwners(facts, question, rule, asked)
        );
    }

    /// <summary>Reminds the owners who are active now, or, if none is any more, tells the administrators.</summary>
    public static Decision.Plan? Remind(ActionFacts facts, OwnerQuestion question)
    {
        if (Open(facts, question) is not { State: QuestionState.Asked } open || facts.Rules.Find(open.Rule) is not { } rule)
        {
            return null;
        }

        var owners = ActiveOwners(facts);
        return new Decision.Plan([], [], Effect.None)
        {
            Notifications =
            [
                .. (owners.Count > 0 ? owners : facts.Administrators).Select(person => new Notification(
                    person,
                    ReminderKey(open),
                    $"{facts.Site.Title}: please answer until the end of {open.Through.InWords()}",
                    owners.Count > 0
                        ? [.. Sentences(facts, open, rule)]
                        : ["No owner of this site is active any more, so nobody can answer."],
                    Link: owners.Count > 0 ? Link(facts, open) : null
                )),
            ],
        };
    }

    /// <summary>The last day has passed: restricts access if that was announced and can be done, and otherwise tells the
    /// administrators.</summary>
    /// <param name="say">Makes the sentence of why it cannot be restricted.</param>
    public static Decision.Plan? LastDayPassed(
        ActionFacts facts,
        OwnerQuestion question,
        ChangeId newHostChange,
        Func<Remark, string> say
    )
    {
        if (Open(facts, question) is not { WaitsForLastDay: true } open)
        {
            return null;
        }

        var rule = facts.Rules.Find(open.Rule);
        if (rule is null || VerdictOn(facts, open.Rule) is not (Verdict.Breaks or Verdict.CannotTell))
        {
            return End(facts, open);
        }

        var said =
            open.State == QuestionState.Asked ? "Nobody answered." : "An owner said that it is fixed, and it is still found.";
        if (open.RestrictsFor is not { } by || rule.Enforcement.Kind != EnforcementKind.Restrict)
        {
            return Overdue(said);
        }

        var line = new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory);
        var decision = RestrictReach.Remedy(line).Has(out var target)
            ? RestrictReach.Decide(
                facts,
                new RestrictRequest(target, $"{rule.Id}: announced to the owners for the end of {open.Through.InWords()}."),
                newHostChange,
                new Actor(by)
            )
            : new Decision.Refusal([new LimitUnknown()]);
        if (decision is not Decision.Plan restrict)
        {
            return Overdue(
                $"{said} Access was not restricted: {string.Join(" ", ((Decision.Refusal)decision).Reasons.Select(say))}"
            );
        }

        var restricted = open.Move(QuestionEvent.Restrict);
        return restrict with
        {
            Question = restricted,
            Entries =
            [
                .. restrict.Entries.Select(entry => entry with { Actor = EntryActor.Product, OnBehalf = EntryActor.Of(by) }),
            ],
            Notifications =
            [
                .. ActiveOwners(facts)
                    .Select(owner => new Notification(
                        owner,
                        $"question-done:{open.Id}:{open.Through.DayNumber}",
                        $"Access to {facts.Site.Title} is restricted",
                        [
                            $"{said} As announced, access to {facts.Site.Title} is restricted to what policy allows ({rule.Title}).",
                            "An administrator can undo it.",
                        ],
                        Link: new NotificationLink(
                            LinkPurpose.Yours,
                            SiteText(facts),
                            facts.PeopleDirectory.Time.EndOf(facts.PeopleDirectory.Today.Plus(rule.Enforcement.Days)),
                            "Open your sites"
                        )
                    )),
            ],
        };

        Decision.Plan Overdue(string why) =>
            Plan(
                open.Move(QuestionEvent.LastDayPassed),
                JournalAction.QuestionOverdue,
                EntryActor.Product,
                ToAdministrators(facts, open, rule, why)
            );
    }

    /// <summary>Ends a question about which there is nothing to answer any more; null if there is.</summary>
    public static Decision.Plan? Settle(ActionFacts facts, OwnerQuestion question) =>
        Open(facts, question) is { } open
        && (
            HostChanges.NotInUse(facts).Any()
            || facts.Rules.Find(open.Rule) is not { Enforcement.Asks: true }
            || VerdictOn(facts, open.Rule) is not (Verdict.Breaks or Verdict.CannotTell)
        )
            ? End(facts, open)
            : null;

    /// <summary>An owner answers.</summary>
    public static Decision Reply(ActionFacts facts, QuestionId id, QuestionAnswer answer, string? words, Actor actor)
    {
        var open = facts.Questions.FirstOrDefault(question => question.Id == id);
        List<Remark> refused = [.. HostChanges.TooLong(words)];
        if (!IsOwner(facts, actor.Person))
        {
            refused.Add(new QuestionForOwners());
        }

        if (answer != QuestionAnswer.Fixed && string.IsNullOrWhiteSpace(words))
        {
            refused.Add(new QuestionNeedsWords());
        }

        if (open is null || !QuestionStates.Table.Allows(open.State, QuestionEvent.Answer))
        {
            refused.Add(open is null ? new QuestionOver("") : new QuestionRestricted());
        }

        return refused.Count > 0
            ? new Decision.Refusal(refused)
            : Plan(
                open!.Move(QuestionEvent.Answer) with
                {
                    Answer = answer,
                    AnsweredBy = actor.Person,
                    AnsweredAt = facts.Now,
                    Words = string.IsNullOrWhiteSpace(words) ? null : words.Trim(),
                },
                JournalAction.QuestionAnswered,
                actor.InJournal,
                [],
                words
            );
    }

    /// <summary>Asks again, with the days of the rule from today on.</summary>
    public static Decision AskAgain(ActionFacts facts, QuestionId id, string? reason, Actor actor)
    {
        var open = facts.Questions.FirstOrDefault(question => question.Id == id);
        var rule = open is null ? null : facts.Rules.Find(open.Rule);
        List<Remark> refused = [.. HostChanges.TooLong(reason)];
        if (actor.As == Capacity.Owner)
        {
            refused.Add(new OwnersAskNobody());
        }

        if (open is null || rule is null || VerdictOn(facts, open.Rule) is not (Verdict.Breaks or Verdict.CannotTell))
        {
            refused.Add(new QuestionOver(open?.Rule.Value ?? ""));
        }
        else if (!QuestionStates.Table.Allows(open.State, QuestionEvent.AskAgain))
        {
            refused.Add(new QuestionStillOpen(open.Through));
        }
        else if (open.State == QuestionState.Restricted && facts.Site.UnderWay.Count > 0)
        {
            refused.Add(new QuestionRestricted());
        }

        var asked = ActiveOwners(facts);
        if (asked.Count == 0)
        {
            refused.Add(new NobodyToAsk());
        }

        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var again = open!.Move(QuestionEvent.AskAgain) with
        {
            AskedAt = facts.Now,
            Through = LastDay(facts, rule!),
            // What the rule announces today, and not what it did when the owners were asked before.
            RestrictsFor = rule!.Enforcement.Kind == EnforcementKind.Restrict ? open.RestrictsFor ?? actor.Person : null,
            Asked = [.. asked],
            Answer = null,
            AnsweredBy = null,
            AnsweredAt = null,
            Words = null,
        };
        return Plan(
            again,
            JournalAction.QuestionAsked,
            actor.InJournal,
            ToOwners(facts, again, rule!, asked, string.IsNullOrWhiteSpace(reason) ? null : reason.Trim()),
            reason
        );
    }

    /// <summary>What falls due by the passing of days: reminders and last days.</summary>
    internal static IEnumerable<Due> DueOf(OwnerQuestion question, DueFacts facts)
    {
        if (!question.WaitsForLastDay)
        {
            yield break;
        }

        var time = facts.PeopleDirectory.Time;
        var ends = time.EndOf(question.Through);
        yield return new Due.QuestionEnds(ends, question);
        var remind = time.StartOf(question.Through.Plus(-ReminderDays));
        if (
            question.State == QuestionState.Asked
            && remind > question.AskedAt
            && facts.PeopleDirectory.Now < ends
            && !facts.WrittenKeys.Contains(ReminderKey(question))
        )
        {
            yield return new Due.QuestionReminder(remind, question);
        }
    }

    private static OwnerQuestion? Open(ActionFacts facts, OwnerQuestion question) =>
        facts.Questions.FirstOrDefault(open => open.Id == question.Id);

    // Null if the site does not break it, or is not in use.
    private static Verdict? VerdictOn(ActionFacts facts, RuleId rule) =>
        HostChanges.NotInUse(facts).Any() || facts.Rules.Find(rule) is not { Enforcement.Asks: true }
            ? null
            : facts
                .Rules.Judge(new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory))
                .FirstOrDefault(finding => finding.Rule.Id == rule)
                ?.Verdict;

    private static SiteOwners Owners(ActionFacts facts) =>
        SiteOwners.Of(facts.Site, facts.PeopleDirectory, facts.Organisation.ActiveDays);

    private static List<PersonId> ActiveOwners(ActionFacts facts) =>
        [.. Owners(facts).Holders.Where(holder => holder.IsActive).Select(holder => holder.Person.Id)];

    private static bool IsOwner(ActionFacts facts, PersonId person) =>
        Owners(facts).Holders.Any(holder => holder.Person.Id == person);

    private static DateOnly LastDay(ActionFacts facts, Rule rule) => facts.PeopleDirectory.Today.Plus(rule.Enforcement.Days);

    private static Decision.Plan End(ActionFacts facts, OwnerQuestion open) =>
        Plan(
            open.Move(QuestionEvent.NothingToAnswer) with
            {
                EndedAt = facts.Now,
            },
            JournalAction.QuestionEnded,
            EntryActor.Product,
            []
        );

    private static Decision.Plan Plan(
        OwnerQuestion question,
        JournalAction action,
        EntryActor actor,
        IReadOnlyList<Notification> notifications,
        string? reason = null
    ) =>
        new(
            [],
            [
                new Draft(action, actor, EntrySubject.Of(question.Site))
                {
                    After = JournalValue.Of(
                        ("rule", JournalValue.Of(question.Rule.Value)),
                        ("through", JournalValue.Of(question.Through.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))),
                        ("asked", JournalValue.Of(question.Asked.Select(person => JournalValue.Of(EntryActor.Of(person))))),
                        ("answer", JournalValue.Of(InWords(question.Answer)))
                    ),
                    Reason = string.IsNullOrWhiteSpace(reason) ? null : reason.Trim(),
                },
            ],
            Effect.None
        )
        {
            Question = question,
            Notifications = notifications,
        };

    // As the journal stores it.
    private static string? InWords(QuestionAnswer? answer) =>
        answer switch
        {
            null => null,
            QuestionAnswer.Fixed => "fixed",
            QuestionAnswer.NeedsException => "needs an exception",
            _ => "not mine",
        };

    private static IReadOnlyList<Notification> ToOwners(
        ActionFacts facts,
        OwnerQuestion question,
        Rule rule,
        IReadOnlyList<PersonId> owners,
        string? reason = null
    ) =>
        [
            .. owners.Select(owner => new Notification(
                owner,
                $"question:{question.Id}:{question.AskedAt.UtcTicks}",
                $"{facts.Site.Title}: {rule.Short}",
                [.. Sentences(facts, question, rule), .. reason is null ? Array.Empty<string>() : [$"Reason: {reason}"]],
                Link: Link(facts, question)
            )),
        ];

    private static IReadOnlyList<Notification> ToAdministrators(
        ActionFacts facts,
        OwnerQuestion question,
        Rule rule,
        string why
    ) =>
        [
            .. facts.Administrators.Select(person => new Notification(
                person,
                $"question-over:{question.Id}:{question.Through.DayNumber}",
                $"{facts.Site.Title}: {rule.Short}",
                [$"{rule.Title} ({rule.Id}). {why} It is on the desk."]
            )),
        ];

    private static IEnumerable<string> Sentences(ActionFacts facts, OwnerQuestion question, Rule rule) =>
        [
            $"You own {facts.Site.Title} ({facts.Site.Address.Or("no address")}), which breaks a rule: {rule.Title} ({rule.Id}).",
            $"Please fix it, or answer, until the end of {question.Through.InWords()}.",
            .. question.Restricts
                ? ["If nobody answers, access is then restricted to what policy allows."]
                : Array.Empty<string>(),
        ];

    private static NotificationLink Link(ActionFacts facts, OwnerQuestion question) =>
        new(LinkPurpose.Yours, SiteText(facts), facts.PeopleDirectory.Time.EndOf(question.Through), Answer);

    private static string SiteText(ActionFacts facts) => facts.Site.Id.Value.ToString(CultureInfo.InvariantCulture);

    private static string ReminderKey(OwnerQuestion question) => $"remind:question:{question.Id}:{question.Through.DayNumber}";
}
