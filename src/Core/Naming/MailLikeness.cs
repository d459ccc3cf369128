using System.Text;
using AnyAscii;
using AtticLedger.Core.People;

namespace AtticLedger.Core.Naming;

/// <summary>Mail addresses that are easily taken for one another: letters of another script, and letters and digits that look the
/// same.</summary>
public static class MailLikeness
{
    /// <summary>A known address, or a domain of the staff, for which an address is easily taken; null if there is none.</summary>
    public static string? Of(string mail, PeopleDirectory directory)
    {
        var key = mail.Trim().ToLowerInvariant();
        var book = directory.Once(static all => new LooksOfAll(all));
        return book.Addresses.TryGetValue(Look(key), out var address) && address != key ? address
            : Domain(key) is { } domain
            && !book.Domains.Contains(domain)
            && book.LooksOfDomains.TryGetValue(Look(domain), out var like)
                ? $"an address at {like}"
            : null;
    }

    // Letters of other scripts that look like Latin ones, as in the confusables of UTS #39; the rest is transliterated, which goes by
    // sound.
    private const string Others =
        "\u0430\u0435\u043E\u0440\u0441\u0443\u0445\u0456\u0458\u0455\u0501\u051B\u051D\u04BB\u0475\u0261\u03B1\u03BF\u03C1\u03BD\u03B9\u03C5\u0131";
    private const string Latin = "aeopcyxijsdqwhvgaopvlul";

    /// <summary>What is left of a text once everything that looks the same is the same.</summary>
    public static string Look(string text)
    {
        var same = text.Normalize(NormalizationForm.FormKC)
            .ToLowerInvariant()
            .Select(letter => Others.IndexOf(letter, StringComparison.Ordinal) is >= 0 and var at ? Latin[at] : letter);
        var bare = string.Concat(same).Transliterate().ToLowerInvariant();
        return bare.Replace("rn", "m", StringComparison.Ordinal)
            .Replace("vv", "w", StringComparison.Ordinal)
            .Replace('0', 'o')
            .Replace('1', 'l')
            .Replace('i', 'l')
            .Replace('5', 's');
    }

    private static string? Domain(string mail) => mail.LastIndexOf('@') is >= 0 and var at ? mail[(at + 1)..] : null;

    private sealed class LooksOfAll
    {
        public LooksOfAll(PeopleDirectory directory)
        {
            foreach (var person in directory.People)
            {
                var mail = person.Mail.ToLowerInvariant();
                Addresses.TryAdd(Look(mail), mail);
                if (Domain(mail) is not { } domain)
                {
                    continue;
                }

                Domains.Add(domain);
                if (!person.IsOutside)
                {
                    LooksOfDomains.TryAdd(Look(domain), domain);
                }
            }
        }

        public Dictionary<string, string> Addresses { get; } = [];

        public HashSet<string> Domains { get; } = [];

        public Dictionary<string, string> LooksOfDomains { get; } = [];
    }
}
