using AtticLedger.Core.Access;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Doors;

/// <summary>A result for a site, computed or complete. The words for the published copy are null if it was never
/// published.</summary>
internal sealed record Told(
    int?[] Inside,
    int?[] Outside,
    bool[] Excess,
    int[] PermittedInside,
    int[] PermittedOutside,
    bool IsAjar,
    int ActiveOwners,
    int Editors
);

/// <summary>A register without unknowns, judged with plain sets of people, slowly and without any code of the core: the oracle
/// for all results with unknowns.
/// </summary>
internal sealed class CompleteWorld(
    IReadOnlyList<Person> people,
    IReadOnlyList<Unit> units,
    IReadOnlyList<Group> groups,
    IReadOnlyList<LimitSetting> limits,
    IReadOnlyList<Grant> grants,
    PowerLimits? own,
    Joining joining,
    SiteFacts site
)
{
    private readonly record struct Let(HashSet<PersonId> Inside, HashSet<PersonId> Guests, HashSet<Door> Doors);

    public Told Judge()
    {
        var byPower = Powers.Limited.Select(Reach).ToList();
        var (inside, outside) = (new int?[3], new int?[3]);
        var exceeds = new bool[3];
        var status = site.Status.Or(Status.Published);
        var (isPublished, isOffline) = (status != Status.NeverPublished, status == Status.Offline);
        foreach (var power in Powers.Limited)
        {
            var (effective, allowed) = byPower[(int)power];
            var isNone = power == Power.View && !isPublished;
            if (power == Power.View && isOffline)
            {
                effective = new Let([], [], []);
            }

            inside[(int)power] = isNone ? null : (int)Word(effective.Inside);
            outside[(int)power] =
                isNone ? null
                : effective.Doors.Count == 0 ? 0
                : effective.Doors.Max(door => (int)door.Who);
            exceeds[(int)power] =
                !isNone
                && (
                    !effective.Inside.IsSubsetOf(allowed.Inside)
                    || !effective.Guests.IsSubsetOf(allowed.Guests)
                    || !effective.Doors.IsSubsetOf(allowed.Doors)
                );
        }

        var permitted = Powers
            .Limited.Select(power =>
                Layers()
                    .Select(layer => layer.Limits.Or(PowerLimits.Open).For(power))
                    .Aggregate(Limit.Open, (met, limit) => met.Meet(limit))
            )
            .ToList();
        var owners = grants
            .Where(grant => grant.Power == Power.Own)
            .SelectMany(grant => Opened(grant).Inside)
            .Distinct()
            .Select(Find);
        return new Told(
            inside,
            outside,
            exceeds,
            [.. permitted.Select(limit => (int)limit.Inside.Level())],
            [.. permitted.Select(limit => (int)limit.Widest)],
            IsAjar(
                isOffline ? new Let([], [], [])
                : isPublished ? byPower[(int)Power.View].Effective
                : byPower[(int)Power.Preview].Effective
            ),
            owners.Count(person => person is { Kind: PersonKind.Staff, Standing: Standing.Current }),
            byPower[(int)Power.Edit].Effective is var edit
                ? edit.Inside.Count(id => Find(id).Kind != PersonKind.Service) + edit.Guests.Count
                : 0
        );
    }

    // A free-standing section uses its own grants, under all limits except the site's own.
    private bool IsAjar(Let ofSite)
    {
        if (!site.Sections.Has(out var sections))
        {
            return false;
        }

        var host = Cap(
            Layers()
                .Where(layer =>
                    layer.Kind != LayerKind.Site
                    && layer.Kind != LayerKind.OwnersClassification
                    && layer.Enforcer == Enforcer.Host
                ),
            Power.View
        );
        var let = Union(sections[0].Grants.Select(grant => Under(Opened(grant), IsWide(grant), host)));
        var anybody = ofSite.Doors.Any(door => door.Who == OutsideLevel.Anonymous);
        var narrower = ofSite
            .Doors.SelectMany(door =>
                from who in Enum.GetValues<OutsideLevel>()
                from visitorSignIn in Enum.GetValues<VisitorSignIn>()
                where who != OutsideLevel.NoOne && who <= door.Who && visitorSignIn >= door.VisitorSignIn
                select new Door(who, visitorSignIn)
            )
            .ToHashSet();
        return (!anybody && (!let.Inside.IsSubsetOf(ofSite.Inside) || !let.Guests.IsSubsetOf(ofSite.Guests)))
            || !let.Doors.IsSubsetOf(narrower);
    }

    private (Let Effective, Let Allowed) Reach(Power power)
    {
        var (host, all) = (Cap(Layers().Where(layer => layer.Enforcer == Enforcer.Host), power), Cap(Layers(), power));
        var asked = grants
            .Where(grant => grant.Power >= power)
            .Select(grant => (Let: Opened(grant), IsWide: IsWide(grant)))
            .ToList();
        if (joining.Way == JoinWay.Open && joining.Members.Or(Power.View) >= power)
        {
            asked.Add((new Let(Staff(), [], []), true));
        }

        var allowed = Union(asked.Select(ask => Under(ask.Let, ask.IsWide, all)));
        allowed.Inside.RemoveWhere(HasLeft);
        allowed.Guests.RemoveWhere(HasLeft);
        return (Union(asked.Select(ask => Under(ask.Let, ask.IsWide, host))), allowed);
    }

    private static Limit Cap(IEnumerable<LimitSetting> layers, Power power) =>
        layers
            .Select(layer => layer.Limits.Or(PowerLimits.Open).For(power))
            .Aggregate(Limit.Open, (met, limit) => met.Meet(limit));

    private IEnumerable<LimitSetting> Layers()
    {
        var classes = grants
            .Where(grant => grant.Power == Power.Own)
            .SelectMany(grant => Opened(grant).Inside)
            .Where(id => !HasLeft(id))
            .Select(id => Find(id).Classification)
            .ToHashSet();
        var chain = Chain(site.Unit).Select(unit => unit.Value).ToHashSet();
        return limits
            .Where(limit =>
                limit.Kind switch
                {
                    LayerKind.Organisation => true,
                    LayerKind.Host => limit.Code == site.Host,
                    LayerKind.Unit => chain.Contains(limit.Code),
                    LayerKind.Classification => site.Classification.Has(out var its) && its == limit.Code,
                    LayerKind.Kind => site.Kind.Has(out var its) && its == limit.Code,
                    LayerKind.OwnersClassification => classes.Contains(limit.Code),
                    _ => false,
                }
            )
            .Concat(own is null ? [] : [new LimitSetting(LayerKind.Site, "", Enforcer.Host, Known.Of(own))]);
    }

    private List<UnitCode> Chain(Known<UnitCode> unit)
    {
        var chain = new List<UnitCode>();
        for (UnitCode? at = unit.Has(out var own) ? own : null; at is { } code; at = units.First(one => one.Code == code).Parent)
        {
            chain.Add(code);
        }

        return chain;
    }

    private HashSet<PersonId> Staff() =>
        [
            .. people
                .Where(person => person.Kind == PersonKind.Staff && person.Standing != Standing.Left)
                .Select(person => person.Id),
        ];

    private HashSet<PersonId> OfUnit(UnitCode unit) => [.. Staff().Where(id => Chain(Find(id).Unit).Contains(unit))];

    private bool HasLeft(PersonId id) => Find(id).Standing == Standing.Left;

    private Person Find(PersonId id) => people.First(person => person.Id == id);

    private HashSet<PersonId> Members(GroupId id, HashSet<GroupId>? seen = null)
    {
        seen ??= [];
        return seen.Add(id) && groups.FirstOrDefault(group => group.Id == id) is { } group
            ?
            [
                .. group.Members.SelectMany(member =>
                    member.Person is { } person ? [person]
                    : member.Group is { } inner ? Members(inner, seen)
                    : OfUnit(member.Unit!.Value)
                ),
            ]
            : [];
    }

    private bool IsWide(Grant grant) =>
        grant.Subject is not (Subject.OnePerson or Subject.OneGroup)
        || (grant.Subject is Subject.OneGroup(var group) && Staff() is { Count: > 0 } staff && staff.IsSubsetOf(Members(group)));

    private Let Opened(Grant grant)
    {
        HashSet<PersonId> everybody = grant.Subject switch
        {
            Subject.OnePerson(var person) => [person],
            Subject.OneGroup(var group) => Members(group),
            Subject.WholeUnit(var unit) => OfUnit(unit),
            Subject.AllStaff => Staff(),
            _ => [],
        };
        HashSet<PersonId> guests = [.. everybody.Where(id => Find(id).IsOutside)];
        return new Let(
            [.. everybody.Except(guests)],
            guests,
            grant.Subject switch
            {
                Subject.Partners => [new Door(OutsideLevel.Partners, grant.VisitorSignIn)],
                Subject.Anonymous => [new Door(OutsideLevel.Anonymous, grant.VisitorSignIn)],
                _ when guests.Count > 0 => [new Door(OutsideLevel.NamedGuests, grant.VisitorSignIn)],
                _ => [],
            }
        );
    }

    private Let Under(Let let, bool isWide, Limit limit)
    {
        HashSet<PersonId> inside =
            limit.Inside == InsideLimit.Nobody || (isWide && limit.Inside.HasFlag(InsideLimit.Named)) ? [] : [.. let.Inside];
        if (limit.Inside.HasFlag(InsideLimit.Unit))
        {
            inside.IntersectWith(site.Unit.Has(out var unit) ? OfUnit(unit) : []);
        }

        HashSet<Door> doors = [.. let.Doors.Where(door => door.Who <= limit.Widest && door.VisitorSignIn >= limit.LeastSignIn)];
        return new Let(inside, doors.Count == 0 ? [] : let.Guests, doors);
    }

    private static Let Union(IEnumerable<Let> all)
    {
        var union = new Let([], [], []);
        foreach (var one in all)
        {
            union.Inside.UnionWith(one.Inside);
            union.Guests.UnionWith(one.Guests);
            union.Doors.UnionWith(one.Doors);
        }

        return union;
    }

    private InsideLevel Word(HashSet<PersonId> inside)
    {
        var unit = site.Unit.Has(out var own) ? OfUnit(own) : [];
        return inside.Count == 0 ? InsideLevel.Nobody
            : Staff() is { Count: > 0 } staff && staff.IsSubsetOf(inside) ? InsideLevel.Staff
            : unit.Count > 0 && unit.IsSubsetOf(inside) ? InsideLevel.Unit
            : InsideLevel.Named;
    }
}
