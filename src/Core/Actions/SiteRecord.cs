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

    /// <summary>All facts of a site that change by events.</summary>
    public static JournalValue.Fields Of(SiteFacts site)
    {
        var fields = new List<(string, JournalValue)>
        {
            ("noLongerReported", new JournalValue.Flag(site.NoLongerReported)),
            ("existence", JournalValue.Of(site.Existence.Word())),
            ("binUntil", site.Bin is { } bin ? Of(bin.RecoverableUntil.Select(until => (object)until)) : JournalValue.Null),
            ("ownLimit", site.Sharing.Has(out var own) ? JournalValue.Of(own.OwnLimit?.ToString()) : JournalValue.Unknown),
        };
        foreach (var fact in DeclaredFacts.All.Where(fact => fact.Pace != FactPace.ByItself))
        {
            if (fact == DeclaredFacts.Sections)
            {
                // One field per section, so that a difference names exactly what changed.
                fields.AddRange(site.Sections.Or([]).Select(section => ($"section {section.Key}", Value(section))));
            }
            else if (fact.Spread == FactSpread.Common || !site.Facts.IsUnknown(fact))
            {
                fields.Add((fact.Name, Of(site.Facts.Of(fact))));
            }
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

    private static JournalValue Of(Known<object> fact) =>
        fact.Has(out var value) ? Value(value)
        : fact.IsNone ? JournalValue.Null
        : JournalValue.Unknown;

    // Parts that change by themselves are left out: how many requests to join wait, how many sites are on a plan.
    private static JournalValue Value(object value) =>
        value switch
        {
            string text => JournalValue.Of(text),
            UnitCode unit => JournalValue.Of(unit.Value),
            GroupId group => JournalValue.Of($"group:{group.Value}"),
            DateTimeOffset instant => JournalValue.Of(instant),
            bool flag => new JournalValue.Flag(flag),
            int number => JournalValue.Of(number),
            long number => JournalValue.Of(number),
            Enum word => JournalValue.Of(word.ToString()),
            IReadOnlyList<string> texts => JournalValue.Of(texts.Select(text => JournalValue.Of(text))),
            SitePlan plan => JournalValue.Of($"{plan.Name}, {plan.Cost}, {plan.Next}"),
            IReadOnlyList<Forward> forwards => JournalValue.Of(
                forwards.Select(forward =>
                    JournalValue.Of(("address", JournalValue.Of(forward.Address)), ("until", JournalValue.Of(forward.Until)))
                )
            ),
            Joining joining => JournalValue.Of(
                joining.Members.Has(out var members)
                    ? $"{joining.Way.ToString().ToLowerInvariant()}, {members.Word()}"
                    : joining.Way.ToString().ToLowerInvariant()
            ),
            SiteSection section => JournalValue.Of(
                ("name", JournalValue.Of(section.Name)),
                ("tie", JournalValue.Of(section.Tie.ToString())),
                ("grants", JournalValue.Of(section.Grants.Select(GrantText.InJournal)))
            ),
            _ => throw new NotSupportedException($"The journal has no form for a {value.GetType().Name}."),
        };
}
