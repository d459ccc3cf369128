using AtticLedger.Core.Access;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;

namespace AtticLedger.Core.Tests;

/// <summary>A small organisation for tests: six staff in two units, a service account, two guests, and sites written in one
/// line.</summary>
internal sealed class Harbour
{
    public static readonly DateTimeOffset Now = new(2026, 11, 24, 7, 0, 0, TimeSpan.Zero);
    public static readonly OrganisationTime Time = new(TimeZoneInfo.Utc);
    public static readonly Today OnTheDay = Today.At(Now, Time);

    public static RuleBook NoRules => new([], OnTheDay);

    public static readonly UnitCode Marine = new("MAR");
    public static readonly UnitCode Pilotage = new("PIL");
    public static readonly UnitCode Yard = new("YRD");

    public static readonly PersonId Vane = new(1);
    public static readonly PersonId Quist = new(2);
    public static readonly PersonId Farrow = new(3);
    public static readonly PersonId Lund = new(4);
    public static readonly PersonId Aske = new(5);
    public static readonly PersonId Trainee = new(6);
    public static readonly PersonId Robot = new(7);
    public static readonly PersonId Agent = new(8);
    public static readonly PersonId Diver = new(9);

    public static readonly IReadOnlyList<Unit> Units =
    [
        new(Marine, "Marine Operations", null),
        new(Pilotage, "Pilotage", Marine),
        new(Yard, "Yard", null),
    ];

    public List<Group> Groups { get; } = [];

    public List<Person> People { get; } =
    [
        Staff(Vane, "Idris Vane", Pilotage),
        Staff(Quist, "Renata Quist", Pilotage),
        Staff(Farrow, "Ottoline Farrow", Marine) with
        {
            Standing = Standing.Leaving,
            Day = new DateOnly(2026, 11, 30),
        },
        Staff(Lund, "Petra Lund", Pilotage) with
        {
            Standing = Standing.Left,
            Day = new DateOnly(2026, 3, 2),
        },
        Staff(Aske, "Tomas Aske", Yard),
        Staff(Trainee, "Wyn Harrow", Yard) with
        {
            Classification = "Trainee",
        },
        Staff(Robot, "Tide gauge", Yard) with
        {
            Kind = PersonKind.Service,
        },
        new(Agent, PersonKind.Guest, "Bo Reyes", "bo@agents.example", Standing.Current, null, Known<UnitCode>.None),
        new(Diver, PersonKind.Guest, "Cleo Marsh", "cleo@divers.example", Standing.Current, null, Known<UnitCode>.None),
    ];

    public List<LimitSetting> Limits { get; } = [];

    public PeopleDirectory PeopleDirectory => new(People, Units, Groups, Now, Time);

    public Dictionary<string, HostCapabilities> Hosts { get; } = [];

    public Organisation Organisation => new() { Limits = Limits, Hosts = Hosts };

    /// <summary>One of the values at random.</summary>
    public static Gen<T> Among<T>(params T[] values) => Gen.Int[0, values.Length - 1].Select(which => values[which]);

    public static SiteFacts Site(params IReadOnlyList<Grant> grants) =>
        new()
        {
            Id = new SiteId(1),
            Host = "Slipway",
            HostKey = "s1",
            Name = Known.Of("Pilot boarding notes"),
            Address = Known.Of("slipway.example/pilot-boarding"),
            Unit = Known.Of(Pilotage),
            Classification = Known<string>.None,
            Kind = Known.Of("noticeboard"),
            Joining = Known<Joining>.None,
            Status = Known.Of(Status.Published),
            Sharing = Known.Of(new Sharing(grants, null, Now.AddHours(-1), SharingSource.Read)),
        };

    public static SiteFacts WithOwnLimit(SiteFacts site, PowerLimits limit) =>
        site with
        {
            Sharing = site.Sharing.Select(sharing => sharing with { OwnLimit = limit }),
        };

    public static Grant ToPerson(Power power, PersonId person) =>
        new($"person:{person.Value}", power, new Subject.OnePerson(person));

    public static Grant ToGroup(Power power, GroupId group) => new($"group:{group.Value}", power, new Subject.OneGroup(group));

    public static Grant ToStaff(Power power) => new("everyone", power, new Subject.AllStaff());

    public static Grant ToPartners(Power power, VisitorSignIn visitorSignIn = VisitorSignIn.Account) =>
        new("partners", power, new Subject.Partners(), visitorSignIn);

    public static Grant ToAnonymous(Power power, VisitorSignIn visitorSignIn = VisitorSignIn.None) =>
        new("world", power, new Subject.Anonymous(), visitorSignIn);

    public static PowerLimits Outside(
        OutsideLevel widest,
        VisitorSignIn least = VisitorSignIn.None,
        GuestInviter guestInviter = GuestInviter.AnyOwner
    ) => PowerLimits.Same(new Limit(InsideLimit.Staff, widest, least, guestInviter));

    public static PowerLimits Inside(InsideLimit limit) =>
        PowerLimits.Same(new Limit(limit, OutsideLevel.Anonymous, VisitorSignIn.None, GuestInviter.AnyOwner));

    public Harbour Limit(LayerKind kind, string code, Enforcer enforcer, PowerLimits limits)
    {
        Limits.Add(new LimitSetting(kind, code, enforcer, Known.Of(limits)));
        return this;
    }

    public AccessPath AccessPath(SiteFacts site, Power power = Power.View) =>
        AccessPaths.Of(site, Organisation, PeopleDirectory).Of(site, power);

    private static Person Staff(PersonId id, string name, UnitCode unit) =>
        new(
            id,
            PersonKind.Staff,
            name,
            $"{name.Replace(' ', '.').ToLowerInvariant()}@merrowby.example",
            Standing.Current,
            null,
            Known.Of(unit)
        );
}
