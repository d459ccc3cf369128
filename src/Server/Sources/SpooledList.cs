namespace AtticLedger.Server.Sources;

/// <summary>A received list in a temporary file: it can be larger than the memory.</summary>
internal sealed class SpooledList : IDisposable
{
    private const string Prefix = "attic-ledger-list-";
    private static readonly TimeSpan Oldest = TimeSpan.FromDays(1);
    private readonly DirectoryInfo folder;

    private SpooledList(DirectoryInfo folder)
    {
        this.folder = folder;
        File = new FileInfo(Path.Combine(folder.FullName, "list"));
    }

    public FileInfo File { get; }

    public static async Task<SpooledList> Of(Func<Stream, Task> write)
    {
        ClearAway();

        // Nobody else may read it.
        var list = new SpooledList(Directory.CreateTempSubdirectory(Prefix));
        try
        {
            await using var to = list.File.Create();
            await write(to);
        }
        catch
        {
            list.Dispose();
            throw;
        }

        return list;
    }

    public void Dispose() => folder.Delete(recursive: true);

    // Deletes files of killed servers; files of other users, or that another server deletes now, are skipped.
    private static void ClearAway()
    {
        foreach (
            var left in new DirectoryInfo(Path.GetTempPath())
                .EnumerateDirectories($"{Prefix}*")
                .Where(folder => folder.LastWriteTimeUtc < DateTime.UtcNow - Oldest)
        )
        {
            try
            {
                left.Delete(recursive: true);
            }
            catch (Exception fault) when (fault is UnauthorizedAccessException or IOException) { }
        }
    }
}
