using System.Text;
using System.Text.Json;

namespace AtticLedger.Core.Journal;

/// <summary>
/// A value in the journal. Written as RFC 8785 (JSON Canonicalization Scheme) has it, with numbers as decimal strings and
/// unknown as <c>{"unknown":true}</c>; what is absent is null.
/// </summary>
public abstract record JournalValue
{
    private JournalValue() { }

    public sealed record Text(string Value) : JournalValue;

    public sealed record Flag(bool Value) : JournalValue;

    public sealed record Absent : JournalValue;

    public sealed record List(IReadOnlyList<JournalValue> Items) : JournalValue;

    public sealed record Fields(IReadOnlyList<(string Name, JournalValue Value)> All) : JournalValue;

    public static JournalValue Null { get; } = new Absent();

    public static JournalValue Unknown { get; } = Of(("unknown", new Flag(true)));

    public static JournalValue Of(string? text) => text is null ? Null : new Text(text);

    public static JournalValue Of(EntryActor? actor) => Of(actor?.Text);

    public static JournalValue Of(EntrySubject? subject) => Of(subject?.Text);

    public static JournalValue Of(long number) => new Text(number.ToString(System.Globalization.CultureInfo.InvariantCulture));

    public static JournalValue Of(params (string Name, JournalValue Value)[] fields) => new Fields(fields);

    public static JournalValue Of(IEnumerable<JournalValue> items) => new List([.. items]);

    /// <summary>An instant in UTC to the microsecond: <c>2026-11-24T07:02:03.123456Z</c>.</summary>
    public static JournalValue Of(DateTimeOffset instant) =>
        new Text(
            instant.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss.ffffff'Z'", System.Globalization.CultureInfo.InvariantCulture)
        );

    /// <exception cref="JsonException">The text is not a journal value.</exception>
    public static JournalValue Read(JsonElement json) =>
        json.ValueKind switch
        {
            JsonValueKind.String => Of(json.GetString()),
            JsonValueKind.True => new Flag(true),
            JsonValueKind.False => new Flag(false),
            JsonValueKind.Null => Null,
            JsonValueKind.Array => Of(json.EnumerateArray().Select(Read)),
            JsonValueKind.Object => Of([.. json.EnumerateObject().Select(field => (field.Name, Read(field.Value)))]),
            _ => throw new JsonException("Numbers are written as decimal strings."),
        };

    public string Canonical()
    {
        var text = new StringBuilder();
        Write(text, this);
        return text.ToString();
    }

    private static void Write(StringBuilder to, JournalValue value)
    {
        switch (value)
        {
            case Text(var text):
                WriteText(to, text);
                break;
            case Flag(var flag):
                to.Append(flag ? "true" : "false");
                break;
            case List(var items):
                Join(to, '[', ']', items, (item, _) => Write(to, item));
                break;
            case Fields(var fields):
                // RFC 8785, section 3.2.3: by the UTF-16 units of the names.
                Join(to, '{', '}', [.. fields.OrderBy(field => field.Name, StringComparer.Ordinal)], (field, _) =>
                {
                    WriteText(to, field.Name);
                    to.Append(':');
                    Write(to, field.Value);
                });
                break;
            default:
                to.Append("null");
                break;
        }
    }

    private static void Join<T>(StringBuilder to, char open, char close, IReadOnlyList<T> items, Action<T, int> write)
    {
        to.Append(open);
        for (var i = 0; i < items.Count; i++)
        {
            if (i > 0)
            {
                to.Append(',');
            }

            write(items[i], i);
        }

        to.Append(close);
    }

    // RFC 8785, section 3.2.2.2. A lone surrogate cannot stand in UTF-8; it becomes U+FFFD.
    private static void WriteText(StringBuilder to, string text)
    {
        to.Append('"');
        foreach (var rune in text.EnumerateRunes())
        {
            switch (rune.Value)
            {
                case '"':
                    to.Append("\\\"");
                    break;
                case '\\':
                    to.Append("\\\\");
                    break;
                case '\b':
                    to.Append("\\b");
                    break;
                case '\t':
                    to.Append("\\t");
                    break;
                case '\n':
                    to.Append("\\n");
                    break;
                case '\f':
                    to.Append("\\f");
                    break;
                case '\r':
                    to.Append("\\r");
                    break;
                case < 0x20:
                    to.Append("\\u").Append(rune.Value.ToString("x4", System.Globalization.CultureInfo.InvariantCulture));
                    break;
                default:
                    to.Append(rune.ToString());
                    break;
            }
        }

        to.Append('"');
    }
}
