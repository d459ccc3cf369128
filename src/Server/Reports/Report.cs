using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Reports;

/// <summary>The parameters of a request for a report. Each report uses what it needs.</summary>
/// <param name="On">The day whose end it shows.</param>
/// <param name="From">The first day of the period; <paramref name="Through"/>: the last.</param>
public sealed record ReportRequest(DateOnly On, DateOnly From, DateOnly Through, PersonId? By);

/// <param name="Cells">One per column; empty if there is nothing.</param>
/// <param name="Site">The site of the row, for a link.</param>
public sealed record ReportRow(long? Site, params IReadOnlyList<string> Cells);

/// <param name="Notes">What a reader has to know about its limits, in sentences.</param>
public sealed record Report(IReadOnlyList<string> Notes, IReadOnlyList<ReportRow> Rows);

/// <summary>The parameters of a report.</summary>
public enum ReportSpan
{
    /// <summary>It shows the current state.</summary>
    Now,

    /// <summary>It shows the end of a day.</summary>
    Day,

    /// <summary>It shows the events of a period.</summary>
    Days,
}

/// <param name="Numbers">The numeric columns.</param>
internal sealed record ReportKind(
    string Name,
    string Title,
    string Says,
    ReportSpan Span,
    IReadOnlyList<string> Columns,
    Func<ReportFacts, ReportRequest, Task<Report>> Make,
    params IReadOnlyList<int> Numbers
)
{
    public static IReadOnlyList<ReportKind> All { get; } =
    [
        OutsideReport.Kind,
        OwnersReport.Kind,
        RemediesReport.Kind,
        FindingReports.ByDay,
        FindingReports.ByRule,
        AtticReports.Holds,
        AtticReports.Stays,
        ActionsReport.Kind,
        RegisterOnADay.Sites,
        RegisterOnADay.Coverage,
    ];
}
