using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace AtticLedger.StandIns.People;

public sealed record StaffMember(
    string Id,
    string Name,
    string Mail,
    string UserType,
    bool Active,
    string? Department,
    string? LastDay,
    string? AbsentUntil,
    DateTimeOffset Modified
);

public sealed record StaffGroup(string Id, string Name, IReadOnlyList<string> Members, DateTimeOffset Modified);

public sealed record StaffRecords(List<StaffMember> Members, List<StaffGroup> Groups);

/// <summary>The staff list as SCIM 2.0: <c>/Users</c> and <c>/Groups</c>, paged, filtered by when a record was
/// modified.</summary>
public static partial class StaffListApi
{
    private const string ListSchema = "urn:ietf:params:scim:api:messages:2.0:ListResponse";
    private const string UserSchema = "urn:ietf:params:scim:schemas:core:2.0:User";
    private const string GroupSchema = "urn:ietf:params:scim:schemas:core:2.0:Group";
    private const string Enterprise = "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User";
    private const string Employment = "urn:attic-ledger:scim:employment";

    public static StaffRecords Load(string file, Func<StaffRecords> first)
    {
        if (File.Exists(file))
        {
            return JsonSerializer.Deserialize<StaffRecords>(File.ReadAllText(file))!;
        }

        var records = first();
        WholeFile.Write(file, JsonSerializer.Serialize(records));
        return records;
    }

    public static void MapStaffList(this WebApplication app, StaffRecords records, string token)
    {
        var api = app.MapGroup("/scim/v2")
            .AddEndpointFilter(
                async (context, next) =>
                    context.HttpContext.Request.Headers.Authorization == $"Bearer {token}"
                        ? await next(context)
                        : Error(401, "A bearer token is needed.", null)
            );
        api.MapGet("/Users", (int? startIndex, int? count, string? filter) =>
            List(records.Members, member => member.Modified, User, startIndex, count, filter)
        );
        api.MapGet("/Users/{id}", (string id) =>
            records.Members.Find(member => member.Id == id) is { } found
                ? Json(User(found))
                : Error(404, $"There is no user {id}.", null)
        );
        api.MapGet("/Groups", (int? startIndex, int? count, string? filter) =>
            List(records.Groups, group => group.Modified, Group, startIndex, count, filter)
        );
    }

    private static IResult List<T>(
        List<T> all,
        Func<T, DateTimeOffset> modified,
        Func<T, JsonObject> write,
        int? startIndex,
        int? count,
        string? filter
    )
    {
        if (filter is not null)
        {
            var match = ModifiedAfter().Match(filter);
            if (!match.Success || !DateTimeOffset.TryParse(match.Groups[1].Value, CultureInfo.InvariantCulture, out var after))
            {
                return Error(400, "Only meta.lastModified gt \"…\" is understood.", "invalidFilter");
            }

            all = all.FindAll(item => modified(item) > after);
        }

        var start = Math.Max(1, startIndex ?? 1);
        var page = all.Skip(start - 1).Take(Math.Clamp(count ?? 100, 0, 200)).Select(item => (JsonNode)write(item)).ToArray();
        return Json(
            new JsonObject
            {
                ["schemas"] = new JsonArray(ListSchema),
                ["totalResults"] = all.Count,
                ["startIndex"] = start,
                ["itemsPerPage"] = page.Length,
                ["Resources"] = new JsonArray(page),
            }
        );
    }

    private static JsonObject User(StaffMember member) =>
        new()
        {
            ["schemas"] = new JsonArray(UserSchema, Enterprise, Employment),
            ["id"] = member.Id,
            ["userName"] = member.Mail,
            ["displayName"] = member.Name,
            ["userType"] = member.UserType,
            ["active"] = member.Active,
            ["emails"] = new JsonArray(
                new JsonObject
                {
                    ["value"] = member.Mail,
                    ["type"] = "work",
                    ["primary"] = true,
                }
            ),
            [Enterprise] = new JsonObject { ["department"] = member.Department },
            [Employment] = new JsonObject { ["lastDay"] = member.LastDay, ["absentUntil"] = member.AbsentUntil },
            ["meta"] = Meta("User", member.Modified),
        };

    private static JsonObject Group(StaffGroup group) =>
        new()
        {
            ["schemas"] = new JsonArray(GroupSchema),
            ["id"] = group.Id,
            ["displayName"] = group.Name,
            ["members"] = new JsonArray([.. group.Members.Select(member => (JsonNode)new JsonObject { ["value"] = member })]),
            ["meta"] = Meta("Group", group.Modified),
        };

    private static JsonObject Meta(string type, DateTimeOffset modified) =>
        new()
        {
            ["resourceType"] = type,
            ["lastModified"] = modified.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture),
        };

    // RFC 7644, section 3.12.
    private static IResult Error(int status, string detail, string? scimType) =>
        Results.Json(
            new JsonObject
            {
                ["schemas"] = new JsonArray("urn:ietf:params:scim:api:messages:2.0:Error"),
                ["status"] = status.ToString(CultureInfo.InvariantCulture),
                ["scimType"] = scimType,
                ["detail"] = detail,
            },
            statusCode: status,
            contentType: "application/scim+json"
        );

    private static IResult Json(JsonObject body) => Results.Json(body, contentType: "application/scim+json");

    [GeneratedRegex("^meta\\.lastModified gt \"([^\"]+)\"$", RegexOptions.IgnoreCase)]
    private static partial Regex ModifiedAfter();
}
