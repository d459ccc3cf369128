using AtticLedger.Core.Access;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <param name="NewOwner">The new owner, if no active owner is left.</param>
/// <param name="Address">Another address, if the old one is taken.</param>
public sealed record RestoreRequest(string? Reason, PersonId? NewOwner = null, string? Address = null);

/// <summary>Restores a site from the attic: with an active owner, with no more access than policy allows now, without people who
/// have left, and at a free address. All of it is one change, so the site is never in use in a forbidden state.
/// </summary>
public static class Restore
{
    private const int MostAddresses = 5;

    public static Decision Decide(ActionFacts facts, RestoreRequest request, ChangeId newHostChange, Actor actor)
    {
        var site = facts.Site;
        var restricting = new Restricting(facts, Permitted(facts));
        var changes = Changes(facts, request, restricting);
        var refused = Refusals(facts, request, changes, actor).ToList();
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var effect = Predict.Restore(site, changes, facts.Organisation, facts.Rules, facts.PeopleDirectory);
        var wanted = new WantedState(changes, Existence.InUse, request.Address);
        var hostChange = HostChanges.New(newHostChange, facts, wanted, actor, request.Reason) with
        {
            Purpose = ChangePurpose.Restore,
        };
        return new Decision.Plan(
            [hostChange],
            [
                new Draft(JournalAction.SiteRestore, actor.InJournal, EntrySubject.Of(site.Id))
                {
                    Before = JournalValue.Of(
                        ("movedToAttic", facts.AtticEntry!.MovedToAtticAt is { } at ? JournalValue.Of(at) : JournalValue.Null),
                        ("stay", JournalValue.Of(facts.AtticEntry.Place))
                    ),
                    After = JournalValue.Of(
                        ("change", JournalValue.Of(newHostChange.ToString())),
                        ("address", JournalValue.Of(request.Address)),
                        ("predicted", effect.InJournal)
                    ),
                    Reason = request.Reason,
                    UndoOf = facts.AtticEntry.Place > 0 ? facts.AtticEntry.Place : null,
                },
            ],
            effect
        )
        {
            AtticEntry = facts.AtticEntry.Move(AtticEvent.Restore) with { Return = wanted, HostChange = newHostChange },
            Unaffected = restricting.Unaffected,
            SideEffects = [.. SideEffects(facts, request)],
            Notifications = [.. Notifications(facts, changes, newHostChange, actor, request.Reason)],
        };
    }

    // The owners, and who is named on it and lost the access with the move.
    private static IEnumerable<Notification> Notifications(
        ActionFacts facts,
        IReadOnlyList<GrantChange> changes,
        ChangeId hostChange,
        Actor actor,
        string? reason
    )
    {
        var (site, directory) = (facts.Site, facts.PeopleDirectory);
        var back = site.WithGrants(site.Expected.Or([]).With(changes));
        var owners = SiteOwners
            .Of(back, directory, facts.Organisation.ActiveDays)
            .Holders.Select(holder => holder.Person.Id)
            .ToHashSet();
        var named = back.Expected.Or([]).Select(grant => grant.Subject).OfType<Subject.OnePerson>().Select(one => one.Person);
        return owners
            .Concat(named)
            .Distinct()
            .Where(person => person != actor.Person && directory.IsHere(person))
            .Select(person => new Notification(
                person,
                $"restored:{hostChange}",
                $"{site.Title} is restored",
                [
                    $"{directory.Find(actor.Person)?.Name ?? "An administrator"} restores {site.Title} from the attic{(reason is null ? "" : $": {reason}")}.",
                    owners.Contains(person)
                        ? "You own it. Who has access is on its page."
                        : "You have access again as soon as the host confirms it.",
                ],
                Urgent: owners.Contains(person)
            ));
    }

    /// <summary>True if a new owner has to be chosen, because surely none is active.</summary>
    public static bool NeedsOwner(ActionFacts facts) =>
        SiteOwners.Of(facts.Site, facts.PeopleDirectory, facts.Organisation.ActiveDays).ActiveAtMost == 0;

    public static bool AddressIsHeld(ActionFacts facts) =>
        facts.Site.Address.Has(out var address) && HolderOf(facts, address) is not null;

    /// <summary>Free addresses similar to the old one, the most similar first.</summary>
    public static IReadOnlyList<string> FreeAddresses(ActionFacts facts) =>
        facts.Site.Address.Has(out var address)
            ? [.. Alternatives(address, facts).Where(free => HolderOf(facts, free) is null).Take(MostAddresses)]
            : [];

    private static IEnumerable<string> Alternatives(string address, ActionFacts facts)
    {
        if (facts.Site.Unit.Has(out var unit))
        {
            yield return $"{address}-{unit.Value.ToLowerInvariant()}";
        }

        for (var number = 2; number < 50; number++)
        {
            yield return $"{address}-{number}";
        }
    }

    private static IEnumerable<Remark> Refusals(
        ActionFacts facts,
        RestoreRequest request,
        IReadOnlyList<GrantChange> changes,
        Actor actor
    )
    {
        var site = facts.Site;
        foreach (var reason in HostChanges.TooLong(request.Reason))
        {
            yield return reason;
        }

        if (facts.AtticEntry is not { } atticEntry || !AtticStates.Table.Allows(atticEntry.State, AtticEvent.Restore))
        {
            yield return site.Existence == Existence.Erased ? new OnlyFromCopy(site.Host)
            : facts.AtticEntry is { State: AtticState.Restoring } ? new RestoringAlready()
            : new NotInAttic();
            yield break;
        }

        if (site.Bin?.RecoverableUntil is { } until && until.Has(out var end) && facts.Now >= end)
        {
            yield return new RecoveryPassed(site.Host, facts.PeopleDirectory.Time.InZone(end));
        }

        if (site.Fault is not null)
        {
            yield return HostChanges.Unreadable(site).Single();
            yield break;
        }

        if (site.Sharing.IsUnknown)
        {
            yield return new RestoredAccessUnknown(site.Host);
            yield break;
        }

        if (request.NewOwner is not null && !facts.Organisation.CapabilitiesOf(site.Host).NamesPeople)
        {
            yield return new NewOwnerByGroup(site.Host, HostChanges.OwningGroup(site, facts.PeopleDirectory));
        }
        else if (request.NewOwner is { } owner)
        {
            foreach (var reason in NotActive(facts, owner, actor))
            {
                yield return reason;
            }
        }
        else if (NeedsOwner(facts))
        {
            yield return SiteOwners.Of(site, facts.PeopleDirectory, facts.Organisation.ActiveDays).Holders is [var last, ..]
                ? new OwnerNoLongerActive(last.Person.Name)
                : new OwnerMissing();
        }

        if (request.Address is { } address)
        {
            foreach (var reason in BadAddress(facts, address))
            {
                yield return reason;
            }
        }
        else if (site.Address.Has(out var old) && HolderOf(facts, old) is { } holder)
        {
            yield return new AddressTakenNow(old, NameOf(holder));
        }
    }

    private static IEnumerable<Remark> NotActive(ActionFacts facts, PersonId owner, Actor actor)
    {
        if (facts.PeopleDirectory.Find(owner) is not { } person)
        {
            yield return new NewOwnerUnknown();
            yield break;
        }

        foreach (
            var reason in Successors.WhyNot(
                person,
                SiteOwners.Of(facts.Site, facts.PeopleDirectory, facts.Organisation.ActiveDays),
                facts.PeopleDirectory,
                facts.Organisation.ActiveDays,
                actor.KnowsDays
            )
        )
        {
            yield return new NewOwnerIneligible(person.Name, reason.Because, reason.Day);
        }
    }

    private static IEnumerable<Remark> BadAddress(ActionFacts facts, string address)
    {
        var front =
            facts.Site.Address.Has(out var old) && old.IndexOf('/', StringComparison.Ordinal) is var slash and >= 0
                ? old[..(slash + 1)]
                : "";
        if (!address.StartsWith(front, StringComparison.Ordinal) || address.Length == front.Length)
        {
            yield return new AddressPrefix(front);
            yield break;
        }

        var own = address[front.Length..];
        if (
            own.FirstOrDefault(letter => !char.IsAsciiLetterLower(letter) && !char.IsAsciiDigit(letter) && letter != '-')
            is var bad
                and not '\0'
        )
        {
            yield return new AddressCharacter(bad.ToString());
        }
        else if (own.StartsWith('-') || own.EndsWith('-') || own.Contains("--", StringComparison.Ordinal))
        {
            yield return new AddressHyphens();
        }
        else if (HolderOf(facts, address) is { } holder)
        {
            yield return new AddressTaken(address, NameOf(holder));
        }
    }

    private static Neighbour? HolderOf(ActionFacts facts, string address) => facts.Around.OnHost.HolderOf(address, facts.Site.Id);

    // The name of a site that the actor may not see stays hidden.
    private static string? NameOf(Neighbour holder) => holder.IsSeen ? holder.Name : null;

    // The target of the restriction: the known limits of policy, even if a layer is unknown, and editing by named people.
    private static PowerLimits Permitted(ActionFacts facts)
    {
        var line = new ComputedSite(facts.Site.WithGrants(facts.Site.Expected.Or([])), facts.Organisation, facts.PeopleDirectory);
        Limit Met(Power power) =>
            line.AccessPath(power)
                .Steps.Aggregate(Limit.Open, (met, step) => step.Limit.Has(out var limit) ? met.Meet(limit) : met);
        var edit = Met(Power.Edit);
        return new PowerLimits(Met(Power.View), Met(Power.Preview), edit with { Inside = edit.Inside | InsideLimit.Named });
    }

    private static IReadOnlyList<GrantChange> Changes(ActionFacts facts, RestoreRequest request, Restricting restricting)
    {
        var grants = facts.Site.Expected.Or([]);
        var gone = grants
            .Where(grant => IsGone(facts.PeopleDirectory, grant))
            .Select(grant => new GrantChange(grant.Key, null))
            .ToList();
        var cut = restricting.Of(grants.Where(grant => !IsGone(facts.PeopleDirectory, grant)));
        var changes = gone.Concat(cut).ToDictionary(change => change.Key);
        if (request.NewOwner is { } owner && facts.PeopleDirectory.Find(owner) is { } person)
        {
            var key = grants
                .FirstOrDefault(grant => grant.Subject is Subject.OnePerson(var one) && one == owner && !grant.IsLink)
                ?.Key
                ?? GrantKeys.Of(person);
            changes[key] = new GrantChange(key, new Grant(key, Power.Own, new Subject.OnePerson(owner)));
        }

        return [.. changes.Values.OrderBy(change => change.Key, StringComparer.Ordinal)];
    }

    // A person who has left regains nothing by a restored site.
    private static bool IsGone(PeopleDirectory directory, Grant grant) =>
        grant.Subject is Subject.OnePerson(var person)
        && directory.PlaceOf(person) is { } place
        && directory.Standings[place] == Standing.Left;

    private static IEnumerable<string> SideEffects(ActionFacts facts, RestoreRequest request)
    {
        if (request.Address is { } address)
        {
            yield return $"It is restored at {address}. Links to the old address open the site that has it now.";
        }

        if (facts.Site.Group.Has(out var id) && facts.PeopleDirectory.Find(id) is { } group)
        {
            yield return $"The group {group.Name} is restored with it and gives access to its other sites again.";
        }
    }
}
