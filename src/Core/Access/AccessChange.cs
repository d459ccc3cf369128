using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Access;

/// <summary>What decides who gets into one site.</summary>
public sealed record AccessFacts(SiteFacts Site, Organisation Organisation, PeopleDirectory Directory)
{
    /// <summary>The power for which a new guest has been invited; null if none has.</summary>
    public Power? Invited { get; init; }

    internal AccessPaths Paths() => AccessPaths.Of(Site, Organisation, Directory);

    internal IReadOnlyList<Ask> Asks(Power power) =>
        [
            .. AccessPaths.AsksOf(Site.Sharing.Select(sharing => sharing.Grants), Site.Joining, power, Directory),
            .. Invited >= power ? [OfNewGuest(Invited.Value)] : Array.Empty<Ask>(),
        ];

    /// <summary>The invitation of somebody who is not in the register yet.</summary>
    internal static Ask OfNewGuest(Power power) => new(null, OpeningBounds.Exactly(Invitation), power);

    internal static Opening Invitation { get; } =
        new(PeopleSet.Empty, false, PeopleSet.Empty, DoorSet.Of(new Door(OutsideLevel.NamedGuests, VisitorSignIn.Account)));
}

/// <summary>Who can make a change of access.</summary>
public enum Performer : byte
{
    /// <summary>The site's owners, and administrators for them.</summary>
    Owners,

    /// <summary>People who may publish the site.</summary>
    Publishers,

    /// <summary>The administrators of Attic Ledger.</summary>
    Administrators,

    /// <summary>The administrators of the host: the limit is a setting there, and so are the members of its groups.</summary>
    HostAdministrators,
}

/// <summary>One change that is a part of letting somebody in.</summary>
public abstract record AccessChange
{
    private AccessChange() { }

    /// <summary>A limit is set to one that refuses less.</summary>
    public sealed record Loosen(LimitSetting From, string Name, PowerLimits To) : AccessChange;

    /// <summary>The same of the site's own setting.</summary>
    public sealed record LoosenSite(PowerLimits From, PowerLimits To) : AccessChange;

    public sealed record GrantPower(Grant Grant) : AccessChange;

    public sealed record InviteGuest(Power Power) : AccessChange;

    /// <summary>A person becomes a member of a group that has access.</summary>
    public sealed record JoinGroup(PersonId Person, GroupId Group, Power Power) : AccessChange;

    public sealed record Publish : AccessChange;

    public sealed record Restore : AccessChange;

    public Performer By =>
        this switch
        {
            Loosen { From.Enforcer: Enforcer.Host } or JoinGroup => Performer.HostAdministrators,
            Loosen or Restore => Performer.Administrators,
            Publish => Performer.Publishers,
            _ => Performer.Owners,
        };

    /// <summary>How much else it touches, the least first: of two sets of equally many changes, the narrower is named.</summary>
    internal int Breadth =>
        this switch
        {
            GrantPower { Grant.Subject: Subject.OnePerson } or InviteGuest => 0,
            Publish or LoosenSite => 1,
            Restore or JoinGroup => 2,
            GrantPower => 3,
            Loosen { From.Kind: LayerKind.Host } => 5,
            Loosen { From.Kind: LayerKind.Organisation } => 6,
            _ => 4,
        };

    /// <summary>True if both change the same thing, to whatever extent.</summary>
    internal bool IsOfTheSame(AccessChange other) =>
        (this, other) switch
        {
            (Loosen one, Loosen two) => one.From == two.From,
            (LoosenSite, LoosenSite) => true,
            _ => Equals(other),
        };

    public AccessFacts ApplyTo(AccessFacts facts) =>
        this switch
        {
            Loosen loosen => facts with
            {
                Organisation = facts.Organisation with
                {
                    Limits =
                    [
                        .. facts.Organisation.Limits.Select(limit =>
                            limit == loosen.From ? limit with { Limits = Known.Of(loosen.To) } : limit
                        ),
                    ],
                },
            },
            LoosenSite loosen => facts with
            {
                Site = facts.Site with
                {
                    Sharing = facts.Site.Sharing.Select(sharing =>
                        sharing with
                        {
                            OwnLimit = loosen.To == PowerLimits.Open ? null : loosen.To,
                        }
                    ),
                },
            },
            GrantPower grant => facts with
            {
                Site = facts.Site with
                {
                    Sharing = facts.Site.Sharing.Select(sharing =>
                        sharing with
                        {
                            Grants = sharing.Grants.With([new GrantChange(grant.Grant.Key, grant.Grant)]),
                        }
                    ),
                },
            },
            InviteGuest invite => facts with { Invited = invite.Power },
            JoinGroup join => facts with { Directory = facts.Directory.WithMember(join.Group, Member.Of(join.Person)) },
            Publish => facts with { Site = facts.Site with { Status = Known.Of(Status.Published) } },
            Restore => facts with { Site = facts.Site with { Existence = Existence.InUse } },
            _ => throw new InvalidOperationException($"{this} is no change of access."),
        };
}
