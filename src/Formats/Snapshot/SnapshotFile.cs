using System.Security.Cryptography;
using AtticLedger.Core.Terms;

namespace AtticLedger.Formats.Snapshot;

/// <summary>Whose snapshot it is: made by which build, at which place of which journal.</summary>
/// <param name="Hash">Of the journal's entry at that place, so that no other register's snapshot is taken for this one's.</param>
public sealed record SnapshotHead(string Build, long Place, string Hash);

/// <summary>
/// A snapshot of what a server keeps in memory, in a file of its own: a first line of text, rows, and a SHA-256 digest of
/// all before it. It is no interchange format: another build does not read it, and whoever loses it loses nothing.
/// </summary>
public static class SnapshotFile
{
    private const string Magic = "attic-snapshot-1";
    private const int DigestLength = SHA256.HashSizeInBytes;

    /// <summary>Writes beside the file first and then puts it in its place, so that there is always a whole one or none.</summary>
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

    /// <exception cref="SnapshotError">There is none, it is not whole, or it is of another format.</exception>
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
