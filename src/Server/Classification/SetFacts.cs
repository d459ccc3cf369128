using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Classification;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Classification;

/// <summary>The fact, the sites, the values and the evidence of a request.</summary>
internal sealed record ChosenSites(ClaimedFact Fact, IReadOnlyList<ChosenSite> Sites)
{
    public string Fingerprint =>
        Head.HashOf(
            $"{Fact} {string.Join(' ', Sites.OrderBy(site => site.Site.Value).Select(site => string.Create(CultureInfo.InvariantCulture, $"{site.Site.Value}={site.Value}")))}"
        );

    /// <summary>Why one of the values cannot be set; null if all can.</summary>
    public Remark? Refused(Organisation organisation, PeopleDirectory directory) =>
        Sites
            .Where(site => !site.Said.IsUnknown)
            .Select(site => site.Value)
            .Distinct()
            .Select(value => SetFact.NotChosen(Fact, value, organisation, directory))
            .FirstOrDefault(words => words is not null);
}

/// <param name="Said">What is set; unknown undoes the setting.</param>
internal sealed record ChosenSite(SiteId Site, Known<string> Said, IReadOnlyList<Evidence> Evidence)
{
    public ChosenSite(SiteId site, string? value, IReadOnlyList<Evidence> evidence)
        : this(site, value is null ? Known<string>.None : Known.Of(value), evidence) { }

    public string? Value => Said.Has(out var value) ? value : null;

    public string? Why => Evidence.Count == 0 ? null : string.Join("; ", Evidence.Select(one => one.Words));

    public static ChosenSite Undone(SiteId site) => new(site, Known<string>.Unknown, []);
}

/// <summary>Sets a fact of some sites, or undoes that: all of them in one transaction.</summary>
/// <param name="ifLacking">True to set it only where it is still not set.</param>
internal sealed class SetFacts(ActionName name, ChosenSites chosen, bool ifLacking, Viewer viewer)
    : RequestedAction<ChosenSites, FactsSet>
{
    private const int Chunk = 500;

    public override ActionName Name => name;

    public override async Task<Decided<ChosenSites>> Decide(FactReader facts) =>
        chosen.Refused(await facts.Connection.Organisation(), await facts.PeopleDirectory()) is { } why
            ? Decided<ChosenSites>.Refuse(why)
            : new Decided<ChosenSites>.Planned(chosen, chosen.Fingerprint);

    public override async Task<Written<FactsSet>> Write(Change change, ChosenSites plan)
    {
        var scope = viewer.ScopeOn(await FactReader.Of(change).PeopleDirectory());
        List<Draft> entries = [];
        foreach (var chunk in plan.Sites.Chunk(Chunk))
        {
            var requested = chunk.ToDictionary(site => site.Site);
            var decided = (await change.Connection.Sites(scope, [.. requested.Keys]))
                .Where(site => !ifLacking || site.Of(plan.Fact).IsUnknown)
                .Select(site =>
                    SetFact.Decide(site, plan.Fact, requested[site.Id].Said, viewer.Person, requested[site.Id].Why, change.Now)
                )
                .OfType<(SiteFacts Site, Draft Entry)>()
                .ToList();
            if (decided.Count > 0)
            {
                await change.UpdateFact(plan.Fact, [.. decided.Select(one => one.Site)]);
                entries.AddRange(decided.Select(one => one.Entry));
            }
        }

        var place = await change.AppendOrHead(entries);
        return new Written<FactsSet>(place, new FactsSet(place, entries.Count, change.Now));
    }
}
