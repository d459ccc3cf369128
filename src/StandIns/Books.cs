using System.Text.Json;

namespace AtticLedger.StandIns;

/// <summary>A host's records, changed one at a time and written to a file before the answer.</summary>
/// <param name="records">The records in the file, or the first ones.</param>
/// <param name="file">Null if nothing is stored.</param>
public abstract class Books<TRecords>(TRecords records, string? file)
    where TRecords : class
{
    private readonly Dictionary<string, object> inOrder = [];

    public Faults Faults { get; set; } = Faults.None;

    protected Lock Gate { get; } = new();

    /// <summary>Use only while holding the lock.</summary>
    protected TRecords Records { get; } = records;

    /// <summary>The records in a file, or the first ones, which are written to it at once.</summary>
    public static TRecords Kept(string file, Func<TRecords> first)
    {
        var records = File.Exists(file) ? JsonSerializer.Deserialize<TRecords>(File.ReadAllText(file))! : first();
        Save(records, file);
        return records;
    }

    public T Read<T>(Func<TRecords, T> read)
    {
        lock (Gate)
        {
            return read(Records);
        }
    }

    /// <summary>All records of a kind sorted by id, kept until something changes.</summary>
    public IReadOnlyList<T> InOrder<T>(string kind, Func<TRecords, IEnumerable<T>> all, Func<T, string> id)
    {
        lock (Gate)
        {
            if (!inOrder.TryGetValue(kind, out var known))
            {
                inOrder[kind] = known = all(Records).OrderBy(id, StringComparer.Ordinal).ToArray();
            }

            return (IReadOnlyList<T>)known;
        }
    }

    /// <summary>A change by somebody at the host itself.</summary>
    public void Edit(Action<TRecords> edit)
    {
        lock (Gate)
        {
            edit(Records);
            Save();
        }
    }

    /// <summary>Completes every change.</summary>
    protected void Save()
    {
        inOrder.Clear();
        Save(Records, file);
    }

    private static void Save(TRecords records, string? file)
    {
        if (file is null)
        {
            return;
        }

        WholeFile.Write(file, JsonSerializer.Serialize(records));
    }
}
