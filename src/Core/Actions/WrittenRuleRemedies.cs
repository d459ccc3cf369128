using AtticLedger.Core.Classification;
using AtticLedger.Core.Filters;
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

    // A site that nobody uses moves to the attic; one that waits to be published, or whose plan ends, does not.
    private static readonly IReadOnlyList<string> OfUse = ["created", "visited", "visits"];

    /// <summary>What can help by the attributes that the demand reads: facts to set here, and moving to the attic; null if the demand
    /// cannot be read.</summary>
    public static (IReadOnlyList<ClaimedFact> Facts, bool MoveToAttic)? Possible(Rule rule, Today today)
    {
        try
        {
            var demand = Filter.Parse(rule.Demand.Expression, SiteAttributes.List, today);
            return (
                [.. Facts.Where(pair => demand.Uses(pair.Attribute)).Select(pair => pair.Fact).Distinct()],
                IsAboutUse(demand, rule.Scope, today)
            );
        }
        catch (FilterError)
        {
            return null;
        }
    }

    public static RemedyOutcome Try(ActionFacts facts, Rule rule)
    {
        if (Possible(rule, facts.Rules.Today) is not var (settable, attic))
        {
            return new RemedyOutcome([], false, [new NoRemedyKnown()]);
        }

        List<Remedy> remedies =
        [
            .. settable.Any(fact => CanBeSet(fact, facts, rule)) ? [Remedy.SetFact] : Array.Empty<Remedy>(),
            .. attic && !HostChanges.NotInUse(facts).Any() ? [Remedy.MoveToAttic] : Array.Empty<Remedy>(),
        ];
        return new RemedyOutcome(
            remedies,
            remedies.Count > 0,
            remedies.Count > 0 ? []
                : IsAboutOwners(rule, facts.Rules.Today)
                && HandOver.NotFromHere(facts.Site, facts.Organisation, facts.PeopleDirectory) is null
                    ? [new OwnersMeetDemand()]
                : [new ChangedAtHost(facts.Site.Host)]
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
