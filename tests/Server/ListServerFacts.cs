using System.Net;
using System.Text;
using System.Text.Json;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Lists of a host without a reader, over HTTP: foreseen, taken in again and again, taken back.</summary>
public sealed class ListServerFacts(Installation installation) : HandKeptHost(installation)
{
    [Fact]
    public async Task A_list_says_first_what_it_would_come_to_and_the_same_list_twice_writes_nothing()
    {
        var plan = await Plan(Head + Tide + Wrecks);
        Assert.Equal((2, 2, 0, 0), Counts(plan));
        await Take(Head + Tide + Wrecks);
        Assert.Equal(["Tide tables", "Wrecks"], await Titles("host eq \"Foreshore\""));

        var head = await JournalHead();
        Assert.Equal((2, 0, 0, 0), Counts(await Take(Head + Tide + Wrecks)));
        Assert.Equal("list.taken", await LatestDeed());
        Assert.Equal(head + 1, await JournalHead());

        // One is named otherwise, one is gone, one is new.
        var next = await Take(Head + Tide.Replace("Tide tables", "Tides") + "f3,Knots,foreshore.example/knots,PIL,-,-,staff\n");
        Assert.Equal((2, 1, 1, 1), Counts(next));
        Assert.Equal(
            (1, 0),
            (
                next.GetProperty("same").GetInt32() + next.GetProperty("changed").GetInt32(),
                next.GetProperty("refusals").GetInt32()
            )
        );
        Assert.Equal(["Wrecks"], await Titles("vanished eq true"));

        // Only a whole list lets a site vanish.
        await Take(Head + Wrecks, "&whole=false");
        Assert.Empty(await Titles("vanished eq true"));
    }

    [Fact]
    public async Task Every_line_has_its_verdict_with_what_changes_and_the_findings_that_move_are_foreseen()
    {
        await Take(Head + Tide + Wrecks);
        var list =
            Head
            + Tide.Replace("Tide tables", "Tides")
            + Wrecks
            + "f3,Knots,foreshore.example/knots,PIL,-,-,staff\n"
            + "f1,Again,x,PIL,-,-,-\n";
        var rows = (await bell.Post($"{List}/rows", Csv(list))).GetProperty("rows").EnumerateArray().ToList();
        Assert.Equal(
            [(2, "changed"), (3, "same"), (4, "new"), (5, "refused")],
            rows.Select(row => (row.GetProperty("line").GetInt32(), row.GetProperty("verdict").GetString()!))
        );
        Assert.Equal("""[{"fact":"name","before":"Tide tables","after":"Tides"}]""", rows[0].GetProperty("changes").GetRawText());
        Assert.Equal("\"f1\" stands in line 2 already.", rows[3].GetProperty("why")[0].GetString());
        var only = await bell.Post($"{List}/rows?verdict=new&limit=1", Csv(list));
        Assert.Equal(
            (1, "Knots"),
            (only.GetProperty("total").GetInt32(), only.GetProperty("rows")[0].GetProperty("title").GetString())
        );
        Assert.Equal(HttpStatusCode.BadRequest, (await bell.Send(HttpMethod.Post, $"{List}/rows?verdict=odd", Csv(list))).Status);

        // A new site without a second owner is a finding more.
        var moves = (await Plan(list))
            .GetProperty("rules")
            .EnumerateArray()
            .Select(move =>
                (
                    move.GetProperty("rule").GetProperty("id").GetString(),
                    move.GetProperty("after").GetInt32() - move.GetProperty("before").GetInt32()
                )
            )
            .ToList();
        var before = await Breaking();
        await Take(Head + Tide.Replace("Tide tables", "Tides") + Wrecks + "f3,Knots,foreshore.example/knots,PIL,-,-,staff\n");
        var after = await Breaking();
        Assert.NotEmpty(moves);
        Assert.Equal(
            moves.Where(move => move.Item2 != 0).Order(),
            after
                .Keys.Union(before.Keys)
                .Select(rule => ((string?)rule, after.GetValueOrDefault(rule) - before.GetValueOrDefault(rule)))
                .Where(move => move.Item2 != 0)
                .Order()
        );
    }

    [Fact]
    public async Task A_list_that_is_read_a_few_lines_at_a_time_is_decided_as_a_whole()
    {
        // Far more lines than are looked at together, and later a line that was said far above.
        static string Line(int number, string name) => $"m{number},{name} {number},foreshore.example/m{number},PIL,-,-,-\n";
        var first = string.Concat(Enumerable.Range(0, 450).Select(number => Line(number, "Mooring")));
        Assert.Equal((450, 450, 0, 0), Counts(await Take(Head + first)));

        var next = string.Concat(Enumerable.Range(3, 447).Select(number => Line(number, number % 100 == 0 ? "Buoy" : "Mooring")));
        var plan = await Plan(Head + next + Line(460, "Pontoon"));
        Assert.Equal((448, 1, 4, 3), Counts(plan));
        Assert.Equal(443, plan.GetProperty("same").GetInt32());
        Assert.Equal(
            ["Mooring 0", "Mooring 1", "Mooring 2"],
            plan.GetProperty("vanished").EnumerateArray().Select(title => title.GetString())
        );

        // One line that is no site, and none vanishes; a window of verdicts counts over all of them.
        var again = Head + next + Line(4, "Again");
        Assert.Equal((447, 0, 4, 0), Counts(await Plan(again)));
        var changed = await bell.Post($"{List}/rows?verdict=changed&offset=1&limit=2", Csv(again));
        Assert.Equal(4, changed.GetProperty("total").GetInt32());
        Assert.Equal(
            ["Buoy 200", "Buoy 300"],
            changed.GetProperty("rows").EnumerateArray().Select(row => row.GetProperty("title").GetString())
        );
        var refused = (await bell.Post($"{List}/rows?verdict=refused", Csv(again))).GetProperty("rows")[0];
        Assert.Equal(
            (449, "\"m4\" stands in line 3 already."),
            (refused.GetProperty("line").GetInt32(), refused.GetProperty("why")[0].GetString())
        );

        // Of what is wrong, the first is told, and how much there is.
        var wrong = await Plan(Head + first + first.Replace("PIL", "NONE"));
        Assert.Equal(
            (450, 200, 0),
            (
                wrong.GetProperty("notSites").GetInt32(),
                wrong.GetProperty("refused").GetArrayLength(),
                wrong.GetProperty("notUnderstood").GetInt32()
            )
        );

        // Whoever plans the same list twice is told the same, and another list is another plan.
        Assert.Equal(
            plan.GetProperty("fingerprint").GetString(),
            (await Plan(Head + next + Line(460, "Pontoon"))).GetProperty("fingerprint").GetString()
        );
        Assert.NotEqual(
            plan.GetProperty("fingerprint").GetString(),
            (await Plan(Head + next + Line(461, "Pontoon"))).GetProperty("fingerprint").GetString()
        );
        await Take(Head + next + Line(460, "Pontoon"));
        Assert.Equal(["Mooring 0", "Mooring 1", "Mooring 2"], await Titles("vanished eq true"));
        Assert.Equal(["Buoy 100", "Buoy 200", "Buoy 300", "Buoy 400"], await Titles("name sw \"Buoy\""));
    }

    [Fact]
    public async Task The_latest_list_is_taken_back_but_for_what_has_changed_since()
    {
        await Take(Head + Tide + Wrecks);
        var before = (await bell.Get("/api/reports/register")).GetProperty("rows").GetRawText();
        await Take(
            Head + Tide.Replace("Tide tables", "Tides").Replace("PIL", "YRD") + "f3,Knots,foreshore.example/knots,PIL,-,-,staff\n"
        );
        var takings = (await bell.Get($"{List}/takings")).EnumerateArray().ToList();
        Assert.Equal(
            [(3, true), (2, false)],
            takings.Select(taking => (taking.GetProperty("sites").GetInt32(), taking.GetProperty("mayUndo").GetBoolean()))
        );
        Assert.Equal(
            "A later list was taken in. Take that one back first.",
            (
                await bell.Post(
                    $"{List}/takings/{takings[1].GetProperty("id")}/undo/plan",
                    new { },
                    HttpStatusCode.UnprocessableEntity
                )
            )
                .GetProperty("title")
                .GetString()
        );

        var latest = $"{List}/takings/{takings[0].GetProperty("id")}/undo";
        var plan = await bell.Post($"{latest}/plan", new { });
        Assert.Equal(
            (2, 1, "[]"),
            (plan.GetProperty("restored").GetInt32(), plan.GetProperty("gone").GetInt32(), plan.GetProperty("left").GetRawText())
        );
        await bell.Post(latest, new { fingerprint = "another" }, HttpStatusCode.Conflict);
        await bell.Post(latest, new { fingerprint = plan.GetProperty("fingerprint").GetString() });
        Assert.Equal(["Tide tables", "Wrecks"], await Titles("host eq \"Foreshore\" and vanished eq false"));
        Assert.Equal(["Knots"], await Titles("vanished eq true"));
        Assert.Equal(
            "It was taken back already.",
            (await bell.Post($"{latest}/plan", new { }, HttpStatusCode.UnprocessableEntity)).GetProperty("title").GetString()
        );
        var rows = JsonSerializer.Deserialize<JsonElement>(before).EnumerateArray().Select(row => row.GetRawText()).ToList();
        Assert.Equal(
            rows,
            (await bell.Get("/api/reports/register"))
                .GetProperty("rows")
                .EnumerateArray()
                .Where(row => !row.GetRawText().Contains("Knots", StringComparison.Ordinal))
                .Select(row => row.GetRawText())
        );
        Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());

        // What somebody decided since is theirs, and is left.
        await Take(Head + Tide.Replace("Tide tables", "Tides") + Wrecks);
        var wish = new
        {
            fact = "purpose",
            sites = new[] { await Id("Tides") },
            value = (string?)null,
        };
        await bell.Post(
            "/api/said",
            new { wish, fingerprint = (await bell.Post("/api/said/plan", wish)).GetProperty("fingerprint").GetString() }
        );
        var again = (await bell.Get($"{List}/takings")).EnumerateArray().First();
        Assert.Equal(
            """["Tides"]""",
            (await bell.Post($"{List}/takings/{again.GetProperty("id")}/undo/plan", new { })).GetProperty("left").GetRawText()
        );
    }

    [Fact]
    public async Task A_list_that_a_stopped_server_left_is_gone_on_with_to_its_end_and_once()
    {
        await Take(Head + Tide);

        // It is kept in parts: this one in three.
        await Left($"{Head}{Tide.Replace("Tide tables", "Tides")}{new string('\n', 2_500_000)}{Wrecks}");
        Assert.Equal(
            (true, false, false),
            (await bell.Get($"{List}/takings")).EnumerateArray().First() is var open
                ? (
                    open.GetProperty("isUnderWay").GetBoolean(),
                    open.GetProperty("isEnded").GetBoolean(),
                    open.GetProperty("mayUndo").GetBoolean()
                )
                : default
        );

        var desk = server.Services.GetRequiredService<ListDesk>();
        await desk.GoOn(CancellationToken.None);
        await desk.GoOn(CancellationToken.None);
        Assert.Equal(["Tides", "Wrecks"], await Titles("host eq \"Foreshore\""));
        var done = (await bell.Get($"{List}/takings")).EnumerateArray().First();
        Assert.Equal(
            (false, true, 2, true),
            (
                done.GetProperty("isUnderWay").GetBoolean(),
                done.GetProperty("isEnded").GetBoolean(),
                done.GetProperty("sites").GetInt32(),
                done.GetProperty("mayUndo").GetBoolean()
            )
        );
        Assert.Equal(2, (await bell.Get("/api/journal?deed=list.taken")).GetProperty("entries").GetArrayLength());
    }

    [Fact]
    public async Task A_list_that_was_left_does_not_come_over_a_newer_one()
    {
        await Take(Head + Tide);
        await Left(Head + Tide.Replace("Tide tables", "Older tides"));
        await Take(Head + Tide.Replace("Tide tables", "Newer tides"));

        await server.Services.GetRequiredService<ListDesk>().GoOn(CancellationToken.None);
        Assert.Equal(["Newer tides"], await Titles("host eq \"Foreshore\""));
        Assert.Equal(
            [(false, true), (false, false)],
            (await bell.Get($"{List}/takings"))
                .EnumerateArray()
                .Take(2)
                .Select(one => (one.GetProperty("isUnderWay").GetBoolean(), one.GetProperty("isEnded").GetBoolean()))
        );
    }

    [Fact]
    public async Task A_list_whose_connection_to_the_database_broke_is_gone_on_with_like_one_whose_server_was_killed()
    {
        var content = Head + Tide;
        var (taking, list) = await Left(content);
        var (database, desk) = (server.Services.GetRequiredService<Database>(), server.Services.GetRequiredService<ListDesk>());
        using (var spooled = await SpooledList.Of(to => to.WriteAsync(Encoding.UTF8.GetBytes(content)).AsTask()))
        {
            var read = await desk.Read("Foreshore", spooled.File, new ListReadingQuery(), CancellationToken.None);
            var why = await server
                .Services.GetRequiredService<SourceReader>()
                .TakeList(list, read, taking, (change, _) => Broken(change), CancellationToken.None);
            Assert.Contains("The database went away", why);
        }

        Assert.True((await bell.Get($"{List}/takings")).EnumerateArray().First().GetProperty("isUnderWay").GetBoolean());

        // Its lease runs out, as that of a server that is gone.
        await using (var passes = database.Source.CreateCommand("update source set lease_until = now() where name = 'Foreshore'"))
        {
            await passes.ExecuteNonQueryAsync();
        }

        await desk.GoOn(CancellationToken.None);
        Assert.True((await bell.Get($"{List}/takings")).EnumerateArray().First().GetProperty("isEnded").GetBoolean());
        Assert.Equal(["Tide tables"], await Titles("host eq \"Foreshore\""));
        Assert.Single((await bell.Get("/api/journal?deed=list.taken")).GetProperty("entries").EnumerateArray());
    }

    /// <summary>As when PostgreSQL is stopped: the connection ends in the middle of the transaction.</summary>
    private static async Task Broken(Change change)
    {
        await using var end = new Npgsql.NpgsqlCommand("select pg_terminate_backend(pg_backend_pid())", change.Connection);
        await end.ExecuteNonQueryAsync();
    }

    /// <summary>A list that a server has begun with, and then ended.</summary>
    private async Task<(long Taking, KeptList List)> Left(string content)
    {
        var database = server.Services.GetRequiredService<Database>();
        var nora = (await database.Read(connection => connection.AccountByMail("n.bell@merrowby.example")))!.Person;
        var list = new KeptList("Foreshore", nora, true, database.Now, "foreseen", "{}");
        return (
            await database.Change(change => change.BeginTaking(list, new MemoryStream(Encoding.UTF8.GetBytes(content)), [])),
            list
        );
    }

    [Fact]
    public async Task Faults_name_their_place_and_what_to_do_and_lose_nothing()
    {
        await Take(Head + Tide + Wrecks);
        async Task<string?> Refused(string list) =>
            (await bell.Post($"{List}/plan", Csv(list), HttpStatusCode.UnprocessableEntity)).GetProperty("title").GetString();
        Assert.StartsWith("The list has neither a column \"key\" nor a column \"address\"", await Refused("name,unit\nA,PIL\n"));
        Assert.StartsWith("The list is empty.", await Refused(""));
        Assert.StartsWith("The column \"Key\" stands there twice.", await Refused("key,Key\na,b\n"));

        // A quote that is never closed swallows only so much.
        Assert.StartsWith("Line 2", await Refused($"key,name\nf1,\"{new string('x', 9 * 1024 * 1024)}\n"));

        // Asked first, the server says so before anything is sent.
        using var large = new HttpRequestMessage(HttpMethod.Post, $"{List}/plan")
        {
            Content = new Announced(5L << 30),
            Headers = { ExpectContinue = true },
        };
        using var answer = await bell.Http.SendAsync(large);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, answer.StatusCode);
        Assert.Contains(
            "This is larger than 4096 MB, the most that is taken here. Send it in parts.",
            await answer.Content.ReadAsStringAsync()
        );

        var plan = await Plan(
            Head
                + Tide.Replace("PIL", "NOWHERE")
                + "f1,Again,x,PIL,-,-,-\n,No key,-,PIL,-,-,-\n"
                + "f4,Who,foreshore.example/who,PIL,nobody@merrowby.example,-,-\n"
        );
        Assert.Equal(
            ["Line 3: \"f1\" stands in line 2 already.", "Line 4: neither key nor address."],
            plan.GetProperty("refused").EnumerateArray().Select(words => words.GetString())
        );
        Assert.Equal(
            [
                "Line 2, unit: there is no unit \"NOWHERE\".",
                "Line 5, owners: \"nobody@merrowby.example\" is nobody on the register; write mail addresses, staff, partners, passers-by or unit:CODE.",
            ],
            plan.GetProperty("problems").EnumerateArray().Select(words => words.GetString())
        );

        // Wrecks is not in it, and does not vanish by a list of which lines were refused.
        Assert.Equal(0, plan.GetProperty("gone").GetInt32());
        await bell.Post($"/api/sources/Slipway/list/plan", Csv(Head), HttpStatusCode.NotFound);
        await vane.Post($"{List}/plan", Csv(Head), HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task A_workbook_with_headings_of_its_own_is_read_as_corrected_kept_for_the_next_time_and_its_faults_come_back_as_a_file()
    {
        using var workbook = new MemoryStream();
        await XlsxList.Write(
            workbook,
            "Sites",
            ["Nr", "What it is called", "Dept", "Made"],
            new HashSet<int>(),
            [
                ["f1", "Tides", "PIL", "03.02.2026"],
                ["f2", "=Wrecks", "XYZ", "31.02.2026"],
                ["", "Nowhere", "", ""],
            ],
            default
        );
        HttpContent Book() => new ByteArrayContent(workbook.ToArray()) { Headers = { ContentType = new(XlsxList.ContentType) } };

        // A line with an address alone is the site that has it already, whatever its key.
        await Take(Head + Tide);
        var byAddress = await bell.Post(
            $"{List}/plan?whole=false",
            Csv("address,name\nforeshore.example/tides,Tide tables again\n")
        );
        Assert.Equal((0, 1), (byAddress.GetProperty("new").GetInt32(), byAddress.GetProperty("changed").GetInt32()));

        // No heading says what the sites are told apart by.
        var refused = await bell.Post($"{List}/plan?columns=Nr=", Book(), HttpStatusCode.UnprocessableEntity);
        Assert.Contains("neither a column \"key\" nor a column \"address\"", refused.GetProperty("title").GetString());

        const string How = "columns=Nr=key&columns=What it is called=name&columns=Dept=unit&columns=Made=created";
        var plan = await bell.Post($"{List}/plan?{How}", Book());
        var reading = plan.GetProperty("reading");
        Assert.Equal(
            (2, "a workbook's first sheet", "day-first", true),
            (
                plan.GetProperty("sites").GetInt32(),
                reading.GetProperty("readAs").GetString(),
                reading.GetProperty("days").GetString(),
                reading.GetProperty("daysAreSure").GetBoolean()
            )
        );
        Assert.Equal("Line 4: neither key nor address.", plan.GetProperty("refused")[0].GetString());

        var mend = await (await bell.Http.PostAsync($"{List}/faults?{How}", Book())).Content.ReadAsStringAsync();
        Assert.Equal(
            "Nr,What it is called,Dept,Made,what is wrong\r\nf2,'=Wrecks,XYZ,31.02.2026,\"unit: there is no unit \"\"XYZ\"\". created: \"\"31.02.2026\"\" is not understood; write a day as 2026-01-31.\"\r\n,Nowhere,,,neither key nor address.\r\n",
            mend
        );

        await bell.Post($"{List}?{How}&fingerprint={plan.GetProperty("fingerprint").GetString()}", Book());
        Assert.True(await Id("=Wrecks") > 0);
        var again = await bell.Post($"{List}/plan", Book());
        Assert.All(again.GetProperty("reading").GetProperty("columns").EnumerateArray(), column =>
            Assert.Equal("as the last time", column.GetProperty("because").GetString())
        );
        Assert.Equal((0, 0), (again.GetProperty("new").GetInt32(), again.GetProperty("changed").GetInt32()));
    }

    [Fact]
    public async Task A_site_that_moves_is_found_elsewhere_and_a_person_says_that_it_is_one()
    {
        await Take(Head + Tide + Wrecks);
        var gone = await Id("Wrecks");
        var wish = new
        {
            fact = "class",
            sites = new[] { gone },
            value = "Guarded",
        };
        await bell.Post(
            "/api/said",
            new { wish, fingerprint = (await bell.Post("/api/said/plan", wish)).GetProperty("fingerprint").GetString() }
        );
        await bell.Put(
            "/api/sources/Strand/hand",
            new
            {
                account = "",
                support = "",
                days = 5,
                reach = "x",
                key = "x",
                putAway = "x",
                bringBack = "x",
            }
        );
        const string Other = "/api/sources/Strand/list";
        var list = Head + "x9,WRECKS (new),strand.example/wrecks,PIL,i.vane@merrowby.example,-,unit:PIL\n";
        await bell.Post(
            $"{Other}?fingerprint={(await bell.Post($"{Other}/plan", Csv(list))).GetProperty("fingerprint").GetString()}",
            Csv(list)
        );
        var now = await Id("WRECKS (new)");

        // While it is still listed it is at two places, and no moved one.
        Assert.Equal(0, (await bell.Get($"/api/sites/{gone}/moves")).GetProperty("candidates").GetArrayLength());
        var refused = await bell.Post($"/api/sites/{gone}/moved", new { to = now }, HttpStatusCode.UnprocessableEntity);
        Assert.Equal(
            "Foreshore still lists Wrecks: a site that is at two places is no moved one.",
            refused.GetProperty("reasons")[0].GetString()
        );

        await Take(Head + Tide);
        var candidate = Assert.Single((await bell.Get($"/api/sites/{gone}/moves")).GetProperty("candidates").EnumerateArray());
        Assert.Equal(
            (now, "its name says the same; somebody owns both"),
            (
                candidate.GetProperty("id").GetInt64(),
                string.Join("; ", candidate.GetProperty("because").EnumerateArray().Select(why => why.GetString()))
            )
        );
        await bell.Post($"/api/sites/{gone}/moved", new { to = now });
        Assert.Equal(now, (await bell.Get($"/api/sites/{gone}/moves")).GetProperty("to").GetProperty("id").GetInt64());
        Assert.Equal(gone, (await bell.Get($"/api/sites/{now}/moves")).GetProperty("was")[0].GetProperty("id").GetInt64());
        Assert.Equal("Guarded", (await bell.Get($"/api/sites/{now}")).GetProperty("class").GetString());

        // Another list that still lacks it changes nothing; taken back, they are two again.
        await Take(Head + Tide);
        Assert.Equal(now, (await bell.Get($"/api/sites/{gone}/moves")).GetProperty("to").GetProperty("id").GetInt64());
        await bell.Post($"/api/sites/{gone}/moved/undo", new { });
        Assert.Equal(JsonValueKind.Null, (await bell.Get($"/api/sites/{gone}/moves")).GetProperty("to").ValueKind);
    }

    [Fact]
    public async Task What_a_list_says_of_a_site_elsewhere_stands_beside_what_its_host_says_with_times()
    {
        await Take(Head + Tide);
        await bell.Put(
            "/api/sources/Strand/hand",
            new
            {
                account = "",
                support = "",
                days = 5,
                reach = "x",
                key = "x",
                putAway = "x",
                bringBack = "x",
            }
        );
        const string Other = "/api/sources/Strand/list";
        async Task Hear(string list, int changed)
        {
            var plan = await bell.Post($"{Other}/plan", Csv(list));
            Assert.Equal(changed, plan.GetProperty("changed").GetInt32());
            await bell.Post($"{Other}?fingerprint={plan.GetProperty("fingerprint").GetString()}", Csv(list));
        }

        var said = "host,key,address,unit,class\nForeshore,f1,,YRD,Guarded\nForeshore,f77,,YRD,Guarded\n";
        Assert.Equal(
            "Line 3: Foreshore has no site, or more than one, at \"f77\".",
            (await bell.Post($"{Other}/plan", Csv(said))).GetProperty("problems")[0].GetString()
        );
        await Hear(said, 1);
        var site = await Id("Tide tables");
        var facts = (await bell.Get($"/api/sites/{site}")).GetProperty("said");
        Assert.Equal(("unit", true), (facts[0].GetProperty("fact").GetString(), facts[0].GetProperty("isDisputed").GetBoolean()));
        Assert.Equal(
            ["Foreshore: PIL stands", "Strand: YRD"],
            facts[0]
                .GetProperty("statements")
                .EnumerateArray()
                .Select(one =>
                    $"{one.GetProperty("source").GetString()}: {one.GetProperty("value").GetString()}{(one.GetProperty("stands").GetBoolean() ? " stands" : "")}"
                )
        );
        Assert.Equal("Guarded", (await bell.Get($"/api/sites/{site}")).GetProperty("class").GetString());

        // The same again for a week from both writes nothing of the site; a decision settles it; what is new disputes it.
        await Hear(said, 0);
        await Take(Head + Tide);
        var wish = new
        {
            fact = "unit",
            sites = new[] { site },
            value = "PIL",
        };
        await bell.Post(
            "/api/said",
            new { wish, fingerprint = (await bell.Post("/api/said/plan", wish)).GetProperty("fingerprint").GetString() }
        );
        Assert.Empty(await Titles("disputed.value eq \"unit\""));
        await Hear(said.Replace("YRD", "TUG"), 1);
        Assert.Equal(["Tide tables"], await Titles("disputed.value eq \"unit\""));
    }

    /// <summary>A body that says how long it is and is never sent.</summary>
    private sealed class Announced : HttpContent
    {
        private readonly long length;

        public Announced(long length)
        {
            this.length = length;
            Headers.ContentType = new("text/csv");
        }

        protected override Task SerializeToStreamAsync(Stream stream, TransportContext? context) =>
            throw new InvalidOperationException("It was to be refused before.");

        protected override bool TryComputeLength(out long announced)
        {
            announced = length;
            return true;
        }
    }
}
