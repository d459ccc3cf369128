using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Sites;

/// <summary>For every declared fact two values that differ. A fact of a new type needs values here, and then is held to
/// everything that is asked of facts.
/// </summary>
public sealed class SampleFacts : IFactVisitor<(FactSet One, FactSet Other)>
{
    private static readonly DateTimeOffset At = new(2026, 11, 24, 7, 2, 3, TimeSpan.Zero);
    private static readonly SitePlan Plan = new("p1", "Beacon", 9_600, "EUR", 12, new DateOnly(2027, 3, 1), true, 30, 2);
    private static readonly Grant Seat = new("person:1", Power.Own, new Subject.OnePerson(new PersonId(1)));

    private static readonly IReadOnlyDictionary<Type, (object One, object Other)> Values = new Dictionary<Type, (object, object)>
    {
        [typeof(string)] = ("Pilot boarding", "Pilots"),
        [typeof(UnitCode)] = (new UnitCode("MAR"), new UnitCode("PEO")),
        [typeof(Status)] = (Status.Offline, Status.Published),
        [typeof(DateTimeOffset)] = (At, At.AddMicroseconds(1)),
        [typeof(int)] = (int.MaxValue, 0),
        [typeof(long)] = (long.MaxValue, 0L),
        [typeof(bool)] = (true, false),
        [typeof(GroupId)] = (new GroupId(1), new GroupId(2)),
        [typeof(LogoSource)] = (LogoSource.Linked, LogoSource.KeptWithSite),
        [typeof(IReadOnlyList<string>)] = (new[] { "a.example", "b.example" }, new[] { "b.example", "a.example" }),
        [typeof(IReadOnlyList<PersonId>)] = (new[] { new PersonId(1) }, new[] { new PersonId(2) }),
        [typeof(SitePlan)] = (Plan, Plan with { Through = Plan.Through.AddDays(1) }),
        [typeof(IReadOnlyList<Obligation>)] = (
            new[] { new Obligation(2, "orders are not delivered", new DateOnly(9999, 12, 31)) },
            new[] { new Obligation(2, "orders are not delivered") }
        ),
        [typeof(IReadOnlyList<Signal>)] = (new[] { new Signal("tracker", "/start") }, new[] { new Signal("form", "/start") }),
        [typeof(Joining)] = (new Joining(JoinWay.Asked, 3, At, Known.Of(Power.Edit)), new Joining(JoinWay.Asked, 3, At)),
        [typeof(IReadOnlyList<Shared>)] = (
            new[] { new Shared("Tides", ["Harbour", "Pilots"]) },
            new[] { new Shared("Tides", ["Harbour"]) }
        ),
        [typeof(IReadOnlyList<Forward>)] = (
            new[] { new Forward("slipway.example/old", At) },
            new[] { new Forward("slipway.example/old", At.AddDays(1)) }
        ),
        [typeof(IReadOnlyList<SiteSection>)] = (
            new[] { new SiteSection("s1", "Minutes", SectionTie.StandingFree, [Seat]) },
            new[] { new SiteSection("s1", "Minutes", SectionTie.StandingFree, [Seat with { Power = Power.View }]) }
        ),
    };

    /// <summary>Every fact with the first of its values.</summary>
    public static FactSet All { get; } =
        DeclaredFacts.All.Aggregate(FactSet.Unknown, (facts, fact) => facts.With(Of(fact).One, other => other == fact));

    /// <summary>Only this fact known: with one value, with another.</summary>
    public static (FactSet One, FactSet Other) Of(SiteFact fact) => fact.Accept(new SampleFacts());

    /// <summary>Only this fact known, to be none.</summary>
    public static FactSet None(SiteFact fact) => fact.Accept(new Nones());

    public (FactSet One, FactSet Other) Visit<T>(SiteFact<T> fact)
        where T : notnull
    {
        var (one, other) = Values[typeof(T)];
        return (FactSet.Unknown.With(fact, Known.Of((T)one)), FactSet.Unknown.With(fact, Known.Of((T)other)));
    }

    private sealed class Nones : IFactVisitor<FactSet>
    {
        public FactSet Visit<T>(SiteFact<T> fact)
            where T : notnull => FactSet.Unknown.With(fact, Known<T>.None);
    }
}
