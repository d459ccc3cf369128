using System.Security.Cryptography;

namespace AtticLedger.Formats.Bundle;

/// <summary>The lines of a file of JSON Lines, and the digest of the whole file. Too long a line is refused before it is in
/// memory.</summary>
internal sealed class LineReader(Stream from, string name)
{
    /// <summary>In bytes. A site with ten thousand grants has about one million.</summary>
    public const int LongestLine = 4 * 1024 * 1024;

    private readonly IncrementalHash hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private byte[] buffer = new byte[128 * 1024];
    private int start;
    private int end;
    private bool isOver;

    /// <summary>The number of the line that was read last.</summary>
    public long Line { get; private set; }

    public string Sha256() => Convert.ToHexStringLower(hash.GetHashAndReset());

    /// <param name="line">Valid until the next call.</param>
    public bool Next(out ReadOnlyMemory<byte> line)
    {
        var searched = start;
        while (true)
        {
            var at = buffer.AsSpan(searched, end - searched).IndexOf((byte)'\n');
            if (at >= 0)
            {
                line = buffer.AsMemory(start, searched + at - start);
                start = searched + at + 1;
                Line++;
                return true;
            }

            searched = end;
            if (isOver)
            {
                line = default;
                return start == end ? false : throw new BundleError(name, Line + 1, "the last line has no end: the file was cut");
            }

            if (end - start > LongestLine)
            {
                throw new BundleError(name, Line + 1, $"longer than {LongestLine} bytes");
            }

            searched -= Room();
            var read = from.Read(buffer, end, buffer.Length - end);
            hash.AppendData(buffer, end, read);
            end += read;
            isOver = read == 0;
        }
    }

    // Makes room for more; returns by how much the bytes moved to the front.
    private int Room()
    {
        if (end < buffer.Length)
        {
            return 0;
        }

        var moved = start;
        var larger = start > buffer.Length / 2 ? buffer : new byte[buffer.Length * 2];
        Buffer.BlockCopy(buffer, start, larger, 0, end - start);
        (buffer, start, end) = (larger, 0, end - start);
        return moved;
    }
}
