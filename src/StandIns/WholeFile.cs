namespace AtticLedger.StandIns;

/// <summary>Writes a file beside and renames it, so that whoever is killed meanwhile leaves the one before, whole.</summary>
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
