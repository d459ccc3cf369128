namespace AtticLedger.Core.Sheet;

/// <summary>
/// One small number for each line, in blocks. Another version of the sheet shares every block in which no line changed,
/// so a change costs one block and not the column.
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

    /// <summary>The codes of the block that begins at a line.</summary>
    public ReadOnlySpan<int> BlockAt(int line) => blocks[line >> Shift].AsSpan(0, Math.Min(BlockLength, Count - line));

    /// <summary>The same with other codes at some lines; the lines after the last one are new, in order.</summary>
    public Codes With(ReadOnlySpan<(int Line, int Code)> changes)
    {
        var count = Count;
        foreach (var (line, _) in changes)
        {
            count = Math.Max(count, line + 1);
        }

        var changed = new int[(count + BlockLength - 1) >> Shift][];
        blocks.CopyTo(changed, 0);
        foreach (var (line, code) in changes)
        {
            var at = line >> Shift;
            if (at >= blocks.Length)
            {
                changed[at] ??= new int[BlockLength];
            }
            else if (ReferenceEquals(changed[at], blocks[at]))
            {
                changed[at] = (int[])blocks[at].Clone();
            }

            changed[at][line & (BlockLength - 1)] = code;
        }

        return new Codes(changed, count);
    }

    public Codes Select(Func<int, int> code) =>
        new(Array.ConvertAll(blocks, block => Array.ConvertAll(block, one => code(one))), Count);

    public void Write(ISheetWriter to)
    {
        to.Write(Count);
        for (var line = 0; line < Count; line += BlockLength)
        {
            to.Write(BlockAt(line));
        }
    }

    /// <param name="below">How many values there are: every code names one of them.</param>
    public static Codes Read(ISheetReader from, int below)
    {
        var count = from.ReadInt();
        var blocks = new int[(count + BlockLength - 1) >> Shift][];
        for (var at = 0; at < blocks.Length; at++)
        {
            blocks[at] = new int[BlockLength];
            var block = blocks[at].AsSpan(0, Math.Min(BlockLength, count - (at << Shift)));
            from.Read(block);
            foreach (var code in block)
            {
                if ((uint)code >= (uint)below)
                {
                    throw new InvalidOperationException($"There is no value {code} of {below}.");
                }
            }
        }

        return new Codes(blocks, count);
    }
}
