using AtticLedger.Core.Access;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Reports;

/// <summary>Everybody from outside who gets in anywhere, with the chain of grants and groups.</summary>
internal static class OutsideReport
{
    private const int MostNames = 12;
    private static readonly Filter<JudgedSite> Outside = Filter.Parse(
        "existence eq \"in-use\" and no-longer-reported eq false and not (view.outside eq \"no-one\" and preview.outside eq \"no-one\" and edit.outside eq \"no-one\")",
        JudgedSite.Attributes
    );

    public static ReportKind Kind { get; } =
        new(
            "outside",
            "Access from outside",
            "Every grant with effective access from outside, within the host's limits, with the groups in between.",
            ReportSpan.Now,
            ["site", "address", "unit", "classification", "may", "who", "granted to", "sign-in", "ends after", "exceeds"],
            Make
        );

    private static async Task<Report> Make(ReportFacts facts, ReportRequest request)
    {
        var everything = facts.State.Seen(new Scope.Everything());
        var mask = everything.All.And(everything.Columns.Evaluate(Outside));
        var perhaps = mask.Lines().Concat(mask.Lines(Truth.Unknown)).Select(everything.IdAt).ToList();
        var sites = await facts.Connection.Sites(new Scope.Everything(), perhaps);
        List<ReportRow> rows =
        [
            .. sites
                .OrderBy(site => site.Title, StringComparer.OrdinalIgnoreCase)
                .ThenBy(site => site.Id.Value)
                .SelectMany(site => Rows(site, facts)),
        ];
        var silent = everything.Lines(everything.InUse).Count(line => line.Owners is { Complete: false, Holders.Count: 0 });
        return new Report(
            [
                "Exceeds policy: more access than policy allows.",
                $"By the last reports of the hosts, {rows.Select(row => row.Site).Distinct().Count()} sites in use give access to people from outside, or may.",
                .. silent > 0
                    ? [$"The access of {silent} sites is not reported; they are listed as not known."]
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
                ReportFacts.Text(site.Classification),
                "not known",
                "not known",
                "",
                "",
                "",
                "cannot tell"
            );
            yield break;
        }

        foreach (var way in OutsideWay.Of(site, facts.State.Organisation, facts.PeopleDirectory))
        {
            yield return new ReportRow(
                site.Id.Value,
                site.Title,
                site.Address.Or(""),
                facts.Unit(site.Unit),
                ReportFacts.Text(site.Classification),
                way.Grant.Power.Word(),
                string.Join(", ", way.Doors.Doors().Select(door => door.Who.Word()).Distinct()),
                Way(way, facts.PeopleDirectory),
                string.Join(", ", way.Doors.Doors().Select(door => door.VisitorSignIn.Word()).Distinct()),
                ReportFacts.Day(way.Grant.Through),
                ReportFacts.Truth(way.Excess)
            );
        }
    }

    private static string Way(OutsideWay way, PeopleDirectory directory)
    {
        // Guests in the same groups are listed together.
        var granted = GrantText.Who(way.Grant, directory);
        string By(Person guest) =>
            way.Grant.Subject is Subject.OneGroup(var group)
                ? string.Join(" > ", GroupChain.To(group, guest.Id, directory).Select(step => step.Name))
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
