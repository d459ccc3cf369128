using System.Text;
using System.Text.Encodings.Web;

namespace AtticLedger.StandIns.Slipway;

/// <summary>The public sites: serves the published copy of a site to the visitors who have access at Slipway. Signing in is HTTP
/// Basic (RFC 7617) with a mail address and the demo's password.
/// </summary>
public static class VisitorsFront
{
    public const string Password = "harbour";

    public static void MapFront(this WebApplication app, SlipwayBooks state, TimeProvider clock)
    {
        app.MapGet("/", () => Results.Text("Slipway's front: ask for a site by its address, for example /pilot-boarding"));
        app.MapGet("/{slug}/logo", (string slug) => state.Read(records =>
                records.Sites.Values.FirstOrDefault(site => site.Slug == slug && site.Logo == "own")
            )
                is { } site
                ? site.LogoPicture is { } picture
                    ? Results.Bytes(picture, "image/png")
                    : Results.Text(Drawn(site), "image/svg+xml")
                : Results.NotFound());
        app.MapGet("/{slug}", (string slug, HttpContext http) =>
        {
            if (http.Request.Query.ContainsKey("sign-in") && http.Request.Headers.Authorization.Count == 0)
            {
                http.Response.Headers.WWWAuthenticate = "Basic realm=\"Slipway\", charset=\"UTF-8\"";
                return Results.Text("Sign in to Slipway.", statusCode: 401);
            }

            var visitor = Visitor(http, state);
            var now = clock.GetUtcNow();
            if (visitor is { Guest: true })
            {
                state.SignedIn(visitor.Id, now);
            }

            state.ClearBin(now);
            bool IsFor(SlipwayRecords records, SlipwaySite site) =>
                site.Slug == slug && Doorkeeper.LetsIn(records, site, visitor, "read", now);
            return state.Read(records =>
                records.Sites.Values.FirstOrDefault(site => IsFor(records, site)) is { } site
                    ? Results.Content(Page(records, site, visitor), "text/html; charset=utf-8")
                : records.Sites.Values.FirstOrDefault(site =>
                    SlipwayBooks.Forwards(site, slug, now) && Doorkeeper.LetsIn(records, site, visitor, "read", now)
                )
                    is { } moved
                    ? Results.Redirect($"/{moved.Slug}")
                : records.Sites.Values.All(other => other.Slug != slug)
                && records.Bin.Values.FirstOrDefault(gone => IsFor(records, gone)) is { } gone
                    ? Results.Content(BinPage(gone, state.RecoverableUntil(gone)), "text/html; charset=utf-8", statusCode: 410)
                : Results.Text("There is nothing here for you.", statusCode: 404)
            );
        });
    }

    /// <summary>The text of a page as HTML, with its links.</summary>
    public static string Html(string text) =>
        string.Concat(
            text.Split("[[")
                .Select(
                    (part, at) =>
                        at > 0 && part.Split("]]", 2) is [var slug, var rest]
                            ? $"<a href=\"/{Uri.EscapeDataString(slug)}\">{HtmlEncoder.Default.Encode(slug)}</a>{HtmlEncoder.Default.Encode(rest)}"
                            : HtmlEncoder.Default.Encode(part)
                )
        );

    private static SlipwayPerson? Visitor(HttpContext http, SlipwayBooks state)
    {
        var header = http.Request.Headers.Authorization.ToString();
        if (!header.StartsWith("Basic ", StringComparison.Ordinal))
        {
            return null;
        }

        var buffer = new byte[header.Length];
        if (
            !Convert.TryFromBase64String(header["Basic ".Length..], buffer, out var written)
            || Encoding.UTF8.GetString(buffer, 0, written).Split(':', 2) is not [var mail, Password]
        )
        {
            return null;
        }

        return state.Read(records =>
            records.People.Values.FirstOrDefault(person =>
                person.Active && person.Mail.Equals(mail, StringComparison.OrdinalIgnoreCase)
            )
        );
    }

    private static string Drawn(SlipwaySite site) =>
        $"<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 40 40\"><rect width=\"40\" height=\"40\" fill=\"#355\"/><text x=\"20\" y=\"27\" text-anchor=\"middle\" fill=\"#fff\">{HtmlEncoder.Default.Encode(site.Title[..1])}</text></svg>";

    // People who had access get a page that explains; everybody else gets 404.
    private static string BinPage(SlipwaySite site, DateTimeOffset until)
    {
        var html = HtmlEncoder.Default;
        return $"<!doctype html><html lang=\"en\"><title>{html.Encode(site.Title)}</title><main><h1>{html.Encode(site.Title)} is in the bin</h1>"
            + $"<p>This site has been deleted. It can be restored until {until.UtcDateTime.ToString("d MMMM yyyy", System.Globalization.CultureInfo.InvariantCulture)}: ask its owner or your administrator.</p></main></html>";
    }

    private static string Page(SlipwayRecords records, SlipwaySite site, SlipwayPerson? visitor)
    {
        var html = HtmlEncoder.Default;
        var pages = string.Concat(site.Live.Select(page => $"<h2>{html.Encode(page.Title)}</h2><p>{Html(page.Text)}</p>"));
        var logo = LogoOf(records, site) is { } from ? $"<img alt=\"Logo\" src=\"{html.Encode(from)}\">" : "";
        return $"<!doctype html><html lang=\"en\"><title>{html.Encode(site.Title)}</title><main>{logo}<h1>{html.Encode(site.Title)}</h1>{pages}"
            + $"<footer>You are {html.Encode(visitor?.Name ?? "not signed in")}.</footer></main></html>";
    }

    // A borrowed logo is among the files of the other site: with that one in the bin there is nothing to show.
    private static string? LogoOf(SlipwayRecords records, SlipwaySite site) =>
        site.Logo switch
        {
            "own" => $"/{site.Slug}/logo",
            "site" => $"/{records.Sites.GetValueOrDefault(site.LogoFrom ?? "")?.Slug ?? "nothing"}/logo",
            "link" => site.LogoFrom,
            _ => null,
        };
}

/// <summary>Slipway's own decision about who gets in, independent of the product's computation.</summary>
public static class Doorkeeper
{
    public static bool LetsIn(
        SlipwayRecords records,
        SlipwaySite site,
        SlipwayPerson? visitor,
        string role,
        DateTimeOffset now
    ) =>
        site.Published is not null && !site.Offline && site.Entries.Any(entry => Opens(records, site, entry, visitor, role, now));

    private static bool Opens(
        SlipwayRecords records,
        SlipwaySite site,
        SlipwayEntry entry,
        SlipwayPerson? visitor,
        string role,
        DateTimeOffset now
    )
    {
        var roles = SlipwayBooks.Roles.ToList();
        if (
            roles.IndexOf(entry.Role) < roles.IndexOf(role)
            || (DateOnly.TryParse(entry.Until, out var until) && DateOnly.FromDateTime(now.UtcDateTime) > until)
        )
        {
            return false;
        }

        var inside = visitor is { Guest: false };
        var audience = entry.Audience ?? entry.Entry;
        if (audience == "world")
        {
            var proofGiven = visitor is not null || (entry.Proof == "none" && !records.Workspace.SignIn);
            return proofGiven && records.Workspace.Outside == "world" && site.Limit is null;
        }

        if (
            visitor is null
            || (!inside && !GuestsMayCome(records, site))
            || (inside && site.Limit == "team" && visitor.Team != site.Team)
        )
        {
            return false;
        }

        return audience switch
        {
            "everyone" => inside,
            "partners" => false,
            _ when audience.StartsWith("p:", StringComparison.Ordinal) => audience == $"p:{visitor.Id}",
            _ when audience.StartsWith("team:", StringComparison.Ordinal) => inside && audience == $"team:{visitor.Team}",
            _ when audience.StartsWith("g:", StringComparison.Ordinal) => Holds(records, audience[2..], visitor.Id, []),
            _ => false,
        };
    }

    private static bool GuestsMayCome(SlipwayRecords records, SlipwaySite site) =>
        records.Workspace.Outside != "none" && site.Limit is null or "guests" or "partners";

    private static bool Holds(SlipwayRecords records, string group, string person, HashSet<string> seen) =>
        seen.Add(group)
        && records.Groups.TryGetValue(group, out var found)
        && found.Members.Any(member =>
            member.Person == person
            || (member.Group is { } inner && Holds(records, inner, person, seen))
            || (member.Directory is { } listed && records.DirectoryGroups.GetValueOrDefault(listed)?.Contains(person) == true)
        );
}
