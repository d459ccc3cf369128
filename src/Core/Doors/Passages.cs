using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>Computes passages. Layers of one site are shared by its powers.</summary>
public sealed class Passages
{
    private static readonly Axis[] Axes = Enum.GetValues<Axis>();
    private readonly Roll roll;
    private readonly LayerSet shown;
    private readonly IReadOnlyList<Footing> footings;

    private Passages(LayerSet shown, IReadOnlyList<Footing> footings, Roll roll)
    {
        (this.shown, this.footings, this.roll) = (shown, footings, roll);
    }

    /// <summary>The passages of a site under its layers.</summary>
    public static Passages Of(SiteFacts site, House house, Roll roll) =>
        LayerBook.Of(house, roll).Of(site) is var (shown, footings)
            ? new(shown, footings, roll)
            : throw new InvalidOperationException("Every site stands on something.");

    /// <summary>The passages under some layers, whatever site they are over.</summary>
    public static Passages Under(LayerSet layers, Known<UnitCode> unit, Roll roll) =>
        new(layers, Footing.Of(OwnUnit.AnyOf(unit, roll).Select(own => (layers, own))), roll);

    /// <summary>The asks of a site for one power: asking for a power asks for the weaker ones.</summary>
    public static Ask[] AsksOf(Known<IReadOnlyList<Grant>> grants, Known<Joining> joining, Power power, Roll roll) =>
        grants.IsUnknown
            ? [Ask.Anything(roll)]
            :
            [
                .. Ask.OfAll(power == Power.View ? grants.Or([]) : [.. grants.Or([]).Where(grant => grant.Power >= power)], roll),
                .. Ask.OfJoining(joining, roll).Where(ask => ask.Power >= power),
            ];

    /// <summary>True if a site was published at some time; unknown where its status is.</summary>
    public static Truth WasPublished(Known<Stage> stage) =>
        stage.Has(out var at) ? Truths.Of(at != Stage.NeverLive) : Truth.Unknown;

    /// <summary>The passages of the limited powers, from the grants of a site; each grant is read once for all of them.</summary>
    public IReadOnlyList<Passage> OfAll(Known<IReadOnlyList<Grant>> grants, Known<Joining> joining)
    {
        var asked = new Asked(AsksOf(grants, joining, Power.View, roll));
        var passages = new Passage[Powers.Limited.Count];
        foreach (var power in Powers.Limited)
        {
            asked = asked.AtLeast(power);
            passages[(int)power] = Of(asked, power);
        }

        return passages;
    }

    public Passage Of(SiteFacts site, Power power) =>
        Of(AsksOf(site.Sharing.Select(sharing => sharing.Grants), site.Content.Joining, power, roll), power);

    public Passage Of(IReadOnlyList<Ask> asks, Power power) => Of(new Asked([.. asks]), power);

    /// <summary>How far inside some access reaches, where it is not one that came through the layers.</summary>
    public Span LevelsOf(AccessBounds bounds) =>
        footings
            .SelectMany(footing => footing.Units)
            .Select(unit => new Span(
                (int)LeastLevel(bounds.AtLeast, unit, () => bounds.AtLeast.LetsInAll(unit.AtMost)),
                (int)MostLevel(bounds.AtMost, unit, _ => true, () => bounds.AtMost.Inside.Overlaps(unit.AtMost))
            ))
            .Aggregate(Span.Hull);

    private Passage Of(Asked asked, Power power) =>
        new(
            this,
            asked,
            power,
            footings.Count == 1 ? [Of(asked, footings[0], power)] : [.. footings.Select(footing => Of(asked, footing, power))]
        );

    private Outcome Of(Asked asked, Footing on, Power power)
    {
        var caps = on.Layers.For(power);
        var isKnown = IsKnown(asked, on, caps);
        var actual = Through(asked, on, caps.Host, isKnown);
        var permitted = Through(asked, on, caps.All, isKnown);
        var withoutLeft = permitted.AtLeast.Without(roll.Left);
        var allowed =
            isKnown && ReferenceEquals(withoutLeft, actual.AtLeast)
                ? actual
                : new AccessBounds(withoutLeft, isKnown ? withoutLeft : permitted.AtMost.Without(roll.Left));
        return new Outcome(
            on,
            caps,
            actual,
            allowed,
            isKnown
                ? new Beyond(actual.AtLeast, allowed.AtMost)
                : new Beyond(
                    actual.AtLeast,
                    allowed.AtMost,
                    () => PossiblyBeyond(asked, on, caps),
                    people => CanAllBeIn(people, asked, on, caps.All.Least)
                )
        );
    }

    // Where everything is known both ends of every bound are the same, and one computation serves for both.
    private static bool IsKnown(Asked asked, Footing on, Caps caps) =>
        caps.Host.IsSettled && caps.Policy.IsSettled && asked.IsKnown && (!on.Layers.AsksForUnit || on.Units[0].IsKnown);

    private AccessBounds Through(Asked asked, Footing on, Cap cap, bool isKnown)
    {
        if (isKnown)
        {
            var known = asked.Least.Under(cap.Most, on.Units[0].AtLeast);
            return ReferenceEquals(known, asked.Bounds.AtLeast) ? asked.Bounds : new AccessBounds(known, known);
        }

        return AccessBounds.Shared(
            Cases(on)
                .Select(one =>
                    one.Where(asked) is var asks
                        ? new AccessBounds(asks.Least.Under(cap.Most, one.Unit), asks.Most.Under(cap.Least, one.Unit))
                        : AccessBounds.Nothing
                )
        );
    }

    // What the host may let in and policy perhaps not: it is the wider, the less the host refuses and the more policy does.
    // A host's own limit refuses in what is allowed as well, so both sides are taken under the same one.
    private Access PossiblyBeyond(Asked asked, Footing on, Caps caps)
    {
        var (host, all) = (caps.Host.Least, caps.Host.Least.Meet(caps.Policy.Most));
        return Cases(on).Select(one => Beyond(one.Unit, one.Where(asked))).Aggregate((one, other) => one.Union(other));

        Access Beyond(PeopleSet unit, Asked asked)
        {
            var beyond = asked
                .Possible.Select(ask => PossiblyBeyond(ask.Under(host, unit), ask.Under(all, unit)))
                .OfType<Opening>()
                .ToArray();
            return beyond.Length == 0 ? Access.None : Access.Of(beyond).Except(asked.Least.Under(all, unit).Without(roll.Left));
        }
    }

    /// <summary>Who gets into a part of the site, on each footing.</summary>
    /// <param name="through">Who gets into the site at all, and by which power.</param>
    /// <param name="isShut">True if the site lets nobody in, as in the attic.</param>
    internal IEnumerable<PartReach> OfPart(SiteSection part, Asked through, Power power, bool isShut)
    {
        var own = new Asked(AsksOf(Known.Of(part.Grants), Known<Joining>.None, Power.View, roll));
        foreach (var on in footings)
        {
            var caps = on.Shared.For(Power.View).Host;
            var (ofPart, ofSite) = (
                Bounds(own, caps),
                isShut ? AccessBounds.Nothing : Bounds(through, on.Layers.For(power).Host)
            );
            yield return new PartReach(
                Parts.Actual(part.Tie, Power.View, ofPart, ofSite, roll),
                part.Tie == PartTie.StandingFree ? IsAjar(own, through, power, isShut, on) : Truth.No
            );

            AccessBounds Bounds(Asked asked, Cap cap) => Through(asked, on, cap, isKnown: false);
        }
    }

    // A layer that is not known caps the site and its part alike, whatever it is: so each limit that it may be is tried.
    private Truth IsAjar(Asked part, Asked through, Power power, bool isShut, Footing on)
    {
        var (shared, ofPower, own) = (on.Shared.For(Power.View).Host, on.Shared.For(power).Host, on.Own.For(power).Host);
        return Truths.Shared(
            shared
                .All()
                .Select(limit =>
                {
                    // Another power has limits of its own in a layer that is not known.
                    var (strict, loose) =
                        power == Power.View ? (limit, limit) : (ofPower.Most.Meet(limit), ofPower.Least.Meet(limit));
                    return Truths.Between(
                        Cases(on).Select(one => IsAjar(one, limit, loose.Meet(own.Least), isCertain: true)).All(isSo => isSo),
                        Cases(on).Select(one => IsAjar(one, limit, strict.Meet(own.Most), isCertain: false)).Any(isSo => isSo)
                    );
                })
        );

        bool IsAjar((PeopleSet Unit, Func<Asked, Asked> Where) one, Limit limit, Limit ofSite, bool isCertain)
        {
            var (asksOfPart, asksOfSite) = (one.Where(part), one.Where(through));

            // Whom a part lets in by a grant that the site has as well, it lets in with the site.
            asksOfPart =
                !isShut && limit.Inside == ofSite.Inside
                    ? asksOfPart.But(asksOfSite, insideOnly: limit != ofSite, roll)
                    : asksOfPart;
            var (lets, site) = isCertain ? (asksOfPart.Least, asksOfSite.Most) : (asksOfPart.Most, asksOfSite.Least);
            return !lets.Under(limit, one.Unit)
                .Except(isShut ? Access.None : site.Under(ofSite, one.Unit).WithPassersBy(roll))
                .IsNone;
        }
    }

    // Where the unit of some people is not known, they are of the site's own unit or they are not.
    private (PeopleSet Unit, Func<Asked, Asked> Where)[] Cases(Footing on) =>
        on.Layers.AsksForUnit && on.Units is [{ IsKnown: false } own]
            ? [(own.AtLeast, asked => asked.WhereNoMoreAreOf(own, roll)), (own.AtMost, asked => asked.WhereAllAreOf(own, roll))]
            : [(on.Units[0].AtLeast, asked => asked)];

    // Of one ask, what the host may let in and policy perhaps not; null where that is nothing, as it mostly is.
    private Opening? PossiblyBeyond(Opening actual, Opening allowed)
    {
        if (ReferenceEquals(actual, allowed) && !actual.LetsIn(roll.Left))
        {
            return null;
        }

        var beyond = Access.Of([actual]).Except(Access.Of([allowed]).Without(roll.Left));
        return new Opening(beyond.Inside, actual.IsWide, beyond.Guests, beyond.Doors);
    }

    internal Span InsideOf(Asked asked, Outcome outcome)
    {
        var (least, most) = (int.MaxValue, int.MinValue);
        var actual = outcome.Actual;
        foreach (var unit in outcome.On.Units)
        {
            var atLeast = (int)LeastLevel(actual.AtLeast, unit, () => AreAllOf(unit, asked, outcome.Caps.Host));
            least = Math.Min(least, atLeast);
            most = Math.Max(
                most,
                ReferenceEquals(actual.AtLeast, actual.AtMost) && unit.IsKnown
                    ? atLeast
                    : (int)MostLevel(
                        actual.AtMost,
                        unit,
                        people => CanAllBeIn(people, asked, outcome.On, outcome.Caps.Host.Least),
                        () => IsAnyOf(unit, asked, outcome.Caps.Host)
                    )
            );
        }

        return new Span(least, Math.Max(least, most));
    }

    // The word for the inside: staff where all of the staff get in, unit where all of the site's own unit do, named where
    // anybody does.
    private InsideLevel LeastLevel(Access access, OwnUnit unit, Func<bool> areAllLetIn) =>
        access.LetsInNobodyInside ? InsideLevel.Nobody
        : access.LetsInAll(roll.Staff) ? InsideLevel.Staff
        : access.LetsInAll(unit.AtLeast) && (unit.IsKnown || areAllLetIn()) ? InsideLevel.Unit
        : InsideLevel.Named;

    // Whoever turns out to be of the unit may get in by just that.
    private bool AreAllOf(OwnUnit unit, Asked asked, Cap host) =>
        asked.WhereAllAreOf(unit, roll).Least.Under(host.Most, unit.AtMost).LetsInAll(unit.AtMost);

    // A unit in which nobody is for certain may turn out to be somebody who gets in.
    private bool IsAnyOf(OwnUnit unit, Asked asked, Cap host) =>
        asked.WhereAllAreOf(unit, roll).Most.Under(host.Least, unit.AtMost).Inside.Overlaps(unit.AtMost);

    private InsideLevel MostLevel(Access access, OwnUnit unit, Func<PeopleSet, bool> canAllBeIn, Func<bool> isAnyOfUnitIn) =>
        access.LetsInNobodyInside ? InsideLevel.Nobody
        : access.LetsInAll(roll.Staff) && canAllBeIn(roll.Staff) ? InsideLevel.Staff
        : unit.AtLeast.IsEmpty
            ? isAnyOfUnitIn() ? InsideLevel.Unit
                : InsideLevel.Named
        : access.LetsInAll(unit.AtLeast) && canAllBeIn(unit.AtLeast) ? InsideLevel.Unit
        : InsideLevel.Named;

    // Under a limit to named people a group that is all of the staff gets nobody in: so it can let in any of the staff,
    // and not all of them. Two that have different members can do it together.
    private bool CanAllBeIn(PeopleSet people, Asked asked, Footing on, Limit limit)
    {
        if (asked.Growing.Count == 0 || !limit.Inside.HasFlag(InsideLimit.Named))
        {
            return true;
        }

        var growing = asked.Growing.Where(growth => !growth.From.Includes(roll.Staff)).ToList();
        var others = PeopleSet.UnionOf([
            .. asked
                .Most.Openings.Where(opening => opening.Growth is null)
                .Select(opening => opening.Under(limit, on.Units[0].AtMost).Inside),
        ]);
        var rest = people.Except(others);
        return rest.IsEmpty
            || growing.Exists(growth => !growth.From.Union(rest).Includes(roll.Staff))
            || growing.Exists(one =>
                growing.Exists(other =>
                    !ReferenceEquals(one, other)
                    && one.GrowsApartFrom(other)
                    && !(
                        roll.Staff.Except(one.From).Count == 1
                        && roll.Staff.Except(one.From).Equals(roll.Staff.Except(other.From))
                    )
                )
            );
    }

    internal IReadOnlyList<Step> StepsOf(Asked asked, Power power)
    {
        var (unitAtLeast, unitAtMost) =
            footings.Count == 1 && footings[0].Units.Count == 1
                ? (footings[0].Units[0].AtLeast, footings[0].Units[0].AtMost)
                : (
                    PeopleSet.Empty,
                    PeopleSet.UnionOf([.. footings.SelectMany(footing => footing.Units).Select(unit => unit.AtMost)])
                );
        List<Opening> least = [.. asked.Least.Openings],
            most = [.. asked.Most.Openings];
        var steps = new List<Step>(shown.Layers.Count);
        var behind = (Least: least, Most: most);
        foreach (var layer in shown.Layers)
        {
            behind = (
                behind.Least.ConvertAll(ask => ask.Under(layer.Strictest.For(power), unitAtLeast)),
                behind.Most.ConvertAll(ask => ask.Under(layer.Loosest.For(power), unitAtMost))
            );
            var isKnown = asked.IsKnown && !behind.Least.Where((ask, at) => !ReferenceEquals(ask, behind.Most[at])).Any();
            var access = Access.Of([.. behind.Least]);
            steps.Add(
                new Step(
                    layer,
                    layer.For(power),
                    BindingsOf(layer, power, least, most, unitAtLeast, unitAtMost),
                    new AccessBounds(access, isKnown ? access : Access.Of([.. behind.Most]))
                )
            );
        }

        return steps;
    }

    private static List<Binding> BindingsOf(
        Layer layer,
        Power power,
        List<Opening> least,
        List<Opening> most,
        PeopleSet unitAtLeast,
        PeopleSet unitAtMost
    )
    {
        var bindings = new List<Binding>();
        foreach (var axis in Axes)
        {
            var certain = layer.For(power).Has(out var known) && least.Exists(ask => Refuses(known, ask, unitAtMost, axis));
            if (certain || most.Exists(ask => Refuses(layer.Strictest.For(power), ask, unitAtLeast, axis)))
            {
                bindings.Add(new Binding(axis, certain));
            }
        }

        return bindings;
    }

    private static bool Refuses(Limit limit, Opening ask, PeopleSet unit, Axis axis) =>
        axis switch
        {
            Axis.Inside => limit.Inside != InsideLimit.Staff && !ask.Under(limit, unit).Inside.Includes(ask.Inside),
            Axis.Who => ask.Doors.Widest > limit.Widest,
            _ => limit.Widest != OutsideLevel.NoOne
                && limit.LeastProof != Proof.None
                && !ask.Doors.Except(DoorSet.Upto(OutsideLevel.PassersBy, limit.LeastProof)).IsEmpty,
        };
}
