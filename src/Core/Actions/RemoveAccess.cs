using System.Text.Json.Serialization;
using AtticLedger.Core.Access;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A request to remove what a person or a group is granted by name.</summary>
public sealed record RemoveAccessRequest(PersonId? Person, GroupId? Group, string? Reason)
{
    [JsonIgnore]
    public Subject? About =>
        Person is { } person ? new Subject.OnePerson(person)
        : Group is { } group ? new Subject.OneGroup(group)
        : null;
}

/// <summary>Removes what a person or a group is granted by name on a site. What a person keeps through groups and wide grants is
/// said. The last active owner is never removed; an active owner only with a second person.
/// </summary>
public static class RemoveAccess
{
    public static Decision Decide(ActionFacts facts, RemoveAccessRequest request, ChangeId newHostChange, Actor actor)
    {
        var (site, directory) = (facts.Site, facts.PeopleDirectory);
        List<Remark> refused =
        [
            .. HostChanges.TooLong(request.Reason),
            .. HostChanges.NotInUse(facts),
            .. HostChanges.NotReported(site, AccessStep.Remove),
        ];
        if (request.About is not { } about || Name(about, directory) is not { } who)
        {
            return new Decision.Refusal([.. refused, new AccessOfNobody()]);
        }

        var grants = site.Expected.Or([]).Where(grant => grant.Subject == about).ToList();
        var changes = grants.Select(grant => new GrantChange(grant.Key, null)).ToList();
        var kept = Kept(facts, about, who).ToList();
        var removesOwner = grants.Any(grant => grant.Power == Power.Own);
        if (grants.Count == 0 && refused.Count == 0)
        {
            refused.Add(new AccessNotByName(who));
            refused.AddRange(kept);
        }

        var owners = SiteOwners.Of(site, directory, facts.Organisation.ActiveDays);
        var after = SiteOwners.Of(site.WithGrants(site.Expected.Or([]).With(changes)), directory, facts.Organisation.ActiveDays);
        if (removesOwner && after.ActiveAtLeast == 0)
        {
            refused.Add(new AccessOfLastOwner(who));
        }
        else if (removesOwner && actor.As == Capacity.Owner && about != new Subject.OnePerson(actor.Person))
        {
            refused.Add(new AccessOfOtherOwner(who));
        }

        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var effect = Predict.Change(site, changes, facts.Organisation, facts.Rules, directory);
        var hostChange = HostChanges.New(newHostChange, facts, new WantedState(changes), actor, request.Reason);
        return new Decision.Plan(
            [.. HostChanges.Superseded(facts.ChangeQueue, hostChange), hostChange],
            [
                new Draft(JournalAction.AccessRemove, actor.InJournal, EntrySubject.Of(site.Id))
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
            Unaffected = kept,
            NeedsSecond =
                removesOwner && after.ActiveAtLeast < owners.ActiveAtLeast && about != new Subject.OnePerson(actor.Person)
                    ? new RemovingOwnerNeedsSecond(who)
                    : null,
            Notifications = [.. ToThePerson(facts, request, newHostChange, actor, removesOwner)],
        };
    }

    /// <summary>What a person, or the members of a group, can do on a site besides what is granted to them by name: by which grant,
    /// and at which host it can be changed.</summary>
    private static IEnumerable<Remark> Kept(ActionFacts facts, Subject about, string who)
    {
        var directory = facts.PeopleDirectory;
        if (about is not Subject.OnePerson(var person) || directory.PlaceOf(person) is not { } place)
        {
            return [];
        }

        return from grant in facts.Site.Expected.Or([])
            where grant.Subject != about
            let lets = Ask.Of(grant, directory).Lets.AtLeast
            where lets.Inside.Contains(place) || lets.Guests.Contains(place)
            select new AccessThrough(who, grant.Power, GrantText.Who(grant, directory), facts.Site.Host);
    }

    private static string? Name(Subject about, PeopleDirectory directory) =>
        about switch
        {
            Subject.OnePerson(var person) => directory.Find(person)?.Name,
            Subject.OneGroup(var group) => directory.Find(group)?.Name,
            _ => null,
        };

    // Who has left gets no mail.
    private static IEnumerable<Notification> ToThePerson(
        ActionFacts facts,
        RemoveAccessRequest request,
        ChangeId change,
        Actor actor,
        bool removesOwner
    )
    {
        var directory = facts.PeopleDirectory;
        if (request.Person is not { } person || person == actor.Person || !directory.IsHere(person))
        {
            yield break;
        }

        yield return new Notification(
            person,
            $"removed:{change}",
            removesOwner ? $"You no longer own {facts.Site.Title}" : $"Your access to {facts.Site.Title} ends",
            [
                $"{directory.Find(actor.Person)?.Name ?? "An administrator"} removes your access by name to {facts.Site.Title}.",
                .. request.Reason is null ? Array.Empty<string>() : [$"Reason: {request.Reason}"],
            ],
            Urgent: removesOwner
        );
    }
}
