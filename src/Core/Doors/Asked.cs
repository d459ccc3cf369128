using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Doors;

/// <summary>What is asked for one power, at least and at most.</summary>
internal sealed class Asked
{
    private readonly Ask[] asks;
    private AccessBounds? bounds;

    public Asked(Ask[] asks)
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

    /// <summary>The groups among them of which not all members are known.</summary>
    public IReadOnlyList<Growth> Growing { get; }

    /// <summary>All that may be asked: what is possible by name, and what is possible if a grant turns out to be to all of the staff.</summary>
    public IEnumerable<Opening> Possible =>
        asks.SelectMany(static ask => ask.Lets.Wide is { } wide ? [ask.Lets.AtMost, wide] : (Opening[])[ask.Lets.AtMost]);

    public IReadOnlyList<Ask> Asks => asks;

    public AccessBounds Bounds => bounds ??= new AccessBounds(Least.Whole, Most.Whole);

    /// <summary>What is asked here and not there: by a grant that opens something else, or more.</summary>
    /// <param name="insideOnly">Whether grants to people outside are left, for they are limited otherwise there.</param>
    public Asked But(Asked other, bool insideOnly, Roll roll) =>
        new(
            Array.FindAll(asks, ask =>
                !Array.Exists(other.asks, its =>
                    (ReferenceEquals(its.Lets, ask.Lets) && (!insideOnly || ask.Lets.AtMost.Doors.IsEmpty))
                    || (
                        ask.Grant is { Subject: Subject.WholeUnit(var unit) }
                        && its.Grant is { Subject: Subject.WholeUnit(var above) }
                        && roll.CodesOf(unit).Contains(above)
                    )
                )
            )
        );

    /// <summary>What is asked if nobody whose unit is not known is of a site's own unit: nor are they of one below it.</summary>
    public Asked WhereNoMoreAreOf(OwnUnit own, Roll roll) =>
        new(
            Array.ConvertAll(asks, ask =>
                ask.Grant is { Subject: Subject.WholeUnit(var unit) }
                && own.Chain is [.., var code]
                && roll.CodesOf(unit).Contains(code)
                    ? ask with
                    {
                        Lets = OpeningBounds.Exactly(ask.Lets.AtLeast),
                    }
                    : ask
            )
        );

    /// <summary>
    /// What is asked if all whose unit is not known are of a site's own unit: then they are of those above it too, perhaps of
    /// one below it, and of no other.
    /// </summary>
    public Asked WhereAllAreOf(OwnUnit own, Roll roll) => new(Array.ConvertAll(asks, ask => ask.Grant
                    is not { Subject: Subject.WholeUnit(var unit) }
                    ? ask
                : own.Chain.Contains(unit) ? ask with { Lets = OpeningBounds.Exactly(ask.Lets.AtMost) }
                : own.Chain is [.., var code] && roll.CodesOf(unit).Contains(code) ? ask
                : ask with { Lets = OpeningBounds.Exactly(ask.Lets.AtLeast) }));

    /// <summary>What is asked for a stronger power: often the very same.</summary>
    public Asked AtLeast(Power power)
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

        return new Asked(left);
    }

    private static bool IsAtLeast(Ask ask, Power power) => ask.Power >= power;
}

/// <summary>Openings together.</summary>
internal sealed class Several(Opening[] openings)
{
    private readonly bool isAnyWide = Array.Exists(openings, static opening => opening.IsWide);
    private Access? whole;

    public Opening[] Openings => openings;

    public Access Whole => whole ??= Access.Of(openings);

    public Access Under(Limit limit, PeopleSet ownUnit)
    {
        // Most limits refuse nothing of what most sites ask.
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

        return left is null ? Whole : Access.Of(left);
    }
}
