using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Rules;

/// <summary>What one version of a rule says and another does not, in words.</summary>
internal static class RuleDifferences
{
    public static IReadOnlyList<RuleDifference> Between(Rule before, Rule after) =>
        [
            .. Parts(before)
                .Zip(Parts(after))
                .Where(pair => pair.First.Says != pair.Second.Says)
                .Select(pair => new RuleDifference(pair.First.What, pair.First.Says, pair.Second.Says)),
        ];

    private static IEnumerable<(string What, string Says)> Parts(Rule rule) =>
        [
            ("state", rule.IsOff ? "switched off" : "on"),
            ("title", rule.Title),
            ("short name", rule.Short),
            ("level", rule.Level.ToString().ToLowerInvariant()),
            ("scope", rule.Scope.Length == 0 ? "all sites in use" : rule.Scope),
            ("demand", rule.Demand.Expression),
            ("enforcement", InWords(rule.Enforcement)),
            ("first day", rule.From.InWords()),
        ];

    private static string InWords(Enforcement enforcement) =>
        enforcement.Asks ? $"{Labels.Of(enforcement.Kind)}: {enforcement.Days} days to answer" : Labels.Of(enforcement.Kind);
}
