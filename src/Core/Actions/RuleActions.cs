using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>What a rule says.</summary>
/// <param name="Scope">Empty for all sites in use.</param>
/// <param name="Demand">An expression.</param>
public sealed record RuleText(string Title, string Short, Level Level, string Scope, string Demand)
{
    /// <summary>What follows from its findings; without it they are reported.</summary>
    public Enforcement Enforcement { get; init; } = Enforcement.Report;
}

/// <summary>A new rule, another version of a rule, or switching one off.</summary>
/// <param name="Rule">Null for a new rule.</param>
/// <param name="Text">What it says from its first day on; null to switch it off.</param>
/// <param name="From">The first day, today or later.</param>
/// <param name="Reason">Why; a new rule needs none.</param>
public sealed record RuleRequest(string? Rule, RuleText? Text, DateOnly From, string? Reason);

/// <summary>The version that a request makes, or why it is refused.</summary>
/// <param name="Before">The version in force or to come that it replaces from its first day on; null for a new rule.</param>
public sealed record RulePlan(Rule? Next, Rule? Before, IReadOnlyList<Remark> Refused)
{
    /// <summary>True if exceptions that were granted under the version before are void: what they are compared with has changed.
    /// </summary>
    public bool VoidsExceptions =>
        Next is { IsOff: false }
        && Before is not null
        && (Next.Demand is Demand.General || Before.Demand is Demand.General)
        && Next.Demand != Before.Demand;
}

/// <summary>Changes the rule book. A version is never changed: another one takes its place from its first day on.</summary>
public static class RuleActions
{
    public const int MostRules = 2000;
    private const int LongestId = 31;
    private const int LongestTitle = 100;
    private const int LongestShort = 40;
    private const int LongestReason = 500;

    /// <param name="versions">All versions of all rules.</param>
    public static RulePlan Plan(RuleRequest request, IReadOnlyList<Rule> versions, Today today) =>
        request.Rule is { } missing && versions.All(rule => rule.Id.Value != missing)
            ? new RulePlan(null, null, [new RuleMissing(missing)])
            : Next(request, request.Rule is { } its ? new RuleId(its) : FreeId(versions), versions, today);

    /// <summary>The version that a rule of a file makes of the rule with its id, or of a new one with it. One that says what the
    /// rule says already is no version.</summary>
    /// <param name="from">A day that is over is today.</param>
    public static RulePlan FromFile(
        RuleId id,
        RuleText text,
        DateOnly? from,
        string? reason,
        IReadOnlyList<Rule> versions,
        Today today
    )
    {
        var latest = versions.Where(rule => rule.Id == id).MaxBy(rule => rule.Version);
        var begins = from is { } day && day > today.Day ? day : today.Day;
        return !IsId(id.Value) ? new RulePlan(null, latest, [new RuleIdInvalid(id.Value)])
            : latest is { IsOff: false } && text == TextOf(latest) ? new RulePlan(null, latest, [])
            : Next(new RuleRequest(id.Value, text, begins, reason), id, versions, today);
    }

    private static RulePlan Next(RuleRequest request, RuleId id, IReadOnlyList<Rule> versions, Today today)
    {
        var latest = versions.Where(rule => rule.Id == id).MaxBy(rule => rule.Version);
        var refused = new List<Remark>();
        if (request.From < today.Day)
        {
            refused.Add(new RuleBeginsBefore(today.Day));
        }

        refused.AddRange(Written(RuleField.Reason, request.Reason, LongestReason, isNeeded: latest is not null));
        if (request.Text is { } text)
        {
            refused.AddRange(Written(RuleField.Title, text.Title, LongestTitle, isNeeded: true));
            refused.AddRange(Written(RuleField.Short, text.Short, LongestShort, isNeeded: true));
            refused.AddRange(Read(text, today));
            refused.AddRange(Enforced(text));
        }

        if (latest is null && versions.Select(rule => rule.Id).Distinct().Count() >= MostRules)
        {
            refused.Add(new RuleBookFull(MostRules));
        }

        if (refused.Count > 0)
        {
            return new RulePlan(null, latest, refused);
        }

        var next = request.Text is { } said
            ? new Rule(
                id,
                said.Title.Trim(),
                said.Short.Trim(),
                said.Level,
                said.Scope.Trim(),
                Demand.Of(said.Demand.Trim()),
                request.From
            )
            {
                Enforcement = said.Enforcement,
            }
            : latest! with
            {
                From = request.From,
                IsOff = true,
            };
        next = next with { Version = (latest?.Version ?? 0) + 1 };
        return latest is { IsOff: true } && next.IsOff ? new RulePlan(null, latest, [new RuleIsOff(latest.Id.Value)])
            : latest is not null && next with { Version = latest.Version } == latest
                ? new RulePlan(null, latest, [new RuleUnchanged(latest.Id.Value)])
            : new RulePlan(next, latest, []);
    }

    /// <summary>The request that undoes a version: what the rule said on its first day without it, or off; null if it has changed since.</summary>
    public static RuleRequest? Back(RuleId rule, int version, IReadOnlyList<Rule> versions, Today today)
    {
        var its = versions.Where(one => one.Id == rule).OrderBy(one => one.Version).ToList();
        if (its.Count == 0 || its[^1].Version != version)
        {
            return null;
        }

        // A version that it replaced before its first day was never in force, and is not put in force by an undo.
        var begins = its[^1].From > today.Day ? its[^1].From : today.Day;
        var before = RuleBook.InForce(its.SkipLast(1), begins).SingleOrDefault();
        return new RuleRequest(
            rule.Value,
            before is null ? null : TextOf(before),
            begins,
            string.Create(CultureInfo.InvariantCulture, $"Undoes version {version}.")
        );
    }

    /// <summary>The versions that are in force on a day or will be: none that a later one replaces before it begins.</summary>
    public static IEnumerable<Rule> FromOn(IReadOnlyList<Rule> versions, DateOnly day) =>
        versions.Where(rule =>
            !rule.IsOff
            && !versions.Any(later =>
                later.Id == rule.Id && later.Version > rule.Version && later.From <= (rule.From > day ? rule.From : day)
            )
        );

    /// <summary>The journal entry: what differs from the version before, or all of a new rule.</summary>
    public static Draft Entry(RulePlan plan, PersonId by, string? reason, long? undoOf = null)
    {
        var (before, after) = (plan.Before is { } its ? Parts(its) : null, Parts(plan.Next!));
        var differ = after.Index().Where(part => before?[part.Index].Value.Canonical() != part.Item.Value.Canonical()).ToList();
        return new(
            plan.Next!.IsOff ? JournalAction.RuleSwitchedOff : JournalAction.RuleWritten,
            EntryActor.Of(by),
            EntrySubject.Of(plan.Next.Id)
        )
        {
            Before = before is null ? JournalValue.Null : JournalValue.Of([.. differ.Select(part => before[part.Index])]),
            After = JournalValue.Of([.. differ.Select(part => part.Item)]),
            Reason = string.IsNullOrWhiteSpace(reason) ? null : reason.Trim(),
            UndoOf = undoOf,
        };
    }

    private static (string Name, JournalValue Value)[] Parts(Rule rule) =>
        [
            ("version", JournalValue.Of(rule.Version)),
            ("title", JournalValue.Of(rule.Title)),
            ("short", JournalValue.Of(rule.Short)),
            ("level", JournalValue.Of(rule.Level.ToString().ToLowerInvariant())),
            ("scope", JournalValue.Of(rule.Scope)),
            ("demand", JournalValue.Of(rule.Demand.Expression)),
            ("from", JournalValue.Of(rule.From.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))),
            ("off", new JournalValue.Flag(rule.IsOff)),
            ("enforcement", JournalValue.Of(rule.Enforcement.Kind.ToString().ToLowerInvariant())),
            ("days", JournalValue.Of(rule.Enforcement.Days)),
        ];

    private static IEnumerable<Remark> Enforced(RuleText text)
    {
        if (text.Enforcement.Asks && text.Enforcement.Days is < Enforcement.FewestDays or > Enforcement.MostDays)
        {
            yield return new RuleDaysToAnswer(Enforcement.FewestDays, Enforcement.MostDays);
        }

        if (text.Enforcement.Kind == EnforcementKind.Restrict && !Enforcement.CanRestrict(Demand.Of(text.Demand.Trim())))
        {
            yield return new RuleNotByRestricting();
        }
    }

    private static IEnumerable<Remark> Read(RuleText text, Today today)
    {
        if (text.Demand.Trim().Length == 0)
        {
            return [new RuleTextMissing(RuleField.Demand)];
        }

        try
        {
            new RuleExpression(text.Scope.Trim(), text.Demand.Trim()).Check(today);
            return [];
        }
        catch (RuleError error)
        {
            return [new RuleUnreadable(error.Part, error.Column, error.Message)];
        }
    }

    private static IEnumerable<Remark> Written(RuleField field, string? text, int longest, bool isNeeded)
    {
        var written = (text ?? "").Trim();
        return !written.Any(char.IsLetterOrDigit) ? (isNeeded ? [new RuleTextMissing(field)] : [])
            : written.Length > longest ? [new RuleTextTooLong(field, longest)]
            : written.Any(char.IsControl) ? [new RuleTextUnprintable(field)]
            : [];
    }

    private static RuleText TextOf(Rule rule) =>
        new(rule.Title, rule.Short, rule.Level, rule.Scope, rule.Demand.Expression) { Enforcement = rule.Enforcement };

    private static bool IsId(string id) =>
        id.Length is > 0 and <= LongestId && id[0] != '-' && id.All(sign => char.IsAsciiLetterOrDigit(sign) || sign == '-');

    // …: the number after the greatest.
    private static RuleId FreeId(IReadOnlyList<Rule> versions)
    {
        var greatest = versions
            .Select(rule =>
                rule.Id.Value.StartsWith("R-", StringComparison.Ordinal)
                && int.TryParse(rule.Id.Value.AsSpan(2), NumberStyles.None, CultureInfo.InvariantCulture, out var number)
                    ? number
                    : 0
            )
            .DefaultIfEmpty()
            .Max();
        return new RuleId(string.Create(CultureInfo.InvariantCulture, $"R-{greatest + 1:00}"));
    }
}
