using System.Text.Json.Nodes;

namespace AtticLedger.StandIns.Lantern;

/// <summary>Lantern's records, changed one at a time and written to a file before the answer. A repeated change is made
/// twice.</summary>
public sealed class LanternBooks(LanternRecords records, string? file) : Books<LanternRecords>(records, file)
{
    private static readonly string[] Roles = ["reader", "reviewer", "writer", "builder", "holder"];

    public static LanternBooks Load(string file, Func<LanternRecords> first) => new(Kept(file, first), file);

    public (int Status, JsonObject Body) Suspend(string id, bool suspended, DateTimeOffset now) =>
        Change(id, suspended ? "suspend" : "resume", now, site =>
            (site with { Suspended = suspended ? site.Suspended ?? now : null }, null)
        );

    public (int Status, JsonObject Body) SetMembers(string id, bool? open, JsonObject members, DateTimeOffset now) =>
        Change(id, $"members {open} {members.ToJsonString()}", now, site =>
        {
            var kept = site.Members.ToDictionary();
            foreach (var (mail, role) in members)
            {
                if (role is null)
                {
                    kept.Remove(mail);
                }
                else if (!Roles.Contains((string?)role))
                {
                    return (site, $"There is no role {role}.");
                }
                else if (!Records.Seats.ContainsKey(mail))
                {
                    return (site, $"{mail} has no seat on this account.");
                }
                else
                {
                    kept[mail] = (string)role!;
                }
            }

            return kept.ContainsValue("holder")
                ? (site with { Members = kept, Open = open ?? site.Open }, null)
                : (site, "A site keeps at least one holder.");
        });

    /// <summary>Makes a site, without a plan and open to anybody. A repeated request makes another one, if its address is free.
    /// </summary>
    public (int Status, JsonObject Body) Make(JsonObject wanted, DateTimeOffset now)
    {
        lock (Gate)
        {
            if ((string?)wanted["host"] is not { Length: > 0 } host || (string?)wanted["holder"] is not { Length: > 0 } holder)
            {
                return (422, Message("A site needs a host and a holder."));
            }

            if (Records.Sites.Values.Any(other => other.Host == host))
            {
                return (422, Message($"{host} is taken."));
            }

            if (!Records.Seats.ContainsKey(holder))
            {
                return (422, Message($"{holder} has no seat on this account."));
            }

            var id = Enumerable
                .Range(Records.Sites.Count + 1, int.MaxValue / 2)
                .Select(number => $"made-{number}")
                .First(free => !Records.Sites.ContainsKey(free));
            Records.Sites[id] = new LanternSite
            {
                Id = id,
                Host = host,
                Name = (string?)wanted["name"],
                Theme = (string?)wanted["theme"] ?? "leaflet",
                Language = (string?)wanted["language"] ?? "en",
                Teaser = (string?)wanted["teaser"],
                Mailbox = (string?)wanted["mailbox"],
                Note = (string?)wanted["note"],
                Members = new Dictionary<string, string> { [holder] = "holder" },
                Online = false,
                Created = now,
                Changed = now,
                Pages = 1,
            };
            Records.Effects.Add(new LanternEffect(id, "make", now));
            Save();
            return (200, Json(Records.Sites[id]));
        }
    }

    /// <summary>Deletes irrevocably: there is no bin.</summary>
    public (int Status, JsonObject Body) Delete(string id, DateTimeOffset now)
    {
        lock (Gate)
        {
            if (!Records.Sites.Remove(id, out var site))
            {
                return (404, Message("There is no such site."));
            }

            Records.Effects.Add(new LanternEffect(id, "delete", now));
            Save();
            return (200, Json(site));
        }
    }

    public JsonObject Json(LanternSite site) =>
        new()
        {
            ["id"] = site.Id,
            ["host"] = site.Host,
            ["name"] = site.Name,
            ["theme"] = site.Theme,
            ["teaser"] = site.Teaser,
            ["language"] = site.Language,
            ["findable"] = site.Findable,
            ["mark"] = site.Mark,
            ["members"] = new JsonObject(site.Members.Select(member => KeyValuePair.Create(member.Key, (JsonNode?)member.Value))),
            ["open"] = site.Open,
            ["online"] = site.Online,
            ["firstOnline"] = Instant(site.FirstOnline),
            ["created"] = Instant(site.Created),
            ["changed"] = Instant(site.Changed),
            ["lastVisit"] = Instant(site.LastVisit),
            ["visits7"] = site.Visits7,
            ["pages"] = site.Pages,
            ["megabytes"] = site.Megabytes,
            ["domains"] = Answers.Texts(site.Domains),
            ["plan"] = site.Plan,
            ["mailbox"] = site.Mailbox,
            ["note"] = site.Note,
            ["ordersOpen"] = site.OrdersOpen,
            ["ordersDone"] = site.OrdersDone,
            ["vouchers"] = site.Vouchers is { } vouchers
                ? new JsonObject { ["left"] = vouchers.Left, ["lastDay"] = vouchers.LastDay }
                : null,
            ["trackers"] = Answers.Texts(site.Trackers),
            ["forms"] = Answers.Texts(site.Forms),
            ["suspended"] = site.Suspended is { } at ? new JsonObject { ["at"] = Instant(at) } : null,
        };

    public JsonObject Json(LanternPlan plan) =>
        new()
        {
            ["id"] = plan.Id,
            ["name"] = plan.Name,
            ["cents"] = plan.Cents,
            ["currency"] = plan.Currency,
            ["months"] = plan.Months,
            ["paidThrough"] = plan.PaidThrough,
            ["renews"] = plan.Renews,
            ["graceDays"] = plan.GraceDays,
            ["sites"] = Answers.Texts(
                Read(all => all.Sites.Values.Where(site => site.Plan == plan.Id).Select(site => site.Id).ToList())
            ),
        };

    private (int Status, JsonObject Body) Change(
        string id,
        string request,
        DateTimeOffset now,
        Func<LanternSite, (LanternSite Site, string? Wrong)> change
    )
    {
        lock (Gate)
        {
            if (!Records.Sites.TryGetValue(id, out var site))
            {
                return (404, Message("There is no such site."));
            }

            var (changed, wrong) = change(site);
            if (wrong is not null)
            {
                return (422, Message(wrong));
            }

            Records.Sites[id] = changed;
            Records.Effects.Add(new LanternEffect(id, request, now));
            Save();
            return (200, Json(changed));
        }
    }

    private static JsonObject Message(string message) => new() { ["message"] = message };

    private static string? Instant(DateTimeOffset? at) => at is { } instant ? Answers.Instant(instant) : null;
}
