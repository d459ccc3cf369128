using System.Text.Json;
using System.Text.Json.Nodes;

namespace AtticLedger.StandIns.Slipway;

/// <summary>Slipway's records, changed one at a time and written to a file before an answer is given.</summary>
public sealed class SlipwayState(SlipwayRecords records, string? file)
{
    public static readonly IReadOnlyList<string> Roles = ["read", "preview", "edit", "publish", "invite", "run", "own"];
    private readonly Lock gate = new();

    public Faults Faults { get; set; } = Faults.None;

    public static SlipwayState Load(string file, Func<SlipwayRecords> first)
    {
        var records = File.Exists(file) ? JsonSerializer.Deserialize<SlipwayRecords>(File.ReadAllText(file))! : first();
        var state = new SlipwayState(records, file);
        state.Save();
        return state;
    }

    public T Read<T>(Func<SlipwayRecords, T> read)
    {
        lock (gate)
        {
            return read(records);
        }
    }

    /// <summary>Somebody works at Slipway itself.</summary>
    public void Edit(Action<SlipwayRecords> edit)
    {
        lock (gate)
        {
            edit(records);
            Save();
        }
    }

    /// <summary>Sets entries of a site's sharing to the wanted end states. The same key a second time has no second effect.</summary>
    public (int Status, JsonObject Body) SetSharing(string id, string? key, JsonArray changes, DateTimeOffset now)
    {
        lock (gate)
        {
            if (!records.Sites.TryGetValue(id, out var site))
            {
                return (404, Problem("There is no such site."));
            }

            var request = changes.ToJsonString();
            if (key is not null && records.Effects.Find(effect => effect.Key == key) is { } before)
            {
                return before.Site == id && before.Request == request ? (200, Sharing(site)) : (409, Problem("This key was used for something else."));
            }

            var entries = site.Entries.ToDictionary(entry => entry.Entry);
            foreach (var change in changes.OfType<JsonObject>())
            {
                if (Text(change, "entry") is not { } entry || (Text(change, "role") is { } role && !Roles.Contains(role)))
                {
                    return (422, Problem("A change names an entry and a role."));
                }

                if (Text(change, "role") is { } wanted)
                {
                    entries[entry] = new SlipwayEntry(entry, wanted, Text(change, "proof"), Text(change, "audience"), Text(change, "until"));
                }
                else
                {
                    entries.Remove(entry);
                }
            }

            records.Sites[id] = site with { Entries = [.. entries.Values.OrderBy(entry => entry.Entry, StringComparer.Ordinal)] };
            if (key is not null)
            {
                records.Effects.Add(new SlipwayEffect(key, id, request, now));
            }

            Save();
            return (200, Sharing(records.Sites[id]));
        }
    }

    public JsonObject Sharing(SlipwaySite site) =>
        new()
        {
            ["limit"] = site.Limit,
            ["entries"] = new JsonArray([.. site.Entries.Select(entry => (JsonNode)new JsonObject
            {
                ["entry"] = entry.Entry,
                ["role"] = entry.Role,
                ["proof"] = entry.Proof,
                ["audience"] = entry.Audience,
                ["until"] = entry.Until,
                ["mail"] = entry.Entry.StartsWith("p:", StringComparison.Ordinal) ? records.People.GetValueOrDefault(entry.Entry[2..])?.Mail : null,
            })]),
        };

    private static string? Text(JsonObject json, string field) => json[field] is JsonValue value && value.TryGetValue<string>(out var text) ? text : null;

    private static JsonObject Problem(string words) => new() { ["problem"] = words };

    private void Save()
    {
        if (file is null)
        {
            return;
        }

        // Written beside and moved over: a kill leaves the old file or the new one.
        var beside = file + ".new";
        File.WriteAllText(beside, JsonSerializer.Serialize(records));
        File.Move(beside, file, overwrite: true);
    }
}
