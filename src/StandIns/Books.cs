using System.Text.Json;

namespace AtticLedger.StandIns;

/// <summary>A host's records, changed one at a time and written to a file before an answer is given.</summary>
/// <param name="records">As they stand in the file, or as they are at first.</param>
/// <param name="file">None where nothing is kept.</param>
public abstract class Books<TRecords>(TRecords records, string? file)
    where TRecords : class
{
    private readonly Dictionary<string, object> inOrder = [];

    public Faults Faults { get; set; } = Faults.None;

    protected Lock Gate { get; } = new();

    /// <summary>To be touched under the gate alone.</summary>
    protected TRecords Records { get; } = records;

    /// <summary>The records in a file, or the first ones, written there at once.</summary>
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

    /// <summary>All records of a kind in the order of their ids, which is made once until something changes.</summary>
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

    /// <summary>Somebody works at the host itself.</summary>
    public void Edit(Action<TRecords> edit)
    {
        lock (Gate)
        {
            edit(Records);
            Save();
        }
    }

    /// <summary>Ends every change.</summary>
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
