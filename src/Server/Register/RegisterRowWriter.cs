using AtticLedger.Core.Filters;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Feed;
using AtticLedger.Store;

namespace AtticLedger.Server.Register;

/// <summary>Writes rows of the register for the API.</summary>
internal static class RegisterRowWriter
{
    public static RegisterRowResponse Line(
        RegisterRow line,
        LedgerState state,
        Since since,
        IReadOnlyList<Attribute<JudgedSite>>? cells = null
    )
    {
        var owners = line.Owners;
        return new RegisterRowResponse(
            line.Id.Value,
            line.Title,
            line.Address.Has(out var address) ? address : null,
            line.Host,
            line.Fault,
            Unit(line.Unit, state),
            line.Status.Has(out var status) ? status : null,
            Reach(line, Power.Preview)!,
            Reach(line, Power.View),
            Holders(owners),
            OwnerNote(owners, state),
            line.LastEdit.Has(out var edit) ? edit : null,
            [
                .. line.Breaks.OrderBy(rule => rule.Level).Select(rule => Finding(line.Id, rule, false, since)),
                .. line.Unsure.OrderBy(rule => rule.Level).Select(rule => Finding(line.Id, rule, true, since)),
            ],
            line.UnderWay,
            [.. (cells ?? []).Select(cell => CellText.Of(line, cell, state))]
        );
    }

    public static UnitResponse? Unit(Known<UnitCode> of, LedgerState state) =>
        of.Has(out var unit) ? new UnitResponse(unit.Value, state.PeopleDirectory.Find(unit)?.Name ?? unit.Value) : null;

    public static FindingResponse Finding(SiteId site, Rule rule, bool cannotTell, Since since) =>
        new(rule.Id.Value, rule.Title, rule.Short, rule.Level, cannotTell, since.Of(site, rule.Id));

    /// <summary>Null for View of a site that was never published.</summary>
    public static ReachCell? Reach(RegisterRow line, Power power)
    {
        if (line.Inside(power).IsNone)
        {
            return null;
        }

        var inside = line.Inside(power).Or(new Span(0, 3));
        var outside = line.Outside(power).Or(new Span(0, 3));
        return new ReachCell(
            new Bounds((int)inside.AtLeast, (int)inside.AtMost),
            new Bounds((int)outside.AtLeast, (int)outside.AtMost),
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

    private static string Holders(SiteOwners owners)
    {
        var holders = owners.Holders;
        return holders.Count == 0
            ? owners.Complete
                ? "none"
                : "not known"
            : holders.Count == 1
                ? holders[0].Person.Name
                : $"{holders[0].Person.Name} +{holders.Count - 1}";
    }

    private static string? OwnerNote(SiteOwners owners, LedgerState state) =>
        owners.Holders.FirstOrDefault(holder => !holder.IsActive) is { } inactive && owners.ActiveAtLeast == 0
            ? Explanation.Reason(inactive, state.PeopleDirectory)
        : owners is { Holders.Count: 0, Complete: true } ? "no owner"
        : null;
}
