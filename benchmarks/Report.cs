using System.Globalization;

namespace AtticLedger.Bench;

/// <summary>What was measured, as a table, and which of the promises were not kept.</summary>
internal sealed class Report
{
    private readonly List<string> broken = [];

    public bool IsKept => broken.Count == 0;

    public static void Say(string text) => Console.WriteLine(text);

    public static void Table(string title)
    {
        Say("");
        Say($"| {title} | measured | beside | ratio | promised |");
        Say("|---|---|---|---|---|");
    }

    /// <summary>So much faster than the other.</summary>
    public void Faster(string what, double milliseconds, string than, double other, double atLeast) =>
        Row(
            what,
            milliseconds,
            $"{than} {Ms(other)}",
            other / milliseconds,
            $"at least {atLeast:0.#} times faster",
            other / milliseconds >= atLeast
        );

    /// <summary>No slower than so many times the other.</summary>
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
        Say("");
        Say(IsKept ? "Every promise is kept." : $"NOT KEPT: {string.Join("; ", broken)}.");
    }

    private void Row(string what, double milliseconds, string beside, double ratio, string promised, bool isKept) =>
        Add(
            string.Create(CultureInfo.InvariantCulture, $"| {what} | {Ms(milliseconds)} | {beside} | {ratio:F1} | {promised} |"),
            what,
            isKept
        );

    private void Add(string row, string what, bool isKept)
    {
        Say(row);
        if (!isKept)
        {
            broken.Add(what);
        }
    }

    private static string Ms(double milliseconds) => string.Create(CultureInfo.InvariantCulture, $"{milliseconds:#,0.0} ms");
}
