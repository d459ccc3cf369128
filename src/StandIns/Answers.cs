using System.Globalization;
using System.Text.Json.Nodes;

namespace AtticLedger.StandIns;

/// <summary>The formats of the hosts' answers.</summary>
internal static class Answers
{
    /// <summary>RFC 3339, to the microsecond.</summary>
    public static string Instant(DateTimeOffset at) =>
        at.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss.ffffff'Z'", CultureInfo.InvariantCulture);

    public static JsonArray Texts(IEnumerable<string> texts) => new([.. texts.Select(text => (JsonNode)text)]);
}
