using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.FirstWeek;

namespace AtticLedger.Server.Sources;

/// <summary>Of which findings there would be more or fewer, counted while the lines pass.</summary>
internal sealed class RuleMoves(RuleBook rules)
{
    private readonly Dictionary<RuleId, (int Before, int After)> moves = [];

    public IReadOnlyList<RuleMoveWire> Wire =>
        [
            .. moves
                .Where(move => move.Value.Before != move.Value.After)
                .OrderBy(move => move.Key.Value, StringComparer.Ordinal)
                .Select(move => new RuleMoveWire(RuleWire.Of(move.Key, rules), move.Value.Before, move.Value.After)),
        ];

    public void Count(IReadOnlyList<SiteLine> before, IReadOnlyList<SiteLine> after)
    {
        Each(before, 1, 0);
        Each(after, 0, 1);
    }

    private void Each(IReadOnlyList<SiteLine> lines, int had, int has)
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
