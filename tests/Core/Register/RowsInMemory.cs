using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Index;

/// <summary>A snapshot in memory: rows in the order in which they were written.</summary>
internal sealed class RowsInMemory : ISnapshotWriter, ISnapshotReader
{
    private readonly Queue<object> rows = new();

    public void Numbers(ReadOnlySpan<int> row) => rows.Enqueue(row.ToArray());

    public void Longs(ReadOnlySpan<long> row) => rows.Enqueue(row.ToArray());

    public void Texts(ReadOnlySpan<string> row) => rows.Enqueue(row.ToArray());

    public int[] Numbers() => (int[])rows.Dequeue();

    public long[] Longs() => (long[])rows.Dequeue();

    public string[] Texts() => (string[])rows.Dequeue();
}
