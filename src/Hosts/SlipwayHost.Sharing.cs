using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <content>Sharing: entries as grants, and grants as entries.</content>
public sealed partial class SlipwayHost
{
    private HostSharing Sharing(JsonElement sharing) =>
        new(
            [.. sharing.List("entries", "the sharing of a site").Select(Grant)],
            Outside(sharing.Text("limit")) is { } widest and < OutsideLevel.Anonymous
                    ? PowerLimits.Same(Limit.Open with { Widest = widest })
                : sharing.Text("limit") == "team"
                    ? PowerLimits.Same(Limit.Open with { Widest = OutsideLevel.NoOne, Inside = InsideLimit.Unit })
                : null
        );

    private HostGrant Grant(JsonElement entry)
    {
        var key = entry.Text("entry") ?? throw new HostException("Slipway returned a sharing entry without a name.");
        var role = Array.IndexOf(RoleLabels, entry.Text("role"));
        if (role < 0)
        {
            throw new HostException($"Slipway reported an unknown role of the entry {key}: \"{entry.Text("role")}\".");
        }

        var through = DateOnly.TryParseExact(entry.Text("until"), "yyyy-MM-dd", out var until) ? until : (DateOnly?)null;
        var visitorSignIn = entry.Text("proof") switch
        {
            "none" => VisitorSignIn.None,
            "code" => VisitorSignIn.OneTimeCode,
            _ => VisitorSignIn.Account,
        };
        var subject = SubjectOf(key, entry);
        return new HostGrant(
            KeyOf(key, subject),
            (Power)role,
            subject,
            visitorSignIn,
            key.StartsWith("link:", StringComparison.Ordinal),
            through
        );
    }

    // The register's own keys name units by code and people by mail address, so that a grant can be requested again.
    private static string KeyOf(string key, HostSubject subject) =>
        subject switch
        {
            HostSubject.Unit(var code) => $"unit:{code}",
            HostSubject.ByMail(var mail) => $"person:{mail.ToLowerInvariant()}",
            _ => key,
        };

    private HostSubject SubjectOf(string key, JsonElement entry) =>
        key.Split(':', 2) switch
        {
            [Staff] => new HostSubject.Staff(),
            ["partners"] => new HostSubject.Partners(),
            [World] => new HostSubject.Anonymous(),
            ["team", var code] => new HostSubject.Unit(code),
            ["p", _] when entry.Text("mail") is { } mail => new HostSubject.ByMail(mail),
            ["g", var group] => new HostSubject.GroupOf(Name, group),
            ["link", _] => entry.Text("audience") switch
            {
                Staff => new HostSubject.Staff(),
                "partners" => new HostSubject.Partners(),
                _ => new HostSubject.Anonymous(),
            },
            _ => throw new HostException($"Slipway returned a sharing entry of an unknown kind: \"{key}\"."),
        };

    private static JsonNode Change(GrantChange change)
    {
        var key = change.Key.Split(':', 2) switch
        {
            ["unit", var code] => $"team:{code}",
            ["person", var mail] => $"mail:{mail}",
            _ => change.Key,
        };
        var wanted = new JsonObject
        {
            ["entry"] = key,
            ["role"] = change.Wanted is { } grant ? RoleLabels[(int)grant.Power] : null,
        };
        if (change.Wanted is { Subject: Subject.Anonymous or Subject.Partners } door)
        {
            wanted["proof"] = door.VisitorSignIn switch
            {
                VisitorSignIn.None => "none",
                VisitorSignIn.OneTimeCode => "code",
                _ => "signed-in",
            };
        }

        if (change.Wanted is { IsLink: true } link)
        {
            wanted["audience"] = link.Subject switch
            {
                Subject.AllStaff => Staff,
                Subject.Partners => "partners",
                _ => World,
            };
        }

        // A grant without an end stays without one.
        if (change.Wanted?.Through is { } through)
        {
            wanted["until"] = through.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
        }

        return wanted;
    }
}
