using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Bench;

/// <summary>A register of any size with the skew that a house has: leavers, wide grants, unknown facts, groups in circles.</summary>
internal sealed record GeneratedRegister(Roll Roll, House House, RuleBook Rules, IReadOnlyList<SiteFacts> Sites)
{
    private static readonly DateTimeOffset Now = new(2026, 11, 24, 7, 0, 0, TimeSpan.Zero);

    public static GeneratedRegister Of(int count, int seed)
    {
        var random = new Random(seed);
        var units = Enumerable.Range(0, 40).Select(i => new Unit(new UnitCode($"U{i}"), $"Unit {i}", i < 8 ? null : new UnitCode($"U{i % 8}"))).ToList();
        var people = Enumerable.Range(1, 1500).Select(i => new Person(
            new PersonId(i), random.Next(12) == 0 ? PersonKind.Guest : PersonKind.Staff, $"Person {i}", $"p{i}@house.example",
            random.Next(100) switch { < 6 => Standing.Left, < 9 => Standing.Leaving, < 12 => Standing.Absent, _ => Standing.Current },
            new DateOnly(2026, 12, 1), Known.Of(units[random.Next(units.Count)].Code))).ToList();
        var groups = Enumerable.Range(1, 300).Select(i => new Group(
            new GroupId(i), $"Group {i}",
            [.. Enumerable.Range(0, random.Next(2, 20)).Select(_ => random.Next(10) == 0 ? Member.Of(new GroupId(random.Next(1, 301))) : Member.Of(new PersonId(random.Next(1, 1501))))],
            Complete: random.Next(30) != 0)).ToList();
        var house = new House
        {
            Limits =
            [
                Limit(LayerKind.Organisation, "", OutsideLevel.PassersBy),
                Limit(LayerKind.Class, "Internal", OutsideLevel.NamedGuests),
                Limit(LayerKind.Class, "Guarded", OutsideLevel.NoOne),
                .. units.Take(10).Select(unit => Limit(LayerKind.Unit, unit.Code.Value, OutsideLevel.NamedGuests)),
            ],
        };
        var rules = new RuleBook(
        [
            new Rule(new("R-02"), "Edited by named people only", "open editing", Level.Must, "", new Demand.EditingNamedOnly(), default),
            new Rule(new("R-03"), "Two fit key holders", "few keys", Level.Should, "unit pr", new Demand.FitKeyHolders(2), default),
            new Rule(new("R-07"), "No wider than the house allows", "too wide", Level.Must, "", new Demand.WithinAllowed(), default),
        ], new DateOnly(2026, 11, 24));
        return new GeneratedRegister(
            new Roll(people, units, groups, Now, new HouseTime(TimeZoneInfo.Utc)), house, rules, [.. Enumerable.Range(1, count).Select(i => Site(i, random, units))]);
    }

    private static SiteFacts Site(int id, Random random, List<Unit> units)
    {
        var grants = new Dictionary<string, Grant>();
        void Add(Grant grant) => grants[grant.Key] = grant;
        for (var i = random.Next(4); i >= 0; i--)
        {
            var person = random.Next(1, 1501);
            Add(new Grant($"p:{person}", i < 2 ? Power.Own : Power.Edit, new Subject.OnePerson(new PersonId(person))));
        }

        var group = random.Next(1, 301);
        Add(new Grant($"g:{group}", Power.Edit, new Subject.OneGroup(new GroupId(group))));
        if (random.Next(3) > 0)
        {
            Add(new Grant("everyone", random.Next(20) == 0 ? Power.Edit : Power.View, new Subject.AllStaff()));
        }

        if (random.Next(4) == 0)
        {
            Add(new Grant("world", random.Next(40) == 0 ? Power.Edit : Power.View, new Subject.PassersBy(), Proof.None));
        }

        return new SiteFacts
        {
            Id = new SiteId(id),
            Host = "Slipway",
            HostKey = $"s{id}",
            Unit = random.Next(10) == 0 ? Known<UnitCode>.None : Known.Of(units[random.Next(units.Count)].Code),
            Class = random.Next(10) switch { < 4 => Known.Of("Open"), < 7 => Known.Of("Internal"), < 9 => Known.Of("Guarded"), _ => Known<string>.Unknown },
            Stage = Known.Of((Stage)random.Next(4)),
            Sharing = random.Next(50) == 0 ? Known<Sharing>.Unknown : Known.Of(new Sharing([.. grants.Values], null, Now, SharingSource.Read)),
        };
    }

    private static LimitSetting Limit(LayerKind kind, string code, OutsideLevel widest) =>
        new(kind, code, Enforcer.House, Known.Of(PowerLimits.Same(Core.Terms.Limit.Open with { Widest = widest })));
}
