using AtticLedger.Core.People;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;

namespace AtticLedger.Server.Sources;

/// <summary>Counts the words of a list that are not understood, or only by choice.</summary>
internal sealed class DoubtfulWords
{
    private const int MostShown = 40;

    // A list that names each of its lines differently has no words to choose a meaning for.
    private const int MostCounted = 10_000;
    private readonly Dictionary<ListWord, (int Lines, bool IsUnderstood)> counts = [];

    /// <summary>What they name.</summary>
    public IEnumerable<string> Named => counts.Keys.Select(word => word.Of).Distinct();

    public void Add(IReadOnlyList<DoubtfulWord> ofLine)
    {
        foreach (var (word, isUnderstood) in ofLine.Distinct())
        {
            if (counts.Count < MostCounted || counts.ContainsKey(word))
            {
                counts[word] = (counts.GetValueOrDefault(word).Lines + 1, isUnderstood);
            }
        }
    }

    /// <summary>The commonest first, those not understood before the others.</summary>
    public IReadOnlyList<ListWordResponse> ToResponse(ChosenWords chosen, PeopleDirectory directory)
    {
        var taken = new HashSet<UnitCode>();
        return
        [
            .. counts
                .OrderBy(pair => pair.Value.IsUnderstood)
                .ThenByDescending(pair => pair.Value.Lines)
                .ThenBy(pair => pair.Key.Text, StringComparer.OrdinalIgnoreCase)
                .Take(MostShown)
                .Select(pair => new ListWordResponse(
                    pair.Key.Of,
                    pair.Key.Text,
                    pair.Value.Lines,
                    chosen.Meanings.GetValueOrDefault(pair.Key),
                    pair.Value.IsUnderstood,
                    pair.Key.Of == ListWord.Units ? Proposed(pair.Key.Text) : null
                )),
        ];
        string Proposed(string name)
        {
            var code = UnitCodes.Propose(name, code => directory.Find(code) is not null || taken.Contains(code));
            taken.Add(code);
            return code.Value;
        }
    }
}
