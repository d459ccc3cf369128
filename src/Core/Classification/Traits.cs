using AnyAscii;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Classification;

/// <summary>The traits of a site that can be evidence for a fact that is not set.</summary>
/// <param name="Words">The words of its title and of the last part of its address, in lower case, without numbers and words of
/// two letters; and each pair of adjacent words.</param>
/// <param name="OwnerUnits">The unit of each owner on the staff who has one.</param>
/// <param name="IsUnsure">True if a rule cannot tell.</param>
/// <param name="OwnersUnknown">True if not all owners are known: then no other fact decides a rule.</param>
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
    Known<string> Classification,
    Known<string> Purpose,
    bool IsUnsure,
    bool OwnersUnknown
)
{
    private const int ShortestWord = 3;

    /// <param name="key">The host's key of the site, if it has children.</param>
    public static Traits Of(RegisterRow line, string? key)
    {
        var columns = line.Columns;
        Known<string> Text(string name) => columns.Of<string>(name)[line.Place];
        var owners = line.Owners;
        return new Traits(
            line.Id,
            line.Title,
            line.Host,
            WordsOf(line.Title, line.Address.Or("")),
            Text("kind"),
            Text("parent"),
            key,
            [
                .. owners
                    .Holders.Where(holder => !holder.Person.IsOutside && holder.Person.Unit.Has(out _))
                    .Select(holder => holder.Person.Unit.Or(default).Value),
            ],
            Text("unit"),
            Text("classification"),
            Text("purpose"),
            line.Unsure.Count > 0,
            !owners.Complete
        );
    }

    public Known<string> Fact(ClaimedFact fact) =>
        fact switch
        {
            ClaimedFact.Unit => Unit,
            ClaimedFact.Classification => Classification,
            ClaimedFact.Purpose => Purpose,
            _ => throw new ArgumentOutOfRangeException(nameof(fact), "Of tags a site may have several: none is proposed."),
        };

    public bool Lacks(ClaimedFact fact) => Fact(fact).IsUnknown;

    /// <summary>The words of a name and of the end of an address, and each pair of adjacent words, each once.</summary>
    public static IReadOnlyList<string> WordsOf(string title, string address)
    {
        // The last part of a path, or the first label of a name without a path: the rest belongs to the host.
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
