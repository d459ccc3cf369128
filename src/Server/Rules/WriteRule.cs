using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Rules;

/// <summary>A decided version of a rule.</summary>
/// <param name="UndoOf">The journal entry that it undoes.</param>
internal sealed record WrittenRule(RulePlan Plan, string? Reason, long? UndoOf = null)
{
    public async Task<Written<RuleDone>> Write(Change change, Viewer viewer)
    {
        var rule = Plan.Next!;
        await change.AddRule(rule, Reason?.Trim() is { Length: > 0 } reason ? reason : null, viewer.Person);
        var numbers = await change.Append([RuleActions.Entry(Plan, viewer.Person, Reason, UndoOf)]);
        return new Written<RuleDone>(numbers[0], new RuleDone(numbers[0], rule.Id.Value, rule.Version));
    }
}

/// <summary>Writes a rule, another version of one, or switches one off. Its numbers are those of the register in memory, which no
/// transaction reads; so a fingerprint stands for the rule book, and what a rule finds is shown and not promised.</summary>
/// <param name="look">What has to be looked at again before this version is written; null for nothing.</param>
internal sealed class WriteRule(RuleRequest request, Viewer viewer, Func<RulePlan, Remark?> look)
    : RequestedAction<WrittenRule, RuleDone>
{
    public override ActionName Name => ActionName.RuleWrite;

    /// <summary>The same request on the same rule book has the same effect.</summary>
    public static string FingerprintOf(RuleRequest request, IReadOnlyList<Rule> versions) =>
        Head.HashOf($"{JsonSerializer.Serialize(request)} {BookOf(versions)}");

    /// <summary>Every rule with its versions, as a text to hash.</summary>
    public static string BookOf(IReadOnlyList<Rule> versions) =>
        string.Join(' ', versions.Select(rule => $"{rule.Id} {rule.Version}"));

    public override async Task<Decided<WrittenRule>> Decide(FactReader facts)
    {
        var versions = await facts.Connection.AllRules();
        var plan = RuleActions.Plan(request, versions, Today.At(facts.Now, await facts.Time()));
        return plan.Refused.Count > 0 ? new Decided<WrittenRule>.Refused(plan.Refused)
            : look(plan) is { } again ? Decided<WrittenRule>.Refuse(again)
            : new Decided<WrittenRule>.Planned(new WrittenRule(plan, request.Reason), FingerprintOf(request, versions));
    }

    public override Task<Written<RuleDone>> Write(Change change, WrittenRule plan) => plan.Write(change, viewer);
}

/// <summary>Undoes the last version of a rule: what it said before is written again.</summary>
internal sealed class UndoRule(RuleId rule, int version, Viewer viewer) : RequestedAction<WrittenRule, RuleDone>
{
    public override ActionName Name => ActionName.RuleUndo;

    public override async Task<Decided<WrittenRule>> Decide(FactReader facts)
    {
        var (versions, today) = (await facts.Connection.AllRules(), Today.At(facts.Now, await facts.Time()));
        if (!versions.Exists(one => one.Id == rule && one.Version == version))
        {
            return new Decided<WrittenRule>.NotSeen("version of a rule");
        }

        if (RuleActions.Back(rule, version, versions, today) is not { } back)
        {
            return Decided<WrittenRule>.Refuse(new RuleChangedSince(rule.Value));
        }

        var plan = RuleActions.Plan(back, versions, today);
        return plan.Refused.Count > 0
            ? new Decided<WrittenRule>.Refused(plan.Refused)
            : new Decided<WrittenRule>.Planned(
                new WrittenRule(plan, back.Reason, await facts.Connection.LastEntry(EntrySubject.Of(rule))),
                ""
            );
    }

    public override Task<Written<RuleDone>> Write(Change change, WrittenRule plan) => plan.Write(change, viewer);
}
