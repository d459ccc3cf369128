using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Starting;

/// <summary>Reads the facts for a decision on a request, in the running transaction: of addresses only the one that is asked for.
/// </summary>
internal static class StartFactsReader
{
    /// <param name="own">The request that may keep its own address.</param>
    public static async Task<StartFacts> StartFacts(this FactReader facts, NewSite wanted, Viewer? viewer, RequestId? own = null)
    {
        var organisation = await facts.Connection.Organisation();
        var directory = await facts.PeopleDirectory();
        var kind = organisation.KindsToStart.FirstOrDefault(one => one.Kind == wanted.Kind);
        var holders =
            kind is null || wanted.Address.Length == 0
                ? []
                : await facts.Connection.HoldersOf(kind.Host, kind.Address.Whole(wanted.Address), own);
        var seen = new HashSet<SiteId>();
        foreach (var holder in holders)
        {
            if (holder.Site is { } site && viewer is not null && await facts.Site(site, viewer.ScopeOn(directory)) is not null)
            {
                seen.Add(site);
            }
        }

        return new StartFacts(organisation, await facts.Connection.Rules(Today.At(facts.Now, directory.Time)), directory)
        {
            Addresses = kind is null
                ? null
                : new AddressBook(organisation.ReservedAddresses).With(StartSite.Own(kind.Address, holders)),
            IsAliasHeld =
                kind?.AliasDomain is { } domain
                && wanted.AliasPart.Length > 0
                && await facts.Connection.IsAliasHeld($"{wanted.AliasPart}@{domain}", own),
            Sees = seen.Contains,
        };
    }

    /// <summary>True if the viewer may grant requests for a unit: administrators, and its stewards.</summary>
    public static bool Grants(this Viewer viewer, UnitCode? unit, Core.People.PeopleDirectory directory) =>
        viewer.Role switch
        {
            Role.Administrator => true,
            Role.Steward => unit is { } of && directory.CodesOf(of).Contains(viewer.Part!.Value),
            _ => false,
        };

    /// <summary>True if the viewer may read a request: who made it, who would own it, who may grant it, and auditors.</summary>
    public static bool Sees(this Viewer viewer, SiteRequest request, Core.People.PeopleDirectory directory) =>
        viewer.Role == Role.Auditor
        || request.By == viewer.Person
        || request.Wanted.Owners.Contains(viewer.Person)
        || viewer.Grants(request.Wanted.Unit, directory);

    /// <summary>Equal for equal verdicts.</summary>
    public static string Fingerprint(this StartVerdict verdict) =>
        Core.Journal.Head.HashOf(
            string.Join(
                '\n',
                verdict
                    .Refusals.Concat(verdict.Because)
                    .Concat(verdict.Changes)
                    .Select(one => $"{one.Field} {Sentences.RemarkSentence.Of(one.Remark)}")
                    .Concat(verdict.Grants.Select(grant => $"{grant.Key} {grant.Power} {grant.VisitorSignIn}"))
            )
        );
}
