using System.Text;
using AtticLedger.Core.Journal;
using AtticLedger.Formats;

namespace AtticLedger.Server.Tests;

/// <summary>An export of the journal is checked byte by byte, and refused at the wrong line.</summary>
public class JournalFileFacts
{
    private static readonly byte[] Whole = Made();

    [Fact]
    public async Task A_whole_file_is_unbroken() =>
        Assert.Equal(3, Assert.IsType<ChainCheck.Unbroken>(await Check(Whole)).Head.Number);

    [Fact]
    public async Task What_another_program_rewrote_is_refused_where_it_begins()
    {
        await Broken(1, "byte order mark", [.. Encoding.UTF8.Preamble, .. Whole]);
        await Broken(1, "CR", Encoding.UTF8.GetBytes(Text().Replace("\n", "\r\n", StringComparison.Ordinal)));
        var lines = Text().Split('\n');
        await Broken(2, "CR", Encoding.UTF8.GetBytes(string.Join('\n', [lines[0], lines[1] + "\r", .. lines[2..]])));
    }

    [Fact]
    public async Task What_is_not_UTF_8_is_refused_before_it_is_decoded()
    {
        var bytes = (byte[])Whole.Clone();
        var second = Array.IndexOf(bytes, (byte)'\n') + 1;
        bytes[Array.IndexOf(bytes, (byte)'a', second)] = 0xFF;
        await Broken(2, "not UTF-8", bytes);
    }

    [Fact]
    public async Task A_file_without_its_last_line_or_its_last_break_was_cut_off()
    {
        var lines = Text().TrimEnd('\n').Split('\n');
        await Broken(1, "the last line", []);
        await Broken(4, "the last line", Encoding.UTF8.GetBytes(string.Join('\n', lines[..3]) + "\n"));
        await Broken(4, "LF", Whole[..^1]);
        await Broken(3, "LF", Whole[..^100]);
    }

    [Fact]
    public async Task Nothing_follows_the_last_line()
    {
        var lines = Text().TrimEnd('\n').Split('\n');
        Assert.IsType<ChainCheck.Broken>(await Check(Encoding.UTF8.GetBytes(string.Join('\n', [.. lines, lines[0]]) + "\n")));
        Assert.IsType<ChainCheck.Broken>(await Check(Encoding.UTF8.GetBytes(Text() + "\n")));
    }

    private static async Task Broken(long line, string words, byte[] bytes)
    {
        var broken = Assert.IsType<ChainCheck.Broken>(await Check(bytes));
        Assert.True(line == broken.Line && broken.What.Contains(words, StringComparison.Ordinal), $"{words} at {line}: {broken}");
    }

    private static async Task<ChainCheck> Check(byte[] bytes)
    {
        using var stream = new MemoryStream(bytes);
        return await JournalFile.Verify(stream, null);
    }

    private static string Text() => Encoding.UTF8.GetString(Whole);

    private static byte[] Made()
    {
        var (text, head) = (new StringBuilder(), Head.Start);
        for (var number = 1; number <= 3; number++)
        {
            var line = new Draft(JournalAction.ClockMoved, EntryActor.Product, EntrySubject.Organisation) { Reason = "é" }.Text(
                number,
                new DateTimeOffset(2026, 11, 24, 7, 0, 0, TimeSpan.Zero),
                head.Hash
            );
            head = new Head(number, Head.HashOf(line));
            text.Append(line).Append('\n');
        }

        return Encoding.UTF8.GetBytes(text.Append(ChainChecker.ClosingLine(head)).Append('\n').ToString());
    }
}
