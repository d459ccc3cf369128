using System.Text.Encodings.Web;
using System.Text.Json;

namespace AtticLedger.Formats.Tables;

/// <summary>A list as JSON Lines: one object per line, with the heads as names and the cells as texts.</summary>
public static class JsonLinesList
{
    public const string ContentType = "application/jsonl";
    private static readonly JsonWriterOptions Options = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    public static async Task Write(
        Stream to,
        IReadOnlyList<string> heads,
        IEnumerable<IReadOnlyList<string>> rows,
        CancellationToken stop
    )
    {
        await using var json = new Utf8JsonWriter(to, Options);
        foreach (var row in rows)
        {
            json.WriteStartObject();
            for (var place = 0; place < heads.Count; place++)
            {
                json.WriteString(heads[place], row[place]);
            }

            json.WriteEndObject();
            await json.FlushAsync(stop);
            json.Reset();
            await to.WriteAsync("\n"u8.ToArray(), stop);
        }
    }
}
