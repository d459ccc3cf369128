using AnyAscii;
using AtticLedger.Core.Keys;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.FirstWeek;

/// <summary>What of a line can be evidence for what nobody has said of it.</summary>
/// <param name="Words">Of its title and of the last part of its address: lower case, without numbers and words of two letters; and each two that stand together.</param>
/// <param name="OwnerUnits">The unit of each owner of the staff who has one.</param>
/// <param name="IsUnsure">Whether a rule cannot be told of it.</param>
/// <param name="OwnersUnknown">Whether it is not known who all its owners are: what else is said of it then decides no rule.</param>
public sealed record Traits(
    SiteId Id,
    string Title,
    string Host,
    IReadOnlyList<string> Words,
    Known<string> Kind,
    Known<string> Parent,
    string? Key,
    IReadOnlyList<string> OwnerUnits,
    Known<string> Unit,
    Known<string> Class,
    Known<string> Purpose,
    bool IsUnsure,
    bool OwnersUnknown
)
{
    private const int ShortestWord = 3;

    /// <param name="key">The host's key of the site, where others stand below it.</param>
    public static Traits Of(SheetLine line, string? key)
    {
        var columns = line.Columns;
        Known<string> Text(string name) => columns.Of<string>(name)[line.Place];
        var keys = line.Keys;
        return new Traits(
            line.Id,
            line.Title,
            line.Host,
            WordsOf(line.Title, line.Address.Or("")),
            Text("kind"),
            Text("parent"),
            key,
            [
                .. keys
                    .Holders.Where(holder => !holder.Person.IsOutside && holder.Person.Unit.Has(out _))
                    .Select(holder => holder.Person.Unit.Or(default).Value),
            ],
            Text("unit"),
            Text("class"),
            Text("purpose"),
            line.Unsure.Count > 0,
            !keys.Complete
        );
    }

    public Known<string> Fact(SaidFact fact) =>
        fact switch
        {
            SaidFact.Unit => Unit,
            SaidFact.Class => Class,
            SaidFact.Purpose => Purpose,
            _ => throw new ArgumentOutOfRangeException(nameof(fact), "Of tags a site may have several: none is proposed."),
        };

    public bool Lacks(SaidFact fact) => Fact(fact).IsUnknown;

    /// <summary>The words of a name and of the end of an address, and each two that stand together, each once.</summary>
    public static IReadOnlyList<string> WordsOf(string title, string address)
    {
        // The end of a path, or the first label of a name without one: the rest is the host's.
        var path = address.TrimEnd('/');
        var end = path.Contains('/', StringComparison.Ordinal) ? path[(path.LastIndexOf('/') + 1)..] : path.Split('.')[0];
        var words = new List<string>();
        Read(title, words);
        Read(end, words);
        return words;
    }

    private static void Read(string said, List<string> words)
    {
        var text = said.Transliterate().ToLowerInvariant();
        string? last = null;
        var start = -1;
        for (var i = 0; i <= text.Length; i++)
        {
            if (i < text.Length && char.IsAsciiLetter(text[i]))
            {
                start = start < 0 ? i : start;
            }
            else if (start >= 0)
            {
                if (i - start >= ShortestWord)
                {
                    var word = text[start..i];
                    words.AddRange((last is null ? [word] : new[] { word, $"{last} {word}" }).Except(words).ToList());
                    last = word;
                }

                start = -1;
            }
        }
    }
}
