using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The confirmation that a deletion requires, by what is at risk.</summary>
public enum ConfirmationLevel : byte
{
    /// <summary>A small site that was never published: undo is enough.</summary>
    UndoAlone,

    /// <summary>Others use it: its name has to be typed.</summary>
    TypeTheName,

    /// <summary>It reaches the whole organisation or beyond: a second person has to agree.</summary>
    SecondPerson,
}

/// <summary>Another site to which the removed group gives access, and how many people lose that access.</summary>
public sealed record OpenedSite(SiteId Site, string Name, int People);

/// <summary>Everything removed together with a site that is moved to the attic, item by item; unknown marked unknown.</summary>
/// <param name="IsOurs">True if the host deletes irrevocably, so the site is only shut there: it stays and continues to
/// cost.</param>
/// <param name="Shared">Pages of it that disappear from other sites too.</param>
/// <param name="LookAlikes">Other sites with an equivalent name: is it the right one?</param>
public sealed record Loss(
    Known<int> Pages,
    Known<long> Bytes,
    IReadOnlyList<string> Domains,
    string? Group,
    IReadOnlyList<OpenedSite> Opened,
    Known<int> Visits,
    IReadOnlyList<string> LookAlikes,
    DateOnly KeptThrough,
    string KeptBecause,
    DateOnly? HostKeepsThrough,
    bool IsOurs = false,
    SitePlan? Plan = null,
    string? MailAlias = null,
    Known<int> Records = default,
    IReadOnlyList<Shared>? Shared = null
)
{
    /// <summary>Every site to which the group gives access, including those outside the actor's scope.</summary>
    public IReadOnlyList<SiteId> AllOpened { get; init; } = [];

    /// <summary>The number of them outside the actor's scope.</summary>
    public int HiddenOpened => Math.Max(0, AllOpened.Count - Opened.Count);

    /// <summary>Visits, sizes and days change by themselves, so they are not part of the fingerprint. The sites of the group are
    /// a digest here: a reader of the entry may see less than the actor.
    /// </summary>
    public JournalValue InJournal =>
        JournalValue.Of(
            ("domains", JournalValue.Of(Domains.Select(domain => JournalValue.Of(domain)))),
            ("opened", JournalValue.Of(AllOpened.Count)),
            ("openedSites", JournalValue.Of(Head.HashOf(string.Join(' ', AllOpened.Select(site => site.Value).Order())))),
            ("kept", JournalValue.Of(KeptBecause)),
            ("shared", JournalValue.Of((Shared ?? []).Select(shared => JournalValue.Of(shared.What)))),
            ("plan", JournalValue.Of(Plan is null ? null : $"{Plan.Name}, {Plan.Cost}"))
        );
}
