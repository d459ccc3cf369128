using System.Text.Json.Nodes;

namespace AtticLedger.StandIns.Quay;

/// <summary>Quay's records, changed one at a time and written to a file before the answer. A removed site is in the near bin,
/// then in the far one. Neither lists it in the first minutes.
/// </summary>
public sealed class QuayBooks(QuayRecords records, string? file) : Books<QuayRecords>(records, file)
{
    /// <summary>The number of days for which it keeps earlier states.</summary>
    public const int StateDays = 60;

    public const int NearDays = 20;
    public const int FarDays = 10;
    public static readonly TimeSpan ListLag = TimeSpan.FromMinutes(4);

    private static readonly string[] Mays = ["read", "contribute", "run", "answer for"];

    public static QuayBooks Load(string file, Func<QuayRecords> first) => new(Kept(file, first), file);

    /// <summary>Erases what has been in both bins for their time.</summary>
    public void Erase(DateTimeOffset now)
    {
        var over = Read(all =>
            all.Sites.Values.Where(site => site.Removed is { } at && at.AddDays(NearDays + FarDays) <= now)
                .Select(site => site.Id)
                .ToList()
        );
        if (over.Count > 0)
        {
            Edit(all => over.ForEach(id => all.Sites.Remove(id)));
        }
    }

    public bool WasDone(string key) => Read(all => all.Effects.Exists(effect => effect.Key == key));

    public (int Status, JsonObject Body) SetRights(string id, string key, JsonObject wanted) =>
        Once(id, key, $"rights {wanted.ToJsonString()}", site =>
        {
            if (site.Removed is not null)
            {
                return (site, "It has been removed.");
            }

            var rights = Changed(site.Rights, wanted, out var wrong);
            return (site with { Rights = rights }, wrong);
        });

    /// <summary>Makes a site, at first for all of the staff. A repeated key gets the same site.</summary>
    public (int Status, JsonObject Body) Make(string key, JsonObject wanted, DateTimeOffset now)
    {
        lock (Gate)
        {
            if (key.Length > 0 && Records.Effects.Find(effect => effect.Key == key) is { } before)
            {
                return Records.Sites.TryGetValue(before.Site, out var made)
                    ? (200, Json(made))
                    : (404, new JsonObject { ["reason"] = "It was erased meanwhile." });
            }

            if ((string?)wanted["path"] is not { Length: > 0 } path || (string?)wanted["name"] is not { Length: > 0 } name)
            {
                return (422, new JsonObject { ["reason"] = "A site needs a path and a name." });
            }

            if (Records.Sites.Values.Any(other => other.Path == path))
            {
                return (422, new JsonObject { ["reason"] = $"The path {path} is taken." });
            }

            var id = Enumerable
                .Range(Records.Sites.Count + 1, int.MaxValue / 2)
                .Select(number => $"new-{number}")
                .First(free => !Records.Sites.ContainsKey(free));
            Records.Sites[id] = new QuaySite
            {
                Id = id,
                Path = path,
                Name = name,
                Department = (string?)wanted["department"],
                Label = (string?)wanted["label"],
                Kind = (string?)wanted["kind"] ?? "room",
                Rights = [new QuayRight("house", "read")],
                Made = now,
                Saved = now,
                Pages = 1,
            };
            Records.Effects.Add(new QuayEffect(key, id, "make"));
            Save();
            return (200, Json(Records.Sites[id]));
        }
    }

    /// <summary>Makes the circles of a site, each with its right, or changes who is in them.</summary>
    public (int Status, JsonObject Body) MakeCircles(string id, string key, JsonObject wanted) =>
        Once(id, key, $"circles {wanted.ToJsonString()}", site =>
        {
            var rights = site.Rights.ToDictionary(right => right.Who, right => right.May);
            foreach (var (may, people) in wanted)
            {
                List<string> mails = [.. (people as JsonArray ?? []).Select(mail => (string?)mail).OfType<string>()];
                if (mails.Find(mail => !Records.People.ContainsKey(mail)) is { } stranger)
                {
                    return (site, $"Quay knows nobody with the address {stranger}.");
                }

                var circle = $"{id}-{may.Replace(' ', '-')}";
                Records.Circles[circle] = new QuayCircle(circle, $"{site.Name}: {may}", mails, []);
                rights[$"circle:{circle}"] = may;
            }

            return (
                site with
                {
                    Circle = $"{id}-contribute",
                    Rights =
                    [
                        .. rights
                            .OrderBy(pair => pair.Key, StringComparer.Ordinal)
                            .Select(pair => new QuayRight(pair.Key, pair.Value)),
                    ],
                },
                null
            );
        });

    public (int Status, JsonObject Body) SetKeywords(string id, string key, string keywords) =>
        Once(id, key, $"keywords {keywords}", site => (site with { Keywords = keywords }, null));

    public (int Status, JsonObject Body) Rename(string id, string key, string name) =>
        Once(id, key, $"name {name}", site =>
            string.IsNullOrWhiteSpace(name) ? (site, "A site needs a name.") : (site with { Name = name }, null)
        );

    public (int Status, JsonObject Body) Remove(string id, string key, string? by, DateTimeOffset now) =>
        Once(id, key, "remove", site =>
            (site with { Removed = site.Removed ?? now, RemovedBy = site.Removed is null ? by : site.RemovedBy }, null)
        );

    public (int Status, JsonObject Body) PutBack(string id, string key, JsonObject wanted) =>
        Once(id, key, $"put back {wanted.ToJsonString()}", site =>
        {
            var rights = Changed(site.Rights, wanted, out var wrong);
            return (site with { Removed = null, RemovedBy = null, Rights = rights }, wrong);
        });

    public JsonObject Json(QuaySite site)
    {
        var json = new JsonObject
        {
            ["id"] = site.Id,
            ["path"] = site.Path,
            ["name"] = site.Name,
            ["department"] = site.Department,
            ["label"] = site.Label,
            ["kind"] = site.Kind,
            ["keywords"] = site.Keywords,
            ["outOfSearch"] = site.OutOfSearch,
            ["emblem"] = site.Emblem,
            ["alsoShown"] = new JsonArray([
                .. site.AlsoShown.Select(page =>
                    (JsonNode)
                        new JsonObject
                        {
                            ["page"] = page.Key,
                            ["in"] = Answers.Texts(page.Value.Select(key => Records.Sites.GetValueOrDefault(key)?.Name ?? key)),
                        }
                ),
            ]),
            ["under"] = site.Under,
            ["circle"] = site.Circle,
            ["rights"] = Rights(site.Rights),
            ["sections"] = new JsonArray([
                .. site.Sections.Select(section =>
                    (JsonNode)
                        new JsonObject
                        {
                            ["id"] = section.Id,
                            ["name"] = section.Name,
                            ["ownDoor"] = section.OwnDoor,
                            ["rights"] = Rights(section.Rights),
                        }
                ),
            ]),
            ["made"] = Answers.Instant(site.Made),
            ["saved"] = Answers.Instant(site.Saved),
            ["pages"] = site.Pages,
            ["stored"] = site.Stored,
        };
        if (site.Removed is { } removed)
        {
            json["removed"] = new JsonObject
            {
                ["at"] = Answers.Instant(removed),
                ["by"] = site.RemovedBy,
                ["nearUntil"] = Answers.Instant(removed.AddDays(NearDays)),
                ["farUntil"] = Answers.Instant(removed.AddDays(NearDays + FarDays)),
            };
        }

        return json;
    }

    private static JsonArray Rights(IReadOnlyList<QuayRight> rights) =>
        new([.. rights.Select(right => (JsonNode)new JsonObject { ["who"] = right.Who, ["may"] = right.May })]);

    private List<QuayRight> Changed(IReadOnlyList<QuayRight> rights, JsonObject wanted, out string? wrong)
    {
        wrong = null;
        var kept = rights.ToDictionary(right => right.Who, right => right.May);
        foreach (var (who, may) in wanted)
        {
            if (may is null)
            {
                kept.Remove(who);
            }
            else if (!Mays.Contains((string?)may))
            {
                wrong = $"Nobody may \"{may}\" here.";
            }
            else if (who.StartsWith("circle:", StringComparison.Ordinal) && !Records.Circles.ContainsKey(who["circle:".Length..]))
            {
                wrong = $"There is no {who}.";
            }
            else
            {
                kept[who] = (string)may!;
            }
        }

        return [.. kept.OrderBy(pair => pair.Key, StringComparer.Ordinal).Select(pair => new QuayRight(pair.Key, pair.Value))];
    }

    // A repeated key gets the current state and changes nothing.
    private (int Status, JsonObject Body) Once(
        string id,
        string key,
        string request,
        Func<QuaySite, (QuaySite Site, string? Wrong)> change
    )
    {
        lock (Gate)
        {
            if (!Records.Sites.TryGetValue(id, out var site))
            {
                return (404, new JsonObject { ["reason"] = "There is no such site." });
            }

            if (key.Length > 0 && Records.Effects.Exists(effect => effect.Key == key))
            {
                return (200, Json(site));
            }

            var (changed, wrong) = change(site);
            if (wrong is not null)
            {
                return (422, new JsonObject { ["reason"] = wrong });
            }

            Records.Sites[id] = changed;
            Records.Effects.Add(new QuayEffect(key, id, request));
            Save();
            return (200, Json(changed));
        }
    }
}
