using AtticLedger.Core.Classification;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The remedies of a rule that its users wrote: they follow from the attributes that its demand reads.</summary>
internal static class WrittenRuleRemedies
{
    private static readonly IReadOnlyList<(string Attribute, ClaimedFact Fact)> Facts =
    [
        ("unit", ClaimedFact.Unit),
        ("units", ClaimedFact.Unit),
        ("classification", ClaimedFact.Classification),
        ("purpose", ClaimedFact.Purpose),
        ("tags", ClaimedFact.Tags),
        ("unmapped", ClaimedFact.Tags),
    ];

    private static readonly IReadOnlyList<string> OfName = ["name", "name.words", "name.drift"];
    private const string NearNames = "name.near";

    // A site that nobody uses moves to the attic; one that waits to be published, or whose plan ends, does not.
    private static readonly IReadOnlyList<string> OfUse = ["created", "visited", "visits"];

    /// <summary>What can help by the attributes that the demand reads: facts to set here, moving to the attic, another name, and telling
    /// near names apart; null if the demand cannot be read.</summary>
    public static (IReadOnlyList<ClaimedFact> Facts, bool MoveToAttic, bool Rename, bool TellApart)? Possible(
        Rule rule,
        Today today
    )
    {
        try
        {
            var demand = Filter.Parse(rule.Demand.Expression, SiteAttributes.List, today);
            return (
                [.. Facts.Where(pair => demand.Uses(pair.Attribute)).Select(pair => pair.Fact).Distinct()],
                IsAboutUse(demand, rule.Scope, today),
                OfName.Any(demand.Uses),
                demand.Uses(NearNames)
            );
        }
        catch (FilterError)
        {
            return null;
        }
    }

    public static RemedyOutcome Try(ActionFacts facts, Rule rule)
    {
        if (Possible(rule, facts.Rules.Today) is not var (settable, attic, name, near))
        {
            return new RemedyOutcome([], false, [new NoRemedyKnown()]);
        }

        List<Remedy> remedies =
        [
            .. settable.Any(fact => CanBeSet(fact, facts, rule)) ? [Remedy.SetFact] : Array.Empty<Remedy>(),
            .. attic && !HostChanges.NotInUse(facts).Any() ? [Remedy.MoveToAttic] : Array.Empty<Remedy>(),
        ];
        var renames =
            name
            && !HostChanges.NotInUse(facts).Any()
            && facts.Organisation.CapabilitiesOf(facts.Site.Host).CanChange(LookField.Name);
        var presents = PresentsFor(facts, rule);
        var isKnown = remedies.Count > 0 || presents || renames && NameFor(facts, rule) is not null;
        return new RemedyOutcome(
            [
                .. remedies,
                .. renames ? [Remedy.Rename] : Array.Empty<Remedy>(),
                .. presents ? [Remedy.Present] : Array.Empty<Remedy>(),
                .. near ? [Remedy.TellApart] : Array.Empty<Remedy>(),
            ],
            isKnown,
            isKnown ? []
                : near ? [new NearNamesDecide()]
                : renames ? [new NameMeetsDemand()]
                : IsAboutOwners(rule, facts.Rules.Today)
                && HandOver.NotFromHere(facts.Site, facts.Organisation, facts.PeopleDirectory) is null
                    ? [new OwnersMeetDemand()]
                : [new ChangedAtHost(facts.Site.Host)]
        );
    }

    /// <summary>A name with which a site meets the demand of a rule: without filler words, with the code of its unit, or as its pages
    /// show it. Null if none of these does.</summary>
    public static string? NameFor(ActionFacts facts, Rule rule)
    {
        var (site, alone) = (facts.Site, new RuleBook([rule], facts.Rules.Today));
        if (!site.Name.Has(out var now))
        {
            return null;
        }

        var unit = site.Unit.Has(out var code) ? code.Value : null;
        return new[]
        {
            new Renaming.Tidied().Of(now, unit),
            new Renaming.Beginning(Renaming.Unit).Of(now, unit),
            site.ShownName.Or(""),
            site.HomeTitle.Or(""),
        }.FirstOrDefault(name =>
            !string.IsNullOrWhiteSpace(name)
            && name != now
            && alone.Judge(new ComputedSite(new WantedLook(name).On(site), facts.Organisation, facts.PeopleDirectory)).Count == 0
        );
    }

    // True if a description, or a logo that is kept with the site, meets the demand, and can be set from here.
    private static bool PresentsFor(ActionFacts facts, Rule rule)
    {
        var (site, capabilities) = (facts.Site, facts.Organisation.CapabilitiesOf(facts.Site.Host));
        var alone = new RuleBook([rule], facts.Rules.Today);
        var keepsLogos = capabilities.ManualProcedure is not null || capabilities.Logos.Contains(LogoSource.KeptWithSite);
        bool Meets(WantedLook look) =>
            alone.Judge(new ComputedSite(look.On(site), facts.Organisation, facts.PeopleDirectory)).Count == 0;
        return !HostChanges.NotInUse(facts).Any()
            && (
                (capabilities.CanChange(LookField.Description) && Meets(new WantedLook(Description: "…")))
                || (
                    capabilities.CanChange(LookField.Logo)
                    && keepsLogos
                    && Meets(new WantedLook(Logo: new WantedLogo(LogoSource.KeptWithSite, null)))
                )
            );
    }

    private static bool IsAboutOwners(Rule rule, Today today) =>
        Filter.Parse(rule.Demand.Expression, SiteAttributes.List, today).Uses("owners");

    private static bool IsAboutUse(Filter<ComputedSite> demand, string scope, Today today) =>
        OfUse.Any(demand.Uses)
        || (demand.Uses("edited") && (scope.Length == 0 || !Filter.Parse(scope, SiteAttributes.List, today).Uses("status")));

    // True if a value clears the finding.
    private static bool CanBeSet(ClaimedFact fact, ActionFacts facts, Rule rule)
    {
        var alone = new RuleBook([rule], facts.Rules.Today);
        return SetFact
            .Choices(fact, facts.Organisation, facts.PeopleDirectory)
            .Select(choice => facts.Site.WithClaim(fact, Claims.Organisation, Known.Of(choice.Code), facts.Now, null))
            .Any(site => alone.Judge(new ComputedSite(site, facts.Organisation, facts.PeopleDirectory)).Count == 0);
    }
}
