using System.Security.Cryptography;
using System.Text.Json;

namespace AtticLedger.Formats.Bundle;

/// <summary>Writes the files of a bundle, one after the other.</summary>
public sealed class BundleWriter : IDisposable
{
    private readonly DirectoryInfo folder;
    private readonly IDictionary<string, ManifestFile> files;
    private FileStream? stream;
    private IncrementalHash? hash;
    private string name = "";
    private long lines;

    internal BundleWriter(DirectoryInfo folder, IDictionary<string, ManifestFile> files)
    {
        this.folder = folder;
        this.files = files;
    }

    /// <summary>Adds a row to a file; the rows of a file are written together.</summary>
    public void Add<TRow>(string to, TRow row)
    {
        if (to != name)
        {
            Close();
            name = to;
            stream = new FileStream(
                Path.Combine(folder.FullName, to),
                FileMode.CreateNew,
                FileAccess.Write,
                FileShare.None,
                128 * 1024
            );
            hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        }

        var bytes = JsonSerializer.SerializeToUtf8Bytes(row, BundleJson.Options);
        Write(bytes);
        Write("\n"u8);
        lines++;
    }

    public void Dispose() => Close();

    private void Write(ReadOnlySpan<byte> bytes)
    {
        stream!.Write(bytes);
        hash!.AppendData(bytes);
    }

    private void Close()
    {
        if (stream is not null)
        {
            stream.Flush();
            files[name] = new ManifestFile(lines, stream.Length, Convert.ToHexStringLower(hash!.GetHashAndReset()));
            stream.Dispose();
            hash.Dispose();
        }

        (stream, hash, lines) = (null, null, 0);
    }
}
