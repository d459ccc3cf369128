using AtticLedger.Core.Access;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>What a host says about one step of making a site.</summary>
public abstract record MakingAnswer
{
    private MakingAnswer() { }

    /// <param name="HostKey">The host's key of the site, with the first step.</param>
    public sealed record Done(string? HostKey) : MakingAnswer;

    public sealed record Refused(string Words) : MakingAnswer;

    /// <summary>No response, or "later": the step may or may not have had its effect, and is tried again.</summary>
    public sealed record Again(TimeSpan After, string Words) : MakingAnswer;
}

/// <summary>Makes a granted site step by step. Each function is pure; the database and the network are between them, and a server
/// may be killed there.</summary>
public static class Making
{
    public static readonly TimeSpan LeaseTime = TimeSpan.FromSeconds(30);

    /// <summary>After so many attempts of one step a person decides how it goes on.</summary>
    public const int MostAttempts = 30;

    /// <summary>The steps that a site needs, in their sequence.</summary>
    public static ValueList<MakingStep> StepsOf(NewSite wanted, KindToStart kind, HostCapabilities host) =>
        host.MakesSites
            ?
            [
                MakingStep.Site,
                .. kind.MakesGroup || !host.NamesPeople ? [MakingStep.Group] : Array.Empty<MakingStep>(),
                MakingStep.People,
                .. wanted.Tags.Count > 0 ? [MakingStep.Tags] : Array.Empty<MakingStep>(),
                .. kind.StarterPages.Count > 0 ? [MakingStep.StarterPages] : Array.Empty<MakingStep>(),
                MakingStep.ReadBack,
            ]
            : [MakingStep.Site, MakingStep.ReadBack];

    /// <summary>True if a worker can take the current step now.</summary>
    public static bool IsDue(SiteRequest request, DateTimeOffset now) =>
        request.State == SiteRequestState.BeingMade && request.NextTry <= now && !(request.LeaseUntil > now);

    public static SiteRequest Take(SiteRequest request, string worker, DateTimeOffset now) =>
        request.Move(SiteRequestEvent.Wait) with
        {
            Attempts = request.Attempts + 1,
            Lease = worker,
            LeaseUntil = now + LeaseTime,
        };

    /// <summary>The request after an answer to its current step, which is not the last.</summary>
    public static SiteRequest Answered(SiteRequest request, MakingAnswer answer, DateTimeOffset now)
    {
        var free = request with { Lease = null, LeaseUntil = null };
        return answer switch
        {
            MakingAnswer.Done(var key) => free.Move(SiteRequestEvent.StepDone) with
            {
                Done = request.Done + 1,
                Attempts = 0,
                NextTry = now,
                Words = null,
                HostKey = key ?? request.HostKey,
            },
            MakingAnswer.Refused(var words) => free.Move(SiteRequestEvent.Stop) with { Words = words },
            MakingAnswer.Again(_, var words) when request.Attempts >= MostAttempts && !request.IsByHand => free.Move(
                SiteRequestEvent.Stop
            ) with
            {
                Words = words,
            },
            MakingAnswer.Again(var after, var words) => free.Move(SiteRequestEvent.Wait) with
            {
                NextTry = now + (after > ChangeQueue.Pause(request.Attempts) ? after : ChangeQueue.Pause(request.Attempts)),
                Words = words,
            },
            _ => throw new InvalidOperationException("Every answer is handled above."),
        };
    }

    /// <summary>Goes on with the step at which it stopped: an earlier attempt of it may have had its effect.</summary>
    public static SiteRequest Resumed(SiteRequest request, DateTimeOffset now) =>
        request.Move(SiteRequestEvent.Resume) with
        {
            Attempts = 1,
            NextTry = now,
        };

    /// <summary>The request after its site was read back and is in the register.</summary>
    public static SiteRequest Finished(SiteRequest request, SiteId site, ChangeId? restriction, DateTimeOffset now) =>
        request.Move(SiteRequestEvent.Finish) with
        {
            Done = request.Steps.Count,
            Site = site,
            Restriction = restriction,
            Lease = null,
            LeaseUntil = null,
            Words = null,
            EndedAt = now,
        };

    /// <summary>What the host has set wider than granted, and what is missing, as the changes that make it right. Access through a
    /// group of the host counts as the access of its people.</summary>
    /// <param name="granted">The access that was granted.</param>
    /// <param name="made">The site as the host reported it after the last step.</param>
    public static MakingDifference Difference(
        IReadOnlyList<Grant> granted,
        SiteFacts made,
        Organisation organisation,
        PeopleDirectory directory
    )
    {
        if (!made.Sharing.Has(out var sharing))
        {
            return MakingDifference.NotReported;
        }

        // Both as published, because a site that was never published has no view yet.
        var published = made with { Status = Known.Of(Status.Published) };
        var wanted = new ComputedSite(published.WithGrants(granted), organisation, directory);
        var changes = new List<GrantChange>();
        var own = granted.ToDictionary(grant => grant.Key);
        foreach (
            var grant in sharing.Grants.Where(grant =>
                own.GetValueOrDefault(grant.Key)?.Power is not { } power || power < grant.Power
            )
        )
        {
            var alone = new ComputedSite(published.WithGrants([grant]), organisation, directory);
            if (
                Powers.Limited.Any(power =>
                    !alone.AccessPath(power).Effective.AtMost.IsWithin(wanted.AccessPath(power).Effective.AtLeast)
                )
            )
            {
                changes.Add(new GrantChange(grant.Key, own.GetValueOrDefault(grant.Key)));
            }
        }

        var wider = changes.Select(change => sharing.Grants.First(grant => grant.Key == change.Key)).ToList();
        var now = new ComputedSite(published.WithGrants(sharing.Grants), organisation, directory);
        var missing = granted
            .Where(grant => changes.TrueForAll(change => change.Key != grant.Key))
            .Where(grant =>
            {
                var alone = new ComputedSite(published.WithGrants([grant]), organisation, directory);
                return Powers.Limited.Any(power =>
                    !alone.AccessPath(power).Effective.AtLeast.IsWithin(now.AccessPath(power).Effective.AtMost)
                );
            })
            .ToList();
        return new MakingDifference(
            [
                .. changes,
                .. missing
                    .Where(grant => grant.Subject is Subject.OnePerson && organisation.CapabilitiesOf(made.Host).NamesPeople)
                    .Select(grant => new GrantChange(grant.Key, grant)),
            ],
            wider,
            missing,
            true
        );
    }

    /// <summary>The change at the host that makes its settings what was granted; null if they are.</summary>
    public static HostChange? Restriction(SiteRequest request, ActionFacts made, MakingDifference difference, ChangeId id) =>
        difference.Changes.Count == 0
            ? null
            : HostChanges.New(id, made, new WantedState(difference.Changes), new Actor(request.AnsweredBy ?? request.By), null);

    /// <summary>The entry on the new site.</summary>
    public static Draft SiteEntry(SiteRequest request, SiteId site, MakingDifference difference, ChangeId? restriction) =>
        new(JournalAction.SiteMade, EntryActor.Product, EntrySubject.Of(site))
        {
            OnBehalf = EntryActor.Of(request.By),
            After = JournalValue.Of(
                ("request", JournalValue.Of(request.Id.ToString())),
                ("grantedBy", JournalValue.Of(request.AnsweredBy is { } person ? EntryActor.Of(person).Text : null)),
                ("wider", JournalValue.Of(difference.Wider.Select(GrantText.InJournal))),
                ("missing", JournalValue.Of(difference.Missing.Select(GrantText.InJournal))),
                ("change", JournalValue.Of(restriction?.ToString()))
            ),
        };
}

/// <summary>How the settings of a new site at its host differ from what was granted.</summary>
/// <param name="Changes">What makes them right.</param>
/// <param name="Wider">The grants at the host that let in more than was granted.</param>
/// <param name="Missing">The granted access that the host does not give.</param>
/// <param name="IsReported">False if the host does not report who has access: then nothing could be compared.</param>
public sealed record MakingDifference(
    IReadOnlyList<GrantChange> Changes,
    IReadOnlyList<Grant> Wider,
    IReadOnlyList<Grant> Missing,
    bool IsReported
)
{
    public static MakingDifference NotReported { get; } = new([], [], [], false);
}
