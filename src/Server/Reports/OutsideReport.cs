using AtticLedger.Core.Deeds;
using AtticLedger.Core.Doors;
using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Reports;

/// <summary>Everybody outside who gets in anywhere, with the chain by which they do.</summary>
internal static class OutsideReport
{
    private const int MostNames = 12;
    private static readonly Filter<JudgedLine> Outside = Filter.Parse(
        "existence eq \"here\" and vanished eq false and not (view.outside eq \"no-one\" and preview.outside eq \"no-one\" and edit.outside eq \"no-one\")",
        JudgedLine.Attributes
    );

    public static ReportKind Kind { get; } =
        new(
            "outside",
            "Who gets in from outside",
            "Every grant that lets in somebody outside in fact, behind the host's limits, with the groups that lead to them.",
            ReportSpan.Now,
            ["site", "address", "unit", "class", "may", "who", "by which way", "proof", "ends after", "beyond"],
            Make
        );

    private static async Task<Report> Make(ReportFacts facts, ReportWish wish)
    {
        var everything = facts.State.Seen(new Sight.Everything());
        var mask = everything.All.And(everything.Columns.Evaluate(Outside));
        var perhaps = mask.Lines().Concat(mask.Lines(Truth.Unknown)).Select(everything.IdAt).ToList();
        var sites = await facts.Connection.Sites(new Sight.Everything(), perhaps);
        List<ReportRow> rows =
        [
            .. sites
                .OrderBy(site => site.Title, StringComparer.OrdinalIgnoreCase)
                .ThenBy(site => site.Id.Value)
                .SelectMany(site => Rows(site, facts)),
        ];
        var silent = everything.Lines(everything.InUse).Count(line => line.Keys is { Complete: false, Holders.Count: 0 });
        return new Report(
            [
                "Beyond: more than the house allows.",
                $"As it is by what hosts said last; {rows.Select(row => row.Site).Distinct().Count()} sites in use let somebody outside in, or may.",
                .. silent > 0
                    ? [$"Of {silent} sites nobody said who is let in: they stand as not known."]
                    : Array.Empty<string>(),
            ],
            rows
        );
    }

    private static IEnumerable<ReportRow> Rows(SiteFacts site, ReportFacts facts)
    {
        if (!site.Sharing.Has(out _))
        {
            yield return new ReportRow(
                site.Id.Value,
                site.Title,
                site.Address.Or(""),
                facts.Unit(site.Unit),
                ReportFacts.Said(site.Class),
                "not known",
                "not known",
                "",
                "",
                "",
                "cannot tell"
            );
            yield break;
        }

        foreach (var way in OutsideWay.Of(site, facts.State.House, facts.Roll))
        {
            yield return new ReportRow(
                site.Id.Value,
                site.Title,
                site.Address.Or(""),
                facts.Unit(site.Unit),
                ReportFacts.Said(site.Class),
                way.Grant.Power.Word(),
                string.Join(", ", way.Doors.Doors().Select(door => door.Who.Word()).Distinct()),
                Way(way, facts.Roll),
                string.Join(", ", way.Doors.Doors().Select(door => door.Proof.Word()).Distinct()),
                ReportFacts.Day(way.Grant.Through),
                ReportFacts.Truth(way.Beyond)
            );
        }
    }

    private static string Way(OutsideWay way, Roll roll)
    {
        // Guests behind the same groups stand together.
        var granted = GrantWords.Who(way.Grant, roll);
        string By(Person guest) =>
            way.Grant.Subject is Subject.OneGroup(var group)
                ? string.Join(" > ", GroupChain.To(group, guest.Id, roll).Select(step => step.Name))
            : guest.Name == granted ? ""
            : granted;
        var chains = way
            .Guests.GroupBy(By)
            .Select(chain => $"{(chain.Key.Length == 0 ? "" : $"{chain.Key} > ")}{Names([.. chain])}")
            .ToList();
        return string.Join(
            "; ",
            [
                .. chains.Count == 0 ? [granted] : chains,
                .. way.AreAll ? Array.Empty<string>() : ["not all of its members are known"],
            ]
        );
    }

    private static string Names(IReadOnlyList<Person> guests) =>
        string.Join(", ", guests.Take(MostNames).Select(guest => $"{guest.Name} ({guest.Mail})"))
        + (guests.Count > MostNames ? $" and {guests.Count - MostNames} more" : "");
}
