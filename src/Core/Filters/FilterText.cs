using System.Text.Encodings.Web;

namespace AtticLedger.Core.Filters;

/// <summary>Values as a filter writes them.</summary>
public static class FilterText
{
    /// <summary><c>"Pilots' room"</c>, with its quotes.</summary>
    public static string Literal(string value) => $"\"{JavaScriptEncoder.UnsafeRelaxedJsonEscaping.Encode(value)}\"";
}
