using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

public enum GateKind : byte
{
    /// <summary>The site is in use, not in the attic.</summary>
    Existence,

    /// <summary>The site is published, where somebody wants to view it.</summary>
    Publication,
    Layer,

    /// <summary>A layer that says who may invite guests, where somebody is not on the list yet.</summary>
    GuestList,
}

/// <summary>One thing that can stop somebody on the way in.</summary>
/// <param name="Layer">Null for existence and publication.</param>
public sealed record Gate(GateKind Kind, Layer? Layer, Truth Lets)
{
    /// <summary>True if it technically stops people.</summary>
    public bool IsEnforced => Layer?.Enforcer != Enforcer.Policy;
}

/// <summary>One grant, or joining, that admits somebody if no gate stops them.</summary>
/// <param name="Grant">Null for open joining, for an invitation, and where the grants could not be read.</param>
/// <param name="Includes">True if the grant is one to them.</param>
/// <param name="Chain">The groups through which it is, from the granted one to the one that names them.</param>
public sealed record WayIn(Grant? Grant, Power Power, Truth Includes, IReadOnlyList<Group> Chain, IReadOnlyList<Gate> Gates)
{
    public Truth Lets => Gates.Where(gate => gate.IsEnforced).Aggregate(Includes, (all, gate) => all.And(gate.Lets));
}

/// <summary>A set of changes that lets somebody in, of which none can be left out.</summary>
/// <param name="Becomes">Yes; or unknown where an unknown fact still decides.</param>
/// <param name="AgainstPolicy">The layers that are policy only and refuse it all the same: the access will exceed policy.</param>
public sealed record LetIn(IReadOnlyList<AccessChange> Changes, Truth Becomes, IReadOnlyList<Layer> AgainstPolicy);

/// <summary>Whether somebody gets in, why, and what would change it.</summary>
/// <param name="Allowed">True if all layers together let them in: not if it exceeds policy.</param>
/// <param name="Ways">What admits them or would, the shortest chain first; empty if no grant is for them.</param>
/// <param name="NewGrant">The gates that a grant to them would meet, if no grant is for them.</param>
/// <param name="Smallest">The smallest set of changes that lets them in; null if they get in, if that is unknown, or if none
/// does.</param>
/// <param name="Others">Other sets, of which none contains the smallest.</param>
public sealed record WhyAnswer(
    Truth GetsIn,
    Truth Allowed,
    IReadOnlyList<WayIn> Ways,
    WayIn? NewGrant,
    LetIn? Smallest,
    IReadOnlyList<LetIn> Others
);

/// <summary>Explains whether somebody has a power at a site, and finds the smallest set of changes that would give it to
/// them.</summary>
public static class Why
{
    private const int MostTries = 12;
    private const int MostOthers = 2;
    private const int MostGroups = 3;

    public static WhyAnswer Of(AccessFacts facts, Visitor visitor, Power power)
    {
        var (getsIn, allowed) = Verdicts(facts, visitor, power);
        var ways = WaysOf(facts, visitor, power);
        var newGrant =
            ways.Count == 0 ? GrantsFor(facts, visitor, power).Select(change => WayOf(change, facts, visitor, power)) : [];
        // Nothing is promised for a site whose grants could not be read.
        var sets = getsIn == Truth.No && !facts.Site.Sharing.IsUnknown ? SetsFor(facts, visitor, power) : [];
        return new WhyAnswer(getsIn, allowed, ways, newGrant.FirstOrDefault(), sets.FirstOrDefault(), [.. sets.Skip(1)]);
    }

    /// <summary>What somebody would meet on the way that a change gives them.</summary>
    public static IReadOnlyList<Gate> GatesOf(AccessChange change, AccessFacts facts, Visitor visitor, Power power) =>
        WayOf(change, facts, visitor, power).Gates;

    /// <summary>True if somebody effectively has a power, and if policy allows it.</summary>
    public static (Truth GetsIn, Truth Allowed) Verdicts(AccessFacts facts, Visitor visitor, Power power)
    {
        var asks = facts.Asks(power);
        var path = facts.Paths().Of(asks, power);
        var (effective, allowed) = (Within(path.Effective), Within(path.Allowed));
        if (visitor is Visitor.NewGuest && facts.Invited >= power)
        {
            // Doors for named guests do not say for whom: the invitation alone decides.
            var invited = facts.Paths().Of([AccessFacts.OfNewGuest(facts.Invited.Value)], power);
            (effective, allowed) = (
                effective.Or(Invited(invited.Effective).And(MayBeInvited(Enforcer.Host))),
                allowed.Or(Invited(invited.Allowed).And(MayBeInvited(Enforcer.Host)).And(MayBeInvited(Enforcer.Policy)))
            );
        }

        var open = GatesBefore(facts, power).Aggregate(Truth.Yes, (all, gate) => all.And(gate.Lets));
        return (effective.And(open), allowed.And(open));

        Truth Within(AccessBounds bounds) =>
            Truths.Between(
                visitor.IsIn(bounds.AtLeast, facts.Directory, perhaps: false),
                visitor.IsIn(bounds.AtMost, facts.Directory, perhaps: true)
            );

        static Truth Invited(AccessBounds bounds) => Truths.Between(!bounds.AtLeast.Doors.IsEmpty, !bounds.AtMost.Doors.IsEmpty);

        Truth MayBeInvited(Enforcer enforcer) =>
            LayerBook
                .Of(facts.Organisation, facts.Directory)
                .Over(facts.Site)
                .Layers.Where(layer => layer.Enforcer == enforcer)
                .Aggregate(Truth.Yes, (all, layer) => all.And(LetsInvite(layer, power)));
    }

    private static List<WayIn> WaysOf(AccessFacts facts, Visitor visitor, Power power) =>
        [
            .. facts
                .Asks(power)
                .Select(ask => WayOf(ask, facts, visitor, power))
                .Where(way => way.Includes != Truth.No)
                .OrderByDescending(way => way.Lets)
                .ThenByDescending(way => way.Includes)
                .ThenBy(way => way.Chain.Count)
                .ThenBy(way => way.Grant?.Key, StringComparer.Ordinal),
        ];

    private static WayIn WayOf(Ask ask, AccessFacts facts, Visitor visitor, Power power)
    {
        var (certain, possible) = NeededBy(ask, facts, visitor);
        return new WayIn(
            ask.Grant,
            ask.Power,
            Truths.Between(certain is not null, possible is not null),
            visitor is Visitor.OnePerson(var person) && ask.Grant is { Subject: Subject.OneGroup(var group) }
                ? GroupChain.To(group, person, facts.Directory)
                : [],
            [.. GatesBefore(facts, power), .. GatesOf(ask, facts, visitor, power, certain, possible)]
        );
    }

    private static WayIn WayOf(AccessChange change, AccessFacts facts, Visitor visitor, Power power) =>
        change.ApplyTo(facts) is var after
            ? WayOf(NewAsk(change, after), after, visitor, power)
            : throw new InvalidOperationException();

    private static IEnumerable<Gate> GatesBefore(AccessFacts facts, Power power)
    {
        yield return new Gate(GateKind.Existence, null, Truths.Of(facts.Site.Existence == Existence.InUse));
        if (power == Power.View)
        {
            yield return new Gate(GateKind.Publication, null, AccessPaths.IsPublished(facts.Site.Status));
        }
    }

    private static IEnumerable<Gate> GatesOf(
        Ask ask,
        AccessFacts facts,
        Visitor visitor,
        Power power,
        Limit? certain,
        Limit? possible
    )
    {
        foreach (var layer in LayerBook.Of(facts.Organisation, facts.Directory).Over(facts.Site).Layers)
        {
            yield return new Gate(
                GateKind.Layer,
                layer,
                Truths.Between(
                    certain is { } least && Admits(layer.Strictest.For(power), least),
                    possible is { } most && Admits(layer.Loosest.For(power), most)
                )
            );
            if (visitor is Visitor.NewGuest && IsInvitation(ask) && LetsInvite(layer, power) is not Truth.Yes and var lets)
            {
                yield return new Gate(GateKind.GuestList, layer, lets);
            }
        }
    }

    // The strictest limits under which the ask still admits them: as certain, and as possible.
    private static (Limit? Certain, Limit? Possible) NeededBy(Ask ask, AccessFacts facts, Visitor visitor)
    {
        var directory = facts.Directory;
        if (visitor is Visitor.NewGuest && IsInvitation(ask))
        {
            var invited = Limit.Shut with { Widest = OutsideLevel.NamedGuests };
            return (invited, invited);
        }

        var units = OwnUnit.AnyOf(facts.Site.Unit, directory).ToList();
        var (atLeast, atMost) = units is [var only]
            ? (only.AtLeast, only.AtMost)
            : (PeopleSet.Empty, PeopleSet.UnionOf([.. units.Select(unit => unit.AtMost)]));
        return (
            visitor.Needed(ask.Lets.AtLeast, atLeast, directory, perhaps: false),
            visitor.Needed(ask.Lets.AtMost, atMost, directory, perhaps: true)
        );
    }

    private static bool IsInvitation(Ask ask) => ReferenceEquals(ask.Lets.AtLeast, AccessFacts.Invitation);

    private static bool Admits(Limit limit, Limit needed) => limit.Join(needed) == limit;

    private static Truth LetsInvite(Layer layer, Power power) =>
        Truths.Between(
            layer.Strictest.For(power).GuestInviter != GuestInviter.NoOne,
            layer.Loosest.For(power).GuestInviter != GuestInviter.NoOne
        );

    // Every set that lets them in through one grant, existing or new; the smallest first, without those that contain another.
    private static List<LetIn> SetsFor(AccessFacts facts, Visitor visitor, Power power)
    {
        foreach (var target in (Truth[])[Truth.Yes, Truth.Unknown])
        {
            var candidates = Candidates(facts, visitor, power, target)
                .OrderBy(set => set.Count)
                .ThenBy(set => set.Sum(change => change.Breadth))
                .ToList();
            var found = new List<LetIn>();
            foreach (var changes in candidates.Take(MostTries))
            {
                if (
                    candidates.Exists(other =>
                        other.Count < changes.Count && other.TrueForAll(one => changes.Exists(one.IsOfTheSame))
                    ) || found.Exists(one => IsTheSame(one.Changes, changes))
                )
                {
                    continue;
                }

                var after = changes.Aggregate(facts, (all, change) => change.ApplyTo(all));
                if (Verdicts(after, visitor, power) is var (getsIn, allowed) && getsIn >= target)
                {
                    found.Add(new LetIn(changes, getsIn, allowed == Truth.Yes ? [] : Refusing(after, visitor, power)));
                    if (found.Count > MostOthers)
                    {
                        break;
                    }
                }
            }

            if (found.Count > 0)
            {
                return found;
            }
        }

        return [];
    }

    private static bool IsTheSame(IReadOnlyList<AccessChange> one, List<AccessChange> other) =>
        one.Count == other.Count && other.TrueForAll(change => one.Any(change.IsOfTheSame));

    private static List<Layer> Refusing(AccessFacts facts, Visitor visitor, Power power) =>
        WaysOf(facts, visitor, power) is [var best, ..]
            ? [.. best.Gates.Where(gate => !gate.IsEnforced && gate.Lets != Truth.Yes).Select(gate => gate.Layer!).Distinct()]
            : [];

    private static IEnumerable<List<AccessChange>> Candidates(AccessFacts facts, Visitor visitor, Power power, Truth target)
    {
        foreach (var ask in facts.Asks(power))
        {
            if (Through(ask, facts, visitor, power, target) is { } existing)
            {
                yield return existing;
            }
        }

        foreach (var change in GrantsFor(facts, visitor, power))
        {
            var after = change.ApplyTo(facts);
            if (Through(NewAsk(change, after), after, visitor, power, target) is { } rest)
            {
                yield return [change, .. rest];
            }
        }
    }

    private static Ask NewAsk(AccessChange change, AccessFacts after) =>
        change switch
        {
            AccessChange.GrantPower(var grant) => Ask.Of(grant, after.Directory),
            AccessChange.JoinGroup(_, var group, var power) => Ask.Of(
                after
                    .Site.Sharing.Select(sharing => sharing.Grants)
                    .Or([])
                    .First(grant => grant.Subject == new Subject.OneGroup(group) && grant.Power == power),
                after.Directory
            ),
            AccessChange.InviteGuest(var power) => AccessFacts.OfNewGuest(power),
            _ => throw new InvalidOperationException($"{change} grants nothing."),
        };

    // The changes that open every gate on the way of an ask; null if one cannot be opened, or the ask is not for them.
    private static List<AccessChange>? Through(Ask ask, AccessFacts facts, Visitor visitor, Power power, Truth target)
    {
        var way = WayOf(ask, facts, visitor, power);
        if (way.Includes < target)
        {
            return null;
        }

        var (certain, possible) = NeededBy(ask, facts, visitor);
        var needed = (target == Truth.Yes ? certain : possible) ?? Limit.Shut;
        var changes = new List<AccessChange>();
        foreach (var gate in way.Gates.Where(gate => gate.IsEnforced && gate.Lets < target))
        {
            var change = gate.Kind switch
            {
                GateKind.Existence => facts.Site.Existence == Existence.Attic ? new AccessChange.Restore() : null,
                GateKind.Publication => gate.Lets == Truth.No ? new AccessChange.Publish() : null,
                GateKind.GuestList => Loosened(gate.Layer!, power, needed with { GuestInviter = GuestInviter.Steward }),
                _ => Loosened(gate.Layer!, power, needed),
            };
            if (change is null)
            {
                return null;
            }

            // A layer can stop a new guest twice: the wider change serves both.
            changes.RemoveAll(change.IsOfTheSame);
            changes.Add(change);
        }

        return changes;
    }

    // The least step that suffices: the limit refuses no more than it did, and nothing of what is needed.
    private static AccessChange? Loosened(Layer layer, Power power, Limit needed)
    {
        if (!layer.Limits.Has(out var limits))
        {
            return null;
        }

        Limit At(Power limited) => limited <= power ? needed : Limit.Shut;
        var to = limits.Join(new PowerLimits(At(Power.View), At(Power.Preview), At(Power.Edit)));
        return layer.Kind == LayerKind.Site ? new AccessChange.LoosenSite(limits, to)
            : layer.From is { } setting ? new AccessChange.Loosen(setting, layer.Name, to)
            : null;
    }

    /// <summary>The new grants that would be for them, as the host can make them.</summary>
    private static IEnumerable<AccessChange> GrantsFor(AccessFacts facts, Visitor visitor, Power power)
    {
        if (!facts.Site.Sharing.Has(out var sharing))
        {
            return [];
        }

        var host = facts.Organisation.CapabilitiesOf(facts.Site.Host);
        var granted = host.Powers.Where(can => can >= power).Select(can => (Power?)can).DefaultIfEmpty(null).Min();
        return (visitor, granted) switch
        {
            (Visitor.OnePerson(var person), _) => MayBeGranted(person, facts.Directory)
                ?
                [
                    .. host.NamesPeople && granted is { } to
                        ? [New(new Subject.OnePerson(person), to)]
                        : GroupsFor(person, sharing, power, facts),
                ]
                : [],
            (Visitor.NewGuest, { } to) when host.NamesPeople => [new AccessChange.InviteGuest(to)],
            (Visitor.Partner, { } to) => [New(new Subject.Partners(), to)],
            (Visitor.NotSignedIn, { } to) => [New(new Subject.Anonymous(), to, VisitorSignIn.None)],
            _ => [],
        };

        AccessChange New(Subject subject, Power to, VisitorSignIn visitorSignIn = VisitorSignIn.Account) =>
            new AccessChange.GrantPower(new Grant(sharing.Grants.KeyFor(subject, facts.Directory)!, to, subject, visitorSignIn));
    }

    // Nobody who has left is granted anything.
    private static bool MayBeGranted(PersonId person, PeopleDirectory directory) =>
        directory.PlaceOf(person) is { } place && directory.Standings[place] != Standing.Left;

    // At a host that names no people, access comes through its groups: the weakest sufficient grants first.
    private static IEnumerable<AccessChange> GroupsFor(PersonId person, Sharing sharing, Power power, AccessFacts facts) =>
        sharing
            .Grants.Where(grant => grant.Power >= power && grant.Subject is Subject.OneGroup)
            .Select(grant => (grant.Power, Group: ((Subject.OneGroup)grant.Subject).Group))
            .Where(grant =>
                facts.Directory.Find(grant.Group) is not null
                && facts.Directory.PlaceOf(person) is { } place
                && !facts.Directory.Expand(grant.Group).People.Contains(place)
            )
            .OrderBy(grant => grant.Power)
            .ThenBy(grant => grant.Group.Value)
            .Take(MostGroups)
            .Select(grant => new AccessChange.JoinGroup(person, grant.Group, grant.Power));
}
