namespace AtticLedger.Formats.Tables;

/// <summary>
/// Cells of a CSV file that a spreadsheet would take for a formula, for whoever names a site chooses what stands there. Each
/// gets an apostrophe before it; one that looks like that already gets one more, so that every text comes back as it was.
/// </summary>
public static class InertCell
{
    private const char Guard = '\'';

    public static string Of(string text) => IsTaken(text) ? Guard + text : text;

    public static string Restore(string cell) => cell.Length > 1 && cell[0] == Guard && IsTaken(cell) ? cell[1..] : cell;

    // Behind any number of apostrophes, the letters that a formula begins with.
    private static bool IsTaken(string text)
    {
        var place = 0;
        while (place < text.Length && text[place] == Guard)
        {
            place++;
        }

        return place < text.Length
            && text[place] is '=' or '+' or '-' or '@' or '\t' or '\r' or '\n' or '\uFF1D' or '\uFF0B' or '\uFF0D' or '\uFF20';
    }
}
