using System.CommandLine;
using System.Globalization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.RuleBooks;

namespace AtticLedger.Cli;

/// <summary>What a rule book would find on the sites of a bundle, beside the bundle's own rules: the numbers that its import shows.
/// Nothing is written.</summary>
internal static class TryReport
{
    private const int Together = 1024;
    private static readonly string[] Heads = ["rule", "title", "state", "before", "after", "added", "cleared"];

    public static Command Command()
    {
        var rules = new Argument<FileInfo>("rules") { Description = "A rule book as JSON, as the product exports it." };
        var bundle = new Argument<DirectoryInfo>("bundle") { Description = "The folder of a bundle." };
        var form = Listing.Option();
        var command = new Command(
            "try",
            "Compares a rule book with a bundle's own rules, on the bundle's sites. Exit code 1: a rule of the book is refused; 2: a file cannot be read."
        )
        {
            rules,
            bundle,
            form,
        };
        command.SetAction(
            (parsed, stop) =>
                Listing.WithErrors(() =>
                    Write(
                        RuleBookFile.Read(File.ReadAllBytes(parsed.GetRequiredValue(rules).FullName)),
                        Checked.OfBundle(parsed.GetRequiredValue(bundle), TimeProvider.System.GetUtcNow()),
                        parsed.GetValue(form),
                        stop
                    )
                )
        );
        return command;
    }

    private static async Task<int> Write(IReadOnlyList<RuleOfFile> file, Checked these, ListingForm form, CancellationToken stop)
    {
        List<(RuleOfFile Rule, RulePlan Plan)> planned =
        [
            .. file.Select(rule =>
                (rule, RuleActions.FromFile(new RuleId(rule.Id), rule.Text, null, "tried", these.Rules, these.Today))
            ),
        ];
        foreach (var (rule, remark) in planned.SelectMany(pair => pair.Plan.Refused.Select(remark => (pair.Rule, remark))))
        {
            await Console.Error.WriteLineAsync($"{rule.Id} is refused: {Said(remark)}.");
        }

        if (planned.Exists(pair => pair.Plan.Refused.Count > 0))
        {
            return 1;
        }

        var (before, after) = (
            these.Book(these.Rules),
            these.Book(these.Rules.Concat(planned.Select(pair => pair.Plan.Next).OfType<Rule>()))
        );
        var counts = planned.ToDictionary(pair => pair.Rule.Id, _ => new Counts());
        foreach (var few in these.Sites.Chunk(Together))
        {
            var lines = Array.ConvertAll(few, site => new ComputedSite(site, these.Organisation, these.PeopleDirectory));
            foreach (var (was, now) in before.Judge(lines).Zip(after.Judge(lines)))
            {
                var (had, has) = (Broken(was), Broken(now));
                foreach (var (id, count) in counts)
                {
                    count.Add(had.Contains(id), has.Contains(id));
                }
            }
        }

        string Number(int number) => number.ToString(CultureInfo.InvariantCulture);
        List<IReadOnlyList<string>> rows =
        [
            .. planned.Select(pair =>
                (IReadOnlyList<string>)
                    [
                        pair.Rule.Id,
                        pair.Rule.Title,
                        pair.Plan.Next is null ? "unchanged"
                        : pair.Plan.Before is null ? "added"
                        : "changed",
                        Number(counts[pair.Rule.Id].Before),
                        Number(counts[pair.Rule.Id].After),
                        Number(counts[pair.Rule.Id].Added),
                        Number(counts[pair.Rule.Id].Cleared),
                    ]
            ),
        ];
        await Listing.Write(
            form,
            Heads,
            rows,
            [
                .. rows.Select(row =>
                    $"{row[0]} {row[1]} ({row[2]}): {row[3]} before, {row[4]} after, {row[5]} added, {row[6]} cleared"
                ),
            ],
            stop
        );
        return 0;
    }

    private static string Said(Remark remark) =>
        remark switch
        {
            RuleUnreadable(var part, var place, var fault) => $"its {part}, column {place}: {fault}",
            RuleTextMissing(var field) => $"it has no {field.ToString().ToLowerInvariant()}",
            RuleTextTooLong(var field, var maximum) =>
                $"its {field.ToString().ToLowerInvariant()} is longer than {maximum} characters",
            _ => remark.Code.Replace('-', ' '),
        };

    private static HashSet<string> Broken(JudgedSite judged) =>
        [
            .. judged
                .Findings.Where(finding => finding is { IsUntold: false, Verdict: Verdict.Breaks or Verdict.Excepted })
                .Select(finding => finding.Rule.Id.Value),
        ];

    private sealed class Counts
    {
        public int Before { get; private set; }

        public int After { get; private set; }

        public int Added { get; private set; }

        public int Cleared { get; private set; }

        public void Add(bool had, bool has)
        {
            Before += had ? 1 : 0;
            After += has ? 1 : 0;
            Added += has && !had ? 1 : 0;
            Cleared += had && !has ? 1 : 0;
        }
    }
}
