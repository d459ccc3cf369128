using System.Text.Json.Serialization;
using AtticLedger.Core.Access;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>Many people at once.</summary>
public enum WideSubject : byte
{
    Staff,
    Partners,
    Anonymous,
}

/// <summary>A request to grant a power at a site: to a person, a group, a unit or many people. Exactly one of the four is
/// set.</summary>
/// <param name="SignIn">What visitors from outside have to prove; for all others an account.</param>
public sealed record GrantAccessRequest(
    PersonId? Person,
    GroupId? Group,
    UnitCode? Unit,
    WideSubject? All,
    Power Power,
    VisitorSignIn SignIn,
    string? Reason
)
{
    /// <summary>The key under which the site's host grants something to the group; null if it does not know the group.</summary>
    public string? GroupKey { get; init; }

    [JsonIgnore]
    public Subject? To =>
        (Person, Group, Unit, All) switch
        {
            ({ } person, null, null, null) => new Subject.OnePerson(person),
            (null, { } group, null, null) => new Subject.OneGroup(group),
            (null, null, { } unit, null) => new Subject.WholeUnit(unit),
            (null, null, null, WideSubject.Staff) => new Subject.AllStaff(),
            (null, null, null, WideSubject.Partners) => new Subject.Partners(),
            (null, null, null, WideSubject.Anonymous) => new Subject.Anonymous(),
            _ => null,
        };

    /// <summary>The reason why a site is open is kept with what opens it.</summary>
    [JsonIgnore]
    public bool NeedsReason => All is not null;
}

/// <summary>Opens a site wider, on purpose: grants a power to somebody who does not have it. What policy does not allow is refused;
/// what only the host's limits stop is set and waits.</summary>
public static class GrantAccess
{
    public static Decision Decide(ActionFacts facts, GrantAccessRequest request, ChangeId newHostChange, Actor actor)
    {
        var (site, directory) = (facts.Site, facts.PeopleDirectory);
        List<Remark> refused =
        [
            .. HostChanges.TooLong(request.Reason),
            .. HostChanges.NotInUse(facts),
            .. HostChanges.NotReported(site, AccessStep.Grant),
            .. Impossible(facts, request),
        ];
        if (refused.Count > 0 || request.To is not { } to || KeyOf(to, facts, request) is not { } key)
        {
            return new Decision.Refusal(refused);
        }

        var signIn = to is Subject.Partners or Subject.Anonymous ? request.SignIn : VisitorSignIn.Account;
        var grant = new Grant(key, request.Power, to, signIn);
        var before = site.Expected.Or([]).FirstOrDefault(one => one.Key == key);
        if (before is not null && before.Power >= grant.Power && before.VisitorSignIn <= grant.VisitorSignIn)
        {
            return new Decision.Refusal([new GrantedAlready(GrantText.Who(before, directory), before.Power)]);
        }

        var paths = AccessPaths.Of(
            site.WithGrants(site.Expected.Or([]).With([new GrantChange(key, grant)])),
            facts.Organisation,
            directory
        );
        var ofGrant = Limited(request.Power, site).Select(power => paths.Of([Ask.Of(grant, directory)], power)).ToList();
        if (ofGrant.SelectMany(path => Refusing(path, Enforcer.Policy)).Distinct().ToList() is { Count: > 0 } layers)
        {
            return new Decision.Refusal([new GrantBeyondPolicy(GrantText.Who(grant, directory), layers)]);
        }

        List<GrantChange> changes = [new GrantChange(key, grant)];
        var effect = Predict.Change(site, changes, facts.Organisation, facts.Rules, directory);
        var hostChange = HostChanges.New(newHostChange, facts, new WantedState(changes), actor, request.Reason);
        var critical = effect.Opened.Where(rule => facts.Rules.Find(rule)?.Level == Level.Critical).ToList();
        return new Decision.Plan(
            [.. HostChanges.Superseded(facts.ChangeQueue, hostChange), hostChange],
            [
                new Draft(JournalAction.AccessGrant, actor.InJournal, EntrySubject.Of(site.Id))
                {
                    Before = JournalValue.Of(hostChange.Before.Select(GrantText.InJournal)),
                    After = JournalValue.Of(
                        ("change", JournalValue.Of(newHostChange.ToString())),
                        ("predicted", effect.InJournal),
                        ("second", JournalValue.Of(actor.Second is { } second ? EntryActor.Of(second) : null))
                    ),
                    Reason = request.Reason,
                },
            ],
            effect
        )
        {
            Advice = [.. Waits(facts, grant, ofGrant)],
            NeedsSecond = critical.Count > 0 ? new GrantBreaksNeedsSecond([.. critical.Select(rule => rule.Value)]) : null,
        };
    }

    private static IEnumerable<Remark> Impossible(ActionFacts facts, GrantAccessRequest request)
    {
        var (host, directory) = (facts.Organisation.CapabilitiesOf(facts.Site.Host), facts.PeopleDirectory);
        if (request.To is not { } to || !IsKnown(to, directory))
        {
            yield return new AccessOfNobody();
            yield break;
        }

        if (request.Power == Power.Own)
        {
            yield return new OwnershipNotGranted();
        }
        else if (!host.Powers.Contains(request.Power))
        {
            yield return new PowerNotGranted(
                facts.Site.Host,
                request.Power,
                [.. host.Powers.Where(power => power != Power.Own).Select(power => power.Word())]
            );
        }

        if (to is Subject.OnePerson(var person))
        {
            if (directory.Standings[directory.PlaceOf(person)!.Value] == Standing.Left)
            {
                yield return new GrantToLeaver(directory.Find(person)!.Name);
            }

            if (!host.NamesPeople)
            {
                yield return new NobodyNamed(facts.Site.Host);
            }
        }
        else if (to is Subject.OneGroup(var group) && KeyOf(to, facts, request) is null)
        {
            yield return new GroupElsewhere(directory.Find(group)!.Name, facts.Site.Host);
        }

        if (request.NeedsReason && string.IsNullOrWhiteSpace(request.Reason))
        {
            yield return new OpeningNeedsReason();
        }
    }

    private static bool IsKnown(Subject subject, PeopleDirectory directory) =>
        subject switch
        {
            Subject.OnePerson(var person) => directory.Find(person) is not null,
            Subject.OneGroup(var group) => directory.Find(group) is not null,
            Subject.WholeUnit(var unit) => directory.Find(unit) is not null,
            _ => true,
        };

    private static string? KeyOf(Subject subject, ActionFacts facts, GrantAccessRequest request) =>
        facts.Site.Expected.Or([]).KeyFor(subject, facts.PeopleDirectory) ?? request.GroupKey;

    // A grant includes the weaker powers; nobody can view a site that is not published yet.
    private static IEnumerable<Power> Limited(Power power, SiteFacts site) =>
        Powers
            .CappedBy(power)
            .Where(one => one != Power.View || power == Power.View || AccessPaths.IsPublished(site.Status) != Truth.No);

    private static IEnumerable<string> Refusing(AccessPath path, Enforcer enforcer, bool certainly = true) =>
        path
            .Steps.Where(step => step.Layer.Enforcer == enforcer && step.Bindings.Any(binding => binding.IsCertain == certainly))
            .Select(step => step.Layer.Name);

    private static IEnumerable<Remark> Waits(ActionFacts facts, Grant grant, List<AccessPath> ofGrant)
    {
        if (ofGrant.SelectMany(path => Refusing(path, Enforcer.Host)).Distinct().ToList() is { Count: > 0 } layers)
        {
            yield return new GrantWaits(GrantText.Who(grant, facts.PeopleDirectory), layers);
        }

        if (
            ofGrant.SelectMany(path => Refusing(path, Enforcer.Policy, certainly: false)).Distinct().ToList() is
            { Count: > 0 } unsure
        )
        {
            yield return new GrantMayExceed(GrantText.Who(grant, facts.PeopleDirectory), unsure);
        }

        if (grant.Power == Power.View && AccessPaths.IsPublished(facts.Site.Status) == Truth.No)
        {
            yield return new GrantWaitsForPublication(GrantText.Who(grant, facts.PeopleDirectory));
        }
    }
}
