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
    }

    public Several Least { get; }

    public Several Most { get; }

    public bool IsKnown { get; }

    public AccessBounds Bounds => bounds ??= new AccessBounds(Least.Whole, Most.Whole);

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

    private static bool IsAtLeast(Ask ask, Power power) => ask.Grant is null || ask.Grant.Power >= power;
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
        if ((limit.Inside == InsideLimit.Staff || (limit.Inside == InsideLimit.Named && !isAnyWide)) && Whole.Doors.Except(limit.Lets).IsEmpty)
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
