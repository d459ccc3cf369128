using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;

namespace AtticLedger.Server.Reports;

/// <summary>Who answers for each site in use, and whether they can.</summary>
internal static class OwnersReport
{
    public static ReportKind Kind { get; } =
        new(
            "owners",
            "Owners, and whether they are fit",
            "Every key holder of every site in use: by name or through a group, and what makes them unfit to answer for it.",
            ReportSpan.Now,
            ["site", "address", "unit", "fit owners", "owner", "mail", "through", "fit", "why not"],
            (facts, _) => Task.FromResult(Make(facts)),
            3
        );

    private static Report Make(ReportFacts facts)
    {
        var seen = facts.State.Seen(new Sight.Everything());
        var lines = seen.Lines(seen.InUse)
            .OrderBy(line => line.Title, StringComparer.OrdinalIgnoreCase)
            .ThenBy(line => line.Id.Value)
            .ToList();
        return new Report(
            [
                $"{lines.Count} sites in use; {lines.Count(line => line.Keys is { Complete: true, FitAtLeast: 0 })} have no fit owner, {lines.Count(line => line.Keys is { Complete: true, FitAtLeast: 1 })} have one.",
                $"Fit is whoever is of the staff, gets our mail and does not leave within {facts.State.House.FitDays} days.",
            ],
            [.. lines.SelectMany(line => Rows(line, facts))]
        );
    }

    private static IEnumerable<ReportRow> Rows(SheetLine line, ReportFacts facts)
    {
        var keys = line.Keys;
        string[] site =
        [
            line.Title,
            line.Address.Or(""),
            facts.Unit(line.Unit),
            keys.Complete ? keys.FitAtLeast.ToString(System.Globalization.CultureInfo.InvariantCulture) : "not known",
        ];
        if (keys.Holders.Count == 0)
        {
            yield return new ReportRow(
                line.Id.Value,
                [
                    .. site,
                    keys.Complete ? "nobody" : "not known",
                    "",
                    "",
                    "no",
                    keys.Complete ? "nobody holds its key" : "nobody said who does",
                ]
            );
        }

        foreach (var holder in keys.Holders)
        {
            yield return new ReportRow(
                line.Id.Value,
                [
                    .. site,
                    holder.Person.Name,
                    holder.Person.Mail,
                    holder.Through ?? "",
                    holder.IsFit ? "yes" : "no",
                    holder.IsFit ? "" : Explanation.Reason(holder, facts.Roll),
                ]
            );
        }
    }
}
