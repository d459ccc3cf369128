using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>
/// How a host is worked that has neither reader nor writer: a list kept by hand tells of its sites, and orders go to a
/// person. Steps are texts, a step a line, in which <c>{site}</c>, <c>{address}</c> and <c>{key}</c> stand for the site's own.
/// </summary>
/// <param name="Doer">Who carries orders out; null where whoever asks does.</param>
/// <param name="Account">Which account at the host can.</param>
/// <param name="Support">Whom to turn to when it does not work.</param>
/// <param name="Days">Through how many days after the day it was given an order is to be done.</param>
/// <param name="Reach">The steps to change who is let in.</param>
/// <param name="Key">The steps to change an owner.</param>
public sealed record HandKept(
    PersonId? Doer,
    string Account,
    string Support,
    int Days,
    string Reach,
    string Key,
    string PutAway,
    string BringBack
)
{
    public const int MostDays = 90;
    public const int LongestSteps = 4000;

    /// <summary>Steps for one site, those that say nothing left out.</summary>
    public static IReadOnlyList<string> For(SiteFacts site, string steps) =>
        [
            .. steps
                .Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                .Select(step =>
                    step.Replace("{site}", site.Title, StringComparison.Ordinal)
                        .Replace("{address}", site.Address.Or("(no address known)"), StringComparison.Ordinal)
                        .Replace("{key}", site.HostKey, StringComparison.Ordinal)
                ),
        ];
}
