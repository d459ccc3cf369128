using System.Numerics;

namespace AtticLedger.Core.Naming;

/// <summary>Finds the names near to another among very many. What cannot be near is passed over by bounds that a slip can change
/// by little: the length, and which letters occur once and which more often. Names that differ by numbers alone are known by one
/// number for each class of them. So nothing is lost.</summary>
public sealed class TwinSearch
{
    // Each slip changes the length by at most one, and at most two letters.
    private const int LettersOfASlip = 2;

    private readonly Sought[] names;

    // Of each name, side by side, because nearly all that is read is this: its letters; its class, and a hash of it.
    private readonly ulong[] letters;
    private readonly (int Class, int Hash)[] keys;

    // The first position of the names of a length.
    private readonly int[] firsts;
    private readonly Dictionary<string, int> classes = new(StringComparer.Ordinal);

    /// <param name="meanings">The meanings of names, as <see cref="LookAlikes.Bare"/> gives them; a meaning can occur many
    /// times.</param>
    public TwinSearch(IReadOnlyList<string> meanings)
    {
        names =
        [
            .. Enumerable
                .Range(0, meanings.Count)
                .OrderBy(place => meanings[place].Length)
                .Select(place => Seek(place, meanings[place], mayAdd: true)),
        ];
        letters = Array.ConvertAll(names, name => name.Letters);
        keys = Array.ConvertAll(names, name => name.Key);
        firsts = new int[(names.Length == 0 ? 0 : names[^1].Meaning.Length) + 2];
        foreach (var name in names)
        {
            firsts[name.Meaning.Length + 1]++;
        }

        for (var length = 1; length < firsts.Length; length++)
        {
            firsts[length] += firsts[length - 1];
        }
    }

    /// <summary>The places of the names that are the same as a meaning, or near it.</summary>
    public IReadOnlyList<(int Place, Nearness Nearness)> Near(string meaning)
    {
        var found = new List<(int, Nearness)>();
        if (meaning.Length > 0)
        {
            var reach = Twins.Reach(meaning.Length);
            Add(Seek(-1, meaning, mayAdd: false), First(meaning.Length - reach), found);
        }

        return found;
    }

    /// <summary>Every pair of names that are the same or near, each once, the lower place first.</summary>
    public IReadOnlyList<TwinPair> Pairs()
    {
        var found = new List<(int Place, Nearness Nearness)>[names.Length];
        Parallel.For(First(1), names.Length, at =>
        {
            var near = new List<(int, Nearness)>();
            Add(names[at], at + 1, near);
            found[at] = near;
        });
        return
        [
            .. found
                .Zip(names)
                .Where(pair => pair.First is { Count: > 0 })
                .SelectMany(pair =>
                    pair.First.Select(near => new TwinPair(
                        Math.Min(pair.Second.Place, near.Place),
                        Math.Max(pair.Second.Place, near.Place),
                        near.Nearness
                    ))
                )
                .OrderBy(pair => (pair.One, pair.Other)),
        ];
    }

    // Adds what is near among the names from a position on.
    private void Add(in Sought sought, int from, List<(int, Nearness)> found)
    {
        var reach = Twins.Reach(sought.Meaning.Length);
        var end = First(sought.Meaning.Length + reach + 1);
        var mostLetters = LettersOfASlip * reach;
        for (var at = from; at < end; at++)
        {
            if (BitOperations.PopCount(sought.Letters ^ letters[at]) > mostLetters)
            {
                continue;
            }

            var key = keys[at];
            if (key.Class == sought.Key.Class)
            {
                if (key == sought.Key && names[at].Meaning == sought.Meaning)
                {
                    found.Add((names[at].Place, Nearness.Same));
                }
            }
            else if (Twins.IsNear(sought.Meaning, names[at].Meaning))
            {
                found.Add((names[at].Place, Nearness.Near));
            }
        }
    }

    private int First(int length) => firsts[Math.Clamp(length, 0, firsts.Length - 1)];

    private Sought Seek(int place, string meaning, bool mayAdd)
    {
        var skeleton = Twins.WithoutNumbers(meaning);
        if (!classes.TryGetValue(skeleton, out var its))
        {
            its = mayAdd ? classes[skeleton] = classes.Count : -1;
        }

        return new Sought(place, meaning, LettersOf(meaning), (its, meaning.GetHashCode(StringComparison.Ordinal)));
    }

    // A bit for each letter and digit that occurs, another for a letter that occurs again.
    private static ulong LettersOf(string name)
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

    /// <param name="Key">The class is equal for names that differ by numbers alone, the hash for equal ones.</param>
    private readonly record struct Sought(int Place, string Meaning, ulong Letters, (int Class, int Hash) Key);
}
