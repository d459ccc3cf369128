using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>The manual procedure of a host without a connector: an imported list reports its sites, and changes are assigned to
/// a person. Steps are texts, one per line, in which <c>{site}</c>, <c>{address}</c> and <c>{key}</c> are replaced by the site's
/// own.
/// </summary>
/// <param name="Assignee">The assignee; null: the person who requests the change.</param>
/// <param name="Account">The account at the host that can do it.</param>
/// <param name="Support">Whom to contact if it does not work.</param>
/// <param name="Days">The number of days after the day of assignment to do it.</param>
/// <param name="Reach">The steps to change who has access.</param>
/// <param name="Owners">The steps to change an owner.</param>
/// <param name="Look">The steps to change name, description, logo or address; empty if none are written down.</param>
public sealed record ManualProcedure(
    PersonId? Assignee,
    string Account,
    string Support,
    int Days,
    string Reach,
    string Owners,
    string MoveToAttic,
    string Restore,
    string Look = ""
)
{
    public const int MostDays = 90;
    public const int LongestSteps = 4000;

    /// <summary>The steps for one site, without empty ones.</summary>
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
