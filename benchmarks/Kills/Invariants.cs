using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Bench.Kills;

/// <summary>What has to hold once nothing is under way, checked with the clients' records, the database, the journal and the
/// hosts' own logs.</summary>
internal sealed class Invariants(Database database, Client bell, string standIns)
{
    private const int ColumnsAtOnce = 12;

    // In use, and everywhere else.
    private static readonly string[] Everywhere = ["existence eq \"in-use\"", "not (existence eq \"in-use\")"];
    private readonly List<(string What, int Looked, List<string> Broken)> found = [];

    public bool Hold => found.TrueForAll(one => one.Broken.Count == 0);

    public async Task Look(Doings doings, Func<Task> rebuild, Client atTheOther)
    {
        var hostChanges = await HostChanges();
        Actions(
            doings.Answered.ToList(),
            await Rows("select action, text from journal order by number", row =>
                (Action: row.GetString(0), Text: row.GetString(1))
            ),
            hostChanges
        );
        await Journal();
        Hosts(
            hostChanges,
            (
                await Rows("select id, host from site", row => (Id: new SiteId(row.GetInt64(0)), Host: row.GetString(1)))
            ).ToDictionary(row => row.Id, row => row.Host)
        );
        await Batches(doings.Batches.ToHashSet(), hostChanges);
        await NothingWaits();
        await HostsAreAsKnown();
        await Indexes(rebuild, atTheOther);
        Add("nobody got an unexplained error or no answer", doings.Answered.Count, doings.Faults.ToList());
    }

    public void Tell()
    {
        Report.Line("");
        Report.Line("| invariant | checked | broken |");
        Report.Line("|---|---|---|");
        foreach (var (what, looked, broken) in found)
        {
            Report.Line($"| {what} | {looked:N0} | {broken.Count:N0} |");
            foreach (var one in broken.Take(10))
            {
                Report.Line($"  BROKEN: {one}");
            }
        }
    }

    // Found by the reason of the action, which is unique.
    private void Actions(
        List<Said> answered,
        List<(string Action, string Text)> journal,
        Dictionary<Guid, HostChange> hostChanges
    )
    {
        var byReason = journal
            .Select(entry =>
                (
                    entry.Action,
                    Reason: JsonDocument.Parse(entry.Text).RootElement.GetProperty("reason")
                        is { ValueKind: JsonValueKind.String } reason
                        ? reason.GetString()!
                        : ""
                )
            )
            .Where(entry => entry.Reason.StartsWith("k-", StringComparison.Ordinal))
            .ToLookup(entry => entry.Reason, entry => entry.Action);
        int Asked(Said said) => byReason[said.Reason].Count(action => action == "approval.requested");
        int Done(Said said) => byReason[said.Reason].Count(action => action == said.Action);
        var done = answered.Where(said => said.IsDone).ToList();
        Add(
            "an acknowledged action is in the journal once",
            done.Count,
            [
                .. done.Where(said => said.Approval is null ? Done(said) != 1 : Asked(said) != 1 || Done(said) > 1)
                    .Select(said => $"{said} {string.Join(" ", byReason[said.Reason])}"),
            ]
        );
        var not = answered.Where(said => !said.IsDone).ToList();
        Add("a refused action is not", not.Count, [.. not.Where(said => byReason[said.Reason].Any()).Select(said => $"{said}")]);
        var asked = done.Where(said => said.HostChange is not null).ToList();
        Add(
            "its change is stored, and is the only one",
            asked.Count,
            [
                .. asked
                    .Where(said =>
                        said.Action != ActionName.ChangeUndo.Text()
                            && hostChanges.Values.Count(hostChange => hostChange.Reason == said.Reason) != 1
                        || !hostChanges.ContainsKey(said.HostChange!.Value)
                    )
                    .Select(said => $"{said}"),
            ]
        );

        var moves = journal
            .Where(entry =>
                entry.Action
                    is "change.confirmed"
                        or "change.verified"
                        or "change.refused"
                        or "change.given-up"
                        or "change.withdrawn"
                        or "change.superseded"
            )
            .Select(entry =>
                (
                    entry.Action,
                    HostChange: JsonDocument
                        .Parse(entry.Text)
                        .RootElement.GetProperty("after")
                        .GetProperty("hostChange")
                        .GetString()!
                )
            )
            .ToList();
        Add(
            "a change reaches each final state once",
            moves.Count,
            [.. moves.GroupBy(move => move).Where(same => same.Count() > 1).Select(same => $"{same.Key} {same.Count()} times")]
        );
    }

    private async Task Journal()
    {
        var check = (await bell.Get("/api/journal/check")).Body;
        Add(
            "the journal is unbroken, and its columns match its text",
            (int)await Count("select count(*) from journal"),
            check.GetProperty("isUnbroken").GetBoolean() ? [] : [$"{check}"]
        );
    }

    private void Hosts(Dictionary<Guid, HostChange> hostChanges, Dictionary<SiteId, string> hosts)
    {
        var keyed = Effects("slipway.json").Concat(Effects("quay.json")).ToList();
        Add(
            "a host applied a change once",
            keyed.Count,
            [
                .. keyed
                    .GroupBy(effect => effect.Key)
                    .Where(same => same.Count() > 1)
                    .Select(same => $"{same.Key} {same.Count()} times"),
            ]
        );
        Add(
            "only for known changes",
            keyed.Count,
            [
                .. keyed
                    .Where(effect => !Guid.TryParse(effect.Key, out var id) || !hostChanges.ContainsKey(id))
                    .Select(effect => effect.Key),
            ]
        );
        Add(
            "and for none that was refused, withdrawn or superseded",
            keyed.Count,
            [
                .. keyed
                    .Where(effect =>
                        Guid.TryParse(effect.Key, out var id)
                        && hostChanges.TryGetValue(id, out var hostChange)
                        && hostChange.State is ChangeState.Refused or ChangeState.Withdrawn or ChangeState.Superseded
                    )
                    .Select(effect => effect.Key),
            ]
        );
        var had = keyed.Select(effect => effect.Key).ToHashSet();
        var seen = hostChanges
            .Values.Where(hostChange =>
                hostChange.State is ChangeState.Confirmed or ChangeState.Verified && hosts[hostChange.Site] is "Slipway" or "Quay"
            )
            .ToList();
        Add(
            "a confirmed change had its effect",
            seen.Count,
            [
                .. seen.Where(hostChange => !had.Contains(hostChange.Id.ToString()))
                    .Select(hostChange => $"{hostChange.Id} {hostChange.WantedState}"),
            ]
        );

        // Lantern has no idempotency keys: a repeated request would be in its log twice in a row.
        var lantern = Effects("lantern.json").GroupBy(effect => effect.Site).Select(site => site.ToList()).ToList();
        Add(
            "Lantern, which has no idempotency keys, got each request once",
            lantern.Sum(site => site.Count),
            [
                .. lantern
                    .SelectMany(site => site.Zip(site.Skip(1)))
                    .Where(pair => pair.First == pair.Second)
                    .Select(pair => $"{pair.First}"),
            ]
        );
    }

    /// <summary>A host's own log: what it changed, and the idempotency key of the request if it supports them.</summary>
    private IEnumerable<(string Key, string Site, string Request)> Effects(string file)
    {
        using var books = JsonDocument.Parse(File.ReadAllText(Path.Combine(standIns, file)));
        var effects = books
            .RootElement.EnumerateObject()
            .Single(part => part.Name.Equals("effects", StringComparison.OrdinalIgnoreCase))
            .Value;
        string Field(JsonElement effect, string name) =>
            effect
                .EnumerateObject()
                .Where(part => part.Name.Equals(name, StringComparison.OrdinalIgnoreCase))
                .Select(part => part.Value.GetString())
                .SingleOrDefault()
            ?? "";
        return
        [
            .. effects.EnumerateArray().Select(effect => (Field(effect, "key"), Field(effect, "site"), Field(effect, "request"))),
        ];
    }

    private async Task Batches(HashSet<Guid> batches, Dictionary<Guid, HostChange> hostChanges)
    {
        var lines = await Rows("select batch, change_id from batch_line where change_id is not null", row =>
            (Batch: row.GetGuid(0), HostChange: row.GetGuid(1))
        );
        Add(
            "an item of a batch has its change, and no two share one",
            lines.Count,
            [
                .. lines.Where(line => !hostChanges.ContainsKey(line.HostChange)).Select(line => $"{line}"),
                .. lines.GroupBy(line => line.HostChange).Where(same => same.Count() > 1).Select(same => $"{same.Key}"),
            ]
        );
        var open = await Rows(
            "select b.id from batch b join batch_line l on l.batch = b.id where b.state = 1 or (b.state = 3 and l.state = 0)",
            row => row.GetGuid(0)
        );
        Add("a completed batch has no item left", batches.Count, [.. open.Distinct().Select(batch => $"{batch}")]);
    }

    private async Task NothingWaits()
    {
        Add(
            "no sync and no mail is held by a process that died",
            1,
            [
                .. await Rows(
                    "select name from source where lease is not null union all select mail::text from notification where sent_at is null and send_at < now() - interval '2 minutes'",
                    row => row.GetString(0)
                ),
            ]
        );
    }

    // After a complete sync the hosts report nothing new.
    private async Task HostsAreAsKnown()
    {
        await ReadAll();
        var before = await Count("select count(*) from journal where action like 'site.%'");
        await ReadAll();
        Add(
            "the register agrees with the hosts",
            (int)await Count("select count(*) from site"),
            [
                .. await Rows("select text from journal where action like 'site.%' order by number offset " + before, row =>
                    row.GetString(0)
                ),
            ]
        );
    }

    private async Task ReadAll()
    {
        foreach (var host in (string[])["Slipway", "Lantern", "Quay"])
        {
            var ended = await Ended(host);
            await bell.Send(HttpMethod.Post, $"/api/sources/{host}/sync", new { });
            await Estate.Until(
                async () => await Ended(host) is { } now && now != ended,
                $"{host} is synced",
                TimeSpan.FromMinutes(3)
            );
        }
    }

    private async Task<DateTimeOffset?> Ended(string host) =>
        (await bell.Get("/api/sources")).Body.EnumerateArray().Single(source => source.GetProperty("name").GetString() == host)
            is var source
        && !source.GetProperty("isSyncing").GetBoolean()
        && source.GetProperty("ended") is { ValueKind: JsonValueKind.String } at
            ? at.GetDateTimeOffset()
            : null;

    // Every attribute of every site: the index that went through all kills, compared with one rebuilt from the rows.
    private async Task Indexes(Func<Task> rebuild, Client atTheOther)
    {
        var kept = await Register(bell);
        await rebuild();
        var made = await Register(atTheOther);
        Add(
            "an index rebuilt from the rows is the same, every attribute of every site",
            kept.Count,
            [
                .. kept.Zip(made).Where(pair => pair.First != pair.Second).Select(pair => $"{pair.First} but {pair.Second}"),
                .. kept.Count == made.Count ? Array.Empty<string>() : [$"{kept.Count} rows but {made.Count}"],
            ]
        );
    }

    private static async Task<List<string>> Register(Client client)
    {
        var lines = new List<string>();
        foreach (
            var (few, where) in JudgedSite
                .Attributes.All.Select(attribute => attribute.Name)
                .Chunk(ColumnsAtOnce)
                .SelectMany(few => Everywhere.Select(where => (few, where)))
        )
        {
            var text = await client.Text(
                $"/api/register/export?as=csv&sort=title&filter={Uri.EscapeDataString(where)}&{string.Join("&", few.Select(name => $"show={Uri.EscapeDataString(name)}"))}"
            );
            lines.AddRange(text.Split("\r\n").Order(StringComparer.Ordinal));
        }

        return lines;
    }

    private async Task<Dictionary<Guid, HostChange>> HostChanges()
    {
        var ids = await Rows("select id from host_change", row => new ChangeId(row.GetGuid(0)));
        return (await database.Read(connection => connection.HostChanges(ids))).ToDictionary(hostChange => hostChange.Id.Value);
    }

    private async Task<long> Count(string sql) => (await Rows(sql, row => row.GetInt64(0))).Single();

    private async Task<List<T>> Rows<T>(string sql, Func<Npgsql.NpgsqlDataReader, T> read)
    {
        await using var command = database.Source.CreateCommand(sql);
        await using var reader = await command.ExecuteReaderAsync();
        var rows = new List<T>();
        while (await reader.ReadAsync())
        {
            rows.Add(read(reader));
        }

        return rows;
    }

    private void Add(string what, int looked, List<string> broken) => found.Add((what, looked, broken));
}
