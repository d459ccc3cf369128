using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>What taking in one site comes to: the line as it is now, the orders that were seen, and what to write down. No entry where nothing changed.</summary>
/// <param name="IsNews">Whether the line is to be written at all: visits move by themselves and are written without an entry.</param>
public sealed record TakenIn(SiteFacts Site, bool IsNews, IReadOnlyList<Order> Moved, Draft? Entry);

/// <summary>Takes what a host said into the register. The same said twice changes nothing the second time.</summary>
public static class Intake
{
    public const string Deed = "site.seen";

    /// <param name="known">The line so far, or null for a site that is new.</param>
    /// <param name="seen">What the host said; its id is not yet given where the site is new.</param>
    /// <param name="confirmed">The site's orders that wait to be seen.</param>
    public static TakenIn Take(SiteFacts? known, SiteFacts seen, IReadOnlyList<Order> confirmed, DateTimeOffset readBegan, DateTimeOffset now)
    {
        if (known is null)
        {
            return new TakenIn(seen, true, [], new Draft(Deed, Actor(seen), Subject(seen)) { After = Facts(seen) });
        }

        var merged = (seen with { Id = known.Id }).Beside(known.Said, readBegan) with
        {
            Sharing = Newer(known.Sharing, seen.Sharing),
            UnderWay = known.UnderWay,
            MovedTo = known.MovedTo,
        };
        if (known.StandsAt > readBegan)
        {
            // A read that began before a confirmation does not override where the site is.
            merged = merged with { Existence = known.Existence, Bin = known.Bin, Address = known.Address, StandsAt = known.StandsAt };
        }

        var moved = confirmed.Select(order => Lane.Seen(order, seen, readBegan, now)).Where(order => order.State != OrderState.Confirmed).ToList();
        var (before, after) = Difference(Facts(known), Facts(merged));
        if (before.All.Count == 0 && after.All.Count == 0)
        {
            // Nothing new in the facts: the line stays as it is, down to the instant of its sharing.
            var moves = known with { Visits = seen.Visits, LastVisit = seen.LastVisit, Content = seen.Content };
            return new TakenIn(moves, moves != known, moved, null);
        }

        return new TakenIn(merged, true, moved, new Draft(Deed, Actor(merged), Subject(merged)) { Before = before, After = after });
    }

    /// <summary>What a list says of a site that another host tells of. No entry where it says nothing new.</summary>
    public static TakenIn Hear(SiteFacts known, string list, IReadOnlyDictionary<SaidFact, Known<string>> facts, DateTimeOffset at)
    {
        var told = known.Listed(list, facts, at);
        var (before, after) = Difference(Facts(known), Facts(told));
        return before.All.Count == 0 && after.All.Count == 0
            ? new TakenIn(known, false, [], null)
            : new TakenIn(told, true, [], new Draft(Deed, Draft.ActorOf(list), Subject(known)) { Before = before, After = after });
    }

    /// <summary>
    /// Only a complete read lets a site vanish; vanished is not deleted. One that lay in the host's bin and is no longer
    /// there was cleared for good.
    /// </summary>
    public static TakenIn Vanish(SiteFacts known, DateTimeOffset now) =>
        known.Existence == Existence.Attic
            ? new(known with { Existence = Existence.Cleared, Bin = null, StandsAt = now }, true, [], null)
            : new(known with { Vanished = true }, true, [], new Draft("site.vanished", Actor(known), Subject(known)));

    /// <summary>What the host confirmed with its answer to an order. The order's own entry tells of it.</summary>
    public static SiteFacts Confirm(SiteFacts site, Wish wish, HostAnswer.Done done, DateTimeOffset now)
    {
        var shared = site with { Sharing = Newer(site.Sharing, Known.Of(new Sharing(done.Grants, done.OwnLimit, now, SharingSource.Confirmed))) };
        return wish is { Existence: null, Address: null }
            ? shared
            : shared with
            {
                Existence = wish.Existence ?? site.Existence,
                Bin = wish.Existence == Existence.Attic ? done.Bin : wish.Existence == Existence.Here ? null : site.Bin,
                Address = done.Address is { } address ? Known.Of(address) : site.Address,
                StandsAt = now,
            };
    }

    private static Known<Sharing> Newer(Known<Sharing> known, Known<Sharing> seen) =>
        known.Has(out var old) && seen.Has(out var read) ? Known.Of(Sharings.Newer(old, read)) : seen.IsUnknown && !known.IsUnknown ? known : seen;

    private static string Word(SaidFact fact) => fact.ToString().ToLowerInvariant();

    private static string Actor(SiteFacts site) => Draft.ActorOf(site.Host);

    private static string Subject(SiteFacts site) => $"site:{site.Id.Value}";

    private static JournalValue.Fields Facts(SiteFacts site)
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
            ("domains", site.Content.Domains.IsUnknown ? JournalValue.Unknown : JournalValue.Of(site.Content.Domains.Or([]).Select(domain => JournalValue.Of(domain)))),
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
            fields.Add(("joining", Text(site.Content.Joining.Select(joining => joining.Way.ToString().ToLowerInvariant()))));
        }

        if (!site.Content.Sections.IsUnknown)
        {
            fields.AddRange(site.Content.Sections.Or([]).Select(section => ($"section {section.Key}", JournalValue.Of(
                ("name", JournalValue.Of(section.Name)), ("tie", JournalValue.Of(section.Tie.ToString())), ("grants", JournalValue.Of(section.Grants.Select(GrantWords.InJournal)))))));
        }

        if (!site.Purpose.IsUnknown)
        {
            fields.Add(("purpose", Text(site.Purpose)));
        }

        foreach (var (name, fact) in new[] { ("tags", site.Tags), ("shownName", site.Content.ShownName), ("homeTitle", site.Content.HomeTitle), ("description", site.Content.Description), ("language", site.Content.Language) }.Where(pair => !pair.Item2.IsUnknown))
        {
            fields.Add((name, Text(fact)));
        }

        // One field for each source of a fact: what stands may stay while somebody says something else.
        fields.AddRange(site.Said.Select(statement => ($"{Word(statement.Fact)} by {statement.Source}", JournalValue.Of(statement.Value))));
        if (site.Sharing.Has(out var sharing))
        {
            // One field a grant, so that a difference names just what changed.
            fields.AddRange(sharing.Grants.Select(grant => ($"grant {grant.Key}", GrantWords.InJournal(grant))));
        }

        return new JournalValue.Fields(fields);
    }

    private static (JournalValue.Fields Before, JournalValue.Fields After) Difference(JournalValue.Fields before, JournalValue.Fields after)
    {
        var was = before.All.ToDictionary(field => field.Name, field => field.Value.Canonical());
        var now = after.All.ToDictionary(field => field.Name, field => field.Value.Canonical());
        return (
            new([.. before.All.Where(field => now.GetValueOrDefault(field.Name) != was[field.Name])]),
            new([.. after.All.Where(field => was.GetValueOrDefault(field.Name) != now[field.Name])]));
    }

    private static JournalValue Text(Known<string> fact) =>
        fact.Has(out var value) ? JournalValue.Of(value) : fact.IsNone ? JournalValue.Null : JournalValue.Unknown;

    private static JournalValue Instant(Known<DateTimeOffset> fact) =>
        fact.Has(out var value) ? JournalValue.Of(value) : fact.IsNone ? JournalValue.Null : JournalValue.Unknown;
}
