using System.Text.Json;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>A person as in the staff list.</summary>
public sealed record ListedPerson(
    string Key,
    string Name,
    string Mail,
    PersonKind Kind,
    string Classification,
    Standing Standing,
    DateOnly? Day,
    Core.Terms.Known<string> Unit
);

/// <summary>The staff list by SCIM 2.0: RFC 7643 for the schema, RFC 7644 for the protocol.</summary>
public sealed class StaffList(HttpClient http)
{
    public const string SourceName = "Staff list";
    private const string Enterprise = "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User";
    private const string Employment = "urn:attic-ledger:scim:employment";
    private const int PageSize = 100;
    private readonly JsonHttp json = new(http, SourceName);

    public async Task<IReadOnlyList<ListedPerson>> People(CancellationToken stop)
    {
        var people = new List<ListedPerson>();
        await foreach (var user in Resources("Users", stop))
        {
            if (user.Text("id") is { } id && user.Text("userName") is { Length: > 0 } mail)
            {
                people.Add(Person(id, mail, user));
            }
        }

        return people;
    }

    /// <summary>All groups; their members are people and groups of this list.</summary>
    public async Task<IReadOnlyList<HostGroup>> Groups(IReadOnlyDictionary<string, string> mailOf, CancellationToken stop)
    {
        var groups = new List<HostGroup>();
        await foreach (var group in Resources("Groups", stop))
        {
            if (group.Text("id") is { } id)
            {
                var members = group
                    .Items("members")
                    .Select(member =>
                        member.Text("value") is { } value && mailOf.TryGetValue(value, out var mail)
                            ? new HostMember(mail, null, null)
                            : new HostMember(null, SourceName, member.Text("value"))
                    )
                    .ToList();
                groups.Add(new HostGroup(id, group.Text("displayName") ?? id, members, Complete: true));
            }
        }

        return groups;
    }

    private async IAsyncEnumerable<JsonElement> Resources(
        string what,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken stop
    )
    {
        var told = 0;
        await foreach (var page in json.Pages($"{what}?startIndex=1&count={PageSize}", Next, stop))
        {
            // RFC 7644, section 3.4.2: totalResults is required, Resources only if there are any.
            var all = page.Json.Number("totalResults")
                ?? throw new HostException(
                    $"The staff list's answer to {page.Path} has no totalResults, so whether it is complete cannot be told."
                );
            foreach (var resource in all == 0 ? [] : page.Json.List("Resources", page.Path))
            {
                told++;
                yield return resource;
            }

            if (page.Next is null && told < all)
            {
                throw new HostException(
                    $"The staff list has a total of {all} {what}, but returned {told}. Nobody is marked as gone."
                );
            }
        }

        string? Next(JsonElement page)
        {
            var start = page.Number("startIndex") ?? 1;
            var given = page.Number("itemsPerPage") ?? 0;
            return given > 0 && start + given <= (page.Number("totalResults") ?? 0)
                ? $"{what}?startIndex={start + given}&count={PageSize}"
                : null;
        }
    }

    private static ListedPerson Person(string id, string mail, JsonElement user)
    {
        var unit = user.TryGetProperty(Enterprise, out var enterprise)
            ? enterprise.Fact("department")
            : Core.Terms.Known<string>.Unknown;
        var employment = user.TryGetProperty(Employment, out var said) ? said : default;
        var lastDay = Day(employment.Text("lastDay"));
        var absentUntil = Day(employment.Text("absentUntil"));
        var userType = user.Text("userType") ?? "";
        var (standing, day) =
            user.Flag("active") == false ? (Standing.Left, lastDay)
            : lastDay is not null ? (Standing.Leaving, lastDay)
            : absentUntil is not null ? (Standing.Absent, absentUntil)
            : (Standing.Current, null);
        return new ListedPerson(
            id,
            user.Text("displayName") ?? mail,
            mail,
            userType == "Service" ? PersonKind.Service : PersonKind.Staff,
            userType,
            standing,
            day,
            unit
        );
    }

    private static DateOnly? Day(string? text) => DateOnly.TryParseExact(text, "yyyy-MM-dd", out var day) ? day : null;
}
