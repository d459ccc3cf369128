using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <param name="Through">The last day.</param>
public sealed record ExcuseWish(RuleId Rule, string Reason, DateOnly Through);

/// <summary>Dated exceptions from a rule, and ending one before its day.</summary>
public static class ExcuseDeeds
{
    /// <summary>Whoever needs longer looks again.</summary>
    public const int MostDays = 366;

    public static Decision Excuse(DeedFacts facts, ExcuseWish wish, Doer doer)
    {
        var line = new SiteLine(facts.Site, facts.House, facts.Roll);
        var finding = facts.Rules.Judge(line).FirstOrDefault(finding => finding.Rule.Id == wish.Rule);
        var refused = Refusals(facts, wish, finding, line, doer).ToList();
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var rule = finding!.Rule;
        var excuse = new Excuse(
            0,
            rule.Id,
            wish.Reason.Trim(),
            doer.Person,
            facts.Now,
            wish.Through,
            rule.Demand.Expression,
            rule.Demand.Distance(line)
        );
        return new Decision.Plan(
            [],
            [Entry("excuse.given", facts, excuse, doer, wish.Reason)],
            Effect.None with
            {
                Cleared = [rule.Id],
            }
        )
        {
            Excuse = excuse,
            Along =
            [
                rule.Demand is Demand.General
                    ? $"Through {Day(wish.Through)} the site may break {rule.Id.Value}. If the rule asks for something else before, the excuse no longer counts."
                    : $"Through {Day(wish.Through)} the site may stand as it does. If it gets worse before, or the house narrows what it allows, the excuse no longer counts.",
            ],
        };
    }

    public static Decision End(DeedFacts facts, long id, string? reason, Doer doer)
    {
        if (doer.As == Capacity.Owner)
        {
            return new Decision.Refusal([NotOwners]);
        }

        if (
            facts.Site.Excuses.FirstOrDefault(excuse => excuse.Id == id && excuse.IsInForce(facts.Now, facts.Roll.Time))
            is not { } given
        )
        {
            return new Decision.Refusal(["This excuse is over."]);
        }

        if (reason is null)
        {
            return new Decision.Refusal(["Ending an excuse needs a reason."]);
        }

        var ended = given with { Ended = facts.Now };
        var line = new SiteLine(facts.Site, facts.House, facts.Roll);
        var covered = facts
            .Rules.Judge(line)
            .Where(finding => finding.Verdict == Verdict.Excused && finding.Rule.Id == given.Rule)
            .Select(finding => finding.Rule.Id);
        return new Decision.Plan(
            [],
            [Entry("excuse.ended", facts, ended, doer, reason)],
            Effect.None with
            {
                Opened = [.. covered],
            }
        )
        {
            Excuse = ended,
        };
    }

    private const string NotOwners = "Excuses are given and ended by administrators and stewards.";

    private static IEnumerable<string> Refusals(DeedFacts facts, ExcuseWish wish, Finding? finding, SiteLine line, Doer doer)
    {
        var time = facts.Roll.Time;
        if (doer.As == Capacity.Owner)
        {
            yield return NotOwners;
        }

        if (string.IsNullOrWhiteSpace(wish.Reason))
        {
            yield return "An excuse needs a reason.";
        }

        foreach (var reason in Orders.TooLong(wish.Reason))
        {
            yield return reason;
        }

        if (time.IsOver(wish.Through, facts.Now))
        {
            yield return $"{Day(wish.Through)} has passed; an excuse ends on a day to come.";
        }
        else if (wish.Through > time.DayOf(facts.Now).AddDays(MostDays))
        {
            yield return $"An excuse ends within {MostDays} days. Whoever needs longer looks at it again then.";
        }

        if (finding?.Verdict is Verdict.Excused)
        {
            yield return $"The site is excused from {wish.Rule.Value} through {Day(line.Excuses.First(excuse => finding.Rule.IsCovered(excuse, line)).Through)}. End that excuse first.";
        }
        else if (finding?.Verdict is not Verdict.Breaks)
        {
            yield return finding is null
                ? $"The site does not break {wish.Rule.Value}, so there is nothing to excuse."
                : $"It cannot be told whether the site breaks {wish.Rule.Value}, so there is nothing to excuse yet.";
        }
    }

    private static Draft Entry(string deed, DeedFacts facts, Excuse excuse, Doer doer, string? reason) =>
        new(deed, doer.InJournal, $"site:{facts.Site.Id.Value.ToString(CultureInfo.InvariantCulture)}")
        {
            After = JournalValue.Of(
                ("rule", JournalValue.Of(excuse.Rule.Value)),
                ("through", JournalValue.Of(excuse.Through.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))),
                ("demand", JournalValue.Of(excuse.Demand)),
                ("distance", JournalValue.Of(excuse.Distance.Select(step => JournalValue.Of(step)))),
                ("ended", excuse.Ended is { } at ? JournalValue.Of(at) : JournalValue.Null)
            ),
            Reason = reason,
        };

    private static string Day(DateOnly day) => day.ToString("d MMM yyyy", CultureInfo.InvariantCulture);
}
