using System.Text.Json;

namespace AtticLedger.Server.Hosting;

/// <summary>Words of the API in query strings, written as in its JSON: "not-signed-in".</summary>
internal static class QueryWords
{
    /// <summary>The value of a word; null if there is no such word.</summary>
    public static T? Read<T>(string? word)
        where T : struct, Enum =>
        Enum.GetValues<T>()
            .Where(value => Of(value).Equals(word, StringComparison.OrdinalIgnoreCase))
            .Select(value => (T?)value)
            .FirstOrDefault();

    /// <summary>"view, preview, edit": what can be written.</summary>
    public static string All<T>()
        where T : struct, Enum => string.Join(", ", Enum.GetValues<T>().Select(Of));

    private static string Of<T>(T value)
        where T : struct, Enum => JsonNamingPolicy.KebabCaseLower.ConvertName(value.ToString());
}
