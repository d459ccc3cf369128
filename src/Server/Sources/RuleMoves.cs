using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;

namespace AtticLedger.Server.Sources;

/// <summary>The findings that would appear or disappear, counted while lines are processed.</summary>
internal sealed class RuleMoves(RuleBook rules)
{
    private readonly Dictionary<RuleId, (int Before, int After)> moves = [];

    public IReadOnlyList<RuleMove> Moves =>
        [
            .. moves
                .Where(move => move.Value.Before != move.Value.After)
                .OrderBy(move => move.Key.Value, StringComparer.Ordinal)
                .Select(move => new RuleMove(RuleResponse.Of(move.Key, rules), move.Value.Before, move.Value.After)),
        ];

    public void Count(IReadOnlyList<ComputedSite> before, IReadOnlyList<ComputedSite> after)
    {
        Each(before, 1, 0);
        Each(after, 0, 1);
    }

    private void Each(IReadOnlyList<ComputedSite> lines, int had, int has)
    {
        foreach (
            var finding in rules
                .Judge(lines)
                .SelectMany(judged => judged.Findings)
                .Where(finding => finding.Verdict == Verdict.Breaks)
        )
        {
            var (was, now) = moves.GetValueOrDefault(finding.Rule.Id);
            moves[finding.Rule.Id] = (was + had, now + has);
        }
    }
}
