using System.Net;
using System.Text;
using System.Text.Json;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Lists of people: reading them, and their plan, import and undo over HTTP.</summary>
public class PeopleListFacts(Installation here)
{
    private const string List = "/api/people/imports";
    private static readonly OrganisationTime Time = new(TimeZoneInfo.Utc);
    private static readonly SlipwayEntry Vane = new("p:1", "own");
    private static readonly SlipwayEntry Quist = new("p:2", "own");
    private static readonly SlipwayEntry Guest = new("p:3", "edit");

    [Fact]
    public void A_list_is_read_by_headings_of_many_spellings_and_each_fault_has_its_place()
    {
        var lines = Read(
            "E-Mail,Full name,Type,Dept,Status,Last day\n"
                + "ada@merrowby.example,Ada Ray,staff,PIL,current,04.12.2026\n"
                + "bo@agents.example,-,guest,,,-\n"
                + ",Cleo,staff,,,\n"
                + "nobody,Dan,staff,,,\n"
                + "Ada@merrowby.example,Ada again,staff,,,\n"
                + "eve@merrowby.example,Eve,chief,XYZ,gone,31.02.2026\n"
        );
        Assert.Equal(
            new PersonClaim(
                "ada@merrowby.example",
                Known.Of("Ada Ray"),
                Known.Of(PersonKind.Staff),
                Known.Of(new UnitCode("PIL")),
                Known<string>.Unknown,
                Known.Of(Standing.Current),
                Known.Of(new DateOnly(2026, 12, 4)),
                Known<DateOnly>.Unknown
            ),
            lines[0].Person
        );
        Assert.Equal(
            (true, true, true),
            (lines[1].Person!.Name.IsNone, lines[1].Person!.Leaves.IsNone, lines[1].Person!.Standing.IsUnknown)
        );
        Assert.Equal(
            [
                "Line 4: the mail address is missing.",
                "Line 5: \"nobody\" is not a mail address.",
                "Line 6: \"Ada@merrowby.example\" is already in line 2.",
                "Line 7, kind: \"chief\" is not understood; write one of staff, guest, service.",
                "Line 7, unit: there is no unit \"XYZ\".",
                "Line 7, standing: \"gone\" is not understood; write one of current, absent, leaving, left.",
                "Line 7, leaves: \"31.02.2026\" is not understood; write a day as 2026-01-31.",
            ],
            lines.SelectMany(line => line.Faults).Select(fault => fault.Words)
        );
        Assert.Equal(
            "The list has no column \"mail\", so its people cannot be identified. Its columns are: name.",
            Assert.Throws<HostException>(() => Read("name\nAda\n")).Message
        );
    }

    [Fact]
    public async Task A_list_previews_its_people_and_their_sites_and_is_imported_and_undone_as_a_whole()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("keys-a", [Vane, Quist]), ("keys-b", [Vane, Guest]));
        organisation.Slipway.Edit(records => records.People["3"] = new("3", "Bo Reyes", "bo@agents.example", true, true, null));
        await using var server = await organisation.Start();
        var bell = await here.SignIn("n.bell", server.Address);
        await server.Read(bell, 2);

        var list =
            "mail,kind,leaves,standing,unit,name\nr.quist@merrowby.example,,2020-01-31,,,\nnew@agents.example,guest,,,,New Agent\nbo@agents.example,,,left,,\ni.vane@merrowby.example,,,,PIL,Idris Vane\nn.bell@merrowby.example,guest,,,,\n";
        var before = await Breaking(bell);
        var plan = await bell.Post($"{List}/plan", Csv(list));
        Assert.Equal(
            (4, 1, 2, 1, 1, 2),
            (
                Number(plan, "people"),
                Number(plan, "new"),
                Number(plan, "changed"),
                Number(plan, "same"),
                Number(plan, "refusals"),
                Number(plan, "sites")
            )
        );
        Assert.Equal(
            "Line 6: that is you. Another person has to import that you are outside or have left.",
            plan.GetProperty("problems")[0].GetString()
        );
        var rows = (await bell.Post($"{List}/rows", Csv(list))).GetProperty("rows").EnumerateArray().ToList();
        Assert.Equal(
            ["changed", "new", "changed", "same", "refused"],
            rows.Select(row => row.GetProperty("verdict").GetString())
        );
        Assert.Equal(
            """[{"fact":"standing","before":"current","after":"left"},{"fact":"day","before":null,"after":"2020-01-31"}]""",
            rows[0].GetProperty("changes").GetRawText()
        );
        Assert.Equal(1, Number(await bell.Post($"{List}/rows?verdict=new&limit=5", Csv(list)), "total"));
        var mend = await Text(bell, $"{List}/faults", list);
        Assert.Equal(
            "mail,kind,leaves,standing,unit,name,what is wrong\r\nn.bell@merrowby.example,guest,,,,,that is you. Another person has to import that you are outside or have left.\r\n",
            mend.TrimStart('\uFEFF')
        );
        Assert.Equal(before, await Breaking(bell));

        // Exactly what the plan said: the second owner has left, and the guest too.
        await bell.Post($"{List}?fingerprint=another", Csv(list), HttpStatusCode.Conflict);
        await bell.Post($"{List}?fingerprint={plan.GetProperty("fingerprint").GetString()}", Csv(list));
        var after = await Breaking(bell);
        var moves = plan.GetProperty("rules")
            .EnumerateArray()
            .Select(move =>
                (move.GetProperty("rule").GetProperty("id").GetString()!, Number(move, "after") - Number(move, "before"))
            )
            .ToList();
        Assert.NotEmpty(moves);
        Assert.Equal(
            moves.Order(),
            before.Keys.Select(rule => (rule, after[rule] - before[rule])).Where(move => move.Item2 != 0).Order()
        );
        Assert.Equal(0, Number(await bell.Post($"{List}/plan", Csv(list)), "changed"));
        var journal = (await bell.Get("/api/journal?limit=100")).GetProperty("entries").EnumerateArray().ToList();
        Assert.Equal(
            ["people.imported", "person.changed", "person.changed", "person.changed"],
            journal.Take(4).Select(entry => entry.GetProperty("action").GetString())
        );
        Assert.DoesNotContain("New Agent", await bell.Http.GetStringAsync("/api/journal/export"));

        // The host still reports the guest, but the list is more direct.
        var ended = await Ended(bell);
        await bell.Post("/api/sources/Slipway/sync", new { }, HttpStatusCode.OK);
        await Installation.Until(async () => await Ended(bell) != ended, "the host is read again");
        Assert.Equal(
            (Standing.Left, Standing.Left),
            (await Stands(organisation, "bo@agents.example"), await Stands(organisation, "r.quist@merrowby.example"))
        );

        var siteImport = (await bell.Get($"{List}"))[0];
        Assert.Equal((3, true), (Number(siteImport, "people"), siteImport.GetProperty("mayUndo").GetBoolean()));
        var undo = $"{List}/{siteImport.GetProperty("id")}/undo";
        var back = await bell.Post($"{undo}/plan", new { });
        Assert.Equal((2, 1, "[]"), (Number(back, "restored"), Number(back, "gone"), back.GetProperty("left").GetRawText()));
        await bell.Post(undo, new { fingerprint = back.GetProperty("fingerprint").GetString() });
        Assert.Equal(before, await Breaking(bell));
        Assert.Equal(
            (Standing.Current, Standing.Current, Standing.Left),
            (
                await Stands(organisation, "bo@agents.example"),
                await Stands(organisation, "r.quist@merrowby.example"),
                await Stands(organisation, "new@agents.example")
            )
        );
        Assert.Equal(
            "It is already undone.",
            Caller.Why(await bell.Post($"{undo}/plan", new { }, HttpStatusCode.UnprocessableEntity))
        );
        Assert.Equal(HttpStatusCode.NotFound, (await bell.Send(HttpMethod.Post, $"{List}/999/undo/plan", null)).Status);
        Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
    }

    [Fact]
    public async Task Only_the_latest_list_is_undone_and_people_who_have_changed_since_stay()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("list-a", [Vane, Quist]));
        await using var server = await organisation.Start();
        var bell = await here.SignIn("n.bell", server.Address);
        await server.Read(bell, 1);
        await Take(bell, "mail,leaves\nr.quist@merrowby.example,2031-01-31\ni.vane@merrowby.example,2031-01-31\n");
        await Take(bell, "mail,classification\nr.quist@merrowby.example,Trainee\n");
        var siteImports = (await bell.Get($"{List}")).EnumerateArray().ToList();
        Assert.Equal(
            [(1, true), (2, false)],
            siteImports.Select(siteImport => (Number(siteImport, "people"), siteImport.GetProperty("mayUndo").GetBoolean()))
        );
        var (latest, earlier) = (
            $"{List}/{siteImports[0].GetProperty("id")}/undo",
            $"{List}/{siteImports[1].GetProperty("id")}/undo"
        );
        Assert.Equal(
            "A later list was imported. Undo that import first.",
            Caller.Why(await bell.Post($"{earlier}/plan", new { }, HttpStatusCode.UnprocessableEntity))
        );
        await bell.Post(latest, new { fingerprint = "another" }, HttpStatusCode.Conflict);
        await Undo(bell, latest);

        // After the later list is undone, the earlier one can be undone too, except for people whom somebody else has changed
        // since.
        await organisation.Database.Change(async change =>
            await change.UpdatePerson(
                (await change.PeopleDirectory(Time)).Find(organisation.Quist)! with
                {
                    Name = "Renata Quist-Vane",
                }
            )
        );
        var plan = await bell.Post($"{earlier}/plan", new { });
        Assert.Equal(
            (1, 0, """["Renata Quist-Vane"]"""),
            (Number(plan, "restored"), Number(plan, "gone"), plan.GetProperty("left").GetRawText())
        );
        await Undo(bell, earlier);
        Assert.Equal(
            (Standing.Leaving, Standing.Current),
            (await Stands(organisation, "r.quist@merrowby.example"), await Stands(organisation, "i.vane@merrowby.example"))
        );
        Assert.Equal(2, (await bell.Get("/api/journal?action=people.undone")).GetProperty("entries").GetArrayLength());
        Assert.Contains((await bell.Get("/api/journal?action=person.changed")).GetProperty("entries").EnumerateArray(), entry =>
            entry.GetProperty("subjectName").GetString() == "Renata Quist-Vane"
        );
    }

    [Fact]
    public async Task A_person_in_the_staff_list_is_changed_there_and_it_takes_over_people_it_begins_to_name()
    {
        var (server, address) = await here.Beside();
        var bell = await here.SignIn("n.bell", address);
        var plan = await bell.Post($"{List}/plan", Csv("mail,leaves\ni.vane@merrowby.example,2031-01-31\n"));
        Assert.Equal((0, 1), (Number(plan, "changed"), Number(plan, "refusals")));
        Assert.Contains("the staff list reports something else", plan.GetProperty("problems")[0].GetString());
        var seconded = "mail,kind,name\nseconded@merrowby.example,staff,Sel Ray\n";
        plan = await bell.Post($"{List}/plan", Csv(seconded));
        await bell.Post($"{List}?fingerprint={plan.GetProperty("fingerprint").GetString()}", Csv(seconded));
        Assert.Equal(1, Number(await bell.Post($"{List}/plan", Csv(seconded.Replace("Sel Ray", "Sel Vance"))), "changed"));

        var (database, reader) = (
            server.Services.GetRequiredService<Database>(),
            server.Services.GetRequiredService<SourceSync>()
        );
        var people = await database.Read(connection => connection.PeopleByMail());
        await database.Change(change => change.SetByHand([people["i.vane@merrowby.example"]], true));
        await reader.ReadAll(CancellationToken.None);
        Assert.Equal([people["seconded@merrowby.example"]], await database.Read(connection => connection.PeopleByHand()));

        // A sync that finds nothing new does not change the directory.
        async Task<PeopleDirectory> Current() =>
            await database.Read(async connection =>
                await database.PeopleDirectories.Of(connection, database.Now, await connection.OrganisationTime())
            );
        var directory = await Current();
        await reader.ReadAll(CancellationToken.None);
        Assert.Same(directory.People, (await Current()).People);
        await here.Leave(server);
    }

    private static async Task Take(Caller caller, string list)
    {
        var plan = await caller.Post($"{List}/plan", Csv(list));
        await caller.Post($"{List}?fingerprint={plan.GetProperty("fingerprint").GetString()}", Csv(list));
    }

    private static async Task Undo(Caller caller, string path) =>
        await caller.Post(
            path,
            new { fingerprint = (await caller.Post($"{path}/plan", new { })).GetProperty("fingerprint").GetString() }
        );

    private static List<ListedPersonLine> Read(string list)
    {
        var table = ListTable.Read(() => new MemoryStream(Encoding.UTF8.GetBytes(list)));
        var rows = table.Rows.Select(row => new ListedRow(row.Line, row.Cells)).ToList();
        var heads = ListMapping.Heads(
            ListKind.People,
            ListMapping.Columns(
                ListKind.People,
                table.Heads,
                rows,
                new Dictionary<string, string?>(),
                new Dictionary<string, string?>()
            )
        );
        return
        [
            .. PeopleList.Read(
                heads,
                rows,
                new ListWords(who => who, unit => unit == "PIL" ? unit : null),
                Time,
                ListMapping.Days(ListKind.People, heads, rows, null).Order
            ),
        ];
    }

    private static StringContent Csv(string list) => new(list, Encoding.UTF8, "text/csv");

    private static int Number(JsonElement from, string name) => from.GetProperty(name).GetInt32();

    private static async Task<string> Text(Caller caller, string path, string list)
    {
        using var answer = await caller.Http.PostAsync(path, Csv(list));
        return await answer.Content.ReadAsStringAsync();
    }

    private static async Task<Dictionary<string, int>> Breaking(Caller caller) =>
        (await caller.Get("/api/register?limit=0"))
            .GetProperty("rules")
            .EnumerateArray()
            .Where(rule => rule.GetProperty("key").GetString()!.StartsWith("R-", StringComparison.Ordinal))
            .ToDictionary(rule => rule.GetProperty("key").GetString()!, rule => Number(rule, "count"));

    private static async Task<string?> Ended(Caller caller) =>
        (await caller.Get("/api/sources"))
            .EnumerateArray()
            .Single(one => one.GetProperty("name").GetString() == "Slipway")
            .GetProperty("ended")
            .GetString();

    private static Task<Standing> Stands(SmallOrganisation organisation, string mail) =>
        organisation.Database.Read(async connection =>
            (await connection.PeopleDirectory(DateTimeOffset.UtcNow, Time)).People.Single(person => person.Mail == mail).Standing
        );
}
