using System.Buffers;
using System.IO.Pipelines;
using System.Text;
using System.Text.Unicode;
using AtticLedger.Core.Journal;

namespace AtticLedger.Formats;

/// <summary>The exported journal: JSON Lines, one entry per line, closed by a line with the head. Described in
/// <c>docs/formats.md</c>.</summary>
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

    private const int LongestLine = 64 * 1024 * 1024;
    private const int SyncAtOnce = 1024 * 1024;
    private static readonly UTF8Encoding Strict = new(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true);

    /// <summary>Checks a file line by line, in the memory of one line. It checks the bytes: each line ends in LF; invalid UTF-8,
    /// a byte order mark or a CR is refused before decoding.
    /// </summary>
    /// <param name="knownHead">A head known from before: it must be among the lines.</param>
    public static async Task<ChainCheck> Verify(Stream from, string? knownHead)
    {
        var checker = new ChainChecker(knownHead);
        var reader = PipeReader.Create(from, new StreamPipeReaderOptions(bufferSize: SyncAtOnce));
        for (var line = 1L; ; line++)
        {
            var (bytes, isEnded) = await Line(reader);
            if (bytes is null)
            {
                return isEnded
                    ? checker.EndOfFile()
                    : new ChainCheck.Broken(line, $"the line has more than {LongestLine >> 20} MB");
            }

            if (Fault(bytes, line, isEnded) is { } fault)
            {
                return new ChainCheck.Broken(line, fault);
            }

            if (!checker.Take(Strict.GetString(bytes)))
            {
                return checker.EndOfFile();
            }
        }
    }

    private static string? Fault(byte[] bytes, long line, bool isEnded) =>
        line == 1 && bytes.AsSpan().StartsWith((ReadOnlySpan<byte>)[0xEF, 0xBB, 0xBF])
            ? "the file begins with a byte order mark: it was written again by another program"
        : bytes.AsSpan().Contains((byte)'\r') ? "the line has a CR: it was written again by another program"
        : !Utf8.IsValid(bytes) ? "this is not UTF-8"
        : isEnded ? null
        : "the line does not end in LF: the file was cut off";

    // The next line without its LF; and whether it had one or, without a line, whether the file has ended.
    private static async Task<(byte[]? Bytes, bool IsEnded)> Line(PipeReader reader)
    {
        while (true)
        {
            var read = await reader.ReadAsync();
            if (read.Buffer.PositionOf((byte)'\n') is { } end)
            {
                var line = read.Buffer.Slice(0, end).ToArray();
                reader.AdvanceTo(read.Buffer.GetPosition(1, end));
                return (line, true);
            }

            if (read.IsCompleted)
            {
                var rest = read.Buffer.ToArray();
                reader.AdvanceTo(read.Buffer.End);
                return rest.Length == 0 ? (null, true) : (rest, false);
            }

            if (read.Buffer.Length > LongestLine)
            {
                return (null, false);
            }

            reader.AdvanceTo(read.Buffer.Start, read.Buffer.End);
        }
    }
}
