using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>Tags as sources report them: free words in one text, each once, in alphabetical sequence, separated by comma and
/// blank.
/// </summary>
public static class TagWords
{
    public const string Separator = ", ";
    private static readonly char[] Marks = [',', ';', '|', '\n'];

    /// <summary>Words in one text; none if there is no word.</summary>
    public static Known<string> Of(IEnumerable<string> words) =>
        string.Join(Separator, words.SelectMany(Split).Distinct(StringComparer.Ordinal).Order(StringComparer.Ordinal))
            is { Length: > 0 } text
            ? Known.Of(text)
            : Known<string>.None;

    public static IReadOnlyList<string> Split(string text) =>
        text.Split(Marks, StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
}
