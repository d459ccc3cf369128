using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The facts of a site as the journal has them. Every change of a fact has an entry with the value before and after, so
/// the register of a past day follows from today's register and the entries since.
/// </summary>
public static class SiteRecord
{
    private const string InEntry = "facts";

    /// <summary>An entry about something else, with the facts of its site that change with it.</summary>
    public static Draft Telling(this Draft entry, SiteFacts site, SiteFacts changed)
    {
        var (before, after) = Difference(site, changed);
        return before.All.Count == 0 && after.All.Count == 0
            ? entry
            : entry with
            {
                Before = SideEffects(entry.Before, before),
                After = SideEffects(entry.After, after),
            };
    }

    /// <summary>The facts before an entry, from the facts after it; null if the site was not in the register yet.</summary>
    /// <param name="before">The entry's values before; <paramref name="after"/>: its values after.</param>
    public static IReadOnlyDictionary<string, JournalValue>? Before(
        IReadOnlyDictionary<string, JournalValue> facts,
        JournalAction? action,
        JournalValue before,
        JournalValue after
    )
    {
        // A sync entry has the facts themselves; it is about a new site if there was nothing before.
        var isSeen = action == JournalAction.SiteSynced || action == JournalAction.SiteNoLongerReported;
        if (action == JournalAction.SiteSynced && before is JournalValue.Absent)
        {
            return null;
        }

        var (was, now) = isSeen ? (before, after) : (Inside(before), Inside(after));
        if (was is not JournalValue.Fields(var old) || now is not JournalValue.Fields(var changed))
        {
            return facts;
        }

        var earlier = facts.Where(fact => changed.All(field => field.Name != fact.Key)).ToDictionary();
        foreach (var (name, value) in old)
        {
            earlier[name] = value;
        }

        return earlier;
    }

    private static JournalValue.Fields SideEffects(JournalValue value, JournalValue.Fields facts) =>
        new([.. value is JournalValue.Fields(var fields) ? fields : [], (InEntry, facts)]);

    private static JournalValue Inside(JournalValue value) =>
        value is JournalValue.Fields(var fields) && fields.FirstOrDefault(field => field.Name == InEntry) is { Value: { } facts }
            ? facts
            : JournalValue.Null;

    private static string Word(ClaimedFact fact) => fact.ToString().ToLowerInvariant();

    /// <summary>The actions whose entries can contain changed facts.</summary>
    public static IReadOnlyList<JournalAction> Actions { get; } =
    [
        JournalAction.SiteSynced,
        JournalAction.SiteNoLongerReported,
        JournalAction.SiteFactsSet,
        JournalAction.SiteMoved,
        JournalAction.SiteNotMoved,
        JournalAction.ChangeConfirmed,
        JournalAction.TaskDone,
        JournalAction.TaskReturned,
        JournalAction.ListUndone,
    ];

    /// <summary>All facts of a site that change only by events.</summary>
    public static JournalValue.Fields Of(SiteFacts site)
    {
        var fields = new List<(string, JournalValue)>
        {
            ("name", Text(site.Name)),
            ("address", Text(site.Address)),
            ("unit", Text(site.Unit.Select(unit => unit.Value))),
            ("classification", Text(site.Classification)),
            ("kind", Text(site.Kind)),
            ("status", Text(site.Status.Select(status => status.ToString()))),
            ("created", Instant(site.Created)),
            ("edited", Instant(site.LastEdit)),
            ("noLongerReported", new JournalValue.Flag(site.NoLongerReported)),
            ("existence", JournalValue.Of(site.Existence.Word())),
            ("binUntil", site.Bin is { } bin ? Instant(bin.RecoverableUntil) : JournalValue.Null),
            (
                "domains",
                site.Content.Domains.IsUnknown
                    ? JournalValue.Unknown
                    : JournalValue.Of(site.Content.Domains.Or([]).Select(domain => JournalValue.Of(domain)))
            ),
            ("parent", Text(site.Content.Parent)),
            ("ownGroup", Text(site.Content.Group.Select(group => $"group:{group.Value}"))),
            ("ownLimit", site.Sharing.Has(out var own) ? JournalValue.Of(own.OwnLimit?.ToString()) : JournalValue.Unknown),
        };
        // Few hosts report these, so they are included only if reported. Records and signals change by themselves.
        if (!site.Content.Plan.IsUnknown)
        {
            fields.Add(("plan", Text(site.Content.Plan.Select(plan => $"{plan.Name}, {plan.Cost}, {plan.Next}"))));
        }

        if (!site.Content.MailAlias.IsUnknown)
        {
            fields.Add(("mailAlias", Text(site.Content.MailAlias)));
        }

        if (!site.Content.Joining.IsUnknown)
        {
            // The number of waiting requests changes by itself.
            fields.Add(
                (
                    "joining",
                    Text(
                        site.Content.Joining.Select(joining =>
                            joining.Members.Has(out var members)
                                ? $"{joining.Way.ToString().ToLowerInvariant()}, {members.Word()}"
                                : joining.Way.ToString().ToLowerInvariant()
                        )
                    )
                )
            );
        }

        if (!site.Content.Sections.IsUnknown)
        {
            fields.AddRange(
                site.Content.Sections.Or([])
                    .Select(section =>
                        (
                            $"section {section.Key}",
                            JournalValue.Of(
                                ("name", JournalValue.Of(section.Name)),
                                ("tie", JournalValue.Of(section.Tie.ToString())),
                                ("grants", JournalValue.Of(section.Grants.Select(GrantText.InJournal)))
                            )
                        )
                    )
            );
        }

        if (!site.Purpose.IsUnknown)
        {
            fields.Add(("purpose", Text(site.Purpose)));
        }

        foreach (
            var (name, fact) in new[]
            {
                ("tags", site.Tags),
                ("shownName", site.Content.ShownName),
                ("homeTitle", site.Content.HomeTitle),
                ("description", site.Content.Description),
                ("language", site.Content.Language),
            }.Where(pair => !pair.Item2.IsUnknown)
        )
        {
            fields.Add((name, Text(fact)));
        }

        // One field for each source of a fact: the value in use can stay while another source claims a different one.
        fields.AddRange(site.Claims.Select(claim => ($"{Word(claim.Fact)} by {claim.Source}", JournalValue.Of(claim.Value))));
        if (site.Sharing.Has(out var sharing))
        {
            // One field per grant, so that a difference names exactly what changed.
            fields.AddRange(sharing.Grants.Select(grant => ($"grant {grant.Key}", GrantText.InJournal(grant))));
        }

        return new JournalValue.Fields(fields);
    }

    /// <summary>The facts of a site that have changed: before and after.</summary>
    public static (JournalValue.Fields Before, JournalValue.Fields After) Difference(SiteFacts site, SiteFacts changed)
    {
        var (before, after) = (Of(site), Of(changed));
        var was = before.All.ToDictionary(field => field.Name, field => field.Value.Canonical());
        var now = after.All.ToDictionary(field => field.Name, field => field.Value.Canonical());
        return (
            new([.. before.All.Where(field => now.GetValueOrDefault(field.Name) != was[field.Name])]),
            new([.. after.All.Where(field => was.GetValueOrDefault(field.Name) != now[field.Name])])
        );
    }

    private static JournalValue Text(Known<string> fact) =>
        fact.Has(out var value) ? JournalValue.Of(value)
        : fact.IsNone ? JournalValue.Null
        : JournalValue.Unknown;

    private static JournalValue Instant(Known<DateTimeOffset> fact) =>
        fact.Has(out var value) ? JournalValue.Of(value)
        : fact.IsNone ? JournalValue.Null
        : JournalValue.Unknown;
}
