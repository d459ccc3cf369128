using AtticLedger.Core.Filters;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>The attributes of a site for filters and rules. <c>docs/filters.md</c> is generated from this list.</summary>
public static class SiteAttributes
{
    /// <summary>The name of the attribute for whether a site is in use; filters without it are about sites in use.</summary>
    public const string Existence = "existence";

    public static readonly IReadOnlyList<string> InsideLabels = ["nobody", "named", "unit", "staff"];
    public static readonly IReadOnlyList<string> OutsideLabels = ["no-one", "named-guests", "partners", "anonymous"];
    public static readonly IReadOnlyList<string> StatusLabels = FactAttributes.Words(typeof(Status));
    public static readonly IReadOnlyList<string> ExistenceLabels =
    [
        .. Enum.GetValues<Sites.Existence>().Select(existence => existence.Word()),
    ];
    public static readonly IReadOnlyList<string> JoiningLabels = ["invited", "asked", "open"];
    public static readonly IReadOnlyList<string> StandingLabels = ["current", "absent", "leaving", "left"];

    private static readonly AttributeList<UnitCode> UnitParts = new([
        new TextAttribute<UnitCode>("value", "the unit's code", unit => Known.Of(unit.Value)),
    ]);

    private static readonly AttributeList<SiteOwner> OwnerParts = new([
        new TextAttribute<SiteOwner>("value", "the mail address", holder => Known.Text(holder.Person.Mail)),
        new TextAttribute<SiteOwner>("name", "the name", holder => Known.Text(holder.Person.Name)),
        new TextAttribute<SiteOwner>(
            "domain",
            "the domain of the mail address, which shows accounts of other organisations",
            holder => Known.Text(holder.Person.Mail[(holder.Person.Mail.LastIndexOf('@') + 1)..])
        ),
        new WordAttribute<SiteOwner>(
            "standing",
            "whether the person is current, absent, leaving or has left",
            StandingLabels,
            holder => Known.Of(Span.Exactly((int)holder.Standing))
        ),
        new TruthAttribute<SiteOwner>("outside", "whether the person is a guest", holder => Truths.Of(holder.Person.IsOutside)),
        new TruthAttribute<SiteOwner>("active", "whether the person is an active owner", holder => Truths.Of(holder.IsActive)),
        new TextAttribute<SiteOwner>("unit", "the code of the person's unit", holder =>
            holder.Person.Unit.Select(unit => unit.Value)
        ),
    ]);

    private static readonly AttributeList<string> TagParts = new([
        new TextAttribute<string>("value", "the tag's code, or the word", Known.Text),
    ]);

    private static readonly AttributeList<string> WordParts = new([new TextAttribute<string>("value", "the word", Known.Text)]);

    private static readonly AttributeList<string> FactParts = new([new TextAttribute<string>("value", "the fact", Known.Text)]);

    private static readonly AttributeList<string> SectionParts = new([
        new TextAttribute<string>("value", "its name", Known.Text),
    ]);

    private static readonly AttributeList<string> SignalParts = new([new TextAttribute<string>("value", "its kind", Known.Text)]);

    public static readonly AttributeList<ComputedSite> List = new([
        new TextAttribute<ComputedSite>("title", "the name, or the address of a site without a name", line =>
            Known.Text(line.Site.Title)
        ),
        new TextAttribute<ComputedSite>("host", "the host's name", line => Known.Of(line.Site.Host)),
        .. DeclaredFacts.All.Where(fact => fact.Filter is not null).Select(fact => fact.Accept(new FactAttributes())),
        new ListAttribute<ComputedSite, UnitCode>(
            "units",
            "the site's unit and all above it",
            UnitParts,
            line => new Listed<UnitCode>(line.UnitChain, !line.Site.Unit.IsUnknown)
        ),
        new ListAttribute<ComputedSite, string>("tags", "the approved tags that it has", TagParts, line =>
            new(line.Tags, !line.Site.Tags.IsUnknown)
        ),
        new ListAttribute<ComputedSite, string>(
            "unmapped",
            "words that sources tag it with and that mean no approved tag",
            TagParts,
            line => new(line.UnmappedTags, !line.Site.Tags.IsUnknown)
        ),
        new ListAttribute<ComputedSite, string>(
            "name.words",
            "the words of its name, without case and accents: for words that a name must not have",
            WordParts,
            line =>
                line.Site.Name is var name && name.Has(out var text) ? new(LookAlikes.Words(text), true) : new([], name.IsNone)
        ),
        new NumberAttribute<ComputedSite>(
            "name.near",
            "the number of other sites in use whose name is the same or nearly so, without those that are both right",
            line => line.Site.NearNames.Select(others => Span.Exactly(others))
        ),
        new ListAttribute<ComputedSite, string>(
            "name.drift",
            "the names that differ from the stored one: shown, home, address",
            FactParts,
            line => line.Drift
        ),
        new ListAttribute<ComputedSite, string>(
            "disputed",
            "facts on which sources disagree: unit, classification, purpose, tags, name, address",
            FactParts,
            line => new([.. line.Site.Disputed().Select(fact => fact.ToString().ToLowerInvariant())], true)
        ),
        new WordAttribute<ComputedSite>(Existence, "whether it is in use, in the attic or erased", ExistenceLabels, line =>
            Known.Of(Span.Exactly((int)line.Site.Existence))
        ),
        new TextAttribute<ComputedSite>("plan", "its paid plan", line => line.Site.Plan.Select(plan => plan.Name)),
        new MomentAttribute<ComputedSite>("plan.ends", "when the paid period ends; a plan that renews continues then", line =>
            line.PlanEnds
        ),
        new TruthAttribute<ComputedSite>(
            "plan.renews",
            "whether the plan renews automatically",
            line =>
                line.Site.Plan.Has(out var plan) ? Truths.Of(plan.Renews)
                : line.Site.Plan.IsUnknown ? Truth.Unknown
                : Truth.No,
            line => line.Site.Plan.IsNone
        ),
        new NumberAttribute<ComputedSite>("plan.sites", "the number of sites on its plan", line =>
            line.Site.Plan.Select(plan => Span.Exactly(plan.Sites))
        ),
        new TruthAttribute<ComputedSite>(
            "owes",
            "whether customers can still claim something from it, such as goods not delivered",
            line => line.Site.Obligations.IsUnknown ? Truth.Unknown : Truths.Of(line.Site.Obligations.Or([]).Count > 0)
        ),
        new ListAttribute<ComputedSite, string>(
            "signals",
            "content to review on an open site: tracker, form",
            SignalParts,
            line =>
                line.Site.Signals.Has(out var signals)
                    ? new([.. signals.Select(signal => signal.Kind).Distinct()], true)
                    : new([], line.Site.Signals.IsNone)
        ),
        new WordAttribute<ComputedSite>("joining", "how people can join it", JoiningLabels, line =>
            line.Site.Joining.Select(joining => Span.Exactly((int)joining.Way))
        ),
        new NumberAttribute<ComputedSite>(
            "joining.waiting",
            "the number of people who asked to join and wait for an answer",
            line => line.Site.Joining.Select(joining => Span.Exactly(joining.Waiting))
        ),
        new NumberAttribute<ComputedSite>("shared", "the number of its parts that other sites show too", line =>
            line.Site.Shared.Select(shared => Span.Exactly(shared.Count))
        ),
        new ListAttribute<ComputedSite, string>("sections", "parts with permissions of their own", SectionParts, line =>
            line.Site.Sections.Has(out var sections)
                ? new([.. sections.Select(section => section.Name)], true)
                : new([], line.Site.Sections.IsNone)
        ),
        new ListAttribute<ComputedSite, string>(
            "ajar",
            "sections with their own access that let in people whom the site does not",
            SectionParts,
            line =>
                new(
                    [.. line.Sections.Where(section => section.IsAjar == Truth.Yes).Select(section => section.Section.Name)],
                    !line.Site.Sections.IsUnknown && line.Sections.All(section => section.IsAjar != Truth.Unknown)
                )
        ),
        new MomentAttribute<ComputedSite>("bin.since", "since when it is in the host's bin", line =>
            line.Site.Bin is { } bin ? Known.Of(bin.Since) : Known<DateTimeOffset>.None
        ),
        new MomentAttribute<ComputedSite>("bin.until", "until when the host can restore it", line =>
            line.Site.Bin is { } bin ? bin.RecoverableUntil : Known<DateTimeOffset>.None
        ),
        Inside("view.inside", "effective access inside to the published site", Power.View),
        Outside("view.outside", "effective access from outside to the published site", Power.View),
        Inside("preview.inside", "effective access inside to the draft", Power.Preview),
        Outside("preview.outside", "effective access from outside to the draft", Power.Preview),
        Inside("edit.inside", "effective edit access inside", Power.Edit),
        Outside("edit.outside", "effective edit access from outside", Power.Edit),
        AllowedInside("view.inside.allowed", "access inside to the published site that policy allows", Power.View),
        AllowedOutside("view.outside.allowed", "access from outside to the published site that policy allows", Power.View),
        AllowedInside("preview.inside.allowed", "access inside to the draft that policy allows", Power.Preview),
        AllowedOutside("preview.outside.allowed", "access from outside to the draft that policy allows", Power.Preview),
        new NumberAttribute<ComputedSite>(
            "editors.count",
            "the number of people with effective edit access, without anonymous visitors and partners",
            line => Known.Of(line.EditorCount)
        ),
        new TruthAttribute<ComputedSite>("view.exceeds", "whether access to the published site exceeds policy", line =>
            line.ExcessOf(Power.View)
        ),
        new TruthAttribute<ComputedSite>("preview.exceeds", "whether access to the draft exceeds policy", line =>
            line.ExcessOf(Power.Preview)
        ),
        new TruthAttribute<ComputedSite>("edit.exceeds", "whether edit access exceeds policy", line => line.ExcessOf(Power.Edit)),
        new TruthAttribute<ComputedSite>("exceeds", "whether any access exceeds policy", line => line.Excess),
        new ListAttribute<ComputedSite, SiteOwner>(
            "owners",
            "the owners, including members of an owning group",
            OwnerParts,
            line => new Listed<SiteOwner>(line.Owners.Holders, line.Owners.Complete)
        ),
        new NumberAttribute<ComputedSite>("owners.active.count", "the number of active owners", line =>
            Known.Of(new Span(line.Owners.ActiveAtLeast, line.Owners.ActiveAtMost ?? int.MaxValue))
        ),
        new TruthAttribute<ComputedSite>("underway", "whether a change at the host is under way", line =>
            Truths.Of(line.Site.UnderWay.Count > 0)
        ),
        new NumberAttribute<ComputedSite>("underway.count", "the number of changes at the host under way", line =>
            Known.Of(Span.Exactly(line.Site.UnderWay.Count))
        ),
        new TruthAttribute<ComputedSite>("no-longer-reported", "whether the last complete sync did not report it", line =>
            Truths.Of(line.Site.NoLongerReported)
        ),
    ]);

    private static WordAttribute<ComputedSite> Inside(string name, string says, Power power) =>
        new(name, says, InsideLabels, line => line.Inside(power));

    private static WordAttribute<ComputedSite> AllowedInside(string name, string says, Power power) =>
        new(name, says, InsideLabels, line => Known.Of(line.AccessPath(power).PermittedInside));

    private static WordAttribute<ComputedSite> AllowedOutside(string name, string says, Power power) =>
        new(name, says, OutsideLabels, line => Known.Of(line.AccessPath(power).PermittedOutside));

    private static WordAttribute<ComputedSite> Outside(string name, string says, Power power) =>
        new(name, says, OutsideLabels, line => line.Outside(power));
}
