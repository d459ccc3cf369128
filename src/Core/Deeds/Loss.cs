using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>How sure a deletion wants to be, by what is at risk.</summary>
public enum Sureness : byte
{
    /// <summary>A small site that was never live: the way back is enough.</summary>
    UndoAlone,

    /// <summary>Others use it: its name is typed.</summary>
    TypeTheName,

    /// <summary>It reaches the whole organisation or beyond: a second person agrees.</summary>
    SecondPerson,
}

/// <summary>Another site that the group which goes with this one opens, and how many people lose it.</summary>
public sealed record OpenedSite(SiteId Site, string Name, int People);

/// <summary>All that goes with a site that is put away, item by item; unknown marked unknown.</summary>
/// <param name="IsOurs">The host deletes for good, so the site is only shut there: it stays, and goes on costing.</param>
/// <param name="Shared">Pieces of it that go from other sites too.</param>
/// <param name="LookAlikes">Other sites whose names say the same: is it the right one?</param>
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
    /// <summary>Every site that the group opens, those too that whoever acts may not see.</summary>
    public IReadOnlyList<SiteId> AllOpened { get; init; } = [];

    /// <summary>How many of them they may not see.</summary>
    public int HiddenOpened => Math.Max(0, AllOpened.Count - Opened.Count);

    /// <summary>
    /// Visits, sizes and days move by themselves, so they are not part of what must stay the same. Which sites the group opens
    /// stands here as a digest: whoever reads the entry may see less than whoever acted.
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
