using AtticLedger.Core.Ownership;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Reports;

/// <summary>The owners of each site in use, and whether they are active.</summary>
internal static class OwnersReport
{
    public static ReportKind Kind { get; } =
        new(
            "owners",
            "Owners, and whether they are active",
            "Every owner of every site in use, by name or through a group, and why an owner is not active.",
            ReportSpan.Now,
            ["site", "address", "unit", "active owners", "owner", "mail", "through", "active", "why not"],
            (facts, _) => Task.FromResult(Make(facts)),
            3
        );

    private static Report Make(ReportFacts facts)
    {
        var seen = facts.State.Seen(new Scope.Everything());
        var lines = seen.Lines(seen.InUse)
            .OrderBy(line => line.Title, StringComparer.OrdinalIgnoreCase)
            .ThenBy(line => line.Id.Value)
            .ToList();
        return new Report(
            [
                Counts(lines, facts),
                $"An active owner is a member of staff who receives mail and does not leave within {facts.State.Organisation.ActiveDays} days.",
            ],
            [.. lines.SelectMany(line => Rows(line, facts))]
        );
    }

    private static string Counts(IReadOnlyList<RegisterRow> lines, ReportFacts facts)
    {
        var states = lines.CountBy(line => OwnershipStatus.Of(line.Owners, facts.PeopleDirectory).State).ToDictionary();
        int Of(OwnershipState state) => states.GetValueOrDefault(state);
        return $"{lines.Count.Counted("site")} in use: {Of(OwnershipState.None)} without an active owner, {Of(OwnershipState.Single)} with one, {Of(OwnershipState.Active)} with two or more{(Of(OwnershipState.Unknown) is > 0 and var unknown ? $", {unknown} whose owners are not all reported" : "")}.";
    }

    private static IEnumerable<ReportRow> Rows(RegisterRow line, ReportFacts facts)
    {
        var owners = line.Owners;
        string[] site =
        [
            line.Title,
            line.Address.Or(""),
            facts.Unit(line.Unit),
            owners.Complete ? owners.ActiveAtLeast.ToString(System.Globalization.CultureInfo.InvariantCulture) : "not known",
        ];
        if (owners.Holders.Count == 0)
        {
            yield return new ReportRow(
                line.Id.Value,
                [
                    .. site,
                    owners.Complete ? "nobody" : "not known",
                    "",
                    "",
                    "no",
                    owners.Complete ? "no owner" : "owners not reported",
                ]
            );
        }

        foreach (var holder in owners.Holders)
        {
            yield return new ReportRow(
                line.Id.Value,
                [
                    .. site,
                    holder.Person.Name,
                    holder.Person.Mail,
                    holder.Through ?? "",
                    holder.IsActive ? "yes" : "no",
                    holder.IsActive ? "" : Explanation.Reason(holder, facts.PeopleDirectory),
                ]
            );
        }
    }
}
