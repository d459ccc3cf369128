using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Journal;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Desk;

/// <summary>The events for the whole organisation that began open findings.</summary>
internal sealed class BegunFindings(
    ILookup<RuleId, (SiteId Site, long Event)> findings,
    IReadOnlyDictionary<long, JournalRow> entries
)
{
    private const int MostEvents = 3;

    // Loading everything began all findings of its day, and explains none.
    private static readonly IReadOnlyList<JournalAction> Actions =
    [
        .. JournalAction.All.Where(action =>
            action.Changes is Changed.Rules or Changed.Organisation
            && action != JournalAction.ClockMoved
            && action != JournalAction.OrganisationFounded
            && action != JournalAction.RegisterImported
        ),
    ];

    public static BegunFindings None { get; } =
        new(Array.Empty<(SiteId, long)>().ToLookup(_ => default(RuleId)), new Dictionary<long, JournalRow>());

    public static async Task<BegunFindings> Read(NpgsqlConnection connection)
    {
        var findings = await connection.FindingsBegunBy(Actions);
        var entries = await connection.JournalEntries([.. findings.Select(finding => finding.Event).Distinct()]);
        return new BegunFindings(
            findings.ToLookup(finding => finding.Rule, finding => (finding.Site, finding.Event)),
            entries.ToDictionary(entry => entry.Number)
        );
    }

    /// <summary>The events of a group by rule, the one with most sites first.</summary>
    public IReadOnlyList<BeganResponse> Of(FindingGroup group, PeopleDirectory directory)
    {
        if (group.Cause.Kind != CauseKind.Rule)
        {
            return [];
        }

        var sites = group.Sites.Select(line => line.Id).ToHashSet();
        return
        [
            .. findings[group.Cause.Rule.Id]
                .Where(finding => sites.Contains(finding.Site))
                .CountBy(finding => finding.Event)
                .OrderByDescending(pair => pair.Value)
                .ThenBy(pair => pair.Key)
                .Take(MostEvents)
                .Select(pair => (Entry: entries[pair.Key], Sites: pair.Value))
                .Select(one => new BeganResponse(
                    one.Entry.Number,
                    one.Entry.At,
                    one.Entry.Action,
                    one.Entry.Known?.Label ?? one.Entry.Action,
                    EntryLabels.Actor(one.Entry, directory),
                    one.Sites
                )),
        ];
    }
}
