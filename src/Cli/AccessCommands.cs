using System.CommandLine;
using System.Globalization;
using AtticLedger.Core.Access;
using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Cli;

/// <summary>Who gets in and why, on the sites of a bundle, without a register: the same computation as on the screens.</summary>
internal static class AccessCommands
{
    public static IEnumerable<Command> All() => [Access(), Explain()];

    private static Command Access()
    {
        var (bundle, site, person) = (Folder(), SiteOption(false), PersonOption(false));
        var command = new Command(
            "access",
            "Counts the sites of a bundle by who gets in; or lists what a person can do on each, or who gets into one site."
        )
        {
            bundle,
            site,
            person,
        };
        command.SetAction(
            (parsed, _) =>
                Listing.WithErrors(() =>
                {
                    var all = Open(parsed.GetRequiredValue(bundle));
                    var who = parsed.GetValue(person) is { } mail ? PersonOf(mail, all) : null;
                    var sites = parsed.GetValue(site) is { } address
                        ? [SiteOf(address, all)]
                        : (IEnumerable<SiteFacts>)[.. all.Sites.Where(one => one is { Existence: Existence.InUse, Fault: null })];
                    if (who is null)
                    {
                        Count(sites, all);
                    }
                    else
                    {
                        List(who, sites, all);
                    }

                    return Task.FromResult(0);
                })
        );
        return command;
    }

    private static Command Explain()
    {
        var (bundle, site, person) = (Folder(), SiteOption(true), PersonOption(true));
        var power = new Option<Power>("--power")
        {
            Description = "view, preview, edit, publish, invite, manage or own.",
            DefaultValueFactory = _ => Power.View,
        };
        var command = new Command(
            "why",
            "Says whether a person has a power at a site of a bundle, through what or stopped by what, and the smallest set of changes that would give it. Exit code 0: yes; 1: no; 3: cannot tell."
        )
        {
            bundle,
            site,
            person,
            power,
        };
        command.SetAction(
            (parsed, _) =>
                Listing.WithErrors(() =>
                {
                    var all = Open(parsed.GetRequiredValue(bundle));
                    return Task.FromResult(
                        Explain(
                            PersonOf(parsed.GetRequiredValue(person), all),
                            SiteOf(parsed.GetRequiredValue(site), all),
                            parsed.GetValue(power),
                            all
                        )
                    );
                })
        );
        return command;
    }

    private static Argument<string> Folder() => new("bundle") { Description = "The folder of a bundle." };

    private static Option<string?> SiteOption(bool isNeeded) =>
        new("--site") { Description = "The whole address of a site.", Required = isNeeded };

    private static Option<string?> PersonOption(bool isNeeded) =>
        new("--person") { Description = "The mail address of a person.", Required = isNeeded };

    private static Checked Open(string folder) =>
        Directory.Exists(folder)
            ? Checked.OfBundle(new DirectoryInfo(folder), TimeProvider.System.GetUtcNow())
            : throw new FormatException($"There is no folder {folder}. Write one with ./attic export FOLDER.");

    private static Person PersonOf(string? mail, Checked all) =>
        all.PeopleDirectory.ByMail.TryGetValue((mail ?? "").Trim().ToLowerInvariant(), out var id)
            ? all.PeopleDirectory.Find(id)!
            : throw new FormatException($"Nobody in the bundle has the mail address \"{mail}\".");

    private static SiteFacts SiteOf(string? address, Checked all) =>
        all.Sites.FirstOrDefault(site => site.Address.Has(out var own) && own == address)
        ?? throw new FormatException($"No site in the bundle has the address \"{address}\". Write it whole.");

    private static void Count(IEnumerable<SiteFacts> sites, Checked all)
    {
        var cells = new Dictionary<(Power Power, string Inside, string Outside), int>();
        foreach (var site in sites)
        {
            var row = new ComputedSite(site, all.Organisation, all.PeopleDirectory);
            foreach (var power in Powers.Limited)
            {
                var cell = (
                    power,
                    Words(row.Inside(power), level => ((InsideLevel)level).Word()),
                    Words(row.Outside(power), level => ((OutsideLevel)level).Word())
                );
                cells[cell] = cells.GetValueOrDefault(cell) + 1;
            }
        }

        foreach (
            var ((power, inside, outside), count) in cells.OrderBy(cell => cell.Key.Power).ThenByDescending(cell => cell.Value)
        )
        {
            Console.WriteLine(
                $"{power.Word(), -8} {inside, -24} {outside, -28} {count.ToString(CultureInfo.InvariantCulture), 8}"
            );
        }
    }

    private static string Words(Known<Span> reach, Func<long, string> word) =>
        !reach.Has(out var span)
            ? reach.IsNone
                ? "never published"
                : "not known"
            : span.AtLeast == span.AtMost
                ? word(span.AtLeast)
                : $"{word(span.AtLeast)} to {word(span.AtMost)}";

    private static void List(Person person, IEnumerable<SiteFacts> sites, Checked all)
    {
        foreach (var site in sites)
        {
            var facts = new AccessFacts(site, all.Organisation, all.PeopleDirectory);
            var strongest = Enum.GetValues<Power>()
                .Reverse()
                .Select(power => (Power: power, Answer: Why.Of(facts, new Visitor.OnePerson(person.Id), power)))
                .FirstOrDefault(one => one.Answer.GetsIn != Truth.No);
            if (strongest.Answer is { } answer)
            {
                Console.WriteLine(
                    $"{strongest.Power.Word(), -8} {(answer.GetsIn == Truth.Yes ? "" : "perhaps "), -8}{site.Address.Or(site.Title), -44} {Through(answer, person, all)}"
                );
            }
        }
    }

    private static string Through(WhyAnswer answer, Person person, Checked all) =>
        answer.Ways is not [var first, ..] ? ""
        : first.Chain.Count > 0 ? string.Join(" > ", first.Chain.Select(group => group.Name).Append(person.Name))
        : first.Grant is { } grant ? GrantText.Who(grant, all.PeopleDirectory)
        : "open joining, or access that is not reported";

    private static int Explain(Person person, SiteFacts site, Power power, Checked all)
    {
        var facts = new AccessFacts(site, all.Organisation, all.PeopleDirectory);
        var answer = Why.Of(facts, new Visitor.OnePerson(person.Id), power);
        Console.WriteLine(
            $"{(answer.GetsIn switch { Truth.Yes => "Yes", Truth.No => "No", _ => "Cannot tell" })}: {person.Name} <{person.Mail}>, {power.Word()}, {site.Title} ({site.Address.Or(site.HostKey)})"
        );
        if (answer.GetsIn == Truth.Yes && answer.Allowed != Truth.Yes)
        {
            Console.WriteLine(
                answer.Allowed == Truth.No ? "Policy does not allow it." : "Whether policy allows it cannot be told."
            );
        }

        foreach (var way in answer.Ways)
        {
            Console.WriteLine();
            Console.WriteLine(
                $"{(way.Chain.Count > 0 ? string.Join(" > ", way.Chain.Select(group => group.Name).Append(person.Name)) : way.Grant is { } grant ? GrantText.Who(grant, all.PeopleDirectory) : "Open joining")} ({way.Power.Word()})"
            );
            Gates(way, power);
        }

        if (answer.NewGrant is { } newGrant)
        {
            Console.WriteLine();
            Console.WriteLine("No grant is for them. A grant would meet:");
            Gates(newGrant, power);
        }

        foreach (var (set, at) in answer.Others.Prepend(answer.Smallest).OfType<LetIn>().Select((set, at) => (set, at)))
        {
            Console.WriteLine();
            Console.WriteLine(at == 0 ? "To let them in:" : "Or:");
            foreach (var change in set.Changes)
            {
                Console.WriteLine($"  - {AccessText.Of(change, facts)} By {AccessText.By(change.By, site.Host)}.");
            }

            if (set.AgainstPolicy.Count > 0)
            {
                Console.WriteLine($"  Policy does not allow it: {string.Join(", ", set.AgainstPolicy.Select(AccessText.Name))}.");
            }
        }

        return answer.GetsIn switch
        {
            Truth.Yes => 0,
            Truth.No => 1,
            _ => 3,
        };
    }

    private static void Gates(WayIn way, Power power)
    {
        foreach (var gate in way.Gates)
        {
            var name = gate.Layer is { } layer ? AccessText.Name(layer) : gate.Kind.ToString();
            var allows = gate.Layer is { } its && its.For(power).Has(out var limit) ? AccessText.Of(limit) : "";
            var verdict = (gate.Lets, gate.IsEnforced) switch
            {
                (Truth.Yes, _) => "lets them in",
                (Truth.Unknown, _) => "cannot tell",
                (_, true) => "stops them",
                _ => "does not allow it, stops nobody",
            };
            Console.WriteLine($"  {name, -32}{allows, -54}{verdict}");
        }
    }
}
