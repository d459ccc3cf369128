using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

public enum Axis : byte
{
    Inside,
    Who,
    Proof,
}

/// <summary>A layer that refuses something asked on one axis. Not certain where the layer or the ask is unknown.</summary>
public sealed record Binding(Axis Axis, bool IsCertain);

/// <summary>One layer of a passage: what it caps, what it refuses, and what is left behind it of what was asked.</summary>
public sealed record Step(Layer Layer, Known<Limit> Limit, IReadOnlyList<Binding> Bindings, AccessBounds Behind);

/// <summary>What gets in beyond what policy allows; its people are put together when somebody asks for them.</summary>
public sealed class Beyond
{
    private readonly Func<Access> makeCertain;
    private readonly Func<Access>? makePossible;
    private readonly Func<Truth> judge;
    private Access? certain;
    private Access? perhaps;
    private Truth? isSo;

    /// <param name="possible">Null where everything is known.</param>
    /// <param name="canAllBeAllowed">Whether policy can allow some people all together, where it can allow each of them.</param>
    internal Beyond(Access actual, Access allowed, Func<Access>? possible = null, Func<PeopleSet, bool>? canAllBeAllowed = null)
    {
        makeCertain = () => actual.Except(allowed);
        makePossible = possible;
        judge = () =>
            !actual.IsWithin(allowed) || canAllBeAllowed?.Invoke(actual.Inside) == false ? Truth.Yes
            : possible is null || Possible.IsNone ? Truth.No
            : Truth.Unknown;
    }

    /// <summary>What several possible ones share.</summary>
    internal Beyond(IReadOnlyList<Beyond> of)
    {
        makeCertain = () => of.Select(one => one.Certain).Aggregate((shared, one) => shared.InBoth(one));
        makePossible = () => of.Select(one => one.Possible).Aggregate((all, one) => all.Union(one));
        judge = () => Truths.Shared(of.Select(one => one.IsSo));
    }

    public Access Certain => certain ??= makeCertain();

    public Access Possible => makePossible is null ? Certain : perhaps ??= makePossible();

    public Truth IsSo => isSo ??= judge();

    public Truth Inside => Truths.Between(!Certain.Inside.IsEmpty, !Possible.Inside.IsEmpty);

    /// <summary>Of doors, and of guests who are let in by name.</summary>
    public Truth Outside =>
        Truths.Between(!Certain.Doors.IsEmpty || !Certain.Guests.IsEmpty, !Possible.Doors.IsEmpty || !Possible.Guests.IsEmpty);
}

/// <summary>What comes of the asks for one power on one footing.</summary>
internal sealed record Outcome(Footing On, Caps Caps, AccessBounds Actual, AccessBounds Allowed, Beyond Beyond);

/// <summary>
/// The arithmetic of one power at one site. What is <em>asked</em> runs through the layers: those that the host enforces
/// leave the <em>actual</em>, all of them leave what is <em>allowed</em> of it, and the difference is <em>beyond</em>.
/// Where the site may stand on several footings, each is computed and the verdict is what they share.
/// </summary>
public sealed class Passage
{
    private readonly Passages by;
    private readonly Asked asked;
    private readonly Outcome[] outcomes;
    private IReadOnlyList<Step>? steps;
    private Span? inside;

    internal Passage(Passages by, Asked asked, Power power, Outcome[] outcomes)
    {
        (this.by, this.asked, this.outcomes, Power) = (by, asked, outcomes, power);
        (Actual, Allowed, Beyond) = outcomes is [var only]
            ? (only.Actual, only.Allowed, only.Beyond)
            : (
                AccessBounds.Shared(outcomes.Select(one => one.Actual)),
                AccessBounds.Shared(outcomes.Select(one => one.Allowed)),
                new Beyond([.. outcomes.Select(one => one.Beyond)])
            );
    }

    public Power Power { get; }

    public AccessBounds Asked => asked.Bounds;

    public AccessBounds Actual { get; }

    public AccessBounds Allowed { get; }

    public Beyond Beyond { get; }

    /// <summary>How far inside it reaches in fact, as places of <see cref="InsideLevel"/>.</summary>
    public Span Inside => inside ??= outcomes.Select(one => by.InsideOf(asked, one)).Aggregate(Span.Hull);

    /// <summary>How far outside it reaches in fact, as places of <see cref="OutsideLevel"/>.</summary>
    public Span Outside => outcomes is [var only] ? OutsideOf(only) : outcomes.Select(OutsideOf).Aggregate(Span.Hull);

    /// <summary>What all the layers permit, asked or not; unknown where that is not settled.</summary>
    public Known<Limit> Permitted =>
        outcomes.Select(one => one.Caps.All).Distinct().ToList() is [{ IsSettled: true } settled]
            ? Known.Of(settled.Least)
            : Known<Limit>.Unknown;

    /// <summary>How far inside the layers permit it to reach, asked or not.</summary>
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

    /// <summary>Layer by layer; worked out when somebody asks, for most passages are only counted.</summary>
    public IReadOnlyList<Step> Steps => steps ??= by.StepsOf(asked, Power);

    /// <summary>How far inside some access to this site reaches: that of a layer or of a section.</summary>
    public Span LevelsOf(AccessBounds bounds) => ReferenceEquals(bounds, Actual) ? Inside : by.LevelsOf(bounds);

    /// <summary>Who gets into a part of the site, held against who gets into the site by this power.</summary>
    public PartReach OfPart(SiteSection part, bool isShut) => PartReach.Shared([.. by.OfPart(part, asked, Power, isShut)]);

    public IEnumerable<Step> Binding(Axis axis, bool certainly = true) =>
        Steps.Where(step => step.Bindings.Any(binding => binding.Axis == axis && (binding.IsCertain || !certainly)));

    private static Span OutsideOf(Outcome outcome) =>
        new((int)outcome.Actual.AtLeast.Doors.Widest, (int)outcome.Actual.AtMost.Doors.Widest);
}
