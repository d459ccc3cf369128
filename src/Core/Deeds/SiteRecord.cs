using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>
/// The facts of a site as the journal has them. Whatever changes one of them stands in an entry as it was and as it is: so
/// the register of a day that is over can be told from the register of today and the entries since.
/// </summary>
public static class SiteRecord
{
    public const string SaidDeed = "site.said";
    public const string ListUndone = "list.undone";
    private const string InEntry = "facts";

    /// <summary>An entry that tells of something else, with the facts of its site that change by it.</summary>
    public static Draft Telling(this Draft entry, SiteFacts site, SiteFacts changed)
    {
        var (before, after) = Difference(site, changed);
        return before.All.Count == 0 && after.All.Count == 0
            ? entry
            : entry with
            {
                Before = Along(entry.Before, before),
                After = Along(entry.After, after),
            };
    }

    /// <summary>The facts before an entry, from those after it; null where the site was not on the register yet.</summary>
    /// <param name="before">What the entry says was so; <paramref name="after"/> likewise.</param>
    public static IReadOnlyDictionary<string, JournalValue>? Before(
        IReadOnlyDictionary<string, JournalValue> facts,
        string deed,
        JournalValue before,
        JournalValue after
    )
    {
        // What was seen is the facts themselves, and is of a new site where nothing was before.
        var isSeen = deed == Intake.Deed || deed == Intake.VanishedDeed;
        if (deed == Intake.Deed && before is JournalValue.Absent)
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

    private static JournalValue.Fields Along(JournalValue value, JournalValue.Fields facts) =>
        new([.. value is JournalValue.Fields(var fields) ? fields : [], (InEntry, facts)]);

    private static JournalValue Inside(JournalValue value) =>
        value is JournalValue.Fields(var fields) && fields.FirstOrDefault(field => field.Name == InEntry) is { Value: { } facts }
            ? facts
            : JournalValue.Null;

    private static string Word(SaidFact fact) => fact.ToString().ToLowerInvariant();

    /// <summary>The deeds whose entries may tell of facts that changed.</summary>
    public static IReadOnlyList<string> Deeds { get; } =
    [
        Intake.Deed,
        Intake.VanishedDeed,
        SaidDeed,
        Moving.Deed,
        Moving.UndoDeed,
        "order.confirmed",
        "by-hand.done",
        "by-hand.returned",
        ListUndone,
    ];

    /// <summary>All facts of a site that only move when something happens.</summary>
    public static JournalValue.Fields Of(SiteFacts site)
    {
        var fields = new List<(string, JournalValue)>
        {
            ("name", Text(site.Name)),
            ("address", Text(site.Address)),
            ("unit", Text(site.Unit.Select(unit => unit.Value))),
            ("class", Text(site.Class)),
            ("kind", Text(site.Kind)),
            ("stage", Text(site.Stage.Select(stage => stage.ToString()))),
            ("created", Instant(site.Created)),
            ("edited", Instant(site.LastEdit)),
            ("vanished", new JournalValue.Flag(site.Vanished)),
            ("existence", JournalValue.Of(site.Existence.ToString().ToLowerInvariant())),
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
        // Few hosts speak of these, so they stand here only where one does. Records and signals move by themselves.
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
            // Who waits moves by itself.
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
                                ("grants", JournalValue.Of(section.Grants.Select(GrantWords.InJournal)))
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

        // One field for each source of a fact: what stands may stay while somebody says something else.
        fields.AddRange(
            site.Said.Select(statement => ($"{Word(statement.Fact)} by {statement.Source}", JournalValue.Of(statement.Value)))
        );
        if (site.Sharing.Has(out var sharing))
        {
            // One field a grant, so that a difference names just what changed.
            fields.AddRange(sharing.Grants.Select(grant => ($"grant {grant.Key}", GrantWords.InJournal(grant))));
        }

        return new JournalValue.Fields(fields);
    }

    /// <summary>Which facts of a site are others by now: as they were, and as they are.</summary>
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
