using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Naming;

/// <summary>A name of a site that visitors meet, beside the stored one.</summary>
public enum MetName : byte
{
    Shown,
    Home,
    Address,
}

/// <summary>
/// A site is stored under one name, may show another, calls its home page by a third and has an address: nothing keeps
/// them together but people. A name drifts where it has come to say something else than the stored one.
/// </summary>
public static class NameDrift
{
    private static readonly char[] Between = ['-', '_', '.', '+', '%'];

    /// <summary>Whether a name says something else; unknown where one of the two is not known, no where there is none to compare.</summary>
    public static Truth Of(SiteFacts site, MetName met) =>
        met switch
        {
            MetName.Shown => Compared(site.Name, site.Content.ShownName, static (stored, shown) =>
                stored != shown && !LookAlikes.Words(stored).SequenceEqual(LookAlikes.Words(shown))
            ),
            MetName.Home => Compared(site.Name, site.Content.HomeTitle, static (stored, home) =>
                SharesNoWord(stored, LookAlikes.Words(home))
            ),
            _ => Compared(site.Name, site.Address, static (stored, address) =>
                !IsNamedAsWritten(stored, LastPart(address)) && SharesNoWord(stored, Named(address))
            ),
        };

    private static Truth Compared(Known<string> stored, Known<string> met, Func<string, string, bool> drifts) =>
        stored.IsNone || met.IsNone ? Truth.No
        : stored.Has(out var one) && met.Has(out var other) ? Truths.Of(drifts(one, other))
        : Truth.Unknown;

    // A home page and an address are no copies of the name: one word of them in it, or of it in them, is enough. Most have
    // it as it is written, so names are folded only for the others.
    private static bool SharesNoWord(string stored, List<string> met) =>
        met.Count > 0
        && !met.Exists(word => stored.Contains(word, StringComparison.OrdinalIgnoreCase))
        && LookAlikes.Words(stored) is { Count: > 0 } words
        && !words.Exists(word =>
            met.Exists(other => word.Contains(other, StringComparison.Ordinal) || other.Contains(word, StringComparison.Ordinal))
        );

    // Most addresses have a word of the name as it stands; that takes no copies to see.
    private static bool IsNamedAsWritten(string stored, ReadOnlySpan<char> last)
    {
        foreach (var part in last.SplitAny(Between))
        {
            if (Names(last[part]) && stored.AsSpan().Contains(last[part], StringComparison.OrdinalIgnoreCase))
            {
                return true;
            }
        }

        return false;
    }

    private static List<string> Named(string address) =>
        [.. LastPart(address).ToString().Split(Between).Where(word => Names(word))];

    private static ReadOnlySpan<char> LastPart(string address)
    {
        var whole = address.AsSpan().TrimEnd('/');
        return whole[(whole.LastIndexOf('/') + 1)..];
    }

    // Words with a digit in them were given out, and short ones shorten: they name nothing.
    private static bool Names(ReadOnlySpan<char> word) => word.Length > 3 && !word.ContainsAnyInRange('0', '9');
}
