using System.Diagnostics;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Bench;

/// <summary>Near names found by the search and by comparing all with all, which have to find the same pairs; and addresses judged
/// against all that are held.</summary>
internal sealed class NameBench(
    (PeopleDirectory PeopleDirectory, Organisation Organisation, RuleBook Rules, RegisterIndex Index) register,
    Report report
)
{
    private const int Sample = 6_000;
    private const int Asked = 2_000;

    private readonly string?[] names =
    [
        .. Enumerable
            .Range(0, register.Index.Count)
            .Select(place => register.Index.Columns.Of<string>("name")[place].Has(out var name) ? name : null),
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
        Judge(book);
    }

    // The whole verdict on a request to start a site, with every rule, as each key asks for it.
    private void Judge(AddressBook book)
    {
        var kind = new KindToStart("pages", "Host", "", new AddressForm("host.example/", ""), StartedBy.Staff, false, null, []);
        var facts = new StartFacts(register.Organisation with { KindsToStart = [kind] }, register.Rules, register.PeopleDirectory)
        {
            Addresses = book,
        };
        var owner = register.PeopleDirectory.People[register.PeopleDirectory.Staff.Places().First()];
        var times = new List<double>();
        foreach (var name in names.OfType<string>().Take(Asked))
        {
            var watch = Stopwatch.StartNew();
            StartSite.Judge(
                facts,
                new NewSite
                {
                    Kind = kind.Kind,
                    Name = name,
                    Address = book.Proposed(name, "PIL", kind.Kind),
                    Unit = owner.Unit.Has(out var unit) ? unit : null,
                    Owners = [owner.Id],
                    Reach = new ViewReach(InsideLevel.Staff, OutsideLevel.Anonymous, VisitorSignIn.None),
                },
                new Actor(owner.Id, Capacity.Owner)
            );
            times.Add(watch.Elapsed.TotalMilliseconds);
        }

        Report.Line(
            $"| a request filled in: the verdict of {register.Rules.Rules.Count()} rules, p95 of {times.Count:N0} | {Timing.At(times, 0.95):F3} ms | | | reported |"
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
