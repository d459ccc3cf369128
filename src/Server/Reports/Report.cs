using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Reports;

/// <summary>What a report is asked for. Each uses what it needs of it.</summary>
/// <param name="On">The day whose end it shows.</param>
/// <param name="From">The first day of a span, and <paramref name="Through"/> the last.</param>
public sealed record ReportWish(DateOnly On, DateOnly From, DateOnly Through, PersonId? By);

/// <param name="Cells">One for each column; empty where there is nothing.</param>
/// <param name="Site">The site that the row is about, to go on from.</param>
public sealed record ReportRow(long? Site, params IReadOnlyList<string> Cells);

/// <param name="Notes">What a reader has to know to trust it, in sentences.</param>
public sealed record Report(IReadOnlyList<string> Notes, IReadOnlyList<ReportRow> Rows);

/// <summary>What a report is asked by.</summary>
public enum ReportSpan
{
    /// <summary>It shows what is so now.</summary>
    Now,

    /// <summary>It shows the end of a day.</summary>
    Day,

    /// <summary>It shows what happened from one day through another.</summary>
    Days,
}

/// <param name="Numbers">Which columns are numbers.</param>
internal sealed record ReportKind(
    string Name,
    string Title,
    string Says,
    ReportSpan Span,
    IReadOnlyList<string> Columns,
    Func<ReportFacts, ReportWish, Task<Report>> Make,
    params IReadOnlyList<int> Numbers
)
{
    public static IReadOnlyList<ReportKind> All { get; } =
    [
        OutsideReport.Kind,
        OwnersReport.Kind,
        AtticReports.Holds,
        AtticReports.Stays,
        DeedsReport.Kind,
        RegisterOnADay.Sites,
        RegisterOnADay.Coverage,
    ];
}
