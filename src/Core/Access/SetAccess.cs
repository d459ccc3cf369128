using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

/// <summary>The set access for one power, at least and at most.</summary>
internal sealed class SetAccess
{
    private readonly Ask[] asks;
    private AccessBounds? bounds;

    public SetAccess(Ask[] asks)
    {
        this.asks = asks;
        IsKnown = Array.TrueForAll(asks, static ask => ReferenceEquals(ask.Lets.AtLeast, ask.Lets.AtMost));
        Least = new Several(Array.ConvertAll(asks, static ask => ask.Lets.AtLeast));
        Most = IsKnown ? Least : new Several(Array.ConvertAll(asks, static ask => ask.Lets.AtMost));
        Growing = IsKnown ? [] : [.. asks.Select(static ask => ask.Lets.AtMost.Growth).OfType<Growth>()];
    }

    public Several Least { get; }

    public Several Most { get; }

    public bool IsKnown { get; }

    /// <summary>The groups among them with unknown members.</summary>
    public IReadOnlyList<Growth> Growing { get; }

    /// <summary>All access that may be set: what is possible by name, and what is possible if a grant turns out to be one to all
    /// staff.</summary>
    public IEnumerable<Opening> Possible =>
        asks.SelectMany(static ask => ask.Lets.Wide is { } wide ? [ask.Lets.AtMost, wide] : (Opening[])[ask.Lets.AtMost]);

    public IReadOnlyList<Ask> Asks => asks;

    public AccessBounds Bounds => bounds ??= new AccessBounds(Least.Whole, Most.Whole);

    /// <summary>What is set here and not there: by a grant that admits different or more people.</summary>
    /// <param name="insideOnly">True if grants to outsiders are kept, because they have other limits there.</param>
    public SetAccess But(SetAccess other, bool insideOnly, PeopleDirectory directory) =>
        new(
            Array.FindAll(asks, ask =>
                !Array.Exists(other.asks, its =>
                    (ReferenceEquals(its.Lets, ask.Lets) && (!insideOnly || ask.Lets.AtMost.Doors.IsEmpty))
                    || (
                        ask.Grant is { Subject: Subject.WholeUnit(var unit) }
                        && its.Grant is { Subject: Subject.WholeUnit(var above) }
                        && directory.CodesOf(unit).Contains(above)
                    )
                )
            )
        );

    /// <summary>The set access if nobody of unknown unit belongs to the site's own unit: they then belong to none below it
    /// either.</summary>
    public SetAccess WhereNoMoreAreOf(OwnUnit own, PeopleDirectory directory) =>
        new(
            Array.ConvertAll(asks, ask =>
                ask.Grant is { Subject: Subject.WholeUnit(var unit) }
                && own.Chain is [.., var code]
                && directory.CodesOf(unit).Contains(code)
                    ? ask with
                    {
                        Lets = OpeningBounds.Exactly(ask.Lets.AtLeast),
                    }
                    : ask
            )
        );

    /// <summary>The set access if everybody of unknown unit belongs to the site's own unit: then they also belong to its
    /// parents, possibly to a unit below it, and to no other.
    /// </summary>
    public SetAccess WhereAllAreOf(OwnUnit own, PeopleDirectory directory) => new(Array.ConvertAll(asks, ask => ask.Grant
                    is not { Subject: Subject.WholeUnit(var unit) }
                    ? ask
                : own.Chain.Contains(unit) ? ask with { Lets = OpeningBounds.Exactly(ask.Lets.AtMost) }
                : own.Chain is [.., var code] && directory.CodesOf(unit).Contains(code) ? ask
                : ask with { Lets = OpeningBounds.Exactly(ask.Lets.AtLeast) }));

    /// <summary>The set access for a stronger power, often the same.</summary>
    public SetAccess AtLeast(Power power)
    {
        var stronger = 0;
        foreach (var ask in asks)
        {
            stronger += IsAtLeast(ask, power) ? 1 : 0;
        }

        if (stronger == asks.Length)
        {
            return this;
        }

        var left = new Ask[stronger];
        var at = 0;
        foreach (var ask in asks)
        {
            if (IsAtLeast(ask, power))
            {
                left[at++] = ask;
            }
        }

        return new SetAccess(left);
    }

    private static bool IsAtLeast(Ask ask, Power power) => ask.Power >= power;
}

/// <summary>The union of openings.</summary>
internal sealed class Several(Opening[] openings)
{
    private readonly bool isAnyWide = Array.Exists(openings, static opening => opening.IsWide);
    private AccessSet? whole;

    public Opening[] Openings => openings;

    public AccessSet Whole => whole ??= AccessSet.Of(openings);

    public AccessSet Under(Limit limit, PeopleSet ownUnit)
    {
        // Most limits refuse nothing of the set access of most sites.
        if (
            (limit.Inside == InsideLimit.Staff || (limit.Inside == InsideLimit.Named && !isAnyWide))
            && Whole.Doors.Except(limit.Lets).IsEmpty
        )
        {
            return Whole;
        }

        Opening[]? left = null;
        for (var i = 0; i < openings.Length; i++)
        {
            var under = openings[i].Under(limit, ownUnit);
            if (left is null && !ReferenceEquals(under, openings[i]))
            {
                left = (Opening[])openings.Clone();
            }

            if (left is not null)
            {
                left[i] = under;
            }
        }

        return left is null ? Whole : AccessSet.Of(left);
    }
}
