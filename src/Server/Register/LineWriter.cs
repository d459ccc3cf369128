using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;

namespace AtticLedger.Server.Register;

/// <summary>Lines of the register as screens get them.</summary>
internal static class LineWriter
{
    public static LineWire Line(JudgedLine judged, LedgerState state)
    {
        var line = judged.Line;
        var site = line.Site;
        return new LineWire(
            site.Id.Value,
            site.Title,
            site.Address.Has(out var address) ? address : null,
            site.Host,
            Unit(site, state),
            site.Stage.Has(out var stage) ? stage : null,
            Reach(line, Power.Preview)!,
            Reach(line, Power.View),
            KeyHolders(line),
            KeyNote(line, state),
            site.LastEdit.Has(out var edit) ? edit : null,
            [.. judged.Findings.OrderBy(finding => finding.Verdict == Verdict.CannotTell).ThenBy(finding => finding.Rule.Level).Select(finding => Finding(finding, state))],
            site.UnderWay.Count);
    }

    public static UnitWire? Unit(SiteFacts site, LedgerState state) =>
        site.Unit.Has(out var unit) ? new UnitWire(unit.Value, state.Roll.Find(unit)?.Name ?? unit.Value) : null;

    public static FindingWire Finding(Finding finding, LedgerState state) =>
        new(finding.Rule.Id.Value, finding.Rule.Title, finding.Rule.Short, finding.Rule.Level, finding.Verdict == Verdict.CannotTell, state.SinceOf(finding));

    /// <summary>Null for the live copy of a site that was never live.</summary>
    public static ReachWire? Reach(SiteLine line, Power power)
    {
        if (line.Inside(power).IsNone)
        {
            return null;
        }

        var inside = line.Inside(power).Or(new Span(0, 3));
        var outside = line.Outside(power).Or(new Span(0, 3));
        var permitted = line.Passage(power).Permitted;
        return new ReachWire(
            new BoundsWire(inside.AtLeast, inside.AtMost),
            new BoundsWire(outside.AtLeast, outside.AtMost),
            permitted.Has(out var limit) ? (int)limit.Inside.Level() : null,
            permitted.Has(out limit) ? (int)limit.Widest : null,
            $"{Words(inside, value => ((InsideLevel)value).Word())}; {Words(outside, value => ((OutsideLevel)value).Word())}");
    }

    public static string Words(Span span, Func<int, string> word) =>
        span.AtLeast == span.AtMost ? word(span.AtLeast)
        : span.AtLeast == 0 ? $"at most {word(span.AtMost)}"
        : $"{word(span.AtLeast)} to {word(span.AtMost)}";

    private static string KeyHolders(SiteLine line)
    {
        var holders = line.Keys.Holders;
        return holders.Count == 0
            ? line.Keys.Complete ? "none" : "not known"
            : holders.Count == 1 ? holders[0].Person.Name : $"{holders[0].Person.Name} +{holders.Count - 1}";
    }

    private static string? KeyNote(SiteLine line, LedgerState state) =>
        line.Keys.Holders.FirstOrDefault(holder => !holder.IsFit) is { } unfit && line.Keys.FitAtLeast == 0
            ? Explanation.Reason(unfit, state.Roll)
            : line.Keys is { Holders.Count: 0, Complete: true } ? "no key holder" : null;
}
