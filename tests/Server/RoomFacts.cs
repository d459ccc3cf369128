using System.Text.RegularExpressions;
using AtticLedger.Server.Work;

namespace AtticLedger.Server.Tests;

/// <summary>The rooms of the server and of the web application, which are their folders: none is in a circle, and those below
/// know nothing of those above. Names that a file spells out count like those that it imports.
/// </summary>
public partial class RoomFacts
{
    // Each knows only those before it.
    private static readonly string[] Ground =
    [
        "Contracts",
        "Sentences",
        "Work",
        "Mail",
        "Identity",
        "Feed",
        "Execution",
        "Actions",
    ];

    private static readonly string ServerRoot = Path.Combine(Repository.Root, "src/Server");
    private static readonly string WebRoot = Path.Combine(Repository.Root, "web/src");

    [Fact]
    public void No_room_of_the_server_is_in_a_circle() => Assert.Empty(Circle(ServerRooms()));

    [Fact]
    public void The_ground_of_the_server_knows_nothing_above_it()
    {
        var rooms = ServerRooms();
        foreach (var (place, room) in Ground.Index())
        {
            Assert.Empty(rooms[room].Except(Ground[..place]));
        }
    }

    [Fact]
    public void Every_room_with_endpoints_adds_them_itself()
    {
        var rooms = Room.All.Select(room => room.GetType().Namespace!.Split('.')[^1]).ToList();
        Assert.Equal(rooms.Count, rooms.Distinct().Count());
        foreach (var file in Sources(ServerRoot, "*.cs").Where(file => EndpointsOf().IsMatch(File.ReadAllText(file))))
        {
            Assert.Contains(RoomOf(ServerRoot, file), rooms.Append("Hosting"));
        }
    }

    [Fact]
    public void No_part_of_the_web_application_is_in_a_circle() => Assert.Empty(Circle(WebRooms()));

    [Fact]
    public void The_kit_of_the_web_application_knows_no_application() => Assert.Empty(WebRooms()["ui"]);

    [Fact]
    public void A_circle_is_found()
    {
        var rooms = new Dictionary<string, HashSet<string>>
        {
            ["a"] = ["b"],
            ["b"] = ["c", "d"],
            ["c"] = ["a"],
            ["d"] = [],
            ["e"] = ["d"],
        };
        Assert.Equal(["a", "b", "c"], Circle(rooms).Order());
    }

    // What remains when everything that only knows what was taken away is taken away, from both ends.
    private static IReadOnlyCollection<string> Circle(Dictionary<string, HashSet<string>> rooms)
    {
        var left = rooms.Keys.ToHashSet();
        for (var before = -1; before != left.Count; )
        {
            before = left.Count;
            left.RemoveWhere(room => !rooms[room].Overlaps(left));
            left.RemoveWhere(room => left.All(other => !rooms[other].Contains(room)));
        }

        return left;
    }

    private static Dictionary<string, HashSet<string>> ServerRooms()
    {
        var names = Directory
            .EnumerateDirectories(ServerRoot)
            .Select(folder => Path.GetFileName(folder)!)
            .Except(["bin", "obj"])
            .ToHashSet();
        var types = names.ToDictionary(
            name => name,
            name =>
                Sources(Path.Combine(ServerRoot, name), "*.cs")
                    .SelectMany(file => Declared().Matches(File.ReadAllText(file)))
                    .Select(match => match.Groups["type"].Value)
                    .ToHashSet()
        );
        var known = names.ToDictionary(name => name, _ => new HashSet<string>());
        foreach (var file in Sources(ServerRoot, "*.cs"))
        {
            // Program puts the rooms together.
            if (RoomOf(ServerRoot, file) is not { } room || !names.Contains(room))
            {
                continue;
            }

            var text = File.ReadAllText(file);
            var used = ServerNamespace()
                .Matches(text)
                .Select(match => match.Groups["room"].Value)
                .Concat(
                    SpelledOut()
                        .Matches(text)
                        .Where(match =>
                            types.TryGetValue(match.Groups["room"].Value, out var its) && its.Contains(match.Groups["type"].Value)
                        )
                        .Select(match => match.Groups["room"].Value)
                );
            known[room].UnionWith(used.Where(name => name != room && names.Contains(name)));
        }

        return known;
    }

    private static Dictionary<string, HashSet<string>> WebRooms()
    {
        var known = new Dictionary<string, HashSet<string>>();
        foreach (var file in Sources(WebRoot, "*.ts").Concat(Sources(WebRoot, "*.tsx")))
        {
            var room = RoomOf(WebRoot, file) ?? "routes";
            var rooms = known.TryGetValue(room, out var before) ? before : known[room] = [];
            foreach (Match used in Import().Matches(File.ReadAllText(file)))
            {
                var target = Path.GetFullPath(Path.Combine(Path.GetDirectoryName(file)!, used.Groups[1].Value));
                if (RoomOf(WebRoot, target) is { } other && other != room)
                {
                    rooms.Add(other);
                    known.TryAdd(other, []);
                }
            }
        }

        return known;
    }

    private static IEnumerable<string> Sources(string root, string pattern) =>
        Directory
            .EnumerateFiles(root, pattern, SearchOption.AllDirectories)
            .Where(file =>
                !file.Contains("/obj/", StringComparison.Ordinal) && !file.Contains("/bin/", StringComparison.Ordinal)
            );

    private static string? RoomOf(string root, string file) =>
        Path.GetRelativePath(root, file).Split('/') is { Length: > 1 } parts && parts[0] != ".." ? parts[0] : null;

    // "using AtticLedger.Server.Feed;"
    [GeneratedRegex(@"AtticLedger\.Server\.(?<room>\w+)")]
    private static partial Regex ServerNamespace();

    // "Feed.LiveRegister"
    [GeneratedRegex(@"(?<=[\s(<,!])(?:Server\.)?(?<room>[A-Z]\w+)\.(?<type>[A-Z]\w+)")]
    private static partial Regex SpelledOut();

    [GeneratedRegex(@"\b(?:class|record|enum|interface|struct) (?<type>[A-Z]\w+)")]
    private static partial Regex Declared();

    [GeneratedRegex(@"this IEndpointRouteBuilder")]
    private static partial Regex EndpointsOf();

    [GeneratedRegex("""(?:from|import)\s*\(?"(\.[^"]+)["?]""")]
    private static partial Regex Import();
}
