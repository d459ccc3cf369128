using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Contracts;

public sealed record RuleResponse(string Id, string Title, string Short, Level Level)
{
    public static RuleResponse Of(RuleId id, RuleBook rules) =>
        rules.Find(id) is { } rule
            ? new RuleResponse(rule.Id.Value, rule.Title, rule.Short, rule.Level)
            : new RuleResponse(id.Value, id.Value, id.Value, Level.Note);
}

/// <param name="Before">The number of these sites that break it now.</param>
public sealed record RuleMove(RuleResponse Rule, int Before, int After);
