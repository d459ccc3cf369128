using System.Globalization;

namespace AtticLedger.Bench;

/// <summary>The measured values as a table, and the promises that were not kept.</summary>
internal sealed class Report
{
    private readonly List<string> broken = [];

    public bool IsKept => broken.Count == 0;

    public static void Line(string text) => Console.WriteLine(text);

    public static void Table(string title)
    {
        Line("");
        Line($"| {title} | measured | compared with | ratio | promised |");
        Line("|---|---|---|---|---|");
    }

    /// <summary>This many times faster than the other.</summary>
    public void Faster(string what, double milliseconds, string than, double other, double atLeast) =>
        Row(
            what,
            milliseconds,
            $"{than} {Ms(other)}",
            other / milliseconds,
            $"at least {atLeast:0.#} times faster",
            other / milliseconds >= atLeast
        );

    /// <summary>At most this many times slower than the other.</summary>
    public void Within(string what, double milliseconds, string of, double other, double atMost) =>
        Row(
            what,
            milliseconds,
            $"{of} {Ms(other)}",
            milliseconds / other,
            $"at most {atMost:0.#} times",
            milliseconds / other <= atMost
        );

    public void Memory(string what, long bytes, int? mostMegabytes = null) =>
        Add(
            $"| {what} | {bytes / 1e6:F0} MB | | | {(mostMegabytes is { } most ? $"under {most} MB" : "")} |",
            what,
            !(bytes / 1e6 >= mostMegabytes)
        );

    public void None(string what, int count) => Add($"| {what} | {count} | | | none |", what, count == 0);

    public void End()
    {
        Line("");
        Line(IsKept ? "Every promise is kept." : $"NOT KEPT: {string.Join("; ", broken)}.");
    }

    private void Row(string what, double milliseconds, string beside, double ratio, string promised, bool isKept) =>
        Add(
            string.Create(CultureInfo.InvariantCulture, $"| {what} | {Ms(milliseconds)} | {beside} | {ratio:F1} | {promised} |"),
            what,
            isKept
        );

    private void Add(string row, string what, bool isKept)
    {
        Line(row);
        if (!isKept)
        {
            broken.Add(what);
        }
    }

    private static string Ms(double milliseconds) => string.Create(CultureInfo.InvariantCulture, $"{milliseconds:#,0.0} ms");
}
