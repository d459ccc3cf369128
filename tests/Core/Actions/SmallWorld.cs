using System.Collections.Immutable;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>The data of one site, as in the database. Immutable, so that every order of events can be explored from every state;
/// each method is one commit.
/// </summary>
internal sealed record SmallWorld
{
    public static readonly OrganisationTime Time = new(TimeZoneInfo.Utc);

    public required DateTimeOffset Now { get; init; }

    public required SiteFacts Site { get; init; }

    public required ImmutableList<Person> People { get; init; }

    public IReadOnlyList<Unit> Units { get; init; } = [];

    public IReadOnlyList<Group> Groups { get; init; } = [];

    public Organisation Organisation { get; init; } = new();

    public RuleBook Rules { get; init; } = new([], new Today(default, Time));

    public ImmutableDictionary<ChangeId, HostChange> HostChanges { get; init; } = ImmutableDictionary<ChangeId, HostChange>.Empty;

    public ImmutableDictionary<OfferId, Offer> Offers { get; init; } = ImmutableDictionary<OfferId, Offer>.Empty;

    public ImmutableList<AtticEntry> Stays { get; init; } = [];

    public ImmutableList<Hold> Holds { get; init; } = [];

    public ImmutableHashSet<(PersonId, string)> Written { get; init; } = [];

    public ImmutableList<Draft> Journal { get; init; } = [];

    /// <summary>The sites around this one.</summary>
    public Surroundings Around { get; init; } = new();

    public PeopleDirectory PeopleDirectory => new(People, Units, Groups, Now, Time);

    public AtticEntry? Open => Stays.LastOrDefault(atticEntry => atticEntry.State.IsOpen());

    public IEnumerable<HostChange> OpenHostChanges =>
        HostChanges.Values.Where(hostChange => hostChange.State.IsOpen()).OrderBy(hostChange => hostChange.Place);

    public SmallWorld Pass(TimeSpan time) => this with { Now = Now + time };

    public ActionFacts Facts() =>
        new(
            Site with
            {
                UnderWay = [.. OpenHostChanges.Select(hostChange => new UnderWay(hostChange.Id, hostChange.WantedState))],
            },
            [.. HostChanges.Values],
            Organisation,
            Rules,
            PeopleDirectory
        )
        {
            Offers = [.. Offers.Values.Where(offer => offer.State.IsOpen())],
            AtticEntry = Open,
            Holds = Holds,
            Around = Around,
            Administrators = [new PersonId(5)],
        };

    public IReadOnlyList<Due> Due() =>
        DueNow.Of(
            new DueFacts(
                [.. Facts().Offers],
                [],
                Open is { } atticEntry ? [(atticEntry, Facts().Clock)] : [],
                PeopleDirectory,
                Written
            )
        );

    public SmallWorld Commit(Decision.Plan plan)
    {
        var world = Write(plan.Entries);
        var place = (long)Journal.Count + 1;
        foreach (var hostChange in plan.HostChanges)
        {
            world = world.Put(hostChange.Place == 0 ? hostChange with { Place = place } : hostChange);
        }

        foreach (var offer in plan.Offers)
        {
            world = world with { Offers = world.Offers.SetItem(offer.Id, offer) };
        }

        return world with
        {
            Stays = plan.AtticEntry is { } atticEntry
                ? world.Put(atticEntry.Id == 0 ? atticEntry with { Place = place } : atticEntry)
                : world.Stays,
            Holds =
                plan.Hold is not { } hold ? world.Holds
                : hold.Id == 0 ? world.Holds.Add(hold with { Id = world.Holds.Count + 1 })
                : [.. world.Holds.Select(one => one.Id == hold.Id ? hold : one)],
            People = plan.Person is not { } person
                ? world.People
                : [.. world.People.Select(one => one.Id == person.Id ? person : one)],
            Written = world.Written.Union(plan.Notifications.Select(notification => (notification.To, notification.Key))),
        };
    }

    public SmallWorld Put(HostChange hostChange) => this with { HostChanges = HostChanges.SetItem(hostChange.Id, hostChange) };

    public SmallWorld Follow(Aftermath after)
    {
        var world = Write(after.Entries);
        return world with
        {
            Offers = after.Offer is { } offer ? world.Offers.SetItem(offer.Id, offer) : world.Offers,
            Stays = after.AtticEntry is { } atticEntry ? world.Put(atticEntry) : world.Stays,
        };
    }

    /// <summary>The host's answer to a change, and everything that follows.</summary>
    public SmallWorld Answered(HostChange hostChange, HostAnswer answer)
    {
        var answered = ChangeQueue.Answered(hostChange, answer, Now);
        var world = Put(answered);
        if (answer is HostAnswer.Done done)
        {
            world = world with { Site = Intake.Confirm(Site, hostChange.WantedState, done, Now) };
        }

        return answered.State.IsOpen() ? world : world.Ended(answered);
    }

    /// <summary>The last check before the change is sent: null if it can be sent.</summary>
    public SmallWorld? Withdrawn(HostChange hostChange) =>
        ChangeQueue.Withdrawn(hostChange, PeopleDirectory) is { } withdrawn ? Put(withdrawn).Ended(withdrawn) : null;

    /// <summary>Imports the result of a sync.</summary>
    public SmallWorld Seen(SiteFacts said, DateTimeOffset began)
    {
        var taken = Intake.Take(
            Site,
            said,
            [.. HostChanges.Values.Where(hostChange => hostChange.State == ChangeState.Confirmed)],
            began,
            Now
        );
        var world = this with
        {
            Site = taken.Site,
            HostChanges = HostChanges.SetItems(taken.Moved.Select(hostChange => KeyValuePair.Create(hostChange.Id, hostChange))),
        };
        return world
            .Write(taken.Entry is { } entry ? [entry] : [])
            .Follow(Aftermath.Seen(taken.Site, Stays.LastOrDefault(), [], isFirst: false, Now));
    }

    /// <summary>The host no longer has the site, neither in use nor in its bin.</summary>
    public SmallWorld Gone()
    {
        var taken = Intake.MarkMissing(Site, Now);
        return (this with { Site = taken.Site })
            .Write(taken.Entry is { } entry ? [entry] : [])
            .Follow(Aftermath.Seen(taken.Site, Stays.LastOrDefault(), [], isFirst: false, Now));
    }

    public SmallWorld Write(IEnumerable<Draft> drafts) => this with { Journal = Journal.AddRange(drafts) };

    private SmallWorld Ended(HostChange hostChange) =>
        Follow(
            Aftermath.Answered(
                hostChange,
                Site,
                Offers.Values.FirstOrDefault(offer => offer.HostChange == hostChange.Id),
                Stays.LastOrDefault(),
                PeopleDirectory,
                Now
            )
        );

    private ImmutableList<AtticEntry> Put(AtticEntry atticEntry) =>
        atticEntry.Id == 0
            ? Stays.Add(atticEntry with { Id = Stays.Count + 1 })
            : [.. Stays.Select(one => one.Id == atticEntry.Id ? atticEntry : one)];
}
