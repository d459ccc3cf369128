using System.Text.Json.Nodes;

namespace AtticLedger.StandIns.Slipway;

/// <summary>Slipway's records, changed one at a time and written to a file before the answer.</summary>
public sealed partial class SlipwayBooks(SlipwayRecords records, string? file) : Books<SlipwayRecords>(records, file)
{
    public static readonly IReadOnlyList<string> Roles = ["read", "preview", "edit", "publish", "invite", "run", "own"];

    // Changes are recorded from the first call of Changes on, and only while this process runs.
    private readonly string run = Guid.NewGuid().ToString("N");
    private readonly Dictionary<string, (SlipwaySite? Site, long At)> told = [];
    private long last;

    public static SlipwayBooks Load(string file, Func<SlipwayRecords> first) => new(Kept(file, first), file);

    /// <summary>Sets sharing entries of a site to the wanted end states. A repeated key changes nothing.</summary>
    public (int Status, JsonObject Body) SetSharing(string id, string? key, JsonArray changes, DateTimeOffset now) =>
        Once(
            key,
            id,
            changes.ToJsonString(),
            now,
            () => Records.Sites.GetValueOrDefault(id) is { } site ? Sharing(site) : Problem("There is no such site."),
            () =>
            {
                if (!Records.Sites.TryGetValue(id, out var site))
                {
                    return (404, Problem("There is no such site."));
                }

                InviteUnknown(changes);
                if (Entries(site, changes, out var entries) is { } wrong)
                {
                    return (422, Problem(wrong));
                }

                Records.Sites[id] = site with { Entries = entries };
                return (200, Sharing(Records.Sites[id]));
            }
        );

    /// <summary>Records that somebody has signed in.</summary>
    public void SignedIn(string id, DateTimeOffset now)
    {
        lock (Gate)
        {
            if (Records.People.TryGetValue(id, out var person) && person.Guest)
            {
                Records.People[id] = person with { Joined = person.Joined ?? now, LastSeen = now };
                Save();
            }
        }
    }

    /// <summary>Moves a site into the bin.</summary>
    public (int Status, JsonObject Body) Delete(string id, string? key, string? by, DateTimeOffset now) =>
        Once(
            key,
            id,
            "delete",
            now,
            () => Records.Bin.GetValueOrDefault(id) is { } site ? Json(site) : Problem("It is no longer in the bin."),
            () =>
            {
                if (!Records.Sites.TryGetValue(id, out var site))
                {
                    return Records.Bin.TryGetValue(id, out var gone)
                        ? (200, Json(gone))
                        : (404, Problem("There is no such site."));
                }

                Records.Sites.Remove(id);
                Records.Bin[id] = site with { Deleted = now, DeletedBy = by, Editing = [] };
                return (200, Json(Records.Bin[id]));
            }
        );

    /// <summary>Takes a site out of the bin, and changes its sharing and address if requested.</summary>
    public (int Status, JsonObject Body) Restore(string id, string? key, string? slug, JsonArray changes, DateTimeOffset now) =>
        Once(
            key,
            id,
            $"restore {slug} {changes.ToJsonString()}",
            now,
            () => Records.Sites.GetValueOrDefault(id) is { } site ? Json(site) : Problem("It was deleted again."),
            () =>
            {
                if (!Records.Bin.TryGetValue(id, out var site))
                {
                    return Records.Sites.TryGetValue(id, out var here)
                        ? (200, Json(here))
                        : (404, Problem("There is no such site in the bin."));
                }

                var address = slug ?? site.Slug;
                if (Records.Sites.Values.Any(other => other.Slug == address))
                {
                    return (409, Problem($"The address {address} is in use."));
                }

                if (Entries(site, changes, out var entries) is { } wrong)
                {
                    return (422, Problem(wrong));
                }

                Records.Bin.Remove(id);
                Records.Sites[id] = site with { Entries = entries, Slug = address, Deleted = null, DeletedBy = null };
                return (200, Json(Records.Sites[id]));
            }
        );

    /// <summary>Erases what has been in the bin for its time.</summary>
    public void ClearBin(DateTimeOffset now)
    {
        lock (Gate)
        {
            var over = Records.Bin.Values.Where(site => RecoverableUntil(site) <= now).Select(site => site.Id).ToList();
            over.ForEach(id => Records.Bin.Remove(id));
            if (over.Count > 0)
            {
                Save();
            }
        }
    }

    /// <summary>What has changed since a marker; null if the marker is not from this run. Without a marker only the current
    /// marker.</summary>
    public (IReadOnlyList<SlipwaySite> Sites, IReadOnlyList<string> Gone, string Mark)? Changes(string? since)
    {
        lock (Gate)
        {
            var now = Records.Sites.Values.Concat(Records.Bin.Values).ToDictionary(site => site.Id);
            foreach (var site in now.Values.Where(site => !ReferenceEquals(told.GetValueOrDefault(site.Id).Site, site)))
            {
                told[site.Id] = (site, ++last);
            }

            foreach (
                var id in told.Where(pair => pair.Value.Site is not null && !now.ContainsKey(pair.Key))
                    .Select(pair => pair.Key)
                    .ToList()
            )
            {
                told[id] = (null, ++last);
            }

            var mark = $"{run}-{last}";
            if (since is null)
            {
                return ([], [], mark);
            }

            if (
                !since.StartsWith($"{run}-", StringComparison.Ordinal)
                || !long.TryParse(since.AsSpan(run.Length + 1), out var from)
            )
            {
                return null;
            }

            var news = told.Where(pair => pair.Value.At > from).OrderBy(pair => pair.Value.At).ToList();
            return (
                [.. news.Select(pair => pair.Value.Site).OfType<SlipwaySite>()],
                [.. news.Where(pair => pair.Value.Site is null).Select(pair => pair.Key)],
                mark
            );
        }
    }

    public DateTimeOffset RecoverableUntil(SlipwaySite site) => site.Deleted!.Value.AddDays(Records.Workspace.BinDays);

    /// <summary>A site as the API returns it.</summary>
    public JsonObject Json(SlipwaySite site)
    {
        var json = new JsonObject
        {
            ["id"] = site.Id,
            ["slug"] = site.Slug,
            ["title"] = site.Title,
            ["team"] = site.Team,
            ["label"] = site.Label,
            ["template"] = site.Template,
            ["joining"] = new JsonObject
            {
                ["way"] = site.Join,
                ["as"] = site.JoinAs,
                ["requests"] = site.JoinRequests.Count,
                ["oldest"] = site.JoinRequests.Count > 0 ? Answers.Instant(site.JoinRequests.Min()) : null,
            },
            ["topics"] = Answers.Texts(site.Topics),
            ["header"] = site.Header ?? site.Title,
            ["homeTitle"] = (site.Live.Count > 0 ? site.Live : site.Working) is [var home, ..] ? home.Title : null,
            ["about"] = site.About,
            ["language"] = site.Language,
            ["notice"] = site.Notice,
            ["ends"] = site.Ends is { } ends ? Answers.Instant(ends) : null,
            ["noindex"] = site.NoIndex,
            ["logo"] = site.Logo,
            ["logoFrom"] = site.Logo == "own" ? Hash(site) : site.LogoFrom,
            ["formerly"] = new JsonArray([
                .. site.Formerly.Select(one =>
                    (JsonNode)new JsonObject { ["slug"] = one.Slug, ["until"] = Answers.Instant(one.Until) }
                ),
            ]),
            ["created"] = Answers.Instant(site.Created),
            ["edited"] = Answers.Instant(site.Edited),
            ["published"] = site.Published is { } published ? Answers.Instant(published) : null,
            ["offline"] = site.Offline,
            ["unpublished"] = site.Unpublished,
            ["lastVisit"] = site.LastVisit is { } visit ? Answers.Instant(visit) : null,
            ["sharing"] = Sharing(site),
            ["pages"] = site.Working.Count,
            ["bytes"] = site.Bytes,
            ["domains"] = Answers.Texts(site.Domains),
            ["parent"] = site.Parent,
            ["ownGroup"] = site.OwnGroup,
            ["editing"] = Answers.Texts(site.Editing.Select(id => Records.People.GetValueOrDefault(id)?.Mail).OfType<string>()),
        };
        if (site.Visits7 is { } visits)
        {
            json["visits7"] = visits;
        }

        if (site.Mailbox is { } mailbox)
        {
            json["mailbox"] = mailbox;
        }

        if (site.Deleted is { } deleted)
        {
            json["deleted"] = Answers.Instant(deleted);
            json["deletedBy"] = site.DeletedBy;
            json["recoverableUntil"] = Answers.Instant(RecoverableUntil(site));
            json["erased"] = Answers.Instant(RecoverableUntil(site).AddDays(2));
        }

        foreach (var field in site.Withheld)
        {
            json.Remove(field);
        }

        // Missing rather than null: nobody has chosen it, which is not the same as none.
        if (site.UsedFor is { } use)
        {
            json["usedFor"] = use;
        }

        return json;
    }

    public JsonObject Sharing(SlipwaySite site) =>
        new()
        {
            ["limit"] = site.Limit,
            ["entries"] = new JsonArray([
                .. site.Entries.Select(entry =>
                    (JsonNode)
                        new JsonObject
                        {
                            ["entry"] = entry.Entry,
                            ["role"] = entry.Role,
                            ["proof"] = entry.Proof,
                            ["audience"] = entry.Audience,
                            ["until"] = entry.Until,
                            ["mail"] = entry.Entry.StartsWith("p:", StringComparison.Ordinal)
                                ? Records.People.GetValueOrDefault(entry.Entry[2..])?.Mail
                                : null,
                        }
                ),
            ]),
        };

    // Somebody who is given access by an address that nobody has is invited as a guest, if Slipway has guests at all. Addresses of the
    // organisation itself are never those of guests.
    private void InviteUnknown(JsonArray changes)
    {
        foreach (var change in changes.OfType<JsonObject>())
        {
            if (
                Records.Workspace.Outside != "none"
                && Text(change, "role") is { } role
                && Roles.Contains(role)
                && Text(change, "entry") is ['m', 'a', 'i', 'l', ':', .. var mail]
                && mail.Contains('@', StringComparison.Ordinal)
                && !Records.People.Values.Any(person =>
                    !person.Guest && person.Mail.EndsWith(mail[mail.IndexOf('@')..], StringComparison.OrdinalIgnoreCase)
                )
                && !Records.People.Values.Any(person => person.Mail.Equals(mail, StringComparison.OrdinalIgnoreCase))
            )
            {
                var id = $"v{Records.People.Count + 1:0000}";
                Records.People[id] = new SlipwayPerson(id, mail.Split('@')[0], mail, Guest: true, Active: true, Team: null);
            }
        }
    }

    // A repeated key gets the current state and changes nothing.
    private (int Status, JsonObject Body) Once(
        string? key,
        string site,
        string request,
        DateTimeOffset now,
        Func<JsonObject> again,
        Func<(int Status, JsonObject Body)> change
    )
    {
        lock (Gate)
        {
            if (key is not null && Records.Effects.Find(effect => effect.Key == key) is { } before)
            {
                return before.Site == site && before.Request == request
                    ? (200, again())
                    : (409, Problem("This key was used for something else."));
            }

            var answer = change();
            if (answer.Status == 200)
            {
                if (key is not null)
                {
                    Records.Effects.Add(new SlipwayEffect(key, site, request, now));
                }

                Save();
            }

            return answer;
        }
    }

    /// <returns>The error in the changes, or null.</returns>
    private string? Entries(SlipwaySite site, JsonArray changes, out IReadOnlyList<SlipwayEntry> changed)
    {
        var entries = site.Entries.ToDictionary(entry => entry.Entry);
        changed = site.Entries;
        foreach (var change in changes.OfType<JsonObject>())
        {
            if (Text(change, "entry") is not { } entry || (Text(change, "role") is { } role && !Roles.Contains(role)))
            {
                return "A change names an entry and a role.";
            }

            // A person can be named by mail address.
            if (entry.StartsWith("mail:", StringComparison.Ordinal))
            {
                if (
                    Records.People.Values.FirstOrDefault(person =>
                        person.Mail.Equals(entry["mail:".Length..], StringComparison.OrdinalIgnoreCase)
                    )
                    is not { } person
                )
                {
                    return $"Nobody at Slipway has the address {entry["mail:".Length..]}.";
                }

                entry = $"p:{person.Id}";
            }

            if (Text(change, "role") is { } wanted)
            {
                entries[entry] = new SlipwayEntry(
                    entry,
                    wanted,
                    Text(change, "proof"),
                    Text(change, "audience"),
                    Text(change, "until")
                );
            }
            else
            {
                entries.Remove(entry);
            }
        }

        changed = [.. entries.Values.OrderBy(entry => entry.Entry, StringComparer.Ordinal)];
        return null;
    }

    private static string? Text(JsonObject json, string field) =>
        json[field] is JsonValue value && value.TryGetValue<string>(out var text) ? text : null;

    private static JsonObject Problem(string words) => new() { ["problem"] = words };
}
