using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <param name="Through">The last day.</param>
public sealed record ExceptionRequest(RuleId Rule, string Reason, DateOnly Through);

/// <summary>Grants a dated exception from a rule, and ends one before its day.</summary>
public static class ExceptionActions
{
    /// <summary>A longer exception needs a new decision.</summary>
    public const int MostDays = 366;

    /// <summary>So many days before its last day, who decides and who owns the site hear of it.</summary>
    public const int NearDays = 7;

    public static Decision Grant(ActionFacts facts, ExceptionRequest request, Actor actor)
    {
        var line = new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory);
        var finding = facts.Rules.Judge(line).FirstOrDefault(finding => finding.Rule.Id == request.Rule);
        var refused = Refusals(facts, request, finding, line, actor).ToList();
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var rule = finding!.Rule;
        var exception = new RuleException(
            0,
            rule.Id,
            request.Reason.Trim(),
            actor.Person,
            facts.Now,
            request.Through,
            rule.Demand.Expression,
            rule.Demand.Distance(line)
        )
        {
            IsUntold = finding.IsUntold,
        };
        return new Decision.Plan(
            [],
            [Entry(JournalAction.ExceptionGranted, facts, exception, actor, request.Reason)],
            Effect.None with
            {
                Cleared = finding.IsUntold ? [] : [rule.Id],
            }
        )
        {
            Exception = exception,
            SideEffects =
            [
                finding.IsUntold
                    ? $"Until the end of {request.Through.InWords()} nobody has to find out whether the site breaks {rule.Id.Value}. If it turns out that it does, or the rule changes, the exception no longer applies."
                : rule.Demand is Demand.General
                    ? $"Until the end of {request.Through.InWords()} the site may break {rule.Id.Value}. If the rule changes earlier, the exception no longer applies."
                : $"Until the end of {request.Through.InWords()} the site may stay as it is. If it gets further from the rule, or policy becomes stricter, the exception no longer applies.",
            ],
        };
    }

    public static Decision End(ActionFacts facts, long id, string? reason, Actor actor)
    {
        if (actor.As == Capacity.Owner)
        {
            return new Decision.Refusal([new ExceptionNotByOwners()]);
        }

        if (
            facts.Site.Exceptions.FirstOrDefault(exception =>
                exception.Id == id && exception.IsInForce(facts.Now, facts.PeopleDirectory.Time)
            )
            is not { } given
        )
        {
            return new Decision.Refusal([new ExceptionEnded()]);
        }

        if (reason is null)
        {
            return new Decision.Refusal([new ExceptionEndNeedsReason()]);
        }

        var ended = given with { Ended = facts.Now };
        var line = new ComputedSite(facts.Site, facts.Organisation, facts.PeopleDirectory);
        var covered = facts
            .Rules.Judge(line)
            .Where(finding => finding is { Verdict: Verdict.Excepted, IsUntold: false } && finding.Rule.Id == given.Rule)
            .Select(finding => finding.Rule.Id);
        return new Decision.Plan(
            [],
            [Entry(JournalAction.ExceptionEnded, facts, ended, actor, reason)],
            Effect.None with
            {
                Opened = [.. covered],
            }
        )
        {
            Exception = ended,
        };
    }

    /// <summary>The warning that an exception ends; one that was granted for fewer days has none.</summary>
    public static IEnumerable<Due> DueOf(SiteId site, RuleException exception, DueFacts facts)
    {
        var near = facts.PeopleDirectory.Time.StartOf(exception.Through.Plus(-NearDays));
        if (
            near > exception.From
            && exception.IsInForce(facts.PeopleDirectory.Now, facts.PeopleDirectory.Time)
            && !facts.WrittenKeys.Contains(NearKey(exception))
        )
        {
            yield return new Due.ExceptionNear(near, site, exception);
        }
    }

    /// <summary>Tells the administrators, who granted it and the active owners that an exception ends; null if it has ended or nobody is
    /// there to hear of it.</summary>
    public static Decision.Plan? Near(ActionFacts facts, RuleException exception)
    {
        var directory = facts.PeopleDirectory;
        var owners = SiteOwners.Of(facts.Site, directory, facts.Organisation.ActiveDays);
        List<PersonId> recipients =
        [
            .. facts
                .Administrators.Append(exception.By)
                .Concat(owners.Holders.Where(holder => holder.IsActive).Select(holder => holder.Person.Id))
                .Where(directory.IsHere)
                .Distinct(),
        ];
        if (recipients.Count == 0 || facts.Site.Exceptions.All(one => one.Id != exception.Id))
        {
            return null;
        }

        var rule = facts.Rules.Find(exception.Rule)?.Title ?? exception.Rule.Value;
        return new Decision.Plan([], [], Effect.None)
        {
            Notifications =
            [
                .. recipients.Select(person => new Notification(
                    person,
                    NearKey(exception),
                    $"An exception of {facts.Site.Title} ends on {exception.Through.InWords()}",
                    [
                        $"{facts.Site.Title} has an exception from the rule {rule} until the end of {exception.Through.InWords()}.",
                        $"Its reason was: {exception.Reason}",
                        "If the site still breaks the rule then, it is a finding again.",
                    ]
                )),
            ],
        };
    }

    private static string NearKey(RuleException exception) => $"near:exception:{exception.Id}";

    private static IEnumerable<Remark> Refusals(
        ActionFacts facts,
        ExceptionRequest request,
        Finding? finding,
        ComputedSite line,
        Actor actor
    )
    {
        var time = facts.PeopleDirectory.Time;
        if (actor.As == Capacity.Owner)
        {
            yield return new ExceptionNotByOwners();
        }

        if (string.IsNullOrWhiteSpace(request.Reason))
        {
            yield return new ExceptionNeedsReason();
        }

        foreach (var reason in HostChanges.TooLong(request.Reason))
        {
            yield return reason;
        }

        if (time.IsOver(request.Through, facts.Now))
        {
            yield return new LastDayPassed(request.Through);
        }
        else if (request.Through > time.DayOf(facts.Now).AddDays(MostDays))
        {
            yield return new ExceptionTooLong(MostDays);
        }

        if (finding?.Verdict is Verdict.Excepted)
        {
            yield return new ExceptionStillInForce(
                request.Rule.Value,
                line.Exceptions.First(exception => finding.Rule.IsCovered(exception, line, finding.IsUntold)).Through
            );
        }
        else if (finding is null)
        {
            yield return new RuleNotBroken(request.Rule.Value);
        }
    }

    private static Draft Entry(JournalAction action, ActionFacts facts, RuleException exception, Actor actor, string? reason) =>
        new(action, actor.InJournal, EntrySubject.Of(facts.Site.Id))
        {
            After = JournalValue.Of(
                ("rule", JournalValue.Of(exception.Rule.Value)),
                ("through", JournalValue.Of(exception.Through.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))),
                ("demand", JournalValue.Of(exception.Demand)),
                ("distance", JournalValue.Of(exception.Distance.Select(step => JournalValue.Of(step)))),
                ("untold", new JournalValue.Flag(exception.IsUntold)),
                ("ended", exception.Ended is { } at ? JournalValue.Of(at) : JournalValue.Null)
            ),
            Reason = reason,
        };
}
