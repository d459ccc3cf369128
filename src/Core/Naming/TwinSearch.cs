using System.Numerics;

namespace AtticLedger.Core.Naming;

/// <summary>Finds the names near to another among very many. What cannot be near is passed over by two bounds that a slip can
/// change by little: the length, and which letters occur once and which more often. So nothing is lost by it.</summary>
public sealed class TwinSearch
{
    // Each slip changes the length by at most one, and at most two letters.
    private const int LettersOfASlip = 2;

    private readonly string[] names;
    private readonly int[] places;
    private readonly ulong[] letters;

    // The first place of the names of a length.
    private readonly int[] firsts;

    /// <param name="meanings">The meanings of names, as <see cref="LookAlikes.Bare"/> gives them; a meaning can occur many
    /// times.</param>
    public TwinSearch(IReadOnlyList<string> meanings)
    {
        places = [.. Enumerable.Range(0, meanings.Count).OrderBy(place => meanings[place].Length)];
        names = Array.ConvertAll(places, place => meanings[place]);
        letters = Array.ConvertAll(names, Letters);
        firsts = new int[(names.Length == 0 ? 0 : names[^1].Length) + 2];
        foreach (var name in names)
        {
            firsts[name.Length + 1]++;
        }

        for (var length = 1; length < firsts.Length; length++)
        {
            firsts[length] += firsts[length - 1];
        }
    }

    /// <summary>The places of the names that are the same as a meaning, or near it.</summary>
    public IEnumerable<(int Place, Nearness Nearness)> Near(string meaning)
    {
        if (meaning.Length == 0)
        {
            yield break;
        }

        var its = Letters(meaning);
        var furthest = Twins.Reach(meaning.Length);
        for (var at = First(meaning.Length - furthest); at < First(meaning.Length + furthest + 1); at++)
        {
            if (
                BitOperations.PopCount(its ^ letters[at]) <= LettersOfASlip * furthest
                && Twins.Between(meaning, names[at]) is (Nearness.Same or Nearness.Near) and var nearness
            )
            {
                yield return (places[at], nearness);
            }
        }
    }

    /// <summary>Every pair of names that are the same or near, each once, the lower place first.</summary>
    public IReadOnlyList<TwinPair> Pairs()
    {
        var found = new List<TwinPair>[names.Length];
        Parallel.For(0, names.Length, at =>
        {
            foreach (var (place, nearness) in Near(names[at]))
            {
                if (place > places[at])
                {
                    (found[at] ??= []).Add(new TwinPair(places[at], place, nearness));
                }
            }
        });
        return [.. found.OfType<List<TwinPair>>().SelectMany(pairs => pairs).OrderBy(pair => (pair.One, pair.Other))];
    }

    private int First(int length) => firsts[Math.Clamp(length, 0, firsts.Length - 1)];

    // A bit for each letter and digit that occurs, another for a letter that occurs again.
    private static ulong Letters(string name)
    {
        ulong once = 0,
            again = 0;
        foreach (var letter in name)
        {
            var bit =
                letter is >= 'a' and <= 'z' ? 1UL << (letter - 'a')
                : letter is >= '0' and <= '9' ? 1UL << (26 + letter - '0')
                : 1UL << 36;
            again |= once & bit;
            once |= bit;
        }

        return once | (again & ((1UL << 26) - 1)) << 37;
    }
}
