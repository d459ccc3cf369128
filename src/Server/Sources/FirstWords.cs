namespace AtticLedger.Server.Sources;

/// <summary>The first of what is wrong with a list, and how much there is in all.</summary>
internal sealed class FirstWords
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
