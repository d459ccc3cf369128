using AtticLedger.Core.Filters;
using AtticLedger.Core.Keys;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sheet;

/// <summary>The attributes of a site that filters and rules speak of. <c>docs/filters.md</c> is written from this list.</summary>
public static class SiteAttributes
{
    public static readonly IReadOnlyList<string> InsideWords = ["nobody", "named", "unit", "staff"];
    public static readonly IReadOnlyList<string> OutsideWords = ["no-one", "named-guests", "partners", "passers-by"];
    public static readonly IReadOnlyList<string> StageWords = ["never-live", "live", "changed", "offline"];
    public static readonly IReadOnlyList<string> ExistenceWords = ["here", "attic", "cleared"];
    public static readonly IReadOnlyList<string> JoiningWords = ["invited", "asked", "open"];
    public static readonly IReadOnlyList<string> StandingWords = ["current", "absent", "leaving", "left"];

    private static readonly AttributeList<UnitCode> UnitParts = new([
        new TextAttribute<UnitCode>("value", "the unit's code", unit => Known.Of(unit.Value)),
    ]);

    private static readonly AttributeList<KeyHolder> OwnerParts = new([
        new TextAttribute<KeyHolder>("value", "the mail address", holder => Known.Text(holder.Person.Mail)),
        new TextAttribute<KeyHolder>("name", "the name", holder => Known.Text(holder.Person.Name)),
        new TextAttribute<KeyHolder>(
            "domain",
            "the mail address after its @: an account that is not the house's shows by it",
            holder => Known.Text(holder.Person.Mail[(holder.Person.Mail.LastIndexOf('@') + 1)..])
        ),
        new WordAttribute<KeyHolder>("standing", "how firmly the person belongs to the house", StandingWords, holder =>
            Known.Of(Span.Exactly((int)holder.Standing))
        ),
        new TruthAttribute<KeyHolder>("outside", "whether the person is a guest", holder => Truths.Of(holder.Person.IsOutside)),
        new TruthAttribute<KeyHolder>("fit", "whether the person is a fit key holder", holder => Truths.Of(holder.IsFit)),
        new TextAttribute<KeyHolder>("unit", "the code of the person's unit", holder =>
            holder.Person.Unit.Select(unit => unit.Value)
        ),
    ]);

    private static readonly AttributeList<string> DomainParts = new([
        new TextAttribute<string>("value", "the domain's name", Known.Text),
    ]);

    private static readonly AttributeList<string> TagParts = new([
        new TextAttribute<string>("value", "the tag's code, or the word", Known.Text),
    ]);

    private static readonly AttributeList<string> FactParts = new([new TextAttribute<string>("value", "the fact", Known.Text)]);

    private static readonly AttributeList<string> SectionParts = new([
        new TextAttribute<string>("value", "its name", Known.Text),
    ]);

    private static readonly AttributeList<string> SignalParts = new([new TextAttribute<string>("value", "its kind", Known.Text)]);

    public static readonly AttributeList<SiteLine> List = new([
        new TextAttribute<SiteLine>("title", "the name, or where it has none the address", line => Known.Text(line.Site.Title)),
        new TextAttribute<SiteLine>("name", "the stored name", line => line.Site.Name),
        new TextAttribute<SiteLine>("address", "the whole address", line => line.Site.Address, IsExact: true),
        new TextAttribute<SiteLine>("host", "the host's name", line => Known.Of(line.Site.Host)),
        new TextAttribute<SiteLine>("unit", "the code of the site's own unit", line => line.Site.Unit.Select(unit => unit.Value)),
        new ListAttribute<SiteLine, UnitCode>(
            "units",
            "the site's unit and all above it",
            UnitParts,
            line => new Listed<UnitCode>(line.UnitChain, !line.Site.Unit.IsUnknown)
        ),
        new TextAttribute<SiteLine>("class", "how sensitive the content is", line => line.Site.Class),
        new TextAttribute<SiteLine>("kind", "the kind of site", line => line.Site.Kind),
        new TextAttribute<SiteLine>("purpose", "what it is for", line => line.Site.Purpose),
        new ListAttribute<SiteLine, string>("tags", "the approved tags that it has", TagParts, line =>
            new(line.Tags, !line.Site.Tags.IsUnknown)
        ),
        new ListAttribute<SiteLine, string>(
            "words",
            "what it is tagged with beside: words that mean no approved tag",
            TagParts,
            line => new(line.LooseWords, !line.Site.Tags.IsUnknown)
        ),
        new TextAttribute<SiteLine>("name.shown", "the name that its pages carry", line => line.Site.Content.ShownName),
        new TextAttribute<SiteLine>("name.home", "what its home page is called", line => line.Site.Content.HomeTitle),
        new ListAttribute<SiteLine, string>(
            "name.drift",
            "which names say something else than the stored one: shown, home, address",
            FactParts,
            line => line.Drift
        ),
        new TextAttribute<SiteLine>("description", "what its makers write that it is", line => line.Site.Content.Description),
        new TextAttribute<SiteLine>("language", "the language that it is written in, as a tag of BCP 47", line =>
            line.Site.Content.Language
        ),
        new ListAttribute<SiteLine, string>(
            "disputed",
            "facts of which sources say different things: unit, class, purpose, tags, name, address",
            FactParts,
            line => new([.. line.Site.Disputed().Select(fact => fact.ToString().ToLowerInvariant())], true)
        ),
        new WordAttribute<SiteLine>("stage", "what visitors can see", StageWords, line =>
            line.Site.Stage.Select(stage => Span.Exactly((int)stage))
        ),
        new WordAttribute<SiteLine>("existence", "whether it is in use, in the attic or cleared for good", ExistenceWords, line =>
            Known.Of(Span.Exactly((int)line.Site.Existence))
        ),
        new MomentAttribute<SiteLine>("created", "when the site was made", line => line.Site.Created),
        new MomentAttribute<SiteLine>("edited", "when the working copy last changed", line => line.Site.LastEdit),
        new MomentAttribute<SiteLine>("visited", "when the live copy was last visited", line => line.Site.LastVisit),
        new NumberAttribute<SiteLine>("pages", "how many pages it has", line =>
            line.Site.Content.Pages.Select(pages => Span.Exactly(pages))
        ),
        new NumberAttribute<SiteLine>("storage", "how much room it takes, in kilobytes (1,000 bytes) begun", line =>
            line.Site.Content.Bytes.Select(bytes => Span.Exactly((bytes / 1000) + (bytes % 1000 == 0 ? 0 : 1)))
        ),
        new ListAttribute<SiteLine, string>("domains", "web domains that lead to it", DomainParts, line =>
            line.Site.Content.Domains.Has(out var domains) ? new(domains, true) : new([], line.Site.Content.Domains.IsNone)
        ),
        new TextAttribute<SiteLine>("plan", "the paid plan that keeps it going", line =>
            line.Site.Content.Plan.Select(plan => plan.Name)
        ),
        new MomentAttribute<SiteLine>("plan.ends", "when what is paid for ends; a plan that renews goes on then", line =>
            line.PlanEnds
        ),
        new TruthAttribute<SiteLine>(
            "plan.renews",
            "whether the plan renews by itself",
            line =>
                line.Site.Content.Plan.Has(out var plan) ? Truths.Of(plan.Renews)
                : line.Site.Content.Plan.IsUnknown ? Truth.Unknown
                : Truth.No,
            line => line.Site.Content.Plan.IsNone
        ),
        new NumberAttribute<SiteLine>("plan.sites", "how many sites are on its plan", line =>
            line.Site.Content.Plan.Select(plan => Span.Exactly(plan.Sites))
        ),
        new TextAttribute<SiteLine>("mail", "the mail address that goes with it", line => line.Site.Content.MailAlias),
        new TruthAttribute<SiteLine>(
            "owes",
            "whether somebody outside can still claim something from it: an order, a voucher",
            line =>
                line.Site.Content.Obligations.IsUnknown
                    ? Truth.Unknown
                    : Truths.Of(line.Site.Content.Obligations.Or([]).Count > 0)
        ),
        new ListAttribute<SiteLine, string>(
            "signals",
            "kinds of things in it that are worth a look where it is open: tracker, form",
            SignalParts,
            line =>
                line.Site.Content.Signals.Has(out var signals)
                    ? new([.. signals.Select(signal => signal.Kind).Distinct()], true)
                    : new([], line.Site.Content.Signals.IsNone)
        ),
        new WordAttribute<SiteLine>("joining", "how somebody gets in who is not let in", JoiningWords, line =>
            line.Site.Content.Joining.Select(joining => Span.Exactly((int)joining.Way))
        ),
        new NumberAttribute<SiteLine>("joining.waiting", "how many have asked to get in and wait for an answer", line =>
            line.Site.Content.Joining.Select(joining => Span.Exactly(joining.Waiting))
        ),
        new NumberAttribute<SiteLine>("shared", "how many pieces of it stand in other sites too", line =>
            line.Site.Content.Shared.Select(shared => Span.Exactly(shared.Count))
        ),
        new ListAttribute<SiteLine, string>("sections", "parts with permissions of their own", SectionParts, line =>
            line.Site.Content.Sections.Has(out var sections)
                ? new([.. sections.Select(section => section.Name)], true)
                : new([], line.Site.Content.Sections.IsNone)
        ),
        new ListAttribute<SiteLine, string>(
            "ajar",
            "free-standing parts that let in somebody whom the site does not",
            SectionParts,
            line =>
                new(
                    [.. line.Sections.Where(section => section.IsAjar == Truth.Yes).Select(section => section.Section.Name)],
                    !line.Site.Content.Sections.IsUnknown && line.Sections.All(section => section.IsAjar != Truth.Unknown)
                )
        ),
        new TextAttribute<SiteLine>(
            "parent",
            "the host's key of the site above it",
            line => line.Site.Content.Parent,
            IsExact: true
        ),
        new MomentAttribute<SiteLine>("bin.since", "since when it lies in the host's bin", line =>
            line.Site.Bin is { } bin ? Known.Of(bin.Since) : Known<DateTimeOffset>.None
        ),
        new MomentAttribute<SiteLine>("bin.until", "until when the host can bring it back", line =>
            line.Site.Bin is { } bin ? bin.RecoverableUntil : Known<DateTimeOffset>.None
        ),
        new NumberAttribute<SiteLine>("visits", "visits in the last seven days", line =>
            line.Site.Visits.Select(visits => Span.Exactly(visits))
        ),
        Inside("view.inside", "how far inside the live copy can be read", Power.View),
        Outside("view.outside", "how far outside the live copy can be read", Power.View),
        Inside("preview.inside", "how far inside the working copy can be read", Power.Preview),
        Outside("preview.outside", "how far outside the working copy can be read", Power.Preview),
        Inside("edit.inside", "how far inside the site can be edited", Power.Edit),
        Outside("edit.outside", "how far outside the site can be edited", Power.Edit),
        AllowedInside("view.inside.allowed", "how far inside the house allows the live copy to be read", Power.View),
        AllowedOutside("view.outside.allowed", "how far outside the house allows the live copy to be read", Power.View),
        AllowedInside("preview.inside.allowed", "how far inside the house allows the working copy to be read", Power.Preview),
        AllowedOutside("preview.outside.allowed", "how far outside the house allows the working copy to be read", Power.Preview),
        new NumberAttribute<SiteLine>(
            "editors.count",
            "how many people can edit in fact, inside and out; the doors of passers-by and partners not counted",
            line => Known.Of(line.EditorCount)
        ),
        new TruthAttribute<SiteLine>("view.beyond", "whether more can read the live copy than the house allows", line =>
            line.BeyondOf(Power.View)
        ),
        new TruthAttribute<SiteLine>("preview.beyond", "whether more can read the working copy than the house allows", line =>
            line.BeyondOf(Power.Preview)
        ),
        new TruthAttribute<SiteLine>("edit.beyond", "whether more can edit than the house allows", line =>
            line.BeyondOf(Power.Edit)
        ),
        new TruthAttribute<SiteLine>("beyond", "whether any power reaches further than the house allows", line => line.Beyond),
        new ListAttribute<SiteLine, KeyHolder>(
            "owners",
            "the key holders, also those in an owning group",
            OwnerParts,
            line => new Listed<KeyHolder>(line.Keys.Holders, line.Keys.Complete)
        ),
        new NumberAttribute<SiteLine>("owners.fit.count", "how many fit key holders there are", line =>
            Known.Of(new Span(line.Keys.FitAtLeast, line.Keys.FitAtMost ?? int.MaxValue))
        ),
        new TruthAttribute<SiteLine>("underway", "whether an order to the host is under way", line =>
            Truths.Of(line.Site.UnderWay.Count > 0)
        ),
        new NumberAttribute<SiteLine>("underway.count", "how many orders to the host are under way", line =>
            Known.Of(Span.Exactly(line.Site.UnderWay.Count))
        ),
        new TruthAttribute<SiteLine>("vanished", "whether the last complete read no longer listed it", line =>
            Truths.Of(line.Site.Vanished)
        ),
    ]);

    private static WordAttribute<SiteLine> Inside(string name, string says, Power power) =>
        new(name, says, InsideWords, line => line.Inside(power));

    private static WordAttribute<SiteLine> AllowedInside(string name, string says, Power power) =>
        new(name, says, InsideWords, line => Known.Of(line.Passage(power).PermittedInside));

    private static WordAttribute<SiteLine> AllowedOutside(string name, string says, Power power) =>
        new(name, says, OutsideWords, line => Known.Of(line.Passage(power).PermittedOutside));

    private static WordAttribute<SiteLine> Outside(string name, string says, Power power) =>
        new(name, says, OutsideWords, line => line.Outside(power));
}
