using AtticLedger.Core.Access;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
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
        };
    }

    /// <summary>True if a new owner has to be chosen.</summary>
    public static bool NeedsOwner(ActionFacts facts) =>
        !SiteOwners.Of(facts.Site, facts.PeopleDirectory, facts.Organisation.ActiveDays).Holders.Any(holder => holder.IsActive);

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

    private static IEnumerable<string> Refusals(
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

        if (facts.AtticEntry is not { } atticEntry || AtticStates.After(atticEntry.State, AtticEvent.Restore) is null)
        {
            yield return site.Existence == Existence.Erased
                ? $"{site.Host} has erased the site; only an archive copy could bring its content back."
            : facts.AtticEntry is { State: AtticState.Restoring } ? "It is being restored already."
            : "The site is not in the attic.";
            yield break;
        }

        if (site.Bin?.RecoverableUntil is { } until && until.Has(out var end) && facts.Now >= end)
        {
            yield return $"{site.Host} could restore it until {TimeZoneInfo.ConvertTime(end, facts.PeopleDirectory.Time.Zone):HH:mm 'on' d MMM yyyy}, which has passed.";
        }

        if (site.Fault is not null)
        {
            yield return HostChanges.Unreadable(site).Single();
            yield break;
        }

        if (site.Sharing.IsUnknown)
        {
            yield return $"{site.Host} does not report who had access, so the effect of restoring it cannot be told.";
            yield break;
        }

        if (request.NewOwner is not null && !facts.Organisation.CapabilitiesOf(site.Host).NamesPeople)
        {
            yield return $"{site.Host} has access by groups only, so a new owner cannot be chosen here. {HostChanges.ChangeTheGroup(site, facts.PeopleDirectory)}";
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
                ? $"Its owner {last.Person.Name} is no longer active. Choose a new owner."
                : "It has no owner. Choose one.";
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
            yield return $"Its address {old} is used by {holder} now. Choose another.";
        }
    }

    private static IEnumerable<string> NotActive(ActionFacts facts, PersonId owner, Actor actor)
    {
        if (facts.PeopleDirectory.Find(owner) is not { } person)
        {
            yield return "The new owner is not in the register.";
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
            yield return $"{person.Name} {reason}.";
        }
    }

    private static IEnumerable<string> BadAddress(ActionFacts facts, string address)
    {
        var front =
            facts.Site.Address.Has(out var old) && old.IndexOf('/', StringComparison.Ordinal) is var slash and >= 0
                ? old[..(slash + 1)]
                : "";
        if (!address.StartsWith(front, StringComparison.Ordinal) || address.Length == front.Length)
        {
            yield return $"The address has to begin with {front}.";
            yield break;
        }

        var own = address[front.Length..];
        if (
            own.FirstOrDefault(letter => !char.IsAsciiLetterLower(letter) && !char.IsAsciiDigit(letter) && letter != '-')
            is var bad
                and not '\0'
        )
        {
            yield return $"The character \"{bad}\" is not allowed in an address. Use a to z, 0 to 9 and single hyphens.";
        }
        else if (own.StartsWith('-') || own.EndsWith('-') || own.Contains("--", StringComparison.Ordinal))
        {
            yield return "A hyphen has to be single and between other characters.";
        }
        else if (HolderOf(facts, address) is { } holder)
        {
            yield return $"The address {address} is used by {holder}.";
        }
    }

    private static string? HolderOf(ActionFacts facts, string address) =>
        facts.Around.OnHost.HolderOf(address, facts.Site.Id) is { } holder
            ? holder.IsSeen
                ? holder.Name
                : "a site that you may not see"
            : null;

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
                ?? HandOver.GrantKey(person);
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
