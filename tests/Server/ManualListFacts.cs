using System.Text;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;

namespace AtticLedger.Server.Tests;

/// <summary>Manual lists as spreadsheets write them: from bytes to a table, from a table to sites.</summary>
public class ManualListFacts
{
    private static readonly OrganisationTime Time = new(TimeZoneInfo.FindSystemTimeZoneById("Europe/London"));

    [Theory]
    [InlineData("key,name\nf1,Tides\n")]
    [InlineData("key;name\r\nf1;Tides\r\n")]
    [InlineData("\uFEFFkey\tname\nf1\tTides")]
    [InlineData("key,name\n\n,\n\"f1\",\"Tides\"\n")]
    public void Whatever_a_spreadsheet_writes_between_its_fields_is_read(string text)
    {
        var table = Table(Encoding.UTF8.GetBytes(text));
        Assert.Equal(["key", "name"], table.Heads);
        Assert.Equal(["f1", "Tides"], Assert.Single(table.Rows).Cells);
    }

    [Fact]
    public void What_is_no_table_is_refused_with_its_line_and_what_to_do()
    {
        Assert.Equal(
            "Line 2: this is neither UTF-8 nor Windows-1252. Save the list as \"CSV UTF-8\".",
            Assert.Throws<FormatException>(() => Table([.. "key,name\nf1,Caf"u8, 0x81])).Message
        );
        Assert.StartsWith(
            "Line 2: ",
            Assert.Throws<FormatException>(() => Table("key,name\nf1,\"never ends\n"u8.ToArray())).Message
        );
    }

    [Fact]
    public void An_empty_cell_says_nothing_and_a_dash_says_that_there_is_none()
    {
        var site = Single("key,name,address,classification,visits,edited\nf1,,-,Open,12,2026-06-30\n");
        Assert.True(site.Name.IsUnknown);
        Assert.True(site.Address.IsNone);
        Assert.Equal(("Open", 12), (site.Classification.Or(""), site.Visits.Or(0)));

        // Days are those of the organisation's time zone: in summer midnight is an hour before midnight UTC.
        Assert.Equal(new DateTimeOffset(2026, 6, 29, 23, 0, 0, TimeSpan.Zero), site.LastEdit.Or(default));
        Assert.True(site.Status.IsUnknown);
    }

    [Fact]
    public void Who_is_let_in_is_known_where_owners_editors_and_viewers_all_are()
    {
        const string Head = "key,owners,editors,viewers\n";
        var sharing = Single(Head + "f1,Ada@merrowby.example,unit:PIL,\"staff; anonymous; ada@merrowby.example\"\n")
            .Sharing.Or(null!);
        Assert.Equal(
            [
                ("anonymous", Power.View, VisitorSignIn.None),
                ("person:ada@merrowby.example", Power.Own, VisitorSignIn.Account),
                ("staff", Power.View, VisitorSignIn.Account),
                ("unit:PIL", Power.Edit, VisitorSignIn.Account),
            ],
            sharing
                .Grants.Select(grant => (grant.Key, grant.Power, grant.VisitorSignIn))
                .OrderBy(grant => grant.Key, StringComparer.Ordinal)
        );
        Assert.True(Single(Head + "f1,ada@merrowby.example,-,\n").Sharing.IsUnknown);
        Assert.True(Single("key,owners\nf1,ada@merrowby.example\n").Sharing.IsUnknown);
        Assert.Empty(Single(Head + "f1,-,-,-\n").Sharing.Or(null!).Grants);
    }

    [Fact]
    public void A_cell_that_is_not_understood_makes_one_fact_unknown_and_is_named()
    {
        var line = Assert.Single(Read("key,status,visits,created,unit\nf1,sometimes,many,31.1.2026,ABC\n"));
        Assert.True(
            line.Site is { } site
                && site.Status.IsUnknown
                && site.Visits.IsUnknown
                && site.Created.IsUnknown
                && site.Unit.IsUnknown
        );
        Assert.Equal(
            [
                "Line 2, created: \"31.1.2026\" is not understood; write a day as 2026-01-31.",
                "Line 2, status: \"sometimes\" is not understood; write one of never published, published, offline.",
                "Line 2, unit: there is no unit \"ABC\".",
                "Line 2, visits: \"many\" is not understood; write a whole number.",
            ],
            line.Faults.Select(fault => fault.Words).Order(StringComparer.Ordinal)
        );
    }

    [Fact]
    public void Sites_of_other_hosts_are_told_apart_and_may_share_their_keys()
    {
        var list = Read(
            "host,key,address,unit,classification,colour\n,f1,,PIL,Open,red\nQuay,f1,,PIL,,\nSlipway,,slipway.example/a,,-,\n"
        );
        List<ListedElsewhere> others = [.. list.Select(line => line.Other).OfType<ListedElsewhere>()];
        Assert.Equal("f1", Assert.Single(list, line => line.Site is not null).Site!.Key);
        Assert.Equal([("Quay", "f1"), ("Slipway", "slipway.example/a")], others.Select(other => (other.Host, other.Named)));
        Assert.True(others.TrueForAll(other => other.Facts[ClaimedFact.Address].IsUnknown));
        Assert.True(
            others[0].Facts[ClaimedFact.Classification].IsUnknown
                && others[1].Facts[ClaimedFact.Classification].IsNone
                && others[1].Facts[ClaimedFact.Unit].IsUnknown
        );
        Assert.DoesNotContain(list, line => line.IsRefused);
    }

    [Fact]
    public void Lines_are_read_one_by_one_and_again_when_they_are_asked_for_again()
    {
        var read = 0;
        IEnumerable<ListedRow> Rows()
        {
            for (var line = 2; ; line++)
            {
                read++;
                yield return new ListedRow(line, [$"f{line % 5}"]);
            }
        }

        var lines = ManualList.Read("Foreshore", ["key"], Rows(), Anything, Time);
        Assert.Equal([false, false, false, false, false, true], lines.Take(6).Select(line => line.IsRefused));
        Assert.Equal(6, read);
        Assert.Equal("Line 7: \"f2\" is already in line 2.", lines.First(line => line.IsRefused).Faults[0].Words);
    }

    // One person and one unit, by address or code and by name.
    private static readonly ListWords Offices = new(
        who => who.ToLowerInvariant() is "ada@merrowby.example" or "ada lund" or "lund, ada" ? "ada@merrowby.example" : null,
        unit => unit is "PIL" or "Pilotage" ? "PIL" : null
    );
    private static readonly ListWords Anything = new(who => who, unit => unit);

    [Fact]
    public void A_list_as_offices_write_it_is_read_without_mending()
    {
        const string list = """
            Sites of the foreshore office,,,,
            ,,,,
            url,title,dept,owner,audience
            foreshore.example/tides,Tide boards,Pilotage,"Lund, Ada",employee
            foreshore.example/slips,Slipways,PIL,ada@merrowby.example,public; partner
            Total,2,,,
            """;
        var table = ListTable.Read(() => new MemoryStream(Encoding.UTF8.GetBytes(list)));
        var rows = table.Rows.Select(row => new ListedRow(row.Line, row.Cells)).ToList();
        var heads = ListMapping.Heads(
            ListKind.Sites,
            ListMapping.Columns(
                ListKind.Sites,
                table.Heads,
                rows,
                new Dictionary<string, string?>(),
                new Dictionary<string, string?>()
            )
        );
        var lines = ManualList
            .Read("Foreshore", [.. heads, "editors"], rows.Select(row => row with { Cells = [.. row.Cells, "-"] }), Offices, Time)
            .ToList();

        Assert.Equal([4, 5], lines.Select(line => line.Line));
        Assert.All(lines, line => Assert.Empty(line.Faults));
        Assert.All(lines, line => Assert.Equal(Known.Of("PIL"), line.Site!.Unit));
        Assert.Equal(
            ["staff", "person:ada@merrowby.example"],
            lines[0].Site!.Sharing.Select(sharing => sharing.Grants.Select(grant => grant.Key).ToArray()).Or([])
        );
        Assert.Equal(
            ["anonymous", "partners", "person:ada@merrowby.example"],
            lines[1].Site!.Sharing.Select(sharing => sharing.Grants.Select(grant => grant.Key).ToArray()).Or([])
        );
    }

    [Fact]
    public void A_meaning_chosen_once_counts_for_every_line_and_what_has_none_is_named_once()
    {
        const string list =
            "key,unit,status,owners,editors,viewers\n"
            + "f1,Tide Room,live,ada@merrowby.example,Crew,The crew\n"
            + "f2,tide room,LIVE,ada@merrowby.example,-,the crew; guests of the day\n"
            + "f3,Old Mole,live,somebody,-,-\n";
        var words = Offices with
        {
            Chosen = new Dictionary<ListWord, string>
            {
                [new(ListWord.Units, "Tide Room")] = "PIL",
                [new("status", "live")] = "published",
                [new(ListWord.People, "the crew")] = "staff",
                [new(ListWord.People, "crew")] = "ada@merrowby.example",
                [new(ListWord.People, "guests of the day")] = "-",
                [new(ListWord.Units, "Old Mole")] = "-",
            },
        };
        var lines = Read(list, words);

        Assert.Equal([Known.Of("PIL"), Known.Of("PIL"), Known<string>.None], lines.Select(line => line.Site!.Unit));
        Assert.All(lines, line => Assert.Equal(Known.Of(Status.Published), line.Site!.Status));
        Assert.Equal(
            ["person:ada@merrowby.example own", "staff view"],
            lines[1]
                .Site!.Sharing.Or(null!)
                .Grants.Select(grant => $"{grant.Key} {grant.Power.ToString().ToLowerInvariant()}")
                .Order()
        );
        Assert.Contains(lines[0].Site!.Sharing.Or(null!).Grants, grant => grant.Key == "staff");
        Assert.True(lines[2].Site!.Sharing.IsUnknown);
        Assert.Equal(
            [("people", "somebody", false), ("status", "live", true), ("unit", "Old Mole", true)],
            lines[2].Doubtful.Select(one => (one.Word.Of, one.Word.Text, one.IsUnderstood)).Order()
        );

        // A chosen meaning can be impossible by the next list, when the unit is gone.
        var gone = Assert.Single(
            Read(
                "key,unit\nf1,Tide Room\n",
                Offices with
                {
                    Chosen = new Dictionary<ListWord, string> { [new(ListWord.Units, "tide room")] = "XYZ" },
                }
            )
        );
        Assert.Equal("unit: there is no unit \"XYZ\".", Assert.Single(gone.Faults).Why);
        Assert.False(Assert.Single(gone.Doubtful).IsUnderstood);
    }

    private static HostSite Single(string text) => Assert.Single(Read(text)).Site!;

    [Fact]
    public void What_a_column_holds_is_proposed_from_its_heading_and_from_what_stands_in_it()
    {
        var columns = Columns(
            "Site Name,URL,Dept code,Who,Where,Remark,created\nTides,f.example/t,PIL,ada@merrowby.example,x.example/y,kept,2026-01-01\n"
        );
        Assert.Equal(
            [
                ("Site Name", "name", "its heading means this fact"),
                ("URL", "address", "its heading means this fact"),
                ("Dept code", null, "no fact recognised"),
                ("Who", "owners", "it contains mail addresses"),
                ("Where", null, "no fact recognised"),
                ("Remark", null, "no fact recognised"),
                ("created", "created", "its heading is this fact"),
            ],
            columns.Select(choice => (choice.Head, choice.Column, choice.Because))
        );
        Assert.Equal(["name", "address", "", "owners", "", "", "created"], ListMapping.Heads(ListKind.Sites, columns));
    }

    [Fact]
    public void What_somebody_chose_goes_before_what_is_remembered_and_both_before_what_is_proposed()
    {
        const string List = "Title,Dept,Note\nTides,PIL,a\n";
        var columns = Columns(
            List,
            new() { ["Dept"] = "unit" },
            new()
            {
                ["Dept"] = "classification",
                ["Note"] = "description",
                ["Title"] = null,
            }
        );
        Assert.Equal(
            [(null, "as in the last import"), ("unit", "chosen"), ("description", "as in the last import")],
            columns.Select(choice => (choice.Column, choice.Because))
        );

        var twice = Columns(List, new() { ["Dept"] = "name", ["Title"] = "name" });
        Assert.Equal(
            "\"Title\" and \"Dept\" are both imported as name. Choose one of them.",
            Assert.Throws<HostException>(() => ListMapping.Heads(ListKind.Sites, twice)).Message
        );
    }

    [Theory]
    [InlineData("2026-02-03", null, DayOrder.YearFirst, true, "2026-02-03")]
    [InlineData("03.02.2026", null, DayOrder.DayFirst, false, "2026-02-03")]
    [InlineData("03/02/2026", DayOrder.MonthFirst, DayOrder.MonthFirst, false, "2026-03-02")]
    [InlineData("23/02/2026", null, DayOrder.DayFirst, true, "2026-02-23")]
    [InlineData("2-23-2026", null, DayOrder.MonthFirst, true, "2026-02-23")]
    [InlineData("31.02.2026", null, DayOrder.DayFirst, true, null)]
    public void Days_are_read_as_the_list_tells_or_as_somebody_chose(
        string cell,
        DayOrder? chosen,
        DayOrder hostChange,
        bool isSure,
        string? day
    )
    {
        IReadOnlyList<ListedRow> rows = [new(2, ["f1", cell])];
        var days = ListMapping.Days(ListKind.Sites, ["key", "created"], rows, chosen);
        Assert.Equal((hostChange, isSure), (days.Order, days.IsSure));
        var site = ManualList.Read("Foreshore", ["key", "created"], rows, Anything, Time, days.Order).Single().Site!;
        Assert.Equal(
            day,
            site.Created.Has(out var at)
                ? Time.DayOf(at).ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)
                : null
        );
    }

    private static IReadOnlyList<ColumnChoice> Columns(
        string text,
        Dictionary<string, string?>? chosen = null,
        Dictionary<string, string?>? remembered = null
    )
    {
        var table = Table(Encoding.UTF8.GetBytes(text));
        return ListMapping.Columns(
            ListKind.Sites,
            table.Heads,
            table.Rows.Select(row => new ListedRow(row.Line, row.Cells)),
            chosen ?? [],
            remembered ?? []
        );
    }

    private static ListTable Table(byte[] bytes) => CsvTable.Read(() => new MemoryStream(bytes));

    private static List<ListedLine> Read(string text, ListWords? words = null)
    {
        var table = Table(Encoding.UTF8.GetBytes(text));
        return
        [
            .. ManualList.Read(
                "Foreshore",
                table.Heads,
                table.Rows.Select(row => new ListedRow(row.Line, row.Cells)),
                words ?? Offices,
                Time
            ),
        ];
    }
}
