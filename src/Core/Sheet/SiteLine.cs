using AtticLedger.Core.Doors;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sheet;

/// <summary>One site with all that is computed of it: what the columns of the sheet are read from.</summary>
public sealed class SiteLine
{
    private readonly Passages passages;
    private readonly Roll roll;
    private readonly Passage[] byPower;

    public SiteLine(SiteFacts site, House house, Roll roll)
    {
        Site = site;
        this.roll = roll;
        passages = Passages.Of(site, house, roll);
        byPower = [.. Powers.Limited.Select(power => passages.Of(site, power))];
        Keys = KeyHolders.Of(site, roll, house.FitDays);
        UnitChain = site.Unit.Has(out var unit) ? [.. roll.ChainOf(unit).Select(above => above.Code)] : [];
    }

    public SiteFacts Site { get; }

    public KeyHolders Keys { get; }

    public IReadOnlyList<UnitCode> UnitChain { get; }

    public Passage Passage(Power power) => byPower[Math.Min((int)power, byPower.Length - 1)];

    /// <summary>How far inside a power reaches in fact. View of a site that was never live is none, not nobody.</summary>
    public Known<Span> Inside(Power power) =>
        OfPower(power, passage => new Span(
            (int)passage.Actual.AtLeast.LevelInside(roll, passages.OwnUnit),
            Math.Max(
                (int)passage.Actual.AtLeast.LevelInside(roll, passages.OwnUnit),
                (int)passage.Actual.AtMost.LevelInside(roll, passages.OwnUnit))));

    public Known<Span> Outside(Power power) =>
        OfPower(power, passage => new Span((int)passage.Actual.AtLeast.Doors.Widest, (int)passage.Actual.AtMost.Doors.Widest));

    /// <summary>Whether any power reaches further in fact than the house allows.</summary>
    public Truth Beyond =>
        Powers.Limited.Select(BeyondOf).Aggregate(Truth.No, (any, one) => any.Or(one));

    public Truth BeyondOf(Power power) =>
        power == Power.View && !Passages.IsEverLive(Site.Stage) ? Truth.No : Passage(power).Beyond.IsSo;

    private Known<Span> OfPower(Power power, Func<Passage, Span> span)
    {
        if (power == Power.View)
        {
            if (!Passages.IsEverLive(Site.Stage))
            {
                return Known<Span>.None;
            }

            if (Site.Stage.IsUnknown && Site.Sharing.IsUnknown)
            {
                return Known<Span>.Unknown;
            }
        }

        return Known.Of(span(Passage(power)));
    }
}
