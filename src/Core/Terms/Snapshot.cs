namespace AtticLedger.Core.Terms;

/// <summary>Where a snapshot is put: rows of numbers and texts, one row after another.</summary>
public interface ISnapshotWriter
{
    void Numbers(ReadOnlySpan<int> row);

    void Longs(ReadOnlySpan<long> row);

    void Texts(ReadOnlySpan<string> row);
}

/// <summary>The same rows in the same order.</summary>
/// <remarks>Every method throws <see cref="SnapshotError"/> if the row no longer exists.</remarks>
public interface ISnapshotReader
{
    int[] Numbers();

    long[] Longs();

    string[] Texts();
}

/// <summary>A snapshot is not whole, or not of this register: what it holds is rebuilt.</summary>
public sealed class SnapshotError(string message) : Exception(message);

/// <summary>How many values of one type become rows, and how they come back.</summary>
public abstract class SnapshotCodec<T>
{
    public abstract void Write(ISnapshotWriter to, IReadOnlyList<T> values);

    public abstract T[] Read(ISnapshotReader from);

    public static SnapshotCodec<T> Of(Action<ISnapshotWriter, IReadOnlyList<T>> write, Func<ISnapshotReader, T[]> read) =>
        new Pair(write, read);

    private sealed class Pair(Action<ISnapshotWriter, IReadOnlyList<T>> write, Func<ISnapshotReader, T[]> read) : SnapshotCodec<T>
    {
        public override void Write(ISnapshotWriter to, IReadOnlyList<T> values) => write(to, values);

        public override T[] Read(ISnapshotReader from) => read(from);
    }
}

/// <summary>Codecs of the plain types.</summary>
public static class SnapshotCodecs
{
    public static SnapshotCodec<string> Text { get; } =
        SnapshotCodec<string>.Of((to, values) => to.Texts([.. values]), from => from.Texts());

    public static SnapshotCodec<bool> Flag { get; } =
        SnapshotCodec<bool>.Of(
            (to, values) => to.Numbers([.. values.Select(value => value ? 1 : 0)]),
            from => Array.ConvertAll(from.Numbers(), number => number != 0)
        );

    public static SnapshotCodec<DateTimeOffset> Moment { get; } =
        SnapshotCodec<DateTimeOffset>.Of(
            (to, values) =>
            {
                to.Longs([.. values.Select(value => value.Ticks)]);
                to.Numbers([.. values.Select(value => (int)value.Offset.TotalMinutes)]);
            },
            from =>
                [
                    .. from.Longs()
                        .Zip(from.Numbers(), (ticks, minutes) => new DateTimeOffset(ticks, TimeSpan.FromMinutes(minutes))),
                ]
        );

    /// <summary>Facts: for each its state, then the values of those that have one.</summary>
    public static SnapshotCodec<Known<T>> Facts<T>(SnapshotCodec<T> values)
        where T : notnull =>
        SnapshotCodec<Known<T>>.Of(
            (to, facts) =>
            {
                to.Numbers([
                    .. facts.Select(fact =>
                        fact.IsUnknown ? 0
                        : fact.IsNone ? 1
                        : 2
                    ),
                ]);
                values.Write(to, [.. facts.Where(fact => fact.Has(out _)).Select(fact => fact.Or(default!))]);
            },
            from =>
            {
                var states = from.Numbers();
                var known = values.Read(from);
                var at = 0;
                return Array.ConvertAll(states, state => state switch
                    {
                        0 => Known<T>.Unknown,
                        1 => Known<T>.None,
                        _ => Known.Of(known[at++]),
                    });
            }
        );
}
