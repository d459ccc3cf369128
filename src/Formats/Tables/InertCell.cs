namespace AtticLedger.Formats.Tables;

/// <summary>Cells of a CSV file that a spreadsheet would read as formulas; anyone who names a site chooses their content. Each
/// gets an apostrophe in front; a cell that already has one gets another, so that every text can be read back unchanged.
/// </summary>
public static class InertCell
{
    private const char Guard = '\'';

    public static string Of(string text) => IsTaken(text) ? Guard + text : text;

    public static string Restore(string cell) => cell.Length > 1 && cell[0] == Guard && IsTaken(cell) ? cell[1..] : cell;

    // After any number of apostrophes, the characters with which a formula begins.
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
