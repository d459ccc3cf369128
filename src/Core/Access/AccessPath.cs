using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

public enum Axis : byte
{
    Inside,
    Who,
    VisitorSignIn,
}

/// <summary>A layer that limits the set access on one axis. Not certain where the layer or the set access is unknown.</summary>
public sealed record Binding(Axis Axis, bool IsCertain);

/// <summary>One layer of an access path: its cap, what it refuses, and what remains of the set access after it.</summary>
public sealed record Step(Layer Layer, Known<Limit> Limit, IReadOnlyList<Binding> Bindings, AccessBounds Behind);

/// <summary>The access that exceeds policy; its people are collected on demand.</summary>
public sealed class Excess
{
    private readonly Func<AccessSet> makeCertain;
    private readonly Func<AccessSet>? makePossible;
    private readonly Func<Truth> judge;
    private readonly Func<PeopleSet, bool> isSoWithout;
    private AccessSet? certain;
    private AccessSet? perhaps;
    private Truth? isSo;

    /// <param name="possible">Null if everything is known.</param>
    /// <param name="isPossible">True if it is not none; needs no set.</param>
    /// <param name="canAllBeAllowed">True if policy can allow all of the people at once, where it can allow each of them.</param>
    internal Excess(
        AccessSet effective,
        AccessSet allowed,
        Func<AccessSet>? possible = null,
        Func<bool>? isPossible = null,
        Func<PeopleSet, bool>? canAllBeAllowed = null
    )
    {
        makeCertain = () => effective.Except(allowed);
        makePossible = possible;
        judge = () =>
            !effective.IsWithin(allowed) || canAllBeAllowed?.Invoke(effective.Inside) == false ? Truth.Yes
            : isPossible?.Invoke() == true ? Truth.Unknown
            : Truth.No;
        isSoWithout = people => !effective.IsWithin(allowed, people);
    }

    /// <summary>The bounds that hold for every possible value.</summary>
    internal Excess(IReadOnlyList<Excess> of)
    {
        makeCertain = () => of.Select(one => one.Certain).Aggregate((shared, one) => shared.InBoth(one));
        makePossible = () => of.Select(one => one.Possible).Aggregate((all, one) => all.Union(one));
        judge = () => Truths.Shared(of.Select(one => one.IsSo));
        isSoWithout = people => !Certain.Without(people).IsNone;
    }

    public AccessSet Certain => certain ??= makeCertain();

    public AccessSet Possible => makePossible is null ? Certain : perhaps ??= makePossible();

    public Truth IsSo => isSo ??= judge();

    /// <summary>True if it certainly is more than some of these people.</summary>
    public bool IsMoreThan(PeopleSet people) => isSoWithout(people);

    public Truth Inside => Truths.Between(!Certain.Inside.IsEmpty, !Possible.Inside.IsEmpty);

    /// <summary>Of doors, and of guests who are admitted by name.</summary>
    public Truth Outside =>
        Truths.Between(!Certain.Doors.IsEmpty || !Certain.Guests.IsEmpty, !Possible.Doors.IsEmpty || !Possible.Guests.IsEmpty);
}

/// <summary>The result of the set access for one power on one footing.</summary>
internal sealed record Outcome(Footing On, Caps Caps, AccessBounds Effective, AccessBounds Allowed, Excess Excess);

/// <summary>The access path of one power on one site. The <em>set</em> access runs through the layers: the layers that the host
/// enforces leave the <em>effective</em> access, all layers together leave what is <em>allowed</em>, and the difference
/// <em>exceeds</em> policy. Where several footings are possible, each is computed and the verdict holds for all of them.
/// </summary>
public sealed class AccessPath
{
    private readonly AccessPaths by;
    private readonly SetAccess asked;
    private readonly Outcome[] outcomes;
    private IReadOnlyList<Step>? steps;
    private Span? inside;

    internal AccessPath(AccessPaths by, SetAccess asked, Power power, Outcome[] outcomes)
    {
        (this.by, this.asked, this.outcomes, Power) = (by, asked, outcomes, power);
        (Effective, Allowed, Excess) = outcomes is [var only]
            ? (only.Effective, only.Allowed, only.Excess)
            : (
                AccessBounds.Shared(outcomes.Select(one => one.Effective)),
                AccessBounds.Shared(outcomes.Select(one => one.Allowed)),
                new Excess([.. outcomes.Select(one => one.Excess)])
            );
    }

    public Power Power { get; }

    public AccessBounds SetAccess => asked.Bounds;

    public AccessBounds Effective { get; }

    public AccessBounds Allowed { get; }

    public Excess Excess { get; }

    /// <summary>The effective reach inside, as positions of <see cref="InsideLevel"/>.</summary>
    public Span Inside => inside ??= outcomes.Select(one => by.InsideOf(asked, one)).Aggregate(Span.Hull);

    /// <summary>The effective reach outside, as positions of <see cref="OutsideLevel"/>.</summary>
    public Span Outside => outcomes is [var only] ? OutsideOf(only) : outcomes.Select(OutsideOf).Aggregate(Span.Hull);

    /// <summary>What all layers together permit, whether set or not; unknown if that depends on unknown facts.</summary>
    public Known<Limit> Permitted =>
        outcomes.Select(one => one.Caps.All).Distinct().ToList() is [{ IsSettled: true } settled]
            ? Known.Of(settled.Least)
            : Known<Limit>.Unknown;

    /// <summary>The reach inside that the layers permit, whether set or not.</summary>
    public Span PermittedInside =>
        outcomes
            .Select(one => one.Caps.All)
            .Select(cap => new Span((int)cap.Most.Inside.Level(), (int)cap.Least.Inside.Level()))
            .Aggregate(Span.Hull);

    public Span PermittedOutside =>
        outcomes
            .Select(one => one.Caps.All)
            .Select(cap => new Span((int)cap.Most.Widest, (int)cap.Least.Widest))
            .Aggregate(Span.Hull);

    /// <summary>Layer by layer; computed on demand, because most access paths are only counted.</summary>
    public IReadOnlyList<Step> Steps => steps ??= by.StepsOf(asked, Power);

    /// <summary>The reach inside of an access set of this site: of a layer or of a section.</summary>
    public Span LevelsOf(AccessBounds bounds) => ReferenceEquals(bounds, Effective) ? Inside : by.LevelsOf(bounds);

    /// <summary>Who gets into a section of the site, compared with who gets into the site by this power.</summary>
    public PartReach OfPart(SiteSection part, bool isShut) => PartReach.Shared([.. by.OfPart(part, asked, Power, isShut)]);

    public IEnumerable<Step> Binding(Axis axis, bool certainly = true) =>
        Steps.Where(step => step.Bindings.Any(binding => binding.Axis == axis && (binding.IsCertain || !certainly)));

    private static Span OutsideOf(Outcome outcome) =>
        new((int)outcome.Effective.AtLeast.Doors.Widest, (int)outcome.Effective.AtMost.Doors.Widest);
}
