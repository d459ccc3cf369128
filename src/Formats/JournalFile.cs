using AtticLedger.Core.Journal;

namespace AtticLedger.Formats;

/// <summary>The journal as a file: JSON Lines, an entry a line, closed by a line that carries the head. <c>docs/formats.md</c> has it for strangers.</summary>
public static class JournalFile
{
    public static async Task Write(TextWriter to, IAsyncEnumerable<string> texts, Head head)
    {
        await foreach (var text in texts)
        {
            await to.WriteLineAsync(text);
        }

        await to.WriteLineAsync(ChainChecker.ClosingLine(head));
        await to.FlushAsync();
    }

    /// <summary>Checks a file line by line, in the memory of one line.</summary>
    /// <param name="knownHead">A head known from before: it must be among the lines.</param>
    public static async Task<ChainCheck> Verify(TextReader from, string? knownHead)
    {
        var checker = new ChainChecker(knownHead);
        while (await from.ReadLineAsync() is { } line)
        {
            if (!checker.Take(line))
            {
                break;
            }
        }

        return checker.End();
    }
}
