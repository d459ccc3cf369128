using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Index;

/// <summary>Hosts and lists use the first and the last day for "always" and "never", and numbers at their bounds. The register
/// copes with them.</summary>
public class ExtremesFacts
{
    private static readonly DateOnly[] Days =
    [
        DateOnly.MinValue,
        DateOnly.MinValue.AddDays(1),
        new(1900, 1, 1),
        new(2026, 11, 24),
        DateOnly.MaxValue.AddDays(-1),
        DateOnly.MaxValue,
    ];
    private static readonly TimeZoneInfo[] Zones =
    [
        TimeZoneInfo.Utc,
        TimeZoneInfo.FindSystemTimeZoneById("Pacific/Kiritimati"),
        TimeZoneInfo.FindSystemTimeZoneById("Pacific/Honolulu"),
        TimeZoneInfo.FindSystemTimeZoneById("Europe/London"),
    ];
    private static readonly RuleBook Rules = new(
        [
            new Rule(
                new RuleId("R-01"),
                "A rule",
                "a rule",
                Level.Critical,
                "",
                new Demand.EditingNamedOnly(),
                new DateOnly(2026, 1, 1)
            ),
        ],
        Harbour.OnTheDay
    );

    [Fact]
    public void Every_day_begins_and_ends_in_every_zone_and_the_last_is_never_over()
    {
        foreach (var (zone, day) in Zones.SelectMany(zone => Days.Select(day => (zone, day))))
        {
            var time = new OrganisationTime(zone);
            Assert.True(time.StartOf(day) <= time.EndOf(day));
            Assert.InRange(time.LastDayBefore(time.EndOf(day)).DayNumber, day.DayNumber - 1, day.DayNumber);
            _ = (
                time.DayOf(DateTimeOffset.MinValue),
                time.DayOf(DateTimeOffset.MaxValue),
                time.LastDayBefore(DateTimeOffset.MinValue)
            );
        }

        Assert.False(
            new OrganisationTime(TimeZoneInfo.Utc).IsOver(
                DateOnly.MaxValue,
                new DateTimeOffset(9999, 12, 31, 23, 0, 0, TimeSpan.Zero)
            )
        );
        Assert.Equal((DateOnly.MaxValue, DateOnly.MinValue), (DateOnly.MaxValue.Plus(1), DateOnly.MinValue.Plus(-7)));
    }

    [Fact]
    public void Every_line_is_computed_whatever_its_dates_and_numbers()
    {
        var day = Among(Days);
        var instant = Gen.Select(Among(Zones), day, (zone, of) => new OrganisationTime(zone).StartOf(of));
        var number = Among(int.MinValue, -1, 0, 1, int.MaxValue);
        var bytes = Among(long.MinValue, 0L, long.MaxValue);
        var text = Among("", "\u0000", "\ud800", new string('x', 100_000), "İI\u0307", "=1+1", "\u202e");
        Gen.Select(Gen.Select(instant, instant, instant, day), Gen.Select(number, number, bytes), text, Among(Zones))
            .Sample(
                (when, much, words, zone) =>
                {
                    var (made, edited, until, last) = when;
                    var harbour = new Harbour();
                    var directory = new PeopleDirectory(
                        [.. harbour.People.Select(person => person.Id == Farrow ? person with { Day = last } : person)],
                        Units,
                        [],
                        Now,
                        new OrganisationTime(zone)
                    );
                    var site = Site(ToPerson(Power.Own, Vane) with { Through = last }, ToPerson(Power.Own, Farrow)) with
                    {
                        Name = Known.Of(words),
                        Created = Known.Of(made),
                        LastEdit = Known.Of(edited),
                        LastVisit = Known.Of(until),
                        Visits = Known.Of(much.Item1),
                        Bin = new Bin(made, null, Known.Of(until), Known.Of(until)),
                        Exceptions = [new RuleException(1, new RuleId("R-01"), "x", Vane, made, last, "", [])],
                        Pages = Known.Of(much.Item2),
                        Bytes = Known.Of(much.Item3),
                        Joining = Known<Joining>.None,
                        Plan = Known.Of(
                            new SitePlan("p", "P", much.Item1, "EUR", much.Item2, last, true, much.Item1, much.Item2)
                        ),
                    };
                    Exception? failed = null;
                    var maker = new SiteJudge(new Organisation(), directory, Rules, (_, fault) => failed = fault);
                    var index = maker.Put(RegisterIndex.Empty, maker.Of([site]));
                    Assert.Null(failed);
                    foreach (var attribute in JudgedSite.Attributes.All)
                    {
                        _ = index.Columns.Evaluate(Filter.Parse($"{attribute.Name} pr", JudgedSite.Attributes));
                    }
                },
                iter: 400
            );
    }

    [Fact]
    public void A_line_that_cannot_be_computed_is_one_line_that_says_so_and_the_others_stand()
    {
        var harbour = new Harbour();
        List<SiteId> failed = [];
        var maker = new SiteJudge(harbour.Organisation, harbour.PeopleDirectory, Rules, (site, _) => failed.Add(site.Id));
        List<SiteFacts> sites =
        [
            .. Enumerable
                .Range(1, 5)
                .Select(id => Site(ToPerson(Power.Own, Vane)) with { Id = new SiteId(id), HostKey = $"s{id}" }),
        ];
        sites[2] = sites[2] with { Exceptions = new Broken() };
        var seen = maker.Put(RegisterIndex.Empty, maker.Of(sites)).Seen(new Scope.Everything());

        Assert.Equal([new SiteId(3)], failed);
        Assert.Equal(
            [null, null, "It is broken.", null, null],
            seen.Lines(seen.All).OrderBy(line => line.Id.Value).Select(line => line.Fault)
        );
        Assert.Equal(1, seen.Where(Filter.Parse("fault pr", JudgedSite.Attributes)).CountYes);
        Assert.Equal("Pilot boarding notes", seen.Lines(seen.All).Single(line => line.Id.Value == 3).Title);
    }

    private sealed class Broken : IReadOnlyList<RuleException>
    {
        public int Count => throw new InvalidOperationException("It is broken.");

        public RuleException this[int index] => throw new InvalidOperationException("It is broken.");

        public IEnumerator<RuleException> GetEnumerator() => throw new InvalidOperationException("It is broken.");

        System.Collections.IEnumerator System.Collections.IEnumerable.GetEnumerator() => GetEnumerator();
    }
}
