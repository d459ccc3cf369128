using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Journal;

/// <summary>A fact of an entry in words. <paramref name="Before"/> is null if it only has one value.</summary>
public sealed record JournalDetail(string What, string? Before, string After);

/// <summary>What an entry records, in words. The text that is hashed has all of it, this has what a reader needs.</summary>
internal static partial class EntryDetails
{
    private const int MostListed = 12;

    // Only for the product: they name other records, or make a text checkable.
    private static readonly HashSet<string> Internal =
    [
        "change",
        "offer",
        "stay",
        "batch",
        "request",
        "approval",
        "import",
        "session",
        "digest",
        "openedSites",
        "together",
        "key",
        "code",
        "path",
        "method",
    ];

    private static readonly Dictionary<string, string> Names = new(StringComparer.Ordinal)
    {
        ["to"] = "new owner",
        ["currentOwner"] = "the owner so far",
        ["through"] = "until the end of",
        ["second"] = "second person",
        ["due"] = "due at",
        ["movedToAttic"] = "moved to the attic",
        ["recoverableUntil"] = "can be restored until",
        ["stoppableUntil"] = "can be stopped until",
        ["clears"] = "can be erased from",
        ["message"] = "message of the host",
        ["forwards"] = "the old address forwards until the end of",
        ["visitorSignIn"] = "sign-in",
        ["ownLimit"] = "the site's own limit",
        ["lastEdit"] = "last edit",
        ["hostKey"] = "key at the host",
        ["sessionsEnded"] = "sessions ended",
        ["part"] = "scope",
        ["asOf"] = "as of",
        ["deletes"] = "how it deletes",
        ["grantedBy"] = "granted by",
        ["wider"] = "wider at the host than granted",
        ["missing"] = "granted, and not given by the host",
        ["untold"] = "the rule could not tell",
    };

    public static IReadOnlyList<JournalDetail> Of(JsonElement entry, PeopleDirectory directory, VisibleRegister seen)
    {
        var (before, after) = (Fields(entry.GetProperty("before")), Fields(entry.GetProperty("after")));
        List<JournalDetail> details = [];
        if (entry.GetProperty("for").GetString() is { } behalf)
        {
            details.Add(new JournalDetail("for", null, Text(behalf, directory, seen)));
        }

        foreach (var name in before.Keys.Concat(after.Keys).Distinct().Where(name => !Internal.Contains(name)))
        {
            if (name == "predicted" && after.TryGetValue(name, out var predicted))
            {
                details.AddRange(Predicted(predicted, directory, seen));
            }
            else if (after.TryGetValue(name, out var now) && before.TryGetValue(name, out var then))
            {
                details.Add(new JournalDetail(Name(name), Words(then, directory, seen), Words(now, directory, seen)));
            }
            else if (Words(after.TryGetValue(name, out now) ? now : before[name], directory, seen) is not "none" and var words)
            {
                details.Add(new JournalDetail(Name(name), null, words));
            }
        }

        return details;
    }

    // A list has no names: it is what the change is about.
    private static Dictionary<string, JsonElement> Fields(JsonElement value) =>
        value.ValueKind == JsonValueKind.Object ? value.EnumerateObject().ToDictionary(field => field.Name, field => field.Value)
        : value.ValueKind == JsonValueKind.Null ? []
        : new Dictionary<string, JsonElement> { ["access"] = value };

    private static IEnumerable<JournalDetail> Predicted(JsonElement effect, PeopleDirectory directory, VisibleRegister seen)
    {
        foreach (var field in effect.EnumerateObject())
        {
            switch (field.Name)
            {
                case "cleared" when field.Value.GetArrayLength() > 0:
                    yield return new JournalDetail("findings that end", null, Words(field.Value, directory, seen));
                    break;
                case "opened" when field.Value.GetArrayLength() > 0:
                    yield return new JournalDetail("new findings", null, Words(field.Value, directory, seen));
                    break;
                case "grants" when field.Value.GetArrayLength() > 0:
                    yield return new JournalDetail("access to be set", null, Words(field.Value, directory, seen));
                    break;
                case "powers":
                    foreach (var power in field.Value.EnumerateArray())
                    {
                        foreach (
                            var (part, says) in new[]
                            {
                                ("gain", "gain"),
                                ("lose", "lose"),
                                ("opened", "opens to"),
                                ("shut", "closes for"),
                            }
                        )
                        {
                            if (power.TryGetProperty(part, out var who) && who.GetArrayLength() > 0)
                            {
                                yield return new JournalDetail(
                                    $"{Words(power.GetProperty("power"), directory, seen)}: {says}",
                                    null,
                                    Words(who, directory, seen)
                                );
                            }
                        }
                    }

                    break;
            }
        }
    }

    private static string Words(JsonElement value, PeopleDirectory directory, VisibleRegister seen) =>
        value.ValueKind switch
        {
            JsonValueKind.Null => "none",
            JsonValueKind.True => "yes",
            JsonValueKind.False => "no",
            JsonValueKind.String => Text(value.GetString()!, directory, seen),
            JsonValueKind.Array => Listed([.. value.EnumerateArray().Select(item => Words(item, directory, seen))]),
            JsonValueKind.Object => Object(value, directory, seen),
            _ => value.GetRawText(),
        };

    private static string Object(JsonElement value, PeopleDirectory directory, VisibleRegister seen)
    {
        if (value.TryGetProperty("unknown", out _))
        {
            return "not known";
        }

        // A grant, or a change of one.
        if (value.TryGetProperty("wanted", out var wanted))
        {
            return wanted.ValueKind == JsonValueKind.Null
                ? $"{(value.TryGetProperty("key", out var key) ? Key(key.GetString()!, directory) : "a grant")}: nothing"
                : Object(wanted, directory, seen);
        }

        if (value.TryGetProperty("subject", out var subject) && value.TryGetProperty("power", out var power))
        {
            return $"{GrantText.Who(subject.GetString()!, directory)}: {power.GetString()}";
        }

        return string.Join(
            ", ",
            value
                .EnumerateObject()
                .Where(field => !Internal.Contains(field.Name))
                .Select(field => $"{Name(field.Name)} {Words(field.Value, directory, seen)}")
        );
    }

    // The host's own name of a grant, which often names the person by the mail address.
    private static string Key(string key, PeopleDirectory directory) =>
        key.Split(':', 2) is ["person", var mail] && directory.ByMail.TryGetValue(mail.ToLowerInvariant(), out var person)
            ? directory.Find(person)?.Name ?? key
            : key;

    private static string Text(string text, PeopleDirectory directory, VisibleRegister seen)
    {
        if (
            Instant().IsMatch(text)
            && DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var instant)
        )
        {
            return Phrases.Moment(directory.Time.InZone(instant));
        }

        if (DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day))
        {
            return Phrases.Day(day);
        }

        if (EntryActor.Parse(text) is EntryActor.Human(var person))
        {
            return directory.Find(person)?.Name ?? "somebody";
        }

        return EntrySubject.Parse(text) is EntrySubject.Site(var site) ? seen.Find(site)?.Title ?? Phrases.Hidden : text;
    }

    private static string Listed(List<string> words) =>
        words.Count == 0 ? "none"
        : words.Count > MostListed ? $"{string.Join("; ", words.Take(MostListed))}; {words.Count - MostListed} more"
        : string.Join("; ", words);

    /// <summary>"lastVisit" as "last visit".</summary>
    private static string Name(string name) =>
        Names.TryGetValue(name, out var words) ? words : Capitals().Replace(name, match => $" {match.Value.ToLowerInvariant()}");

    [GeneratedRegex(@"^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?Z$", RegexOptions.CultureInvariant)]
    private static partial Regex Instant();

    [GeneratedRegex("(?<=[a-z])[A-Z]", RegexOptions.CultureInvariant)]
    private static partial Regex Capitals();
}
