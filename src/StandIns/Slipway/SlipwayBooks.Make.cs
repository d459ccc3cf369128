using System.Globalization;
using System.Text.Json.Nodes;

namespace AtticLedger.StandIns.Slipway;

/// <content>New sites: each begins with the default access of the workspace.</content>
public sealed partial class SlipwayBooks
{
    /// <summary>Makes a site. A repeated key gets the same site.</summary>
    public (int Status, JsonObject Body) Make(string? key, JsonObject wanted, DateTimeOffset now)
    {
        lock (Gate)
        {
            var request = wanted.ToJsonString();
            if (key is not null && Records.Effects.Find(effect => effect.Key == key) is { } before)
            {
                return before.Request != request ? (409, Problem("This key was used for something else."))
                    : Records.Sites.TryGetValue(before.Site, out var made) ? (200, Json(made))
                    : (404, Problem("It was deleted meanwhile."));
            }

            if (Text(wanted, "slug") is not { Length: > 0 } slug || Text(wanted, "title") is not { Length: > 0 } title)
            {
                return (422, Problem("A site needs a slug and a title."));
            }

            if (Records.Sites.Values.Any(other => other.Slug == slug))
            {
                return (409, Problem($"The address {slug} is in use."));
            }

            var id = Free();
            var site = new SlipwaySite
            {
                Id = id,
                Slug = slug,
                Title = title,
                Team = Text(wanted, "team"),
                Label = Text(wanted, "label"),
                UsedFor = Text(wanted, "usedFor"),
                Template = Text(wanted, "template") ?? "pages",
                Language = Text(wanted, "language"),
                About = Text(wanted, "about"),
                Notice = Text(wanted, "notice"),
                Ends = DateTimeOffset.TryParse(
                    Text(wanted, "ends"),
                    CultureInfo.InvariantCulture,
                    DateTimeStyles.AssumeUniversal,
                    out var ends
                )
                    ? ends
                    : null,
                Created = now,
                Edited = now,
                Visits7 = 0,
                Entries = Default(),
                Working = [new SlipwayPage(title, "")],
            };
            Records.Sites[id] = site;
            if (key is not null)
            {
                Records.Effects.Add(new SlipwayEffect(key, id, request, now));
            }

            Save();
            return (200, Json(site));
        }
    }

    /// <summary>Makes the group of a site, or changes who is in it.</summary>
    public (int Status, JsonObject Body) MakeGroup(string id, string? key, JsonObject wanted, DateTimeOffset now) =>
        OnSite(id, key, $"group {wanted.ToJsonString()}", now, site =>
        {
            var people = new List<SlipwayMember>();
            foreach (var mail in Texts(wanted["people"] as JsonArray ?? []))
            {
                if (PersonOf(mail) is not { } person)
                {
                    return $"Nobody at Slipway has the address {mail}.";
                }

                people.Add(new SlipwayMember(Person: person));
            }

            var group = site.OwnGroup ?? $"{id}-group";
            Records.Groups[group] = new SlipwayGroup(group, Text(wanted, "name") ?? site.Title, people);
            Records.Sites[id] = site with { OwnGroup = group, Mailbox = Text(wanted, "mailbox") };
            return null;
        });

    public (int Status, JsonObject Body) SetTopics(string id, string? key, JsonArray topics, DateTimeOffset now) =>
        OnSite(id, key, $"topics {topics.ToJsonString()}", now, site =>
        {
            Records.Sites[id] = site with { Topics = [.. Texts(topics)] };
            return null;
        });

    /// <summary>Adds the pages that a site does not have yet, to what its editors see.</summary>
    public (int Status, JsonObject Body) AddStarterPages(string id, string? key, JsonArray titles, DateTimeOffset now) =>
        OnSite(id, key, $"pages {titles.ToJsonString()}", now, site =>
        {
            Records.Sites[id] = site with
            {
                Working =
                [
                    .. site.Working,
                    .. Texts(titles)
                        .Where(title => !site.Working.Any(page => page.Title == title))
                        .Select(title => new SlipwayPage(title, "")),
                ],
            };
            return null;
        });

    // "everyone: edit; partners: read" in the workspace settings are entries of each new site.
    private List<SlipwayEntry> Default() =>
        [
            .. Records
                .Workspace.DefaultEntry.Split("; ", StringSplitOptions.RemoveEmptyEntries)
                .Select(entry => entry.Split(": ", 2))
                .Where(parts => parts.Length == 2)
                .Select(parts => new SlipwayEntry(parts[0], parts[1])),
        ];

    private string Free() =>
        Enumerable
            .Range(Records.Sites.Count + Records.Bin.Count + 1, int.MaxValue / 2)
            .Select(number => $"n{number.ToString("D4", CultureInfo.InvariantCulture)}")
            .First(id => !Records.Sites.ContainsKey(id) && !Records.Bin.ContainsKey(id));

    private string? PersonOf(string mail) =>
        Records.People.Values.FirstOrDefault(person => person.Mail.Equals(mail, StringComparison.OrdinalIgnoreCase))?.Id;

    private (int Status, JsonObject Body) OnSite(
        string id,
        string? key,
        string request,
        DateTimeOffset now,
        Func<SlipwaySite, string?> change
    ) =>
        Once(
            key,
            id,
            request,
            now,
            () => Records.Sites.GetValueOrDefault(id) is { } site ? Json(site) : Problem("There is no such site."),
            () =>
                !Records.Sites.TryGetValue(id, out var site) ? (404, Problem("There is no such site."))
                : change(site) is { } wrong ? (422, Problem(wrong))
                : (200, Json(Records.Sites[id]))
        );

    private static IEnumerable<string> Texts(JsonArray texts) =>
        texts.Select(text => text is JsonValue value && value.TryGetValue<string>(out var said) ? said : null).OfType<string>();
}
