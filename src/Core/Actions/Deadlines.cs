using System.Globalization;
using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

public enum DeadlineKind : byte
{
    /// <summary>The last day on which a site can be restored.</summary>
    Restore,

    /// <summary>The last day on which an offer of ownership can be answered.</summary>
    Offer,

    /// <summary>The last day on which a second person can agree.</summary>
    Approval,

    /// <summary>The last day of an owner.</summary>
    Leaver,

    /// <summary>The last day that a plan covers.</summary>
    Plan,

    /// <summary>The last day of an access link.</summary>
    WayIn,

    /// <summary>The last day of a manual task.</summary>
    ManualTask,

    /// <summary>The last day of an exception from a rule.</summary>
    Exception,
}

/// <summary>A day by which something ends or has to be done.</summary>
/// <param name="Key">Identifies it permanently, so that a calendar recognises it.</param>
/// <param name="Words">A description in one or two sentences.</param>
/// <param name="Site">The site concerned; null if it concerns a person.</param>
/// <param name="Person">The person whose last day it is.</param>
public sealed record Deadline(
    DeadlineKind Kind,
    string Key,
    DateOnly Day,
    string Title,
    string Words,
    SiteId? Site,
    PersonId? Person = null
);

/// <summary>The facts from which deadlines are computed: only what the reader may see.</summary>
/// <param name="Sites">All sites that the others name.</param>
/// <param name="Seen">The sites whose pages the reader may open; of the others they see only what is offered or assigned to
/// them.</param>
/// <param name="Leavers">The people who leave, with the number of sites they own in the reader's scope.</param>
public sealed record DeadlineFacts(
    IReadOnlyDictionary<SiteId, SiteFacts> Sites,
    IReadOnlySet<SiteId> Seen,
    IReadOnlyList<(AtticEntry AtticEntry, Clock Clock)> Clocks,
    IReadOnlyList<Offer> Offers,
    IReadOnlyList<Approval> Approvals,
    IReadOnlyList<(HostChange HostChange, ManualTask ManualTask)> ManualTasks,
    IReadOnlyList<(Person Person, int Keys)> Leavers,
    PeopleDirectory PeopleDirectory
);

/// <summary>All deadlines, the soonest first.</summary>
public static class Deadlines
{
    /// <summary>How far ahead deadlines are listed: a little over a year.</summary>
    public const int DaysAhead = 400;

    public static IReadOnlyList<Deadline> Of(DeadlineFacts facts)
    {
        var today = facts.PeopleDirectory.Time.DayOf(facts.PeopleDirectory.Now);
        return
        [
            .. All(facts)
                .Where(deadline => deadline.Day >= today && deadline.Day <= today.Plus(DaysAhead))
                .OrderBy(deadline => deadline.Day)
                .ThenBy(deadline => deadline.Kind)
                .ThenBy(deadline => deadline.Title, StringComparer.Ordinal)
                .ThenBy(deadline => deadline.Key, StringComparer.Ordinal),
        ];
    }

    private static IEnumerable<Deadline> All(DeadlineFacts facts)
    {
        var (directory, time) = (facts.PeopleDirectory, facts.PeopleDirectory.Time);
        SiteFacts? SiteOf(SiteId id) => facts.Sites.GetValueOrDefault(id);
        foreach (var (atticEntry, clock) in facts.Clocks)
        {
            if (SiteOf(atticEntry.Site) is { } site && clock.RecoverableUntil is { } until)
            {
                yield return new Deadline(
                    DeadlineKind.Restore,
                    $"attic-{atticEntry.Id}",
                    time.LastDayBefore(until),
                    $"Last day to restore {site.Title}",
                    clock.Words(site.Host, directory.Now),
                    site.Id
                );
            }
        }

        foreach (var offer in facts.Offers.Where(offer => offer.State == OfferState.Offered))
        {
            if (SiteOf(offer.Site) is { } site)
            {
                yield return new Deadline(
                    DeadlineKind.Offer,
                    $"offer-{offer.Id}",
                    offer.Through,
                    $"The offer of {site.Title} lapses",
                    $"{Name(offer.To, directory)} has not answered yet.",
                    site.Id
                );
            }
        }

        foreach (var approval in facts.Approvals.Where(approval => approval.State == ApprovalState.Requested))
        {
            if (SiteOf(approval.Site) is { } site)
            {
                yield return new Deadline(
                    DeadlineKind.Approval,
                    $"approval-{approval.Id}",
                    approval.Through,
                    $"{site.Title} waits for a second person",
                    $"{Name(approval.By, directory)} made the request; nobody has answered yet.",
                    site.Id
                );
            }
        }

        foreach (
            var (hostChange, manualTask) in facts.ManualTasks.Where(pair =>
                pair.HostChange.State is ChangeState.Queued or ChangeState.Sent
            )
        )
        {
            if (SiteOf(hostChange.Site) is { } site)
            {
                yield return new Deadline(
                    DeadlineKind.ManualTask,
                    $"task-{hostChange.Id}",
                    manualTask.Through,
                    $"Manual task: {site.Title}",
                    $"{Name(manualTask.To, directory)} has the task at {site.Host}.",
                    site.Id
                );
            }
        }

        foreach (var (person, keys) in facts.Leavers.Where(pair => pair.Person.Day is not null))
        {
            yield return new Deadline(
                DeadlineKind.Leaver,
                $"leaver-{person.Id.Value.ToString(CultureInfo.InvariantCulture)}",
                person.Day!.Value,
                $"{person.Name}'s last day",
                $"{person.Name} owns {keys.Counted("site")}.",
                null,
                person.Id
            );
        }

        foreach (
            var site in facts.Sites.Values.Where(site =>
                facts.Seen.Contains(site.Id) && site is { Existence: Existence.InUse, NoLongerReported: false }
            )
        )
        {
            if (site.Plan.Has(out var plan))
            {
                yield return new Deadline(
                    DeadlineKind.Plan,
                    $"plan-{site.Id.Value.ToString(CultureInfo.InvariantCulture)}-{plan.Through:yyyyMMdd}",
                    plan.Through,
                    $"{(plan.Renews ? "The plan renews" : "The plan ends")}: {site.Title}",
                    $"{plan.Name}, {plan.Cost}; {plan.Next}.",
                    site.Id
                );
            }

            foreach (var exception in site.Exceptions.Where(exception => exception.IsInForce(directory.Now, time)))
            {
                yield return new Deadline(
                    DeadlineKind.Exception,
                    $"exception-{exception.Id.ToString(CultureInfo.InvariantCulture)}",
                    exception.Through,
                    $"An exception ends: {site.Title}",
                    $"It has an exception from {exception.Rule.Value}: {exception.Reason.TrimEnd('.')}.",
                    site.Id
                );
            }

            // Links of a site that end on one day are one deadline.
            foreach (
                var ending in site
                    .Expected.Or([])
                    .Where(grant => grant.Through is not null)
                    .GroupBy(grant => grant.Through!.Value)
            )
            {
                yield return new Deadline(
                    DeadlineKind.WayIn,
                    $"ways-{site.Id.Value.ToString(CultureInfo.InvariantCulture)}-{ending.Key:yyyyMMdd}",
                    ending.Key,
                    $"{(ending.Count() == 1 ? "An access link ends" : $"{ending.Count()} access links end")}: {site.Title}",
                    $"{string.Join(", ", ending.Select(grant => GrantText.Who(grant, directory)).Distinct())}.",
                    site.Id
                );
            }
        }
    }

    private static string Name(PersonId person, PeopleDirectory directory) =>
        directory.Find(person) is { Name.Length: > 0 } known ? known.Name : "A person whose name was erased";
}
