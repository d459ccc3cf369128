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
}
