using AtticLedger.Core.Attic;
using AtticLedger.Core.Doors;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <param name="NewOwner">Who takes the key, where nobody fit holds it any more.</param>
/// <param name="Address">Another address, where the old one is held by now.</param>
public sealed record BringBackWish(string? Reason, PersonId? NewOwner = null, string? Address = null);

/// <summary>
/// Brings a put-away site back: with a fit owner, no wider than the house allows now, without those who have left, and at
/// a free address. All of that is one order, so it is never in use as it should not be.
/// </summary>
public static class BringBack
{
    public const string Deed = "site.bring-back";
    private const int MostAddresses = 5;

    public static Decision Decide(DeedFacts facts, BringBackWish wish, OrderId newOrder, Doer doer)
    {
        var site = facts.Site;
        var narrowing = new Narrowing(facts, Permitted(facts));
        var changes = Changes(facts, wish, narrowing);
        var refused = Refusals(facts, wish, changes, doer).ToList();
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var effect = Foresee.BringBack(site, changes, facts.House, facts.Rules, facts.Roll);
        var wanted = new Wish(changes, Existence.Here, wish.Address);
        var order = Orders.New(newOrder, facts, wanted, doer, wish.Reason) with { Purpose = OrderPurpose.BringBack };
        return new Decision.Plan(
            [order],
            [
                new Draft(Deed, doer.InJournal, $"site:{site.Id.Value}")
                {
                    Before = JournalValue.Of(
                        ("putAway", facts.Stay!.PutAwayAt is { } at ? JournalValue.Of(at) : JournalValue.Null),
                        ("stay", JournalValue.Of(facts.Stay.Place))
                    ),
                    After = JournalValue.Of(
                        ("order", JournalValue.Of(newOrder.ToString())),
                        ("address", JournalValue.Of(wish.Address)),
                        ("predicted", effect.InJournal)
                    ),
                    Reason = wish.Reason,
                    UndoOf = facts.Stay.Place > 0 ? facts.Stay.Place : null,
                },
            ],
            effect
        )
        {
            Stay = facts.Stay.Move(StayEvent.BringBack) with { Return = wanted, Order = newOrder },
            Remains = narrowing.Remains,
            Along = [.. Along(facts, wish)],
        };
    }

    /// <summary>Whether somebody has to be chosen who takes the key.</summary>
    public static bool NeedsOwner(DeedFacts facts) =>
        !KeyHolders.Of(facts.Site, facts.Roll, facts.House.FitDays).Holders.Any(holder => holder.IsFit);

    public static bool AddressIsHeld(DeedFacts facts) =>
        facts.Site.Address.Has(out var address) && HolderOf(facts, address) is not null;

    /// <summary>Free addresses like the old one, the nearest first.</summary>
    public static IReadOnlyList<string> FreeAddresses(DeedFacts facts) =>
        facts.Site.Address.Has(out var address)
            ? [.. Alternatives(address, facts).Where(free => HolderOf(facts, free) is null).Take(MostAddresses)]
            : [];

    private static IEnumerable<string> Alternatives(string address, DeedFacts facts)
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
        DeedFacts facts,
        BringBackWish wish,
        IReadOnlyList<GrantChange> changes,
        Doer doer
    )
    {
        var site = facts.Site;
        foreach (var reason in Orders.TooLong(wish.Reason))
        {
            yield return reason;
        }

        if (facts.Stay is not { } stay || StayStates.After(stay.State, StayEvent.BringBack) is null)
        {
            yield return site.Existence == Existence.Cleared
                ? $"{site.Host} has cleared the site for good; only a kept copy could bring it back."
            : facts.Stay is { State: StayState.Returning } ? "It is being brought back already."
            : "The site does not lie in the attic.";
            yield break;
        }

        if (site.Bin?.RecoverableUntil is { } until && until.Has(out var end) && facts.Now >= end)
        {
            yield return $"{site.Host} could bring it back until {TimeZoneInfo.ConvertTime(end, facts.Roll.Time.Zone):HH:mm 'on' d MMM yyyy}, and that has passed.";
        }

        if (site.Fault is not null)
        {
            yield return Orders.Unreadable(site).Single();
            yield break;
        }

        if (site.Sharing.IsUnknown)
        {
            yield return $"{site.Host} did not say who was let in, so it cannot be told how it would come back.";
            yield break;
        }

        if (wish.NewOwner is not null && !facts.House.HabitsOf(site.Host).NamesPeople)
        {
            yield return $"{site.Host} lets nobody in by name, so no new owner can be named here. {Orders.ChangeTheGroup(site, facts.Roll)}";
        }
        else if (wish.NewOwner is { } owner)
        {
            foreach (var reason in NotFit(facts, owner, doer))
            {
                yield return reason;
            }
        }
        else if (NeedsOwner(facts))
        {
            yield return KeyHolders.Of(site, facts.Roll, facts.House.FitDays).Holders is [var last, ..]
                ? $"Its owner {last.Person.Name} can no longer answer for it. Choose a new one."
                : "Nobody holds its key. Choose an owner.";
        }

        if (wish.Address is { } address)
        {
            foreach (var reason in BadAddress(facts, address))
            {
                yield return reason;
            }
        }
        else if (site.Address.Has(out var old) && HolderOf(facts, old) is { } holder)
        {
            yield return $"Its address {old} is held by {holder} now. Choose another.";
        }
    }

    private static IEnumerable<string> NotFit(DeedFacts facts, PersonId owner, Doer doer)
    {
        if (facts.Roll.Find(owner) is not { } person)
        {
            yield return "The new owner is not on the register.";
            yield break;
        }

        foreach (
            var reason in Successors.WhyNot(
                person,
                KeyHolders.Of(facts.Site, facts.Roll, facts.House.FitDays),
                facts.Roll,
                facts.House.FitDays,
                doer.KnowsDays
            )
        )
        {
            yield return $"{person.Name} {reason}.";
        }
    }

    private static IEnumerable<string> BadAddress(DeedFacts facts, string address)
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
            yield return $"The character \"{bad}\" cannot stand in an address: it is made of a to z, 0 to 9 and single hyphens.";
        }
        else if (own.StartsWith('-') || own.EndsWith('-') || own.Contains("--", StringComparison.Ordinal))
        {
            yield return "Hyphens stand single and between other characters.";
        }
        else if (HolderOf(facts, address) is { } holder)
        {
            yield return $"The address {address} is held by {holder}.";
        }
    }

    private static string? HolderOf(DeedFacts facts, string address) =>
        facts.Around.OnHost.HolderOf(address, facts.Site.Id) is { } holder
            ? holder.IsSeen
                ? holder.Name
                : "a site that you may not see"
            : null;

    // The remedy of narrowing: what is known of the house's limits, also where a layer is unknown, and editing by named people.
    private static PowerLimits Permitted(DeedFacts facts)
    {
        var line = new SiteLine(facts.Site.WithGrants(facts.Site.Expected.Or([])), facts.House, facts.Roll);
        Limit Met(Power power) =>
            line.Passage(power).Steps.Aggregate(Limit.Open, (met, step) => step.Limit.Has(out var limit) ? met.Meet(limit) : met);
        var edit = Met(Power.Edit);
        return new PowerLimits(Met(Power.View), Met(Power.Preview), edit with { Inside = edit.Inside | InsideLimit.Named });
    }

    private static IReadOnlyList<GrantChange> Changes(DeedFacts facts, BringBackWish wish, Narrowing narrowing)
    {
        var grants = facts.Site.Expected.Or([]);
        var gone = grants.Where(grant => IsGone(facts.Roll, grant)).Select(grant => new GrantChange(grant.Key, null)).ToList();
        var cut = narrowing.Of(grants.Where(grant => !IsGone(facts.Roll, grant)));
        var changes = gone.Concat(cut).ToDictionary(change => change.Key);
        if (wish.NewOwner is { } owner && facts.Roll.Find(owner) is { } person)
        {
            var key = grants
                .FirstOrDefault(grant => grant.Subject is Subject.OnePerson(var one) && one == owner && !grant.IsLink)
                ?.Key
                ?? HandOver.GrantKey(person);
            changes[key] = new GrantChange(key, new Grant(key, Power.Own, new Subject.OnePerson(owner)));
        }

        return [.. changes.Values.OrderBy(change => change.Key, StringComparer.Ordinal)];
    }

    // Someone who has left regains nothing, even by a site that comes back.
    private static bool IsGone(Roll roll, Grant grant) =>
        grant.Subject is Subject.OnePerson(var person)
        && roll.PlaceOf(person) is { } place
        && roll.Standings[place] == Standing.Left;

    private static IEnumerable<string> Along(DeedFacts facts, BringBackWish wish)
    {
        if (wish.Address is { } address)
        {
            yield return $"It comes back at {address}. Links to the old address lead to whatever is there now.";
        }

        if (facts.Site.Content.Group.Has(out var id) && facts.Roll.Find(id) is { } group)
        {
            yield return $"The group {group.Name} comes back with it and opens again what it opened.";
        }
    }
}
