using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>One small number (a code) per row, in blocks. A new version of the index shares every unchanged block, so a change
/// costs one block and not the whole column.
/// </summary>
internal sealed class Codes
{
    private const int Shift = 10;
    public const int BlockLength = 1 << Shift;

    private readonly int[][] blocks;

    private Codes(int[][] blocks, int count)
    {
        this.blocks = blocks;
        Count = count;
    }

    public static Codes None { get; } = new([], 0);

    public int Count { get; }

    public int this[int line] => blocks[line >> Shift][line & (BlockLength - 1)];

    /// <summary>The codes of the block that begins at a row.</summary>
    public ReadOnlySpan<int> BlockAt(int line) => blocks[line >> Shift].AsSpan(0, Math.Min(BlockLength, Count - line));

    /// <summary>The same with other codes at some rows, in ascending sequence; rows after the last one are new.</summary>
    public Change Changing() => new(this);

    public Codes Select(Func<int, int> code) =>
        new(Array.ConvertAll(blocks, block => Array.ConvertAll(block, one => code(one))), Count);

    /// <summary>All codes, renumbered by the values in use; and those values.</summary>
    public (int[] Row, List<int> Used) Compacted(int distinct)
    {
        var row = new int[Count];
        var renamed = new int[distinct];
        Array.Fill(renamed, -1);
        var used = new List<int>();
        for (var line = 0; line < row.Length; line++)
        {
            ref var code = ref renamed[this[line]];
            if (code < 0)
            {
                code = used.Count;
                used.Add(this[line]);
            }

            row[line] = code;
        }

        return (row, used);
    }

    /// <exception cref="SnapshotError">A code has no value.</exception>
    public static Codes Of(int[] row, int distinct)
    {
        foreach (var code in row)
        {
            if ((uint)code >= (uint)distinct)
            {
                throw new SnapshotError($"There is no value {code} among {distinct}.");
            }
        }

        var blocks = new int[(row.Length + BlockLength - 1) >> Shift][];
        for (var at = 0; at < blocks.Length; at++)
        {
            blocks[at] = new int[BlockLength];
            row.AsSpan(at << Shift, Math.Min(BlockLength, row.Length - (at << Shift))).CopyTo(blocks[at]);
        }

        return new Codes(blocks, row.Length);
    }

    /// <summary>A new version under construction: a block is copied at the first change of one of its rows.</summary>
    public sealed class Change(Codes before)
    {
        private int[][] blocks = [.. before.blocks];
        private int count = before.Count;

        public int this[int line]
        {
            set
            {
                var at = line >> Shift;
                if (at >= blocks.Length)
                {
                    Array.Resize(ref blocks, at + 1);
                }

                if (at >= before.blocks.Length)
                {
                    blocks[at] ??= new int[BlockLength];
                }
                else if (ReferenceEquals(blocks[at], before.blocks[at]))
                {
                    blocks[at] = (int[])blocks[at].Clone();
                }

                blocks[at][line & (BlockLength - 1)] = value;
                count = Math.Max(count, line + 1);
            }
        }

        public Codes End() => new(blocks, count);
    }
}
