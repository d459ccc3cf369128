using System.Text;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;

namespace AtticLedger.Server.Tests;

/// <summary>Lists kept by hand, as spreadsheets write them: bytes to a table, a table to sites.</summary>
public class HandListFacts
{
    private static readonly HouseTime Time = new(TimeZoneInfo.FindSystemTimeZoneById("Europe/London"));

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
        var site = Single("key,name,address,class,visits,edited\nf1,,-,Open,12,2026-06-30\n");
        Assert.True(site.Name.IsUnknown);
        Assert.True(site.Address.IsNone);
        Assert.Equal(("Open", 12), (site.Class.Or(""), site.Visits.Or(0)));

        // Days are the house's: midnight in summer is an hour before that of UTC.
        Assert.Equal(new DateTimeOffset(2026, 6, 29, 23, 0, 0, TimeSpan.Zero), site.LastEdit.Or(default));
        Assert.True(site.Stage.IsUnknown);
    }

    [Fact]
    public void Who_is_let_in_is_known_where_owners_editors_and_viewers_all_are()
    {
        const string Head = "key,owners,editors,viewers\n";
        var sharing = Single(Head + "f1,Ada@merrowby.example,unit:PIL,\"staff; passers-by; ada@merrowby.example\"\n")
            .Sharing.Or(null!);
        Assert.Equal(
            [
                ("passers-by", Power.View, Proof.None),
                ("person:ada@merrowby.example", Power.Own, Proof.SignedIn),
                ("staff", Power.View, Proof.SignedIn),
                ("unit:PIL", Power.Edit, Proof.SignedIn),
            ],
            sharing
                .Grants.Select(grant => (grant.Key, grant.Power, grant.Proof))
                .OrderBy(grant => grant.Key, StringComparer.Ordinal)
        );
        Assert.True(Single(Head + "f1,ada@merrowby.example,-,\n").Sharing.IsUnknown);
        Assert.True(Single("key,owners\nf1,ada@merrowby.example\n").Sharing.IsUnknown);
        Assert.Empty(Single(Head + "f1,-,-,-\n").Sharing.Or(null!).Grants);
    }

    [Fact]
    public void A_cell_that_is_not_understood_makes_one_fact_unknown_and_is_named()
    {
        var line = Assert.Single(Read("key,stage,visits,created,unit\nf1,sometimes,many,31.1.2026,ABC\n"));
        Assert.True(
            line.Site is { } site
                && site.Stage.IsUnknown
                && site.Visits.IsUnknown
                && site.Created.IsUnknown
                && site.Unit.IsUnknown
        );
        Assert.Equal(
            [
                "Line 2, created: \"31.1.2026\" is not understood; write a day as 2026-01-31.",
                "Line 2, stage: \"sometimes\" is not understood; write one of never live, live, offline.",
                "Line 2, unit: there is no unit \"ABC\".",
                "Line 2, visits: \"many\" is not understood; write a whole number.",
            ],
            line.Faults.Select(fault => fault.Words).Order(StringComparer.Ordinal)
        );
    }

    [Fact]
    public void Lines_of_other_hosts_are_told_apart_and_may_share_their_keys()
    {
        var list = Read(
            "host,key,address,unit,class,colour\n,f1,,PIL,Open,red\nQuay,f1,,PIL,,\nSlipway,,slipway.example/a,,-,\n"
        );
        List<ListedElsewhere> others = [.. list.Select(line => line.Other).OfType<ListedElsewhere>()];
        Assert.Equal("f1", Assert.Single(list, line => line.Site is not null).Site!.Key);
        Assert.Equal([("Quay", "f1"), ("Slipway", "slipway.example/a")], others.Select(other => (other.Host, other.Named)));
        Assert.True(others.TrueForAll(other => other.Facts[SaidFact.Address].IsUnknown));
        Assert.True(
            others[0].Facts[SaidFact.Class].IsUnknown
                && others[1].Facts[SaidFact.Class].IsNone
                && others[1].Facts[SaidFact.Unit].IsUnknown
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

        var lines = HandList.Read("Foreshore", ["key"], Rows(), _ => true, _ => true, Time);
        Assert.Equal([false, false, false, false, false, true], lines.Take(6).Select(line => line.IsRefused));
        Assert.Equal(6, read);
        Assert.Equal("Line 7: \"f2\" stands in line 2 already.", lines.First(line => line.IsRefused).Faults[0].Words);
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
                ("Site Name", "name", "its heading means it"),
                ("URL", "address", "its heading means it"),
                ("Dept code", null, "nothing speaks for a fact"),
                ("Who", "owners", "mail addresses stand in it"),
                ("Where", null, "nothing speaks for a fact"),
                ("Remark", null, "nothing speaks for a fact"),
                ("created", "created", "its heading says so"),
            ],
            columns.Select(choice => (choice.Head, choice.Column, choice.Because))
        );
        Assert.Equal(["name", "address", "", "owners", "", "", "created"], ListReading.Heads(ListKind.Sites, columns));
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
                ["Dept"] = "class",
                ["Note"] = "description",
                ["Title"] = null,
            }
        );
        Assert.Equal(
            [(null, "as the last time"), ("unit", "chosen"), ("description", "as the last time")],
            columns.Select(choice => (choice.Column, choice.Because))
        );

        var twice = Columns(List, new() { ["Dept"] = "name", ["Title"] = "name" });
        Assert.Equal(
            "\"Title\" and \"Dept\" are both read as name. Choose one of them.",
            Assert.Throws<HostException>(() => ListReading.Heads(ListKind.Sites, twice)).Message
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
        DayOrder order,
        bool isSure,
        string? day
    )
    {
        IReadOnlyList<ListedRow> rows = [new(2, ["f1", cell])];
        var days = ListReading.Days(ListKind.Sites, ["key", "created"], rows, chosen);
        Assert.Equal((order, isSure), (days.Order, days.IsSure));
        var site = HandList.Read("Foreshore", ["key", "created"], rows, _ => true, _ => true, Time, days.Order).Single().Site!;
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
        return ListReading.Columns(
            ListKind.Sites,
            table.Heads,
            table.Rows.Select(row => new ListedRow(row.Line, row.Cells)),
            chosen ?? [],
            remembered ?? []
        );
    }

    private static ListTable Table(byte[] bytes) => CsvTable.Read(() => new MemoryStream(bytes));

    private static List<ListedLine> Read(string text)
    {
        var table = Table(Encoding.UTF8.GetBytes(text));
        return
        [
            .. HandList.Read(
                "Foreshore",
                table.Heads,
                table.Rows.Select(row => new ListedRow(row.Line, row.Cells)),
                mail => mail == "ada@merrowby.example",
                unit => unit == "PIL",
                Time
            ),
        ];
    }
}
