namespace AtticLedger.Server.Sources;

/// <summary>The first faults of a list, and the number of all.</summary>
internal sealed class FirstLines
{
    private const int Most = 200;
    private readonly List<string> words = [];

    public int All { get; private set; }

    public IReadOnlyList<string> Words => words;

    public void Add(string more)
    {
        All++;
        if (words.Count < Most)
        {
            words.Add(more);
        }
    }
}
