using System.Net;
using System.Text;
using System.Text.Json;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Lists of a host without a connector, over HTTP: planned, imported repeatedly, undone.</summary>
public sealed class ListServerFacts(Installation installation) : ManualHost(installation)
{
    [Fact]
    public async Task A_list_is_previewed_first_and_the_same_list_twice_writes_nothing()
    {
        var plan = await Plan(Head + Tide + Wrecks);
        Assert.Equal((2, 2, 0, 0), Counts(plan));
        await Take(Head + Tide + Wrecks);
        Assert.Equal(["Tide tables", "Wrecks"], await Titles("host eq \"Foreshore\""));

        var head = await JournalHead();
        Assert.Equal((2, 0, 0, 0), Counts(await Take(Head + Tide + Wrecks)));
        Assert.Equal("list.imported", await LatestAction());
        Assert.Equal(head + 1, await JournalHead());

        // One has another name, one is missing, one is new.
        var next = await Take(Head + Tide.Replace("Tide tables", "Tides") + "f3,Knots,foreshore.example/knots,PIL,-,-,staff\n");
        Assert.Equal((2, 1, 1, 1), Counts(next));
        Assert.Equal(
            (1, 0),
            (
                next.GetProperty("same").GetInt32() + next.GetProperty("changed").GetInt32(),
                next.GetProperty("refusals").GetInt32()
            )
        );
        Assert.Equal(["Wrecks"], await Titles("no-longer-reported eq true"));

        // Only a complete list marks a site as no longer reported.
        await Take(Head + Wrecks, "&whole=false");
        Assert.Empty(await Titles("no-longer-reported eq true"));
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
        Assert.Equal("\"f1\" is already in line 2.", rows[3].GetProperty("why")[0].GetString());
        var only = await bell.Post($"{List}/rows?verdict=new&limit=1", Csv(list));
        Assert.Equal(
            (1, "Knots"),
            (only.GetProperty("total").GetInt32(), only.GetProperty("rows")[0].GetProperty("title").GetString())
        );
        Assert.Equal(HttpStatusCode.BadRequest, (await bell.Send(HttpMethod.Post, $"{List}/rows?verdict=odd", Csv(list))).Status);

        // A new site without a second owner is one more finding.
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
        // Far more rows than are processed together, and a late row that repeats an early one.
        static string Line(int number, string name) => $"m{number},{name} {number},foreshore.example/m{number},PIL,-,-,-\n";
        var first = string.Concat(Enumerable.Range(0, 450).Select(number => Line(number, "Mooring")));
        Assert.Equal((450, 450, 0, 0), Counts(await Take(Head + first)));

        var next = string.Concat(Enumerable.Range(3, 447).Select(number => Line(number, number % 100 == 0 ? "Buoy" : "Mooring")));
        var plan = await Plan(Head + next + Line(460, "Pontoon"));
        Assert.Equal((448, 1, 4, 3), Counts(plan));
        Assert.Equal(443, plan.GetProperty("same").GetInt32());
        Assert.Equal(
            ["Mooring 0", "Mooring 1", "Mooring 2"],
            plan.GetProperty("noLongerReported").EnumerateArray().Select(title => title.GetString())
        );

        // With one row that is not a site, none is marked as no longer reported; the counts of a window cover all rows.
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
            (449, "\"m4\" is already in line 3."),
            (refused.GetProperty("line").GetInt32(), refused.GetProperty("why")[0].GetString())
        );

        // The first errors are listed, with the number of all.
        var wrong = await Plan(Head + first + first.Replace("PIL", "NONE"));
        Assert.Equal(
            (450, 200, 0),
            (
                wrong.GetProperty("notSites").GetInt32(),
                wrong.GetProperty("refused").GetArrayLength(),
                wrong.GetProperty("notUnderstood").GetInt32()
            )
        );

        // Planning the same list twice gives the same plan; another list gives another.
        Assert.Equal(
            plan.GetProperty("fingerprint").GetString(),
            (await Plan(Head + next + Line(460, "Pontoon"))).GetProperty("fingerprint").GetString()
        );
        Assert.NotEqual(
            plan.GetProperty("fingerprint").GetString(),
            (await Plan(Head + next + Line(461, "Pontoon"))).GetProperty("fingerprint").GetString()
        );
        await Take(Head + next + Line(460, "Pontoon"));
        Assert.Equal(["Mooring 0", "Mooring 1", "Mooring 2"], await Titles("no-longer-reported eq true"));
        Assert.Equal(["Buoy 100", "Buoy 200", "Buoy 300", "Buoy 400"], await Titles("name sw \"Buoy\""));
    }

    [Fact]
    public async Task The_latest_list_is_undone_except_for_what_has_changed_since()
    {
        await Take(Head + Tide + Wrecks);
        var before = (await bell.Get("/api/reports/register")).GetProperty("rows").GetRawText();
        await Take(
            Head + Tide.Replace("Tide tables", "Tides").Replace("PIL", "YRD") + "f3,Knots,foreshore.example/knots,PIL,-,-,staff\n"
        );
        var siteImports = (await bell.Get($"{List}")).EnumerateArray().ToList();
        Assert.Equal(
            [(3, true), (2, false)],
            siteImports.Select(siteImport =>
                (siteImport.GetProperty("sites").GetInt32(), siteImport.GetProperty("mayUndo").GetBoolean())
            )
        );
        Assert.Equal(
            "A later list was imported. Undo that import first.",
            Caller.Why(
                await bell.Post(
                    $"{List}/{siteImports[1].GetProperty("id")}/undo/plan",
                    new { },
                    HttpStatusCode.UnprocessableEntity
                )
            )
        );

        var latest = $"{List}/{siteImports[0].GetProperty("id")}/undo";
        var plan = await bell.Post($"{latest}/plan", new { });
        Assert.Equal(
            (2, 1, "[]"),
            (plan.GetProperty("restored").GetInt32(), plan.GetProperty("gone").GetInt32(), plan.GetProperty("left").GetRawText())
        );
        await bell.Post(latest, new { fingerprint = "another" }, HttpStatusCode.Conflict);
        await bell.Post(latest, new { fingerprint = plan.GetProperty("fingerprint").GetString() });
        Assert.Equal(["Tide tables", "Wrecks"], await Titles("host eq \"Foreshore\" and no-longer-reported eq false"));
        Assert.Equal(["Knots"], await Titles("no-longer-reported eq true"));
        Assert.Equal(
            "It is already undone.",
            Caller.Why(await bell.Post($"{latest}/plan", new { }, HttpStatusCode.UnprocessableEntity))
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

        // A decision made since then is left alone.
        await Take(Head + Tide.Replace("Tide tables", "Tides") + Wrecks);
        var request = new
        {
            fact = "purpose",
            sites = new[] { await Id("Tides") },
            value = (string?)null,
        };
        await bell.Post(
            "/api/classification/facts",
            new
            {
                request,
                fingerprint = (await bell.Post("/api/classification/facts/plan", request)).GetProperty("fingerprint").GetString(),
            }
        );
        var again = (await bell.Get($"{List}")).EnumerateArray().First();
        Assert.Equal(
            """["Tides"]""",
            (await bell.Post($"{List}/{again.GetProperty("id")}/undo/plan", new { })).GetProperty("left").GetRawText()
        );
    }

    [Fact]
    public async Task An_import_that_a_stopped_server_left_is_completed_and_once()
    {
        await Take(Head + Tide);

        // It is stored in parts: this one in three.
        await Left($"{Head}{Tide.Replace("Tide tables", "Tides")}{new string('\n', 2_500_000)}{Wrecks}");
        Assert.Equal(
            (true, false, false),
            (await bell.Get($"{List}")).EnumerateArray().First() is var open
                ? (
                    open.GetProperty("isUnderWay").GetBoolean(),
                    open.GetProperty("isEnded").GetBoolean(),
                    open.GetProperty("mayUndo").GetBoolean()
                )
                : default
        );

        var desk = server.Services.GetRequiredService<ImportActions>();
        await desk.GoOn(CancellationToken.None);
        await desk.GoOn(CancellationToken.None);
        Assert.Equal(["Tides", "Wrecks"], await Titles("host eq \"Foreshore\""));
        var done = (await bell.Get($"{List}")).EnumerateArray().First();
        Assert.Equal(
            (false, true, 2, true),
            (
                done.GetProperty("isUnderWay").GetBoolean(),
                done.GetProperty("isEnded").GetBoolean(),
                done.GetProperty("sites").GetInt32(),
                done.GetProperty("mayUndo").GetBoolean()
            )
        );
        Assert.Equal(2, (await bell.Get("/api/journal?action=list.imported")).GetProperty("entries").GetArrayLength());
    }

    [Fact]
    public async Task An_import_that_was_interrupted_does_not_overwrite_a_newer_one()
    {
        await Take(Head + Tide);
        await Left(Head + Tide.Replace("Tide tables", "Older tides"));
        await Take(Head + Tide.Replace("Tide tables", "Newer tides"));

        await server.Services.GetRequiredService<ImportActions>().GoOn(CancellationToken.None);
        Assert.Equal(["Newer tides"], await Titles("host eq \"Foreshore\""));
        Assert.Equal(
            [(false, true), (false, false)],
            (await bell.Get($"{List}"))
                .EnumerateArray()
                .Take(2)
                .Select(one => (one.GetProperty("isUnderWay").GetBoolean(), one.GetProperty("isEnded").GetBoolean()))
        );
    }

    [Fact]
    public async Task An_import_whose_database_connection_broke_is_completed_like_one_whose_server_was_killed()
    {
        var content = Head + Tide;
        var (siteImport, list) = await Left(content);
        var (database, desk) = (
            server.Services.GetRequiredService<Database>(),
            server.Services.GetRequiredService<ImportActions>()
        );
        using (var spooled = await SpooledList.Of(to => to.WriteAsync(Encoding.UTF8.GetBytes(content)).AsTask()))
        {
            var read = await desk.Read("Foreshore", spooled.File, new ListMappingQuery(), CancellationToken.None);
            var why = await server
                .Services.GetRequiredService<SourceSync>()
                .ResumeList(list, read, siteImport, (change, _) => Broken(change), CancellationToken.None);
            Assert.Contains("The database was away", why);
        }

        Assert.True((await bell.Get($"{List}")).EnumerateArray().First().GetProperty("isUnderWay").GetBoolean());

        // Its lease expires, like that of a server that died.
        await using (var passes = database.Source.CreateCommand("update source set lease_until = now() where name = 'Foreshore'"))
        {
            await passes.ExecuteNonQueryAsync();
        }

        await desk.GoOn(CancellationToken.None);
        Assert.True((await bell.Get($"{List}")).EnumerateArray().First().GetProperty("isEnded").GetBoolean());
        Assert.Equal(["Tide tables"], await Titles("host eq \"Foreshore\""));
        Assert.Single((await bell.Get("/api/journal?action=list.imported")).GetProperty("entries").EnumerateArray());
    }

    /// <summary>Ends the connection in the middle of the transaction, as when PostgreSQL is stopped.</summary>
    private static async Task Broken(Change change)
    {
        await using var end = new Npgsql.NpgsqlCommand("select pg_terminate_backend(pg_backend_pid())", change.Connection);
        await end.ExecuteNonQueryAsync();
    }

    /// <summary>A list whose import a server began before it ended.</summary>
    private async Task<(long SiteImport, KeptList List)> Left(string content)
    {
        var database = server.Services.GetRequiredService<Database>();
        var nora = (await database.Read(connection => connection.AccountByMail("n.bell@merrowby.example")))!.Person;
        var list = new KeptList("Foreshore", nora, true, database.Now, "foreseen", "{}");
        return (
            await database.Change(change => change.BeginImport(list, new MemoryStream(Encoding.UTF8.GetBytes(content)), [])),
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
        Assert.StartsWith("The column \"Key\" appears twice.", await Refused("key,Key\na,b\n"));

        // A quote that is never closed swallows only a limited amount.
        Assert.StartsWith("Line 2", await Refused($"key,name\nf1,\"{new string('x', 9 * 1024 * 1024)}\n"));

        // If the client asks first, the server refuses before the body is sent.
        using var large = new HttpRequestMessage(HttpMethod.Post, $"{List}/plan")
        {
            Content = new Announced(5L << 30),
            Headers = { ExpectContinue = true },
        };
        using var answer = await bell.Http.SendAsync(large);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, answer.StatusCode);
        Assert.Contains("The request is larger than 4096 MB. Send it in parts.", await answer.Content.ReadAsStringAsync());

        var plan = await Plan(
            Head
                + Tide.Replace("PIL", "NOWHERE")
                + "f1,Again,x,PIL,-,-,-\n,No key,-,PIL,-,-,-\n"
                + "f4,Who,foreshore.example/who,PIL,nobody@merrowby.example,-,-\n"
        );
        Assert.Equal(
            ["Line 3: \"f1\" is already in line 2.", "Line 4: the key and the address are missing."],
            plan.GetProperty("refused").EnumerateArray().Select(words => words.GetString())
        );
        Assert.Equal(
            [
                "Line 2, unit: there is no unit \"NOWHERE\".",
                "Line 5, owners: \"nobody@merrowby.example\" is not one person in the register; write mail addresses, or names that only one person has, staff, partners, anonymous or unit:CODE.",
            ],
            plan.GetProperty("problems").EnumerateArray().Select(words => words.GetString())
        );

        // Wrecks is not in it, and is not marked as no longer reported, because rows of the list were refused.
        Assert.Equal(0, plan.GetProperty("gone").GetInt32());
        await bell.Post($"/api/sources/Slipway/imports/plan", Csv(Head), HttpStatusCode.NotFound);
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

        // A row with only an address is the site that has that address, whatever its key.
        await Take(Head + Tide);
        var byAddress = await bell.Post(
            $"{List}/plan?whole=false",
            Csv("address,name\nforeshore.example/tides,Tide tables again\n")
        );
        Assert.Equal((0, 1), (byAddress.GetProperty("new").GetInt32(), byAddress.GetProperty("changed").GetInt32()));

        // No column identifies the sites.
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
        Assert.Equal("Line 4: the key and the address are missing.", plan.GetProperty("refused")[0].GetString());

        var mend = await (await bell.Http.PostAsync($"{List}/faults?{How}", Book())).Content.ReadAsStringAsync();
        Assert.Equal(
            "Nr,What it is called,Dept,Made,what is wrong\r\nf2,'=Wrecks,XYZ,31.02.2026,\"unit: there is no unit \"\"XYZ\"\". created: \"\"31.02.2026\"\" is not understood; write a day as 2026-01-31.\"\r\n,Nowhere,,,the key and the address are missing.\r\n",
            mend
        );

        await bell.Post($"{List}?{How}&fingerprint={plan.GetProperty("fingerprint").GetString()}", Book());
        Assert.True(await Id("=Wrecks") > 0);
        var again = await bell.Post($"{List}/plan", Book());
        Assert.All(again.GetProperty("reading").GetProperty("columns").EnumerateArray(), column =>
            Assert.Equal("as in the last import", column.GetProperty("because").GetString())
        );
        Assert.Equal((0, 0), (again.GetProperty("new").GetInt32(), again.GetProperty("changed").GetInt32()));
    }

    [Fact]
    public async Task A_site_that_moves_is_found_elsewhere_and_a_person_says_that_it_is_one()
    {
        await Take(Head + Tide + Wrecks);
        var gone = await Id("Wrecks");
        var request = new
        {
            fact = "classification",
            sites = new[] { gone },
            value = "Guarded",
        };
        await bell.Post(
            "/api/classification/facts",
            new
            {
                request,
                fingerprint = (await bell.Post("/api/classification/facts/plan", request)).GetProperty("fingerprint").GetString(),
            }
        );
        await bell.Put(
            "/api/sources/Strand/manual-procedure",
            new
            {
                account = "",
                support = "",
                days = 5,
                reach = "x",
                owners = "x",
                moveToAttic = "x",
                restore = "x",
            }
        );
        const string Other = "/api/sources/Strand/imports";
        var list = Head + "x9,WRECKS (new),strand.example/wrecks,PIL,i.vane@merrowby.example,-,unit:PIL\n";
        await bell.Post(
            $"{Other}?fingerprint={(await bell.Post($"{Other}/plan", Csv(list))).GetProperty("fingerprint").GetString()}",
            Csv(list)
        );
        var now = await Id("WRECKS (new)");

        // While it is still listed it is at two places and has not moved.
        Assert.Equal(0, (await bell.Get($"/api/sites/{gone}/moves")).GetProperty("candidates").GetArrayLength());
        var refused = await bell.Post($"/api/sites/{gone}/moved", new { to = now }, HttpStatusCode.UnprocessableEntity);
        Assert.Equal("Foreshore still reports Wrecks, so it has not moved.", Caller.Sentence(refused.GetProperty("reasons")[0]));

        await Take(Head + Tide);
        var candidate = Assert.Single((await bell.Get($"/api/sites/{gone}/moves")).GetProperty("candidates").EnumerateArray());
        Assert.Equal(
            (now, "it has the same name; somebody owns both"),
            (
                candidate.GetProperty("id").GetInt64(),
                string.Join("; ", candidate.GetProperty("because").EnumerateArray().Select(why => why.GetString()))
            )
        );
        await bell.Post($"/api/sites/{gone}/moved", new { to = now });
        Assert.Equal(now, (await bell.Get($"/api/sites/{gone}/moves")).GetProperty("to").GetProperty("id").GetInt64());
        Assert.Equal(gone, (await bell.Get($"/api/sites/{now}/moves")).GetProperty("was")[0].GetProperty("id").GetInt64());
        Assert.Equal("Guarded", (await bell.Get($"/api/sites/{now}")).GetProperty("classification").GetString());

        // Another list without it changes nothing; after the undo they are two sites again.
        await Take(Head + Tide);
        Assert.Equal(now, (await bell.Get($"/api/sites/{gone}/moves")).GetProperty("to").GetProperty("id").GetInt64());
        await bell.Post($"/api/sites/{gone}/moved/undo", new { });
        Assert.Equal(JsonValueKind.Null, (await bell.Get($"/api/sites/{gone}/moves")).GetProperty("to").ValueKind);
    }

    [Fact]
    public async Task What_a_list_claims_of_a_site_elsewhere_is_shown_next_to_the_claim_of_its_host_with_times()
    {
        await Take(Head + Tide);
        await bell.Put(
            "/api/sources/Strand/manual-procedure",
            new
            {
                account = "",
                support = "",
                days = 5,
                reach = "x",
                owners = "x",
                moveToAttic = "x",
                restore = "x",
            }
        );
        const string Other = "/api/sources/Strand/imports";
        async Task Apply(string list, int changed)
        {
            var plan = await bell.Post($"{Other}/plan", Csv(list));
            Assert.Equal(changed, plan.GetProperty("changed").GetInt32());
            await bell.Post($"{Other}?fingerprint={plan.GetProperty("fingerprint").GetString()}", Csv(list));
        }

        var said = "host,key,address,unit,classification\nForeshore,f1,,YRD,Guarded\nForeshore,f77,,YRD,Guarded\n";
        Assert.Equal(
            "Line 3: Foreshore has no site, or more than one, at \"f77\".",
            (await bell.Post($"{Other}/plan", Csv(said))).GetProperty("problems")[0].GetString()
        );
        await Apply(said, 1);
        var site = await Id("Tide tables");
        var facts = (await bell.Get($"/api/sites/{site}")).GetProperty("claims");
        Assert.Equal(("unit", true), (facts[0].GetProperty("fact").GetString(), facts[0].GetProperty("isDisputed").GetBoolean()));
        Assert.Equal(
            ["Foreshore: PIL stands", "Strand: YRD"],
            facts[0]
                .GetProperty("claims")
                .EnumerateArray()
                .Select(one =>
                    $"{one.GetProperty("source").GetString()}: {one.GetProperty("value").GetString()}{(one.GetProperty("stands").GetBoolean() ? " stands" : "")}"
                )
        );
        Assert.Equal("Guarded", (await bell.Get($"/api/sites/{site}")).GetProperty("classification").GetString());

        // The same claims again write nothing about the site; a decision settles it; a new claim disputes it.
        await Apply(said, 0);
        await Take(Head + Tide);
        var request = new
        {
            fact = "unit",
            sites = new[] { site },
            value = "PIL",
        };
        await bell.Post(
            "/api/classification/facts",
            new
            {
                request,
                fingerprint = (await bell.Post("/api/classification/facts/plan", request)).GetProperty("fingerprint").GetString(),
            }
        );
        Assert.Empty(await Titles("disputed.value eq \"unit\""));
        await Apply(said.Replace("YRD", "TUG"), 1);
        Assert.Equal(["Tide tables"], await Titles("disputed.value eq \"unit\""));
    }

    /// <summary>A request body with a length that is never sent.</summary>
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
