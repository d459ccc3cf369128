using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Naming;

/// <summary>A name that visitors see for a site, in addition to the stored one.</summary>
public enum VisibleName : byte
{
    Shown,
    Home,
    Address,
}

/// <summary>A site is stored under one name, can show another, has a third on its home page, and has an address: only people
/// keep them consistent. A name drifts if its meaning differs from the stored one.
/// </summary>
public static class NameDrift
{
    private static readonly char[] Between = ['-', '_', '.', '+', '%'];

    /// <summary>True if the meaning of a name differs; unknown if one of the two is unknown, false if there is none to
    /// compare.</summary>
    public static Truth Of(SiteFacts site, VisibleName met) =>
        met switch
        {
            VisibleName.Shown => Compared(site.Name, site.ShownName, static (stored, shown) =>
                stored != shown && !LookAlikes.Words(stored).SequenceEqual(LookAlikes.Words(shown))
            ),
            VisibleName.Home => Compared(site.Name, site.HomeTitle, static (stored, home) =>
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

    // A home page and an address are no copies of the name: one common word is enough. Most have it literally, so names are
    // folded only for the rest.
    private static bool SharesNoWord(string stored, List<string> met) =>
        met.Count > 0
        && !met.Exists(word => stored.Contains(word, StringComparison.OrdinalIgnoreCase))
        && LookAlikes.Words(stored) is { Count: > 0 } words
        && !words.Exists(word =>
            met.Exists(other => word.Contains(other, StringComparison.Ordinal) || other.Contains(word, StringComparison.Ordinal))
        );

    // Most addresses contain a word of the name literally; this check needs no copies.
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

    // Words with digits are assigned, and short words are abbreviations: they name nothing.
    private static bool Names(ReadOnlySpan<char> word) => word.Length > 3 && !word.ContainsAnyInRange('0', '9');
}
