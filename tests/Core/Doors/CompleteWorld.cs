using AtticLedger.Core.Doors;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Doors;

/// <summary>What is told of a site, or so of it; the words of the published copy are null where it was never published.</summary>
internal sealed record Told(
    int?[] Inside,
    int?[] Outside,
    bool[] Beyond,
    int[] PermittedInside,
    int[] PermittedOutside,
    bool IsAjar,
    int FitOwners,
    int Editors
);

/// <summary>
/// A world in which nothing is unknown, judged by plain sets of people, slowly and without any code of the core's own:
/// the oracle for everything that is told where something is unknown.
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
        var beyond = new bool[3];
        var isPublished = site.Stage.Or(Stage.Live) != Stage.NeverLive;
        foreach (var power in Powers.Limited)
        {
            var (actual, allowed) = byPower[(int)power];
            var isNone = power == Power.View && !isPublished;
            inside[(int)power] = isNone ? null : (int)Word(actual.Inside);
            outside[(int)power] =
                isNone ? null
                : actual.Doors.Count == 0 ? 0
                : actual.Doors.Max(door => (int)door.Who);
            beyond[(int)power] =
                !isNone
                && (
                    !actual.Inside.IsSubsetOf(allowed.Inside)
                    || !actual.Guests.IsSubsetOf(allowed.Guests)
                    || !actual.Doors.IsSubsetOf(allowed.Doors)
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
            beyond,
            [.. permitted.Select(limit => (int)limit.Inside.Level())],
            [.. permitted.Select(limit => (int)limit.Widest)],
            IsAjar(isPublished ? byPower[(int)Power.View].Actual : byPower[(int)Power.Preview].Actual),
            owners.Count(person => person is { Kind: PersonKind.Staff, Standing: Standing.Current }),
            byPower[(int)Power.Edit].Actual is var edit
                ? edit.Inside.Count(id => Find(id).Kind != PersonKind.Service) + edit.Guests.Count
                : 0
        );
    }

    // A free-standing section lets in by its own grants, under all layers but the site's own.
    private bool IsAjar(Let ofSite)
    {
        if (!site.Content.Sections.Has(out var sections))
        {
            return false;
        }

        var host = Cap(
            Layers()
                .Where(layer =>
                    layer.Kind != LayerKind.Site && layer.Kind != LayerKind.OwnersClass && layer.Enforcer == Enforcer.Host
                ),
            Power.View
        );
        var let = Union(sections[0].Grants.Select(grant => Under(Opened(grant), IsWide(grant), host)));
        var anybody = ofSite.Doors.Any(door => door.Who == OutsideLevel.PassersBy);
        var narrower = ofSite
            .Doors.SelectMany(door =>
                from who in Enum.GetValues<OutsideLevel>()
                from proof in Enum.GetValues<Proof>()
                where who != OutsideLevel.NoOne && who <= door.Who && proof >= door.Proof
                select new Door(who, proof)
            )
            .ToHashSet();
        return (!anybody && (!let.Inside.IsSubsetOf(ofSite.Inside) || !let.Guests.IsSubsetOf(ofSite.Guests)))
            || !let.Doors.IsSubsetOf(narrower);
    }

    private (Let Actual, Let Allowed) Reach(Power power)
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
            .Select(id => Find(id).Class)
            .ToHashSet();
        var chain = Chain(site.Unit).Select(unit => unit.Value).ToHashSet();
        return limits
            .Where(limit =>
                limit.Kind switch
                {
                    LayerKind.Organisation => true,
                    LayerKind.Host => limit.Code == site.Host,
                    LayerKind.Unit => chain.Contains(limit.Code),
                    LayerKind.Class => site.Class.Has(out var its) && its == limit.Code,
                    LayerKind.Kind => site.Kind.Has(out var its) && its == limit.Code,
                    LayerKind.OwnersClass => classes.Contains(limit.Code),
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
                Subject.Partners => [new Door(OutsideLevel.Partners, grant.Proof)],
                Subject.PassersBy => [new Door(OutsideLevel.PassersBy, grant.Proof)],
                _ when guests.Count > 0 => [new Door(OutsideLevel.NamedGuests, grant.Proof)],
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

        HashSet<Door> doors = [.. let.Doors.Where(door => door.Who <= limit.Widest && door.Proof >= limit.LeastProof)];
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
