using AtticLedger.Core.Filters;
using AtticLedger.Core.Keys;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using AtticLedger.Store;

namespace AtticLedger.Server.Register;

/// <summary>Lines of the register as screens get them.</summary>
internal static class LineWriter
{
    public static LineWire Line(
        SheetLine line,
        LedgerState state,
        Since since,
        IReadOnlyList<Attribute<JudgedLine>>? cells = null
    )
    {
        var keys = line.Keys;
        return new LineWire(
            line.Id.Value,
            line.Title,
            line.Address.Has(out var address) ? address : null,
            line.Host,
            line.Fault,
            Unit(line.Unit, state),
            line.Stage.Has(out var stage) ? stage : null,
            Reach(line, Power.Preview)!,
            Reach(line, Power.View),
            Holders(keys),
            KeyNote(keys, state),
            line.LastEdit.Has(out var edit) ? edit : null,
            [
                .. line.Breaks.OrderBy(rule => rule.Level).Select(rule => Finding(line.Id, rule, false, since)),
                .. line.Unsure.OrderBy(rule => rule.Level).Select(rule => Finding(line.Id, rule, true, since)),
            ],
            line.UnderWay,
            [.. (cells ?? []).Select(cell => CellWords.Of(line, cell, state))]
        );
    }

    public static UnitWire? Unit(Known<UnitCode> of, LedgerState state) =>
        of.Has(out var unit) ? new UnitWire(unit.Value, state.Roll.Find(unit)?.Name ?? unit.Value) : null;

    public static FindingWire Finding(SiteId site, Rule rule, bool cannotTell, Since since) =>
        new(rule.Id.Value, rule.Title, rule.Short, rule.Level, cannotTell, since.Of(site, rule.Id));

    /// <summary>Null for the live copy of a site that was never live.</summary>
    public static ReachWire? Reach(SheetLine line, Power power)
    {
        if (line.Inside(power).IsNone)
        {
            return null;
        }

        var inside = line.Inside(power).Or(new Span(0, 3));
        var outside = line.Outside(power).Or(new Span(0, 3));
        return new ReachWire(
            new BoundsWire((int)inside.AtLeast, (int)inside.AtMost),
            new BoundsWire((int)outside.AtLeast, (int)outside.AtMost),
            Settled(line.AllowedInside(power)),
            Settled(line.AllowedOutside(power)),
            $"{Words(inside, value => ((InsideLevel)value).Word())}; {Words(outside, value => ((OutsideLevel)value).Word())}"
        );
    }

    public static string Words(Span span, Func<int, string> word) =>
        span.AtLeast == span.AtMost ? word((int)span.AtLeast)
        : span.AtLeast == 0 ? $"at most {word((int)span.AtMost)}"
        : $"{word((int)span.AtLeast)} to {word((int)span.AtMost)}";

    private static int? Settled(Known<Span> allowed) =>
        allowed.Has(out var span) && span.AtLeast == span.AtMost ? (int)span.AtLeast : null;

    private static string Holders(KeyHolders keys)
    {
        var holders = keys.Holders;
        return holders.Count == 0
            ? keys.Complete
                ? "none"
                : "not known"
            : holders.Count == 1
                ? holders[0].Person.Name
                : $"{holders[0].Person.Name} +{holders.Count - 1}";
    }

    private static string? KeyNote(KeyHolders keys, LedgerState state) =>
        keys.Holders.FirstOrDefault(holder => !holder.IsFit) is { } unfit && keys.FitAtLeast == 0
            ? Explanation.Reason(unfit, state.Roll)
        : keys is { Holders.Count: 0, Complete: true } ? "no key holder"
        : null;
}
