namespace AtticLedger.StandIns;

/// <summary>Writes a new file and renames it, so that a process that is killed meanwhile leaves the complete former
/// file.</summary>
internal static class WholeFile
{
    public static void Write(string file, string text)
    {
        File.WriteAllText($"{file}.new", text);
        File.Move($"{file}.new", file, overwrite: true);
    }

    public static async Task Write(string file, byte[] content, CancellationToken stop)
    {
        await File.WriteAllBytesAsync($"{file}.new", content, stop);
        File.Move($"{file}.new", file, overwrite: true);
    }
}
