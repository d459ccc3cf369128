using System.Security.Cryptography;
using AtticLedger.Core.Terms;

namespace AtticLedger.Formats.Snapshot;

/// <summary>The identity of a snapshot: the build that made it, and the position in which journal.</summary>
/// <param name="Hash">The hash of the journal entry at that position, so that another register's snapshot is not used.</param>
public sealed record SnapshotHead(string Build, long Place, string Hash);

/// <summary>A snapshot of a server's memory in a file: a first line of text, rows, and a SHA-256 digest of everything before. It
/// is no interchange format: another build does not read it, and losing it loses nothing.
/// </summary>
public static class SnapshotFile
{
    private const string Magic = "attic-snapshot-1";
    private const int DigestLength = SHA256.HashSizeInBytes;

    /// <summary>Writes a temporary file first and then renames it, so that there is always a complete file or none.</summary>
    public static void Write(string path, SnapshotHead head, Action<ISnapshotWriter> content)
    {
        var beside = $"{path}.new";
        var options = new FileStreamOptions
        {
            Mode = FileMode.Create,
            Access = FileAccess.ReadWrite,
            BufferSize = 1 << 20,
        };
        if (!OperatingSystem.IsWindows())
        {
            options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        }

        using (var file = new FileStream(beside, options))
        {
            using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            var rows = new RowWriter(file, hash);
            rows.Texts([Magic, head.Build, head.Hash]);
            rows.Longs([head.Place]);
            content(rows);
            file.Write(hash.GetHashAndReset());
            file.Flush(flushToDisk: true);
        }

        File.Move(beside, path, overwrite: true);
    }

    /// <exception cref="SnapshotError">The snapshot is missing, incomplete, or of another format.</exception>
    public static (SnapshotHead Head, ISnapshotReader Rows) Read(string path)
    {
        if (!File.Exists(path))
        {
            throw new SnapshotError("There is no snapshot.");
        }

        var bytes = File.ReadAllBytes(path);
        if (
            bytes.Length < DigestLength
            || !SHA256.HashData(bytes.AsSpan(..^DigestLength)).AsSpan().SequenceEqual(bytes.AsSpan(^DigestLength..))
        )
        {
            throw new SnapshotError("The snapshot is not whole.");
        }

        var rows = new RowReader(bytes.AsMemory(..^DigestLength));
        return rows.Texts() is [Magic, var build, var hash] && rows.Longs() is [var place]
            ? (new SnapshotHead(build, place, hash), rows)
            : throw new SnapshotError("The snapshot is of another format.");
    }
}
