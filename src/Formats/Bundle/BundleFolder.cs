using System.Security.Cryptography;
using System.Text.Json;

namespace AtticLedger.Formats.Bundle;

/// <summary>A fault in a bundle, with its place.</summary>
/// <param name="line">Counted from 1; 0 for the file as a whole.</param>
public sealed class BundleError(string file, long line, string message)
    : Exception(line > 0 ? $"{file}, line {line}: {message}" : $"{file}: {message}")
{
    public string File => file;

    public long Line => line;
}

/// <summary>A file of the bundle, as in the manifest.</summary>
public sealed record ManifestFile(long Lines, long Bytes, string Sha256);

/// <param name="Made">When it was written: the only difference between two bundles of the same register.</param>
public sealed record Manifest(string Format, int Version, DateTimeOffset Made, IReadOnlyDictionary<string, ManifestFile> Files)
{
    public const string Name = "attic-ledger-bundle";
    public const int Newest = 2;
}

/// <summary>
/// A register as a folder: one JSON Lines file per kind, and a manifest with counts and digests. Written and read line by
/// line, in the memory of one line.
/// </summary>
public sealed class BundleFolder
{
    private const string ManifestFileName = "manifest.json";
    private const long LongestManifest = 64 * 1024;

    /// <summary>The files in the sequence in which they are read: named objects before the rows that name them.</summary>
    public static readonly IReadOnlyList<string> Files =
    [
        "units.jsonl",
        "people.jsonl",
        "groups.jsonl",
        "settings.jsonl",
        "kinds.jsonl",
        "limits.jsonl",
        "retention.jsonl",
        "rules.jsonl",
        "sites.jsonl",
    ];

    private readonly DirectoryInfo folder;
    private readonly Manifest manifest;

    private BundleFolder(DirectoryInfo folder, Manifest manifest)
    {
        this.folder = folder;
        this.manifest = manifest;
    }

    /// <summary>The digest of the content, independent of when it was made.</summary>
    public string Digest =>
        Core.Journal.Head.HashOf(string.Join('\n', Files.Select(file => $"{file} {manifest.Files[file].Sha256}")));

    public long Lines(string file) => manifest.Files[file].Lines;

    /// <exception cref="BundleError">The manifest is missing, or this version cannot read it.</exception>
    public static BundleFolder Open(DirectoryInfo folder)
    {
        var file = new FileInfo(Path.Combine(folder.FullName, ManifestFileName));
        if (!file.Exists)
        {
            throw new BundleError(ManifestFileName, 0, $"{folder.Name} has no manifest, so it is not a bundle");
        }

        if (file.Length > LongestManifest)
        {
            throw new BundleError(ManifestFileName, 0, $"longer than {LongestManifest} bytes");
        }

        var manifest = Parse(File.ReadAllBytes(file.FullName));
        if (manifest.Format != Manifest.Name || manifest.Version != Manifest.Newest)
        {
            throw new BundleError(
                ManifestFileName,
                0,
                $"format \"{manifest.Format}\", version {manifest.Version}: this version reads \"{Manifest.Name}\", version {Manifest.Newest}"
            );
        }

        foreach (var name in Files)
        {
            if (!manifest.Files.ContainsKey(name))
            {
                throw new BundleError(ManifestFileName, 0, $"it does not name {name}");
            }

            if (!File.Exists(Path.Combine(folder.FullName, name)))
            {
                throw new BundleError(name, 0, "the file is missing");
            }
        }

        return manifest.Files.Keys.Except(Files).FirstOrDefault() is { } odd
            ? throw new BundleError(ManifestFileName, 0, $"it names {odd}, which this version does not know")
            : new BundleFolder(folder, manifest);
    }

    /// <summary>Writes a bundle into a new or empty folder. The manifest comes last, so a partial bundle is not valid.</summary>
    public static async Task Write(DirectoryInfo folder, DateTimeOffset made, Func<BundleWriter, Task> fill)
    {
        folder.Create();
        if (folder.EnumerateFileSystemInfos().Any())
        {
            throw new BundleError(folder.Name, 0, "the folder is not empty");
        }

        var files = new SortedDictionary<string, ManifestFile>(StringComparer.Ordinal);
        using (var writer = new BundleWriter(folder, files))
        {
            await fill(writer);
        }

        foreach (var name in Files.Where(name => !files.ContainsKey(name)))
        {
            await File.WriteAllBytesAsync(Path.Combine(folder.FullName, name), []);
            files[name] = new ManifestFile(0, 0, Convert.ToHexStringLower(SHA256.HashData([])));
        }

        await using var stream = File.Create(Path.Combine(folder.FullName, ManifestFileName));
        await JsonSerializer.SerializeAsync(
            stream,
            new Manifest(Manifest.Name, Manifest.Newest, made, files),
            new JsonSerializerOptions(BundleJson.Options) { WriteIndented = true }
        );
    }

    /// <summary>The rows of a file with their line numbers. Counts and digest are checked when the last has been read.</summary>
    /// <exception cref="BundleError">A line cannot be read, or the file is not the one in the manifest.</exception>
    public IEnumerable<(long Line, TRow Row)> Rows<TRow>(string name)
    {
        var expected = manifest.Files[name];
        using var stream = new FileStream(
            Path.Combine(folder.FullName, name),
            new FileStreamOptions { BufferSize = 0, Options = FileOptions.SequentialScan }
        );
        if (stream.Length != expected.Bytes)
        {
            throw new BundleError(name, 0, $"{stream.Length} bytes, where the manifest says {expected.Bytes}");
        }

        var lines = new LineReader(stream, name);
        while (lines.Next(out var bytes))
        {
            yield return (lines.Line, Row<TRow>(name, lines.Line, bytes.Span));
        }

        if (lines.Line != expected.Lines)
        {
            throw new BundleError(name, lines.Line, $"it has {lines.Line} lines, where the manifest says {expected.Lines}");
        }

        if (lines.Sha256() != expected.Sha256)
        {
            throw new BundleError(name, 0, "its SHA-256 is not the one in the manifest: it was changed after it was written");
        }
    }

    private static TRow Row<TRow>(string name, long line, ReadOnlySpan<byte> bytes)
    {
        try
        {
            return JsonSerializer.Deserialize<TRow>(bytes, BundleJson.Options)
                ?? throw new BundleError(name, line, "null is not a row");
        }
        catch (Exception error) when (error is JsonException or NotSupportedException or ArgumentException)
        {
            throw new BundleError(name, line, error.Message);
        }
    }

    private static Manifest Parse(ReadOnlySpan<byte> bytes)
    {
        try
        {
            return JsonSerializer.Deserialize<Manifest>(bytes, BundleJson.Options) ?? throw new JsonException("it is empty");
        }
        catch (JsonException error)
        {
            throw new BundleError(ManifestFileName, (error.LineNumber ?? -1) + 1, error.Message);
        }
    }
}
