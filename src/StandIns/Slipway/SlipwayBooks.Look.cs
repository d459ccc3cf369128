using System.Globalization;
using System.Security.Cryptography;
using System.Text.Json.Nodes;

namespace AtticLedger.StandIns.Slipway;

/// <content>Title, description, logo and slug of a site, and the pages that its editors see.</content>
public sealed partial class SlipwayBooks
{
    /// <summary>Changes what a request names. A logo is kept with the site, taken from another one, or linked.</summary>
    public (int Status, JsonObject Body) SetLook(string id, string? key, JsonObject wanted, DateTimeOffset now) =>
        OnSite(id, key, $"look {wanted.ToJsonString()}", now, site =>
        {
            if (wanted.ContainsKey("title"))
            {
                if (Text(wanted, "title") is not { Length: > 0 } title)
                {
                    return "A site needs a title.";
                }

                site = site with { Title = title };
            }

            if (wanted.ContainsKey("about"))
            {
                site = site with { About = Text(wanted, "about") };
            }

            if (wanted.ContainsKey("logo"))
            {
                var logo = wanted["logo"] as JsonObject ?? [];
                var (kind, from) = (Text(logo, "kind"), Text(logo, "from"));
                var picture = Text(logo, "picture") is { } given ? Convert.FromBase64String(given) : null;
                if (kind == "site" && Records.Sites.GetValueOrDefault(from ?? "")?.Logo != "own")
                {
                    return "There is no site with a logo of its own by this id.";
                }

                site = site with
                {
                    Logo = kind,
                    LogoFrom = kind == "own" ? null : from,
                    LogoPicture = kind == "own" ? picture : null,
                };
            }

            Records.Sites[id] = site;
            return null;
        });

    /// <summary>Gives a site another slug; the old one forwards to it for a while, or goes to the site that had the new one.</summary>
    public (int Status, JsonObject Body) SetSlug(string id, string? key, JsonObject wanted, DateTimeOffset now) =>
        OnSite(id, key, $"slug {wanted.ToJsonString()}", now, site =>
        {
            if (Text(wanted, "slug") is not { Length: > 0 } slug)
            {
                return "A site needs a slug.";
            }

            var holder = Records.Sites.Values.FirstOrDefault(other => other.Id != id && other.Slug == slug);
            if (Text(wanted, "swapWith") is { } swap)
            {
                if (holder?.Id != swap)
                {
                    return $"{slug} is not the slug of {swap}.";
                }

                Records.Sites[swap] = holder with { Slug = site.Slug };
                Records.Sites[id] = site with { Slug = slug };
                return null;
            }

            if (holder is not null || Records.Sites.Values.Any(other => other.Id != id && Forwards(other, slug, now)))
            {
                return $"The address {slug} is in use.";
            }

            // The slugs that it had before forward to the new one too, and one that it returns to forwards no longer.
            var formerly = site.Formerly.Where(one => one.Until > now && one.Slug != slug);
            if (
                DateTimeOffset.TryParse(
                    Text(wanted, "forwardUntil"),
                    CultureInfo.InvariantCulture,
                    DateTimeStyles.AssumeUniversal,
                    out var until
                )
                && site.Slug != slug
            )
            {
                formerly = formerly.Append(new SlipwayForward(site.Slug, until));
            }

            Records.Sites[id] = site with { Slug = slug, Formerly = [.. formerly] };
            return null;
        });

    /// <summary>Ends the forwards whose time is over.</summary>
    public void EndForwards(DateTimeOffset now)
    {
        lock (Gate)
        {
            var over = Records.Sites.Values.Where(site => site.Formerly.Any(one => one.Until <= now)).ToList();
            foreach (var site in over)
            {
                Records.Sites[site.Id] = site with { Formerly = [.. site.Formerly.Where(one => one.Until > now)] };
            }

            if (over.Count > 0)
            {
                Save();
            }
        }
    }

    public static bool Forwards(SlipwaySite site, string slug, DateTimeOffset now) =>
        site.Formerly.Any(one => one.Slug == slug && one.Until > now);

    private static string? Hash(SlipwaySite site) =>
        site.LogoPicture is { } picture ? Convert.ToHexStringLower(SHA256.HashData(picture)) : null;
}
