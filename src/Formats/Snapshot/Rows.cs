using System.Runtime.InteropServices;
using System.Security.Cryptography;
using System.Text;
using AtticLedger.Core.Terms;

namespace AtticLedger.Formats.Snapshot;

/// <summary>Rows as bytes, little-endian: the number of values, their width, and the values in the smallest width that fits
/// all.</summary>
internal sealed class RowWriter(Stream to, IncrementalHash hash) : ISnapshotWriter
{
    public void Numbers(ReadOnlySpan<int> row)
    {
        var width = 1;
        foreach (var number in row)
        {
            width = Math.Max(
                width,
                number is >= 0 and <= byte.MaxValue ? 1
                    : number is >= 0 and <= ushort.MaxValue ? 2
                    : 4
            );
        }

        Head(row.Length, width);
        switch (width)
        {
            case 1:
                Put(Array.ConvertAll(row.ToArray(), number => (byte)number));
                break;
            case 2:
                Put(MemoryMarshal.AsBytes(Array.ConvertAll(row.ToArray(), number => (ushort)number).AsSpan()));
                break;
            default:
                Put(MemoryMarshal.AsBytes(row));
                break;
        }
    }

    public void Longs(ReadOnlySpan<long> row)
    {
        Head(row.Length, sizeof(long));
        Put(MemoryMarshal.AsBytes(row));
    }

    public void Texts(ReadOnlySpan<string> row)
    {
        var bytes = new MemoryStream();
        var lengths = new int[row.Length];
        for (var at = 0; at < row.Length; at++)
        {
            var text = Encoding.UTF8.GetBytes(row[at]);
            lengths[at] = text.Length;
            bytes.Write(text);
        }

        Numbers(lengths);
        Head((int)bytes.Length, 1);
        Put(bytes.GetBuffer().AsSpan(0, (int)bytes.Length));
    }

    private void Head(int count, int width) => Put(MemoryMarshal.AsBytes([count, width]));

    private void Put(ReadOnlySpan<byte> bytes)
    {
        hash.AppendData(bytes);
        to.Write(bytes);
    }
}

internal sealed class RowReader(ReadOnlyMemory<byte> from) : ISnapshotReader
{
    private int at;

    public int[] Numbers()
    {
        var (bytes, count, width) = Row();
        var row = new int[count];
        switch (width)
        {
            case 1:
                for (var i = 0; i < count; i++)
                {
                    row[i] = bytes[i];
                }

                break;
            case 2:
                var pairs = MemoryMarshal.Cast<byte, ushort>(bytes);
                for (var i = 0; i < count; i++)
                {
                    row[i] = pairs[i];
                }

                break;
            default:
                MemoryMarshal.Cast<byte, int>(bytes).CopyTo(row);
                break;
        }

        return row;
    }

    public long[] Longs() => MemoryMarshal.Cast<byte, long>(Row().Bytes).ToArray();

    public string[] Texts()
    {
        var lengths = Numbers();
        var (bytes, _, _) = Row();
        var row = new string[lengths.Length];
        var start = 0;
        for (var i = 0; i < row.Length; i++)
        {
            row[i] = Encoding.UTF8.GetString(Slice(bytes, start, lengths[i]));
            start += lengths[i];
        }

        return row;
    }

    private RowBytes Row()
    {
        var head = MemoryMarshal.Cast<byte, int>(Slice(from.Span, at, 2 * sizeof(int)));
        var (count, width) = (head[0], head[1]);
        var bytes = Slice(from.Span, at + (2 * sizeof(int)), checked(count * width));
        at += (2 * sizeof(int)) + bytes.Length;
        return new RowBytes(bytes, count, width);
    }

    private static ReadOnlySpan<byte> Slice(ReadOnlySpan<byte> bytes, int start, int length) =>
        start >= 0 && length >= 0 && length <= bytes.Length - start
            ? bytes.Slice(start, length)
            : throw new SnapshotError("The snapshot ends in the middle of a row.");

    private readonly ref struct RowBytes(ReadOnlySpan<byte> bytes, int count, int width)
    {
        public ReadOnlySpan<byte> Bytes { get; } = bytes;

        public void Deconstruct(out ReadOnlySpan<byte> bytes, out int count, out int width)
        {
            bytes = Bytes;
            (count, width) = (Count, Width);
        }

        private int Count { get; } = count;

        private int Width { get; } = width;
    }
}
