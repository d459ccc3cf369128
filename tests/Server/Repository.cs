namespace AtticLedger.Server.Tests;

internal static class Repository
{
    public static string Root { get; } = Find(AppContext.BaseDirectory);

    private static string Find(string folder) =>
        File.Exists(Path.Combine(folder, "AtticLedger.slnx"))
            ? folder
            : Find(Path.GetDirectoryName(folder) ?? throw new InvalidOperationException("The tests run outside the project."));
}
