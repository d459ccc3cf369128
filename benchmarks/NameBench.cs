using System.Diagnostics;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Rules;

namespace AtticLedger.Bench;

/// <summary>Near names found by the search and by comparing all with all, which have to find the same pairs; and addresses judged
/// against all that are held.</summary>
internal sealed class NameBench(RegisterIndex index, Report report)
{
    private const int Sample = 6_000;
    private const int Asked = 2_000;

    private readonly string?[] names =
    [
        .. Enumerable
            .Range(0, index.Count)
            .Select(place => index.Columns.Of<string>("name")[place].Has(out var name) ? name : null),
    ];

    public async Task Run(bool isPromised)
    {
        var meanings = names.Select(name => LookAlikes.Bare(name ?? "")).ToArray();

        // Names of a kind stand together in the register, so a part of it in a row has as many pairs as possible.
        var some = meanings.Take(Sample).ToArray();
        var (found, expected) = (new TwinSearch(some).Pairs(), AllWithAll(some));
        if (!found.SequenceEqual(expected))
        {
            throw new InvalidOperationException(
                $"The search found {found.Count} pairs among {some.Length} names, comparing all with all {expected.Count}."
            );
        }

        Report.Table($"near names among {names.Length:N0}, the same pairs from both in a sample");
        var (search, brute) = await Timing.Beside(
            () => Task.FromResult(new TwinSearch(some).Pairs()),
            () => Task.FromResult(AllWithAll(some))
        );
        report.Faster(
            $"the {found.Count:N0} pairs among {some.Length:N0} names",
            search,
            "all with all",
            brute,
            isPromised ? 80 : 1
        );

        var all = TwinPairs.None.Following(names);
        var whole = await Timing.Median(() => Task.FromResult(new TwinSearch(meanings).Pairs()));
        var changed = 0;
        var one = await Timing.Median(() =>
        {
            var next = (string?[])names.Clone();
            next[changed++] += " north";
            return Task.FromResult(all.Following(next));
        });
        report.Faster($"one changed name, {all.All.Count:N0} pairs followed", one, "all pairs again", whole, 1);

        var book = new AddressBook(["admin", "www"]);
        foreach (var name in names.OfType<string>())
        {
            book.Hold(new Holding(Addresses.Proposed(name) ?? "site", name, HeldAs.InUse));
        }

        var times = new List<double>();
        foreach (var name in names.OfType<string>().Take(Asked))
        {
            var watch = Stopwatch.StartNew();
            var address = book.Proposed(name, "PIL", "site");
            book.FaultsOf(address);
            book.Alternatives(address, "PIL", ["harbour", "north"], 2026);
            times.Add(watch.Elapsed.TotalMilliseconds);
        }

        Report.Line(
            $"| a name typed: address, verdict, alternatives, p95 of {times.Count:N0} | {Timing.At(times, 0.95):F3} ms | | | reported; under 1 ms wanted |"
        );
    }

    private static List<TwinPair> AllWithAll(string[] meanings)
    {
        var pairs = new List<TwinPair>();
        for (var one = 0; one < meanings.Length; one++)
        {
            for (var other = one + 1; other < meanings.Length; other++)
            {
                if (Twins.Between(meanings[one], meanings[other]) is (Nearness.Same or Nearness.Near) and var nearness)
                {
                    pairs.Add(new TwinPair(one, other, nearness));
                }
            }
        }

        return pairs;
    }
}
