using AtticLedger.Core.Doors;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Keys;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sheet;

/// <summary>One site with all that is computed of it: what the columns of the sheet are read from.</summary>
public sealed class SiteLine
{
    private static readonly string[] DriftWords = ["shown", "home", "address"];
    private readonly IReadOnlyList<Passage> byPower;
    private readonly Known<Span>[] inside;
    private readonly Known<Span>[] outside;

    public SiteLine(SiteFacts site, House house, Roll roll)
    {
        Site = site = house.Words.Read(site);
        PlanEnds = site.Content.Plan.Select(plan => roll.Time.EndOf(plan.Through));
        var passages = Passages.Of(site, house, roll);
        byPower = passages.OfAll(site.Sharing.Select(sharing => sharing.Grants), site.Content.Joining);

        // Filters ask for these of every line, so they are computed once.
        inside = new Known<Span>[byPower.Count];
        outside = new Known<Span>[byPower.Count];
        for (var i = 0; i < inside.Length; i++)
        {
            // A stronger power often reaches just as far, by the same grants.
            var isAsBefore =
                i > 0
                && ReferenceEquals(byPower[i].Actual.AtLeast, byPower[i - 1].Actual.AtLeast)
                && ReferenceEquals(byPower[i].Actual.AtMost, byPower[i - 1].Actual.AtMost);
            inside[i] =
                isAsBefore && inside[i - 1].Has(out _) ? inside[i - 1] : OfPower(byPower[i], static passage => passage.Inside);
            outside[i] =
                isAsBefore && outside[i - 1].Has(out _) ? outside[i - 1] : OfPower(byPower[i], static passage => passage.Outside);
        }

        Beyond = Truth.No;
        foreach (var power in Powers.Limited)
        {
            Beyond = Beyond.Or(BeyondOf(power));
        }

        var editors = byPower[Place(Power.Edit)].Actual;
        EditorCount = ReferenceEquals(editors.AtLeast, editors.AtMost)
            ? Span.Exactly(editors.AtLeast.CountPeople(roll))
            : new Span(editors.AtLeast.CountPeople(roll), editors.AtMost.CountPeople(roll));
        Keys = KeyHolders.Of(site, roll, house.FitDays);
        Sections = SectionReach.Of(site, byPower[Place(Power.View)], byPower[Place(Power.Preview)]);
        (Tags, LooseWords) = house.Words.Tags(site.Tags);
        Excuses = site.Excuses.Count == 0 ? [] : [.. site.Excuses.Where(excuse => excuse.IsInForce(roll.Now, roll.Time))];
        UnitChain = site.Unit.Has(out var unit) ? roll.CodesOf(unit) : [];
    }

    /// <summary>In the house's words.</summary>
    public SiteFacts Site { get; }

    /// <summary>The first instant that its paid plan no longer covers.</summary>
    public Known<DateTimeOffset> PlanEnds { get; }

    public KeyHolders Keys { get; }

    /// <summary>The approved tags that it has, by their codes.</summary>
    public IReadOnlyList<string> Tags { get; }

    /// <summary>What it is tagged with beside: words that mean no approved tag.</summary>
    public IReadOnlyList<string> LooseWords { get; }

    /// <summary>Its parts with permissions of their own, where the host speaks of them.</summary>
    public IReadOnlyList<SectionReach> Sections { get; }

    /// <summary>The excuses in force. Whether one covers what is so is the rule's to say.</summary>
    public IReadOnlyList<Excuse> Excuses { get; }

    /// <summary>The site's unit and those above it, the root first.</summary>
    public IReadOnlyList<UnitCode> UnitChain { get; }

    /// <summary>Which names say something else than the stored one, as filters name them.</summary>
    public Listed<string> Drift
    {
        get
        {
            var (drifted, complete) = (new List<string>(), true);
            for (var met = MetName.Shown; met <= MetName.Address; met++)
            {
                var truth = NameDrift.Of(Site, met);
                complete &= truth != Truth.Unknown;
                if (truth == Truth.Yes)
                {
                    drifted.Add(DriftWords[(int)met]);
                }
            }

            return new(drifted, complete);
        }
    }

    /// <summary>How many people by name or group can edit in fact.</summary>
    public Span EditorCount { get; }

    /// <summary>How far inside a power reaches in fact. View of a site that was never live is none, not nobody.</summary>
    public Known<Span> Inside(Power power) => inside[Place(power)];

    public Known<Span> Outside(Power power) => outside[Place(power)];

    /// <summary>Whether any power reaches further in fact than the house allows.</summary>
    public Truth Beyond { get; }

    public Passage Passage(Power power) => byPower[Place(power)];

    /// <summary>Where a site was never published there is nothing to view, and so nothing that goes beyond.</summary>
    public Truth BeyondOf(Power power) =>
        power != Power.View ? Passage(power).Beyond.IsSo : Passages.WasPublished(Site.Stage).And(Passage(power).Beyond.IsSo);

    // The powers beyond edit inherit its limits.
    private static int Place(Power power) => Math.Min((int)power, (int)Power.Edit);

    private Known<Span> OfPower(Passage passage, Func<Passage, Span> reach) =>
        passage.Power != Power.View
            ? Known.Of(reach(passage))
            : Passages.WasPublished(Site.Stage) switch
            {
                Truth.Yes => Known.Of(reach(passage)),
                Truth.No => Known<Span>.None,
                _ => Known<Span>.Unknown,
            };
}
