using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

/// <summary>Computes access paths. Layers of one site are shared by its powers.</summary>
public sealed class AccessPaths
{
    private static readonly Axis[] Axes = Enum.GetValues<Axis>();
    private readonly PeopleDirectory directory;
    private readonly LayerSet shown;
    private readonly IReadOnlyList<Footing> footings;

    private AccessPaths(LayerSet shown, IReadOnlyList<Footing> footings, PeopleDirectory directory)
    {
        (this.shown, this.footings, this.directory) = (shown, footings, directory);
    }

    /// <summary>The access paths of a site under its layers.</summary>
    public static AccessPaths Of(SiteFacts site, Organisation organisation, PeopleDirectory directory) =>
        LayerBook.Of(organisation, directory).Of(site) is var (shown, footings)
            ? new(shown, footings, directory)
            : throw new InvalidOperationException("Every site stands on something.");

    /// <summary>The access paths under given layers, for any site.</summary>
    public static AccessPaths Under(LayerSet layers, Known<UnitCode> unit, PeopleDirectory directory) =>
        new(layers, Footing.Of(OwnUnit.AnyOf(unit, directory).Select(own => (layers, own))), directory);

    /// <summary>The set access of a site for one power: a grant of a power includes the weaker powers.</summary>
    public static Ask[] AsksOf(
        Known<IReadOnlyList<Grant>> grants,
        Known<Joining> joining,
        Power power,
        PeopleDirectory directory
    ) =>
        grants.IsUnknown
            ? [Ask.Anything(directory)]
            :
            [
                .. Ask.OfAll(
                    power == Power.View ? grants.Or([]) : [.. grants.Or([]).Where(grant => grant.Power >= power)],
                    directory
                ),
                .. Ask.OfJoining(joining, directory).Where(ask => ask.Power >= power),
            ];

    /// <summary>True if visitors can open a site: it was published and is not offline; unknown where its status is.</summary>
    public static Truth IsPublished(Known<Status> status) =>
        status.Has(out var at) ? Truths.Of(at is not (Status.NeverPublished or Status.Offline)) : Truth.Unknown;

    /// <summary>The access paths of the limited powers, from the grants of a site; each grant is read once for all of
    /// them.</summary>
    public IReadOnlyList<AccessPath> OfAll(Known<IReadOnlyList<Grant>> grants, Known<Joining> joining)
    {
        var asked = new SetAccess(AsksOf(grants, joining, Power.View, directory));
        var accessPaths = new AccessPath[Powers.Limited.Count];
        foreach (var power in Powers.Limited)
        {
            asked = asked.AtLeast(power);
            accessPaths[(int)power] = Of(asked, power);
        }

        return accessPaths;
    }

    public AccessPath Of(SiteFacts site, Power power) =>
        Of(AsksOf(site.Sharing.Select(sharing => sharing.Grants), site.Joining, power, directory), power);

    public AccessPath Of(IReadOnlyList<Ask> asks, Power power) => Of(new SetAccess([.. asks]), power);

    /// <summary>The reach inside of an access set that did not come through the layers.</summary>
    public Span LevelsOf(AccessBounds bounds) =>
        footings
            .SelectMany(footing => footing.Units)
            .Select(unit => new Span(
                (int)LeastLevel(bounds.AtLeast, unit, () => bounds.AtLeast.LetsInAll(unit.AtMost)),
                (int)MostLevel(bounds.AtMost, unit, _ => true, () => bounds.AtMost.Inside.Overlaps(unit.AtMost))
            ))
            .Aggregate(Span.Hull);

    private AccessPath Of(SetAccess asked, Power power) =>
        new(
            this,
            asked,
            power,
            footings.Count == 1 ? [Of(asked, footings[0], power)] : [.. footings.Select(footing => Of(asked, footing, power))]
        );

    private Outcome Of(SetAccess asked, Footing on, Power power)
    {
        var caps = on.Layers.For(power);
        var isKnown = IsKnown(asked, on, caps);
        var effective = Through(asked, on, caps.Host, isKnown);
        var permitted = Through(asked, on, caps.All, isKnown);
        var withoutLeft = permitted.AtLeast.Without(directory.Left);
        var allowed =
            isKnown && ReferenceEquals(withoutLeft, effective.AtLeast)
                ? effective
                : new AccessBounds(withoutLeft, isKnown ? withoutLeft : permitted.AtMost.Without(directory.Left));
        return new Outcome(
            on,
            caps,
            effective,
            allowed,
            isKnown
                ? new Excess(effective.AtLeast, allowed.AtMost)
                : new Excess(
                    effective.AtLeast,
                    allowed.AtMost,
                    () => PossiblyExceeds(asked, on, caps),
                    () => CanExceed(asked, on, caps),
                    people => CanAllBeIn(people, asked, on, caps.All.Least)
                )
        );
    }

    // Where everything is known, both ends of each bound are equal and one computation serves for both.
    private static bool IsKnown(SetAccess asked, Footing on, Caps caps) =>
        caps.Host.IsSettled && caps.Policy.IsSettled && asked.IsKnown && (!on.Layers.AsksForUnit || on.Units[0].IsKnown);

    private AccessBounds Through(SetAccess asked, Footing on, Cap cap, bool isKnown)
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

    // What the host may admit and policy may not: the less the host refuses and the more policy refuses, the wider it is. A
    // host's own limit also applies to what is allowed, so both sides are computed under the same host limit.
    private AccessSet PossiblyExceeds(SetAccess asked, Footing on, Caps caps) =>
        PossibleExcess(asked, on, caps)
            .Select(one => one.Perhaps.Except(one.Allowed))
            .Aggregate((one, other) => one.Union(other));

    private bool CanExceed(SetAccess asked, Footing on, Caps caps) =>
        PossibleExcess(asked, on, caps).Any(one => !one.Perhaps.IsWithin(one.Allowed));

    private IEnumerable<(AccessSet Perhaps, AccessSet Allowed)> PossibleExcess(SetAccess asked, Footing on, Caps caps)
    {
        var (host, all) = (caps.Host.Least, caps.Host.Least.Meet(caps.Policy.Most));
        return Cases(on).Select(one => Excess(one.Unit, one.Where(asked)));

        (AccessSet, AccessSet) Excess(PeopleSet unit, SetAccess asked)
        {
            var exceeds = asked
                .Possible.Select(ask => PossiblyExceeds(ask.Under(host, unit), ask.Under(all, unit)))
                .OfType<Opening>()
                .ToArray();
            return exceeds.Length == 0
                ? (AccessSet.None, AccessSet.None)
                : (AccessSet.Of(exceeds), asked.Least.Under(all, unit).Without(directory.Left));
        }
    }

    /// <summary>Who gets into a section of the site, on each footing.</summary>
    /// <param name="through">Who gets into the site at all, and by which power.</param>
    /// <param name="isShut">True if the site admits nobody, as in the attic.</param>
    internal IEnumerable<PartReach> OfPart(SiteSection part, SetAccess through, Power power, bool isShut)
    {
        var own = new SetAccess(AsksOf(Known<IReadOnlyList<Grant>>.Of(part.Grants), Known<Joining>.None, Power.View, directory));
        foreach (var on in footings)
        {
            var caps = on.Shared.For(Power.View).Host;
            var (ofPart, ofSite) = (
                Bounds(own, caps),
                isShut ? AccessBounds.Nothing : Bounds(through, on.Layers.For(power).Host)
            );
            yield return new PartReach(
                Parts.Effective(part.Tie, Power.View, ofPart, ofSite, directory),
                part.Tie == SectionTie.StandingFree ? IsAjar(own, through, power, isShut, on) : Truth.No
            );

            AccessBounds Bounds(SetAccess asked, Cap cap) => Through(asked, on, cap, isKnown: false);
        }
    }

    // An unknown layer caps the site and its section alike, whatever it is, so each possible limit is tried.
    private Truth IsAjar(SetAccess part, SetAccess through, Power power, bool isShut, Footing on)
    {
        var (shared, ofPower, own) = (on.Shared.For(Power.View).Host, on.Shared.For(power).Host, on.Own.For(power).Host);
        return Truths.Shared(
            shared
                .All()
                .Select(limit =>
                {
                    // Another power has its own limits in an unknown layer.
                    var (strict, loose) =
                        power == Power.View ? (limit, limit) : (ofPower.Most.Meet(limit), ofPower.Least.Meet(limit));
                    return Truths.Between(
                        Cases(on).Select(one => IsAjar(one, limit, loose.Meet(own.Least), isCertain: true)).All(isSo => isSo),
                        Cases(on).Select(one => IsAjar(one, limit, strict.Meet(own.Most), isCertain: false)).Any(isSo => isSo)
                    );
                })
        );

        bool IsAjar((PeopleSet Unit, Func<SetAccess, SetAccess> Where) one, Limit limit, Limit ofSite, bool isCertain)
        {
            var (asksOfPart, asksOfSite) = (one.Where(part), one.Where(through));

            // People whom the section admits by a grant that the site has too are admitted together with the site.
            asksOfPart =
                !isShut && limit.Inside == ofSite.Inside
                    ? asksOfPart.But(asksOfSite, insideOnly: limit != ofSite, directory)
                    : asksOfPart;
            var (lets, site) = isCertain ? (asksOfPart.Least, asksOfSite.Most) : (asksOfPart.Most, asksOfSite.Least);
            return !lets.Under(limit, one.Unit)
                .Except(isShut ? AccessSet.None : site.Under(ofSite, one.Unit).WithAnonymous(directory))
                .IsNone;
        }
    }

    // People of unknown unit belong to the site's own unit, or they do not: both are computed.
    private (PeopleSet Unit, Func<SetAccess, SetAccess> Where)[] Cases(Footing on) =>
        on.Layers.AsksForUnit && on.Units is [{ IsKnown: false } own]
            ?
            [
                (own.AtLeast, asked => asked.WhereNoMoreAreOf(own, directory)),
                (own.AtMost, asked => asked.WhereAllAreOf(own, directory)),
            ]
            : [(on.Units[0].AtLeast, asked => asked)];

    // What the host may admit of one grant and policy may not; null if that is nothing, the most frequent case.
    private Opening? PossiblyExceeds(Opening effective, Opening allowed)
    {
        if (ReferenceEquals(effective, allowed))
        {
            return effective.LetsIn(directory.Left) ? effective.Among(directory.Left) : null;
        }

        var exceeds = AccessSet.Of([effective]).Except(AccessSet.Of([allowed]).Without(directory.Left));
        return new Opening(exceeds.Inside, effective.IsWide, exceeds.Guests, exceeds.Doors);
    }

    internal Span InsideOf(SetAccess asked, Outcome outcome)
    {
        var (least, most) = (int.MaxValue, int.MinValue);
        var effective = outcome.Effective;
        foreach (var unit in outcome.On.Units)
        {
            var atLeast = (int)LeastLevel(effective.AtLeast, unit, () => AreAllOf(unit, asked, outcome.Caps.Host));
            least = Math.Min(least, atLeast);
            most = Math.Max(
                most,
                ReferenceEquals(effective.AtLeast, effective.AtMost) && unit.IsKnown
                    ? atLeast
                    : (int)MostLevel(
                        effective.AtMost,
                        unit,
                        people => CanAllBeIn(people, asked, outcome.On, outcome.Caps.Host.Least),
                        () => IsAnyOf(unit, asked, outcome.Caps.Host)
                    )
            );
        }

        return new Span(least, Math.Max(least, most));
    }

    // The level inside: staff if all staff get in, unit if all of the site's own unit do, named if anybody does.
    private InsideLevel LeastLevel(AccessSet access, OwnUnit unit, Func<bool> areAllLetIn) =>
        access.LetsInNobodyInside ? InsideLevel.Nobody
        : access.LetsInAll(directory.Staff) ? InsideLevel.Staff
        : access.LetsInAll(unit.AtLeast) && (unit.IsKnown || areAllLetIn()) ? InsideLevel.Unit
        : InsideLevel.Named;

    // People who may belong to the unit may get in for that reason.
    private bool AreAllOf(OwnUnit unit, SetAccess asked, Cap host) =>
        asked.WhereAllAreOf(unit, directory).Least.Under(host.Most, unit.AtMost).LetsInAll(unit.AtMost);

    // A unit without certain members may have members who get in.
    private bool IsAnyOf(OwnUnit unit, SetAccess asked, Cap host) =>
        asked.WhereAllAreOf(unit, directory).Most.Under(host.Least, unit.AtMost).Inside.Overlaps(unit.AtMost);

    private InsideLevel MostLevel(AccessSet access, OwnUnit unit, Func<PeopleSet, bool> canAllBeIn, Func<bool> isAnyOfUnitIn) =>
        access.LetsInNobodyInside ? InsideLevel.Nobody
        : access.LetsInAll(directory.Staff) && canAllBeIn(directory.Staff) ? InsideLevel.Staff
        : unit.AtLeast.IsEmpty
            ? isAnyOfUnitIn() ? InsideLevel.Unit
                : InsideLevel.Named
        : access.LetsInAll(unit.AtLeast) && canAllBeIn(unit.AtLeast) ? InsideLevel.Unit
        : InsideLevel.Named;

    // A limit to named people refuses a group that is all staff. So one such group can admit any of the staff, but not all of
    // them; two groups with different members can together.
    private bool CanAllBeIn(PeopleSet people, SetAccess asked, Footing on, Limit limit)
    {
        if (asked.Growing.Count == 0 || !limit.Inside.HasFlag(InsideLimit.Named))
        {
            return true;
        }

        var growing = asked.Growing.Where(growth => !growth.From.Includes(directory.Staff)).ToList();
        var others = PeopleSet.UnionOf([
            .. asked
                .Most.Openings.Where(opening => opening.Growth is null)
                .Select(opening => opening.Under(limit, on.Units[0].AtMost).Inside),
        ]);
        var rest = people.Except(others);
        return rest.IsEmpty
            || growing.Exists(growth => !growth.From.Union(rest).Includes(directory.Staff))
            || growing.Exists(one =>
                growing.Exists(other =>
                    !ReferenceEquals(one, other)
                    && one.GrowsApartFrom(other)
                    && !(
                        directory.Staff.Except(one.From).Count == 1
                        && directory.Staff.Except(one.From).Equals(directory.Staff.Except(other.From))
                    )
                )
            );
    }

    internal IReadOnlyList<Step> StepsOf(SetAccess asked, Power power)
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
            var access = AccessSet.Of([.. behind.Least]);
            steps.Add(
                new Step(
                    layer,
                    layer.For(power),
                    BindingsOf(layer, power, least, most, unitAtLeast, unitAtMost),
                    new AccessBounds(access, isKnown ? access : AccessSet.Of([.. behind.Most]))
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
                && limit.LeastSignIn != VisitorSignIn.None
                && !ask.Doors.Except(DoorSet.Upto(OutsideLevel.Anonymous, limit.LeastSignIn)).IsEmpty,
        };
}
