using AtticLedger.Core.Naming;
using CsCheck;

namespace AtticLedger.Core.Tests.Naming;

public class TwinFacts
{
    private static readonly Gen<string> Name = Gen.Select(
            Gen.OneOf(["berth", "berths", "bert", "tide", "tied", "dock", "rota", "rotas", "old", "handbook", "v2"]).Array[0, 4],
            Gen.OneOf(Gen.Const(""), Gen.Int[1, 12].Select(number => $"{number}")),
            Gen.Char["abt "].Array[0, 2]
        )
        .Select((words, number, more) => LookAlikes.Bare($"{string.Join(' ', words)} {number}{new string(more)}"));

    [Theory]
    [InlineData("Tug crew rota", "Tug crew rota (copy)", Nearness.Same)]
    [InlineData("Tug crew rota", "TUG-CREW rota v2", Nearness.Same)]
    [InlineData("Tide tables ver 2", "Tide tables 1.2", Nearness.Same)]
    [InlineData("Tide tables version 3", "Tide tables", Nearness.Same)]
    [InlineData("Wharf café orders", "Wharf cafe order", Nearness.Near)]
    [InlineData("Harbour news", "Harbuor nwes", Nearness.Near)]
    [InlineData("Harbour news", "Harbuor nwse", Nearness.Far)]
    [InlineData("Harbour news", "Harbournews", Nearness.Near)]
    [InlineData("Pilots", "Pilot", Nearness.Near)]
    [InlineData("Pilots", "Pilo", Nearness.Far)]
    [InlineData("Tug", "Tub", Nearness.Far)]
    [InlineData("Tug", "TUG (old)", Nearness.Same)]
    [InlineData("Dock 1", "Dock 2", Nearness.Series)]
    [InlineData("Regatta 2024", "Regatta 2025", Nearness.Series)]
    [InlineData("Dock 1", "Dock", Nearness.Far)]
    [InlineData("Regatta 24.12.2025", "Regatta 24.12.2026", Nearness.Series)]
    [InlineData("Dock 9", "Dock 10", Nearness.Series)]
    [InlineData("2024", "2025", Nearness.Series)]
    [InlineData("copy", "old", Nearness.Far)]
    [InlineData("…", "!", Nearness.Far)]
    [InlineData("Приливы", "Прилив", Nearness.Near)]
    public void Names_are_near_by_the_letters_that_differ(string one, string other, Nearness nearness)
    {
        var (bare, otherBare) = (LookAlikes.Bare(one), LookAlikes.Bare(other));
        Assert.Equal(nearness, Twins.Between(bare, otherBare));
        Assert.Equal(nearness, Twins.Between(otherBare, bare));
    }

    [Fact]
    public void The_distance_is_the_least_number_of_slips() =>
        Gen.Select(Gen.Char["ab1"].Array[0, 6], Gen.Char["ab1"].Array[0, 6], Gen.Int[0, 2])
            .Sample(
                (one, other, greatest) =>
                    Twins.Distance(one, other, greatest) == Math.Min(SlipsBetween(new(one), new(other), greatest), greatest + 1),
                iter: 1000
            );

    [Fact]
    public void The_search_finds_exactly_the_pairs_that_comparing_all_with_all_finds() =>
        Name.Array[0, 60]
            .Sample(
                names =>
                {
                    var expected = new List<TwinPair>();
                    for (var one = 0; one < names.Length; one++)
                    {
                        for (var other = one + 1; other < names.Length; other++)
                        {
                            if (Twins.Between(names[one], names[other]) is (Nearness.Same or Nearness.Near) and var nearness)
                            {
                                expected.Add(new TwinPair(one, other, nearness));
                            }
                        }
                    }

                    return expected.SequenceEqual(new TwinSearch(names).Pairs());
                },
                iter: 300
            );

    [Fact]
    public void Pairs_that_follow_changed_names_are_those_found_again() =>
        Gen.Select(
                Name.Array[0, 30],
                Gen.Select(Gen.Int[0, 40], Gen.OneOf(Name.Select(name => (string?)name), Gen.Const((string?)null))).Array[0, 12]
            )
            .Sample(
                (names, edits) =>
                {
                    var now = names.ToList<string?>();
                    var pairs = TwinPairs.None.Following([.. now]);
                    foreach (var few in edits.Chunk(3))
                    {
                        foreach (var (place, name) in few)
                        {
                            if (place < now.Count)
                            {
                                now[place] = name;
                            }
                            else
                            {
                                now.Add(name);
                            }
                        }

                        pairs = pairs.Following([.. now]);
                        if (!pairs.All.SequenceEqual(TwinPairs.None.Following([.. now]).All))
                        {
                            return false;
                        }
                    }

                    return true;
                },
                iter: 500
            );

    [Fact]
    public void The_meaning_of_a_meaning_is_itself() =>
        Gen.OneOf(
                Gen.String,
                Name,
                Gen.OneOf([.. new[] { "ver", "old", "2", "v2", "1.2", "v", "tide" }.Select(Gen.Const)])
                    .Array[0, 6]
                    .Select(words => string.Join(' ', words))
            )
            .Sample(name => LookAlikes.Bare(name) is var bare && LookAlikes.Bare(bare) == bare);

    // The shortest way from one to the other, slip by slip.
    private static int SlipsBetween(string one, string other, int most)
    {
        HashSet<string> seen = [one];
        List<string> reached = [one];
        for (var slips = 0; slips <= most; slips++)
        {
            if (reached.Contains(other))
            {
                return slips;
            }

            reached = [.. reached.SelectMany(Slips).Where(seen.Add)];
        }

        return most + 1;
    }

    private static IEnumerable<string> Slips(string name)
    {
        for (var at = 0; at <= name.Length; at++)
        {
            foreach (var letter in "ab1")
            {
                yield return name.Insert(at, $"{letter}");
                if (at < name.Length)
                {
                    yield return $"{name[..at]}{letter}{name[(at + 1)..]}";
                }
            }

            if (at < name.Length)
            {
                yield return name.Remove(at, 1);
            }

            if (at + 1 < name.Length)
            {
                yield return $"{name[..at]}{name[at + 1]}{name[at]}{name[(at + 2)..]}";
            }
        }
    }
}
