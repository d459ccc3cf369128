using System.Text.Json;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Bench.Kills;

/// <summary>What has to hold once all is quiet: by the clients' memory, the database, the journal and the hosts' own logs.</summary>
internal sealed class Invariants(Database database, Client bell, string standIns)
{
    private const int ColumnsAtOnce = 12;

    // In use, and everywhere else.
    private static readonly string[] Everywhere = ["existence eq \"here\"", "not (existence eq \"here\")"];
    private readonly List<(string What, int Looked, List<string> Broken)> found = [];

    public bool Hold => found.TrueForAll(one => one.Broken.Count == 0);

    public async Task Look(Doings doings, Func<Task> rebuild, Client atTheOther)
    {
        var orders = await Orders();
        Deeds(
            doings.Answered.ToList(),
            await Rows("select deed, text from journal order by number", row => (Deed: row.GetString(0), Text: row.GetString(1))),
            orders
        );
        await Journal();
        Hosts(
            orders,
            (
                await Rows("select id, host from site", row => (Id: new SiteId(row.GetInt64(0)), Host: row.GetString(1)))
            ).ToDictionary(row => row.Id, row => row.Host)
        );
        await Batches(doings.Batches.ToHashSet(), orders);
        await NothingWaits();
        await HostsAreAsKnown();
        await Sheets(rebuild, atTheOther);
        Add("nobody got an error without words or no answer at all", doings.Answered.Count, doings.Faults.ToList());
    }

    public void Tell()
    {
        Report.Say("");
        Report.Say("| what holds | looked at | broken |");
        Report.Say("|---|---|---|");
        foreach (var (what, looked, broken) in found)
        {
            Report.Say($"| {what} | {looked:N0} | {broken.Count:N0} |");
            foreach (var one in broken.Take(10))
            {
                Report.Say($"  BROKEN: {one}");
            }
        }
    }

    // By the deed's reason, which no other has.
    private void Deeds(List<Said> answered, List<(string Deed, string Text)> journal, Dictionary<Guid, Order> orders)
    {
        var byReason = journal
            .Select(entry =>
                (
                    entry.Deed,
                    Reason: JsonDocument.Parse(entry.Text).RootElement.GetProperty("reason")
                        is { ValueKind: JsonValueKind.String } reason
                        ? reason.GetString()!
                        : ""
                )
            )
            .Where(entry => entry.Reason.StartsWith("k-", StringComparison.Ordinal))
            .ToLookup(entry => entry.Reason, entry => entry.Deed);
        int Asked(Said said) => byReason[said.Reason].Count(deed => deed == "approval.asked");
        int Done(Said said) => byReason[said.Reason].Count(deed => deed == said.Deed);
        var done = answered.Where(said => said.IsDone).ToList();
        Add(
            "a deed that was acknowledged is in the journal once",
            done.Count,
            [
                .. done.Where(said => said.Approval is null ? Done(said) != 1 : Asked(said) != 1 || Done(said) > 1)
                    .Select(said => $"{said} {string.Join(" ", byReason[said.Reason])}"),
            ]
        );
        var not = answered.Where(said => !said.IsDone).ToList();
        Add(
            "a deed that was refused is not",
            not.Count,
            [.. not.Where(said => byReason[said.Reason].Any()).Select(said => $"{said}")]
        );
        var asked = done.Where(said => said.Order is not null).ToList();
        Add(
            "its order is kept, and is its only one",
            asked.Count,
            [
                .. asked
                    .Where(said =>
                        said.Deed != UndoOrder.Deed && orders.Values.Count(order => order.Reason == said.Reason) != 1
                        || !orders.ContainsKey(said.Order!.Value)
                    )
                    .Select(said => $"{said}"),
            ]
        );

        var moves = journal
            .Where(entry =>
                entry.Deed
                    is "order.confirmed"
                        or "order.seen"
                        or "order.refused"
                        or "order.givenup"
                        or "order.withdrawn"
                        or "order.superseded"
            )
            .Select(entry =>
                (
                    entry.Deed,
                    Order: JsonDocument.Parse(entry.Text).RootElement.GetProperty("after").GetProperty("order").GetString()!
                )
            )
            .ToList();
        Add(
            "an order comes to each of its ends once",
            moves.Count,
            [.. moves.GroupBy(move => move).Where(same => same.Count() > 1).Select(same => $"{same.Key} {same.Count()} times")]
        );
    }

    private async Task Journal()
    {
        var check = (await bell.Get("/api/journal/check")).Body;
        Add(
            "the journal is unbroken, and its columns are its text's",
            (int)await Count("select count(*) from journal"),
            check.GetProperty("isUnbroken").GetBoolean() ? [] : [$"{check}"]
        );
    }

    private void Hosts(Dictionary<Guid, Order> orders, Dictionary<SiteId, string> hosts)
    {
        var keyed = Effects("slipway.json").Concat(Effects("quay.json")).ToList();
        Add(
            "a host had an effect once for an order",
            keyed.Count,
            [
                .. keyed
                    .GroupBy(effect => effect.Key)
                    .Where(same => same.Count() > 1)
                    .Select(same => $"{same.Key} {same.Count()} times"),
            ]
        );
        Add(
            "only for orders that are known",
            keyed.Count,
            [
                .. keyed
                    .Where(effect => !Guid.TryParse(effect.Key, out var id) || !orders.ContainsKey(id))
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
                        && orders.TryGetValue(id, out var order)
                        && order.State is OrderState.Refused or OrderState.Withdrawn or OrderState.Superseded
                    )
                    .Select(effect => effect.Key),
            ]
        );
        var had = keyed.Select(effect => effect.Key).ToHashSet();
        var seen = orders
            .Values.Where(order =>
                order.State is OrderState.Confirmed or OrderState.Seen && hosts[order.Site] is "Slipway" or "Quay"
            )
            .ToList();
        Add(
            "an order that is said to be done had its effect",
            seen.Count,
            [.. seen.Where(order => !had.Contains(order.Id.ToString())).Select(order => $"{order.Id} {order.Wish}")]
        );

        // Lantern knows no keys: what was brought to it twice would stand there twice in a row.
        var lantern = Effects("lantern.json").GroupBy(effect => effect.Site).Select(site => site.ToList()).ToList();
        Add(
            "Lantern, which knows no keys, was asked for the same once",
            lantern.Sum(site => site.Count),
            [
                .. lantern
                    .SelectMany(site => site.Zip(site.Skip(1)))
                    .Where(pair => pair.First == pair.Second)
                    .Select(pair => $"{pair.First}"),
            ]
        );
    }

    /// <summary>A host's own log: what it changed, and the key that the wish came under where it knows such.</summary>
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

    private async Task Batches(HashSet<Guid> batches, Dictionary<Guid, Order> orders)
    {
        var lines = await Rows("select batch, order_id from batch_line where order_id is not null", row =>
            (Batch: row.GetGuid(0), Order: row.GetGuid(1))
        );
        Add(
            "a line of a batch has its order, and no two have one",
            lines.Count,
            [
                .. lines.Where(line => !orders.ContainsKey(line.Order)).Select(line => $"{line}"),
                .. lines.GroupBy(line => line.Order).Where(same => same.Count() > 1).Select(same => $"{same.Key}"),
            ]
        );
        var open = await Rows(
            "select b.id from batch b join batch_line l on l.batch = b.id where b.state = 1 or (b.state = 3 and l.state = 0)",
            row => row.GetGuid(0)
        );
        Add("a batch ends with no line left out", batches.Count, [.. open.Distinct().Select(batch => $"{batch}")]);
    }

    private async Task NothingWaits()
    {
        Add(
            "no read and no mail is held by a process that died",
            1,
            [
                .. await Rows(
                    "select name from source where lease is not null union all select mail::text from letter where sent_at is null and send_at < now() - interval '2 minutes'",
                    row => row.GetString(0)
                ),
            ]
        );
    }

    // Read anew to their ends, the hosts say nothing that is not known.
    private async Task HostsAreAsKnown()
    {
        await ReadAll();
        var before = await Count("select count(*) from journal where deed like 'site.%'");
        await ReadAll();
        Add(
            "what is known of the hosts is what they say",
            (int)await Count("select count(*) from site"),
            [
                .. await Rows("select text from journal where deed like 'site.%' order by number offset " + before, row =>
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
            await bell.Send(HttpMethod.Post, $"/api/sources/{host}/read", new { });
            await Estate.Until(
                async () => await Ended(host) is { } now && now != ended,
                $"{host} is read",
                TimeSpan.FromMinutes(3)
            );
        }
    }

    private async Task<DateTimeOffset?> Ended(string host) =>
        (await bell.Get("/api/sources")).Body.EnumerateArray().Single(source => source.GetProperty("name").GetString() == host)
            is var source
        && !source.GetProperty("isReading").GetBoolean()
        && source.GetProperty("ended") is { ValueKind: JsonValueKind.String } at
            ? at.GetDateTimeOffset()
            : null;

    // Every attribute of every site: what went through all the kills, and what is made anew from the rows.
    private async Task Sheets(Func<Task> rebuild, Client atTheOther)
    {
        var kept = await Register(bell);
        await rebuild();
        var made = await Register(atTheOther);
        Add(
            "a register made anew from the rows is the same, every attribute of every site",
            kept.Count,
            [
                .. kept.Zip(made).Where(pair => pair.First != pair.Second).Select(pair => $"{pair.First} but {pair.Second}"),
                .. kept.Count == made.Count ? Array.Empty<string>() : [$"{kept.Count} lines but {made.Count}"],
            ]
        );
    }

    private static async Task<List<string>> Register(Client client)
    {
        var lines = new List<string>();
        foreach (
            var (few, where) in JudgedLine
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

    private async Task<Dictionary<Guid, Order>> Orders()
    {
        var ids = await Rows("select id from host_order", row => new OrderId(row.GetGuid(0)));
        return (await database.Read(connection => connection.Orders(ids))).ToDictionary(order => order.Id.Value);
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
