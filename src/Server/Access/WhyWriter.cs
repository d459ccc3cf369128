using AtticLedger.Core.Access;
using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Access;

/// <summary>Writes the answer to "why" for screens.</summary>
internal sealed class WhyWriter(AccessFacts facts, Visitor visitor, Power power, Viewer viewer)
{
    private const int MostWays = 10;

    private readonly PeopleDirectory directory = facts.Directory;

    /// <summary>The kind of person who was asked about; null for a person.</summary>
    public VisitorKind? Kind { get; init; }

    /// <summary>The number of other sites in use that a group opens.</summary>
    public IReadOnlyDictionary<GroupId, int> OtherSites { get; init; } = new Dictionary<GroupId, int>();

    public WhyResponse Write(WhyAnswer answer)
    {
        var person = visitor is Visitor.OnePerson(var id) ? directory.Find(id) : null;
        return new WhyResponse(
            new SiteNameResponse(facts.Site.Id.Value, facts.Site.Title),
            facts.Site.Host,
            power,
            Who(person),
            Kind,
            person is null ? null : PersonResponse.Of(person.Id, directory),
            person is not null && directory.Standings[directory.PlaceOf(person.Id)!.Value] == Standing.Left,
            answer.GetsIn,
            answer.Allowed,
            facts.Site.UnderWay.Count == 0
                ? null
                : Why.Verdicts(facts with { Site = facts.Site.WithGrants(facts.Site.Expected.Or([])) }, visitor, power).GetsIn,
            [.. answer.Ways.Take(MostWays).Select(Way)],
            Math.Max(0, answer.Ways.Count - MostWays),
            answer.NewGrant is { } grant ? Way(grant) : null,
            [.. Unknown(answer).Distinct()],
            answer.Smallest is { } smallest ? Set(smallest) : null,
            [.. answer.Others.Select(Set)]
        );
    }

    private string Who(Person? person) =>
        person?.Name
        ?? visitor switch
        {
            Visitor.NewGuest => "A guest whom nobody has invited yet",
            Visitor.Partner => "Somebody of a partner, signed in,",
            _ => "Somebody who is not signed in",
        };

    private WayInResponse Way(WayIn way) =>
        new(
            way.Grant is { } grant ? GrantText.Who(grant, directory)
                : facts.Site.Sharing.IsUnknown ? $"Access that {facts.Site.Host} does not report"
                : visitor is Visitor.NewGuest ? "An invitation"
                : "Open joining",
            way.Power,
            way.Includes,
            [
                // Owners see the groups on their sites, and not what is in them.
                .. way
                    .Chain.Take(viewer.Role == Role.Owner ? 1 : way.Chain.Count)
                    .Select(group => new ChainedGroup(group.Id.Value, group.Name)),
            ],
            way.Lets,
            [.. way.Gates.Select(Gate)]
        );

    private GateResponse Gate(Gate gate) =>
        new(
            gate.Kind,
            gate.Layer?.Kind,
            gate.Layer is { } layer ? AccessText.Name(layer)
                : gate.Kind == GateKind.Existence ? "Existence"
                : "Publication",
            gate.Layer?.Enforcer,
            gate.Kind switch
            {
                GateKind.Existence => facts.Site.Existence switch
                {
                    Existence.InUse => "in use",
                    Existence.Attic => "in the attic",
                    _ => "erased",
                },
                GateKind.Publication => facts.Site.Status.Has(out var status) ? Sentences.Labels.Of(status) : "not reported",
                GateKind.GuestList => gate.Layer!.For(power).Has(out var who)
                    ? $"may invite guests: {who.GuestInviter.Word()}"
                    : "who may invite guests is not known",
                _ => gate.Layer!.For(power).Has(out var limit) ? AccessText.Of(limit) : "not known",
            },
            gate.Lets
        );

    private IEnumerable<string> Unknown(WhyAnswer answer)
    {
        if (answer.GetsIn != Truth.Unknown && answer.Smallest is not { Becomes: Truth.Unknown })
        {
            yield break;
        }

        var host = facts.Site.Host;
        if (facts.Site.Sharing.IsUnknown)
        {
            yield return $"{host} does not report who has access.";
        }

        if (power == Power.View && AccessPaths.IsPublished(facts.Site.Status) == Truth.Unknown)
        {
            yield return $"{host} does not report whether the site is published.";
        }

        foreach (var way in answer.Ways)
        {
            if (way.Includes == Truth.Unknown && way.Grant?.Subject is Subject.OneGroup(var group))
            {
                yield return $"Not all members of {directory.Find(group)?.Name ?? "a group"} are known.";
            }
            else if (way.Includes == Truth.Unknown && way.Grant?.Subject is Subject.Partners)
            {
                yield return $"Whether they belong to a partner is known to {host} only.";
            }

            foreach (var gate in way.Gates.Where(gate => gate is { Kind: GateKind.Layer, Lets: Truth.Unknown, IsEnforced: true }))
            {
                yield return way.Includes == Truth.Unknown ? $"{AccessText.Name(gate.Layer!)}: depends on that."
                : gate.Layer!.Limits.IsUnknown ? $"{AccessText.Name(gate.Layer)}: what it allows is not known."
                : $"{AccessText.Name(gate.Layer)}: depends on a unit that is not known.";
            }
        }
    }

    private LetInResponse Set(LetIn set)
    {
        var after = set.Changes.Aggregate(facts, (all, change) => change.ApplyTo(all));
        var gained = ReachChange.Between(Reach(facts), Reach(after)).Gained;
        var place = visitor is Visitor.OnePerson(var person) ? directory.PlaceOf(person) : null;
        return new LetInResponse(
            [.. set.Changes.Select(Change)],
            set.Becomes == Truth.Yes,
            [.. set.AgainstPolicy.Select(AccessText.Name)],
            gained.Inside.Union(gained.Guests).Places().Count(who => who != place && !directory.Services.Contains(who)),
            [.. gained.Doors.Doors().Where(IsOfOthers).Select(AccessText.Of)]
        );
    }

    // The door for named guests opens to the very person.
    private bool IsOfOthers(Door door) =>
        door.Who switch
        {
            OutsideLevel.NamedGuests => false,
            OutsideLevel.Partners => visitor is not Visitor.Partner,
            _ => visitor is not Visitor.NotSignedIn || door.VisitorSignIn != VisitorSignIn.None,
        };

    private AccessSet Reach(AccessFacts of) =>
        of.Site.Existence != Existence.InUse || (power == Power.View && AccessPaths.IsPublished(of.Site.Status) != Truth.Yes)
            ? AccessSet.None
            : AccessPaths.Of(of.Site, of.Organisation, of.Directory).Of(of.Site, power).Effective.AtLeast;

    private AccessChangeResponse Change(AccessChange change) =>
        new(
            change switch
            {
                AccessChange.Loosen => AccessChangeKind.LoosenLimit,
                AccessChange.LoosenSite => AccessChangeKind.LoosenSite,
                AccessChange.GrantPower => AccessChangeKind.Grant,
                AccessChange.InviteGuest => AccessChangeKind.InviteGuest,
                AccessChange.JoinGroup => AccessChangeKind.JoinGroup,
                AccessChange.Publish => AccessChangeKind.Publish,
                _ => AccessChangeKind.Restore,
            },
            AccessText.Of(change, facts),
            AccessText.By(change.By, facts.Site.Host),
            change is AccessChange.Loosen { From: var from } ? new LimitName(from.Kind, from.Code, from.Enforcer) : null,
            change switch
            {
                AccessChange.Loosen(_, _, var to) => Limits.Of(to),
                AccessChange.LoosenSite(_, var to) => Limits.Of(to),
                _ => null,
            },
            change is AccessChange.JoinGroup join ? OtherSites.GetValueOrDefault(join.Group) : null
        );
}
