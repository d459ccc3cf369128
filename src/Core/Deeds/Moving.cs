using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>What may be the site that has vanished, and why.</summary>
/// <param name="Because">A sentence each without its full stop; the more of them, the likelier.</param>
public sealed record MoveCandidate(SiteFacts Site, IReadOnlyList<string> Because);

/// <param name="From">The line that has vanished, with where its site is now; or without again.</param>
/// <param name="To">The line that its site is now, with what was decided of it before.</param>
public sealed record Moved(SiteFacts From, SiteFacts To, IReadOnlyList<Draft> Entries);

/// <summary>
/// A site that moves from one host to another vanishes here and appears there under another key. Nothing but a person can
/// say that both are one: an address may be used anew, and a name borrowed. Then what was decided of it goes along.
/// </summary>
public static class Moving
{
    public const string Deed = "site.moved";
    public const string UndoDeed = "site.not-moved";
    private const int LatelyDays = 60;

    /// <summary>What a vanished site may be now, the likeliest first.</summary>
    public static IReadOnlyList<MoveCandidate> Candidates(SiteFacts gone, IEnumerable<SiteFacts> inUse) =>
        [
            .. inUse
                .Where(site => site.Id != gone.Id && !site.Vanished && site.Existence != Existence.Cleared)
                .Select(site => new MoveCandidate(site, [.. Because(gone, site)]))
                .Where(candidate => candidate.Because.Count > 0)
                .OrderByDescending(candidate => candidate.Because.Count)
                .ThenBy(candidate => candidate.Site.Id.Value),
        ];

    /// <summary>Every reason why they cannot be one; none where they can.</summary>
    public static IReadOnlyList<string> Refusals(SiteFacts gone, SiteFacts now)
    {
        var reasons = new List<string>();
        if (!gone.Vanished)
        {
            reasons.Add($"{gone.Host} still lists {gone.Title}: a site that is at two places is no moved one.");
        }

        if (gone.MovedTo is not null)
        {
            reasons.Add("Somebody has said already where it is now. Take that back first.");
        }

        if (now.Vanished || now.Existence == Existence.Cleared || now.Id == gone.Id)
        {
            reasons.Add($"{now.Title} is not there any more.");
        }

        return reasons;
    }

    /// <summary>Both are one: decisions of the former line go along where the later one has none.</summary>
    public static Moved Decide(SiteFacts gone, SiteFacts now, PersonId by, string? reason, DateTimeOffset at)
    {
        var decided = gone.Said.Where(statement =>
            statement.Source == Statements.House
            && now.Said.All(other => other.Fact != statement.Fact || other.Source != Statements.House)
        );
        var with = decided.Aggregate(now, (site, statement) =>
            site.Heard(
                statement.Fact,
                Statements.House,
                statement.Value is { } value ? Known.Of(value) : Known<string>.None,
                at,
                statement.By
            )
        );
        return new Moved(gone with { MovedTo = now.Id }, with, Entries(Deed, gone, now, with, by, reason));
    }

    /// <summary>They are two after all. What was decided meanwhile stays where it is.</summary>
    public static Moved Undo(SiteFacts gone, SiteFacts now, PersonId by, string? reason) =>
        new(gone with { MovedTo = null }, now, Entries(UndoDeed, gone, now, now, by, reason));

    private static IEnumerable<string> Because(SiteFacts gone, SiteFacts site)
    {
        if (gone.Address.Has(out var address) && site.Address.Has(out var its) && address == its)
        {
            yield return $"it stands at the same address, {address}";
        }

        if (site.Content.Domains.Or([]).Intersect(gone.Content.Domains.Or([])).FirstOrDefault() is { } domain)
        {
            yield return $"the domain {domain} leads to it";
        }

        if (!LookAlikes.LookAlike(gone.Title, site.Title))
        {
            yield break;
        }

        yield return "its name says the same";
        var owners = Owners(gone);
        if (Owners(site).Any(owners.Contains))
        {
            yield return "somebody owns both";
        }

        if (site.Created.Has(out var made) && made > gone.SeenAt.AddDays(-LatelyDays))
        {
            yield return "it was made about when the other vanished";
        }
    }

    private static HashSet<PersonId> Owners(SiteFacts site) =>
        [
            .. site.Sharing.Has(out var sharing)
                ? sharing
                    .Grants.Where(grant => grant.Power == Power.Own)
                    .Select(grant => grant.Subject)
                    .OfType<Subject.OnePerson>()
                    .Select(one => one.Person)
                : [],
        ];

    private static IReadOnlyList<Draft> Entries(
        string deed,
        SiteFacts gone,
        SiteFacts now,
        SiteFacts with,
        PersonId by,
        string? reason
    ) =>
        [
            new Draft(deed, $"person:{by.Value}", $"site:{gone.Id.Value}")
            {
                After = JournalValue.Of(("to", JournalValue.Of($"site:{now.Id.Value}"))),
                Reason = reason,
            },
            new Draft(deed, $"person:{by.Value}", $"site:{now.Id.Value}")
            {
                Before = JournalValue.Of(("was", JournalValue.Of($"site:{gone.Id.Value}"))),
                Reason = reason,
            }.Telling(now, with),
        ];
}
