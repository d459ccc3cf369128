using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A candidate for a site that is no longer reported, with the evidence.</summary>
/// <param name="Because">One sentence each without full stop; the more, the likelier.</param>
public sealed record MoveCandidate(SiteFacts Site, IReadOnlyList<string> Because);

/// <param name="From">The row that is no longer reported, with the row its site is now; or without, after undo.</param>
/// <param name="To">The row that its site is now, with the facts set for it before.</param>
public sealed record Moved(SiteFacts From, SiteFacts To, IReadOnlyList<Draft> Entries);

/// <summary>A site that moves to another host disappears here and appears there under another key. Only a person can confirm
/// that both are one: addresses are used again, and names are borrowed. Then the facts set for it move along.
/// </summary>
public static class Moving
{
    private const int LatelyDays = 60;

    /// <summary>Candidates for a site that is no longer reported, the likeliest first.</summary>
    public static IReadOnlyList<MoveCandidate> Candidates(SiteFacts gone, IEnumerable<SiteFacts> inUse) =>
        [
            .. inUse
                .Where(site => site.Id != gone.Id && !site.NoLongerReported && site.Existence != Existence.Erased)
                .Select(site => new MoveCandidate(site, [.. Because(gone, site)]))
                .Where(candidate => candidate.Because.Count > 0)
                .OrderByDescending(candidate => candidate.Because.Count)
                .ThenBy(candidate => candidate.Site.Id.Value),
        ];

    /// <summary>Every reason why they cannot be the same site; empty if they can.</summary>
    public static IReadOnlyList<Remark> Refusals(SiteFacts gone, SiteFacts now)
    {
        var reasons = new List<Remark>();
        if (!gone.NoLongerReported)
        {
            reasons.Add(new StillReported(gone.Host, gone.Title));
        }

        if (gone.MovedTo is not null)
        {
            reasons.Add(new MoveConfirmed());
        }

        if (now.NoLongerReported || now.Existence == Existence.Erased || now.Id == gone.Id)
        {
            reasons.Add(new TargetGone(now.Title));
        }

        return reasons;
    }

    /// <summary>Both are the same site: facts set for the former row move along unless the later row has its own.</summary>
    public static Moved Decide(SiteFacts gone, SiteFacts now, PersonId by, string? reason, DateTimeOffset at)
    {
        var decided = gone.Claims.Where(claim =>
            claim.Source == Claims.Organisation
            && now.Claims.All(other => other.Fact != claim.Fact || other.Source != Claims.Organisation)
        );
        var with = decided.Aggregate(now, (site, claim) =>
            site.WithClaim(
                claim.Fact,
                Claims.Organisation,
                claim.Value is { } value ? Known.Of(value) : Known<string>.None,
                at,
                claim.By
            )
        );
        return new Moved(gone with { MovedTo = now.Id }, with, Entries(JournalAction.SiteMoved, gone, now, with, by, reason));
    }

    /// <summary>They are two sites after all. Facts set meanwhile stay where they are.</summary>
    public static Moved Undo(SiteFacts gone, SiteFacts now, PersonId by, string? reason) =>
        new(gone with { MovedTo = null }, now, Entries(JournalAction.SiteNotMoved, gone, now, now, by, reason));

    private static IEnumerable<string> Because(SiteFacts gone, SiteFacts site)
    {
        if (gone.Address.Has(out var address) && site.Address.Has(out var its) && address == its)
        {
            yield return $"it has the same address, {address}";
        }

        if (site.Domains.Or([]).Intersect(gone.Domains.Or([])).FirstOrDefault() is { } domain)
        {
            yield return $"the domain {domain} leads to it";
        }

        if (!LookAlikes.LookAlike(gone.Title, site.Title))
        {
            yield break;
        }

        yield return "it has the same name";
        var owners = Owners(gone);
        if (Owners(site).Any(owners.Contains))
        {
            yield return "somebody owns both";
        }

        if (site.Created.Has(out var made) && made > gone.SeenAt.AddDays(-LatelyDays))
        {
            yield return "it was created about when the other was no longer reported";
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
        JournalAction action,
        SiteFacts gone,
        SiteFacts now,
        SiteFacts with,
        PersonId by,
        string? reason
    ) =>
        [
            new Draft(action, EntryActor.Of(by), EntrySubject.Of(gone.Id))
            {
                After = JournalValue.Of(("to", JournalValue.Of(EntrySubject.Of(now.Id)))),
                Reason = reason,
            },
            new Draft(action, EntryActor.Of(by), EntrySubject.Of(now.Id))
            {
                Before = JournalValue.Of(("was", JournalValue.Of(EntrySubject.Of(gone.Id)))),
                Reason = reason,
            }.Telling(now, with),
        ];
}
