using System.Collections.Immutable;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;

namespace AtticLedger.Simulation.Tests;

/// <summary>Three people, one unit, one limit and one rule: the start of every run.</summary>
internal static class SmallOrganisation
{
    public static readonly DateTimeOffset Start = new(2026, 11, 24, 7, 0, 0, TimeSpan.Zero);
    public static readonly PersonId Bell = new(1);
    public static readonly PersonId Quist = new(2);
    public static readonly PersonId Aske = new(3);
    public static readonly ImmutableList<Person> Staffed =
    [
        Staff(Bell, "Nora Bell", "n.bell"),
        Staff(Quist, "Renata Quist", "r.quist"),
        Staff(Aske, "Tomas Aske", "t.aske"),
    ];
    public static readonly Group Keepers = new(new GroupId(1), "Keepers", [Member.Of(Bell), Member.Of(Quist)]);
    public static readonly Resolution Known = new(
        Staffed.ToDictionary(person => person.Mail, person => person.Id),
        new Dictionary<(string, string), GroupId> { [("Quay", "keepers")] = Keepers.Id },
        new HashSet<string> { "PIL", "YRD" }
    );
    public static readonly Organisation Limited = new()
    {
        Limits =
        [
            new LimitSetting(
                LayerKind.Organisation,
                "",
                Enforcer.Policy,
                Core.Terms.Known.Of(PowerLimits.Same(Limit.Open with { Widest = OutsideLevel.NamedGuests }))
            ),
        ],
    };

    public static readonly RuleBook Judging = new(
        [
            new Rule(
                new("R-07"),
                "Within the organisation's limits",
                "too wide",
                Level.Critical,
                "",
                new Demand.WithinAllowed(),
                default
            ),
        ],
        new Today(new DateOnly(2026, 11, 24), new OrganisationTime(TimeZoneInfo.Utc))
    );

    private static Person Staff(PersonId id, string name, string local) =>
        new(
            id,
            PersonKind.Staff,
            name,
            $"{local}@merrowby.example",
            Standing.Current,
            null,
            Core.Terms.Known.Of(new UnitCode("PIL"))
        );
}
