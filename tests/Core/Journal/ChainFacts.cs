using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Journal;

public class ChainFacts
{
    private static readonly (IReadOnlyList<string> Lines, Head Head) Chain = Make(12);

    [Fact]
    public void An_unbroken_chain_ends_in_its_head() =>
        Assert.Equal(
            new ChainCheck.Unbroken(Chain.Head),
            Check([.. Chain.Lines, ChainChecker.ClosingLine(Chain.Head)], Chain.Head.Hash)
        );

    [Fact]
    public void An_entry_reads_as_documented() =>
        Assert.Equal(
            """{"action":"site.restrict","actor":"person:7","after":null,"at":"2026-11-24T07:00:00.000000Z","before":{"unknown":true},"for":null,"number":"1","previous":"0000000000000000000000000000000000000000000000000000000000000000","reason":"tidy \"up\"","subject":"site:12","undoOf":null}""",
            new Draft(JournalAction.SiteRestrict, EntryActor.Of(new PersonId(7)), EntrySubject.Of(new SiteId(12)))
            {
                Before = JournalValue.Unknown,
                Reason = "tidy \"up\"",
            }.Text(1, Now, Head.Start.Hash)
        );

    [Fact]
    public void One_changed_character_anywhere_is_found_at_its_line_or_the_next()
    {
        for (var line = 0; line < Chain.Lines.Count; line++)
        {
            for (var at = 0; at < Chain.Lines[line].Length; at += 3)
            {
                var lines = Chain.Lines.ToList();
                lines[line] = lines[line][..at] + (char)(lines[line][at] ^ 1) + lines[line][(at + 1)..];
                var broken = Assert.IsType<ChainCheck.Broken>(Check([.. lines, ChainChecker.ClosingLine(Chain.Head)]));
                Assert.InRange(broken.Line, line + 1, line + 2);
            }
        }
    }

    [Fact]
    public void Added_white_space_is_found_and_named()
    {
        var lines = Chain.Lines.ToList();
        lines[4] = lines[4].Replace("{\"action\":", "{ \"action\":", StringComparison.Ordinal);
        var broken = Assert.IsType<ChainCheck.Broken>(Check(lines));

        Assert.Equal(5, broken.Line);
        Assert.Contains("not the canonical text", broken.What);
    }

    [Fact]
    public void Two_swapped_lines_and_a_doubled_one_are_found()
    {
        var swapped = Chain.Lines.ToList();
        (swapped[2], swapped[3]) = (swapped[3], swapped[2]);
        var doubled = Chain.Lines.ToList();
        doubled.Insert(6, doubled[5]);

        Assert.Equal(3, Assert.IsType<ChainCheck.Broken>(Check(swapped)).Line);
        Assert.Equal(7, Assert.IsType<ChainCheck.Broken>(Check(doubled)).Line);
    }

    [Fact]
    public void A_cut_tail_is_found_where_the_head_is_known_and_a_longer_chain_still_contains_it()
    {
        Assert.IsType<ChainCheck.Unbroken>(Check([.. Chain.Lines.Take(9)]));
        Assert.Equal(10, Assert.IsType<ChainCheck.Broken>(Check([.. Chain.Lines.Take(9)], Chain.Head.Hash)).Line);
        Assert.IsType<ChainCheck.Unbroken>(Check(Chain.Lines, Head.HashOf(Chain.Lines[4])));
    }

    [Fact]
    public void An_entry_with_a_field_more_or_less_is_found()
    {
        foreach (var (from, to) in new[] { ("\"undoOf\":null", "\"undoOf\":null,\"zeal\":null"), (",\"undoOf\":null", "") })
        {
            var lines = Chain.Lines.ToList();
            lines[3] = lines[3].Replace(from, to, StringComparison.Ordinal);
            var broken = Assert.IsType<ChainCheck.Broken>(Check(lines));
            Assert.Equal(4, broken.Line);
            Assert.StartsWith("an entry has the fields", broken.What, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void Columns_that_say_something_else_than_the_text_are_found()
    {
        var text = Chain.Lines[0];
        var columns = new Projection(1, Now.AddMinutes(1), "host:slipway", "site.synced", "site:1", Head.HashOf(text));
        Assert.True(new ChainChecker().Take(text, columns));
        foreach (
            var other in new[]
            {
                columns with
                {
                    Actor = "person:1",
                },
                columns with
                {
                    At = Now,
                },
                columns with
                {
                    Action = "site.no-longer-reported",
                },
                columns with
                {
                    Subject = "site:2",
                },
                columns with
                {
                    Hash = Head.Start.Hash,
                },
            }
        )
        {
            var checker = new ChainChecker();
            Assert.False(checker.Take(text, other));
            Assert.Equal(1, Assert.IsType<ChainCheck.Broken>(checker.End()).Line);
        }
    }

    [Fact]
    public void Any_text_survives_its_canonical_form() =>
        Gen.String.Sample(text =>
        {
            using var json = System.Text.Json.JsonDocument.Parse(JournalValue.Of(text).Canonical());
            return json.RootElement.GetString() == string.Concat(text.EnumerateRunes().Select(rune => rune.ToString()));
        });

    private static ChainCheck Check(IEnumerable<string> lines, string? head = null)
    {
        var checker = new ChainChecker(head);
        foreach (var line in lines)
        {
            checker.Take(line);
        }

        return checker.End();
    }

    private static (IReadOnlyList<string> Lines, Head Head) Make(int count)
    {
        var lines = new List<string>();
        var head = Head.Start;
        for (var number = 1; number <= count; number++)
        {
            lines.Add(
                new Draft(JournalAction.SiteSynced, EntryActor.OfSource("Slipway"), EntrySubject.Of(new SiteId(number)))
                {
                    After = JournalValue.Of(("name", JournalValue.Of("Tug \u00e9 rota"))),
                }.Text(number, Now.AddMinutes(number), head.Hash)
            );
            head = new Head(number, Head.HashOf(lines[^1]));
        }

        return (lines, head);
    }
}
