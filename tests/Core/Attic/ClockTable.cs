using System.Globalization;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Attic;

/// <summary>The attic's deadlines compared with an independent computation: it steps through the instants by a quarter of an
/// hour and takes the local date of each.
/// </summary>
public class ClockTable
{
    /// <summary>Zone, moved, now (UTC); rules as "classification-or-host days [from [until]]", classifications as
    /// "classification from", holds as "from through-or-- [released]", the host's end.
    /// </summary>
    private static readonly string[] Table =
    [
        // Plain days, in three zones, far from the end and near it.
        "Europe/London | 2026-11-02T10:00 | 2026-11-02T10:00 | - 60 | | |",
        "Europe/London | 2026-11-02T10:00 | 2026-12-31T23:59 | - 60 | | |",
        "Europe/London | 2026-11-02T10:00 | 2027-01-01T23:59 | - 60 | | |",
        "Europe/London | 2026-11-02T10:00 | 2027-01-02T00:00 | - 60 | | |",
        "Europe/London | 2026-11-02T23:59 | 2026-11-03T00:00 | - 1 | | |",
        "Europe/London | 2026-11-02T00:00 | 2026-11-03T23:59 | - 1 | | |",
        "America/Santiago | 2026-11-02T02:59 | 2026-11-03T02:59 | - 1 | | |",
        "America/Santiago | 2026-11-02T03:00 | 2026-11-04T02:59 | - 1 | | |",
        "Australia/Lord_Howe | 2026-11-02T12:59 | 2026-11-03T12:59 | - 1 | | |",
        "Australia/Lord_Howe | 2026-11-02T13:00 | 2026-11-04T12:59 | - 1 | | |",
        // The last second, the end, and after it.
        "Europe/London | 2026-01-10T12:00 | 2026-03-11T23:59:59 | - 60 | | |",
        "Europe/London | 2026-01-10T12:00 | 2026-03-12T00:00 | - 60 | | |",
        "Europe/London | 2026-01-10T12:00 | 2026-03-12T00:00:01 | - 60 | | |",
        "Europe/London | 2026-01-10T12:00 | 2026-06-01T00:00 | - 60 | | |",
        // Daylight saving time begins or ends in between, or on the last day.
        "Europe/London | 2026-03-01T12:00 | 2026-03-28T23:59 | - 28 | | |",
        "Europe/London | 2026-03-01T12:00 | 2026-03-29T22:59 | - 28 | | |",
        "Europe/London | 2026-03-01T12:00 | 2026-03-29T23:00 | - 28 | | |",
        "Europe/London | 2026-03-29T00:30 | 2026-03-29T01:30 | - 1 | | |",
        "Europe/London | 2026-10-24T12:00 | 2026-10-25T12:00 | - 1 | | |",
        "Europe/London | 2026-10-25T00:30 | 2026-10-25T01:30 | - 1 | | |",
        "Europe/London | 2026-09-30T12:00 | 2026-10-25T23:59 | - 25 | | |",
        "Europe/London | 2026-09-30T12:00 | 2026-10-26T00:00 | - 25 | | |",
        "America/Santiago | 2026-09-04T12:00 | 2026-09-05T12:00 | - 1 | | |",
        "America/Santiago | 2026-09-05T12:00 | 2026-09-06T03:59 | - 1 | | |",
        "America/Santiago | 2026-09-04T12:00 | 2026-09-06T03:59 | - 1 | | |",
        "America/Santiago | 2026-09-04T12:00 | 2026-09-06T04:00 | - 1 | | |",
        "America/Santiago | 2026-04-03T12:00 | 2026-04-05T03:30 | - 1 | | |",
        "America/Santiago | 2026-04-03T12:00 | 2026-04-05T02:59 | - 1 | | |",
        "America/Santiago | 2026-04-04T12:00 | 2026-04-05T04:00 | - 1 | | |",
        "America/Santiago | 2026-08-01T12:00 | 2026-09-10T12:00 | - 36 | | |",
        "Australia/Lord_Howe | 2026-10-02T12:00 | 2026-10-03T12:00 | - 1 | | |",
        "Australia/Lord_Howe | 2026-10-03T12:00 | 2026-10-04T12:59 | - 1 | | |",
        "Australia/Lord_Howe | 2026-04-04T12:00 | 2026-04-05T13:29 | - 1 | | |",
        "Australia/Lord_Howe | 2026-03-01T12:00 | 2026-04-30T12:00 | - 60 | | |",
        "Australia/Lord_Howe | 2026-08-20T12:00 | 2026-10-05T12:00 | - 45 | | |",
        // A leap day, the turn of the year, a long time.
        "Europe/London | 2028-02-28T12:00 | 2028-02-29T12:00 | - 1 | | |",
        "Europe/London | 2028-02-29T12:00 | 2028-03-30T12:00 | - 30 | | |",
        "Europe/London | 2028-02-29T12:00 | 2029-02-28T12:00 | - 366 | | |",
        "Europe/London | 2027-02-28T12:00 | 2027-03-01T12:00 | - 1 | | |",
        "America/Santiago | 2027-12-31T23:00 | 2028-01-01T12:00 | - 60 | | |",
        "Australia/Lord_Howe | 2026-12-31T13:30 | 2027-01-31T12:00 | - 30 | | |",
        // By classification and host: the most specific rule applies; a classification is more specific than a host.
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | - 60; Guarded 120 | Guarded 2026-01-01 | |",
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | - 60; @Slipway 30 | Open 2026-01-01 | |",
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | - 60; @Slipway 30; Guarded 120 | Guarded 2026-01-01 | |",
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | - 60; @Quay 10 | Open 2026-01-01 | |",
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | | Open 2026-01-01 | |",
        // A rule changed meanwhile: the longest period that ever applied counts, never the sum.
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | - 60 2026-01-01 2026-06-10; - 30 2026-06-10 | | |",
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | - 30 2026-01-01 2026-06-10; - 60 2026-06-10 | | |",
        "Europe/London | 2026-06-01T12:00 | 2026-06-09T12:00 | - 30 2026-01-01 2026-06-10; - 60 2026-06-10 | | |",
        "Europe/London | 2026-06-01T12:00 | 2026-07-20T12:00 | - 30 2026-01-01 2026-07-15; - 60 2026-07-15 | | |",
        "Europe/London | 2026-06-01T12:00 | 2026-07-20T12:00 | - 90 2026-01-01 2026-06-01; - 20 2026-06-01 | | |",
        "America/Santiago | 2026-06-01T12:00 | 2026-06-20T12:00 | - 60 2026-01-01 2026-06-02; @Slipway 45 2026-06-02 | | |",
        // The classification changes while the site is in the attic.
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | - 30; Guarded 120 | Open 2026-01-01; Guarded 2026-06-15 | |",
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | - 30; Guarded 120 | Guarded 2026-01-01; Open 2026-06-15 | |",
        "Europe/London | 2026-06-01T12:00 | 2026-06-14T12:00 | - 30; Guarded 120 | Open 2026-01-01; Guarded 2026-06-15 | |",
        // Moved to the attic again: the time starts again.
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | - 30 | | |",
        "Europe/London | 2026-06-18T12:00 | 2026-06-20T12:00 | - 30 | | |",
        // Holds prevent erasing but do not stop the count; a release leaves at least seven days.
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | - 30 | | 2026-06-05 - |",
        "Europe/London | 2026-06-01T12:00 | 2026-08-20T12:00 | - 30 | | 2026-06-05 - |",
        "Europe/London | 2026-06-01T12:00 | 2026-08-20T12:00 | - 30 | | 2026-06-05 2026-08-31 |",
        "Europe/London | 2026-06-01T12:00 | 2026-08-31T22:59 | - 30 | | 2026-06-05 2026-08-31 |",
        "Europe/London | 2026-06-01T12:00 | 2026-08-31T23:00 | - 30 | | 2026-06-05 2026-08-31 |",
        "Europe/London | 2026-06-01T12:00 | 2026-09-08T22:59 | - 30 | | 2026-06-05 2026-08-31 |",
        "Europe/London | 2026-06-01T12:00 | 2026-09-08T23:00 | - 30 | | 2026-06-05 2026-08-31 |",
        "Europe/London | 2026-06-01T12:00 | 2026-06-29T12:00 | - 30 | | 2026-06-05 - 2026-06-28T12:00 |",
        "Europe/London | 2026-06-01T12:00 | 2026-06-12T12:00 | - 30 | | 2026-06-05 - 2026-06-10T12:00 |",
        "Europe/London | 2026-06-01T12:00 | 2026-07-10T12:00 | - 30 | | 2026-06-05 - 2026-06-10T12:00; 2026-06-20 2026-07-05 |",
        "Europe/London | 2026-06-01T12:00 | 2026-07-20T12:00 | - 30 | | 2026-07-10 2026-07-15 |",
        "America/Santiago | 2026-06-01T12:00 | 2026-09-01T12:00 | - 30 | | 2026-06-05 - 2026-08-29T12:00 |",
        // The host's own time: shorter, longer, equal, past.
        "Europe/London | 2026-11-02T10:00 | 2026-11-20T10:00 | - 60 | | | 2026-12-02T10:00",
        "Europe/London | 2026-11-02T10:00 | 2026-12-02T09:59 | - 60 | | | 2026-12-02T10:00",
        "Europe/London | 2026-11-02T10:00 | 2026-12-02T10:00 | - 60 | | | 2026-12-02T10:00",
        "Europe/London | 2026-11-02T10:00 | 2026-11-20T10:00 | - 20 | | | 2026-12-02T10:00",
        "Europe/London | 2026-11-02T10:00 | 2026-11-20T10:00 | - 30 | | | 2026-12-03T00:00",
        "Europe/London | 2026-11-02T10:00 | 2026-11-20T10:00 | - 60 | | 2026-11-05 - | 2026-12-02T10:00",
        "Australia/Lord_Howe | 2026-11-02T10:00 | 2026-11-30T10:00 | - 60 | | | 2026-12-02T10:00",
        "America/Santiago | 2026-11-02T10:00 | 2026-12-01T12:00 | - 60 | | | 2026-12-02T03:00",
    ];

    public static TheoryData<string> Cases => [.. Table];

    [Fact]
    public void The_table_has_what_it_is_for() =>
        Assert.True(Table.Length >= 60 && Table.Distinct().Count() == Table.Length, $"{Table.Length} cases");

    [Theory]
    [MemberData(nameof(Cases))]
    public void The_clock_says_what_a_walk_through_the_calendar_says(string line)
    {
        var (facts, time, now) = Read(line);
        var clock = Clock.Of(facts, time, now);
        var walk = new Walk(facts, time.Zone, now);

        Assert.Equal(walk.End, clock.End);
        Assert.Equal(walk.Clears, clock.Clears);
        Assert.Equal(walk.Recoverable, clock.RecoverableUntil);
        Assert.Equal(walk.Clears <= now, clock.IsDue(now));
        var left = clock.Left(now);
        Assert.Equal(walk.Left(walk.Recoverable ?? walk.End), (left.Days, left.Hours));
        Assert.InRange(clock.Passed(now), 0, 1);
        Assert.Equal(now >= (walk.Recoverable ?? walk.End), clock.Passed(now) == 1);
        Assert.NotEmpty(clock.Words("Slipway", now));
    }

    [Fact]
    public void The_text_names_the_host_where_its_time_runs_out_first()
    {
        var (facts, time, now) = Read("Europe/London | 2026-11-02T10:00 | 2026-11-20T10:00 | - 60 | | | 2026-12-02T10:00");
        var clock = Clock.Of(facts, time, now);

        Assert.True(clock.HostIsFirst);
        Assert.Equal(
            "Can be restored until 2 Dec 2026, 10:00, when Slipway empties its bin; policy would keep it until the end of 1 Jan 2027.",
            clock.Words("Slipway", now)
        );
    }

    [Theory]
    [InlineData(
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | - 30 | | |",
        "Kept until the end of 1 Jul 2026, because policy keeps sites in the attic 30 days."
    )]
    [InlineData(
        "Europe/London | 2026-06-01T12:00 | 2026-07-20T12:00 | - 30 | | |",
        "Its last day was 1 Jul 2026, because policy keeps sites in the attic 30 days; it is due to be erased."
    )]
    [InlineData(
        "Europe/London | 2026-06-01T12:00 | 2026-08-20T12:00 | - 30 | | 2026-06-05 2026-08-31 |",
        "Held until the end of 31 Aug 2026: inquiry."
    )]
    [InlineData(
        "Europe/London | 2026-06-01T12:00 | 2026-09-02T12:00 | - 30 | | 2026-06-05 2026-08-31 |",
        "Kept until the end of 8 Sep 2026, 7 days after the hold \"inquiry\" ended."
    )]
    [InlineData(
        "Europe/London | 2026-06-01T12:00 | 2026-06-20T12:00 | Guarded 120 | Guarded 2026-01-01 | |",
        "Kept until the end of 29 Sep 2026, because policy keeps Guarded sites 120 days."
    )]
    public void The_text_says_until_when_and_why(string line, string words)
    {
        var (facts, time, now) = Read(line);

        Assert.Equal(words, Clock.Of(facts, time, now).Words("Slipway", now));
    }

    [Fact]
    public void Storage_is_freed_on_the_local_day_of_each_end_and_an_unknown_size_is_counted_and_not_zero()
    {
        var time = new OrganisationTime(TimeZoneInfo.FindSystemTimeZoneById("America/Santiago"));
        var now = At("2026-11-02T12:00");
        var days = Forecast.Of(
            [
                (At("2026-11-03T02:00"), Known.Of(5L)),
                (At("2026-11-03T04:00"), Known.Of(7L)),
                (At("2026-11-01T00:00"), Known.Of(11L)),
                (At("2026-11-04T12:00"), Known<long>.Unknown),
            ],
            3,
            time,
            now
        );

        Assert.Equal(
            [
                new FreedDay(new(2026, 11, 2), 2, 16, 0, 16),
                new FreedDay(new(2026, 11, 3), 1, 7, 0, 23),
                new FreedDay(new(2026, 11, 4), 1, 0, 1, 23),
            ],
            days
        );
    }

    [Fact]
    public void A_plan_that_ends_before_the_bin_is_the_end_and_one_after_it_is_not()
    {
        var time = new OrganisationTime(TimeZoneInfo.Utc);
        var moved = new DateTimeOffset(2026, 11, 2, 10, 0, 0, TimeSpan.Zero);
        Clock With(DateOnly? plan, DateTimeOffset? bin) =>
            Clock.Of(
                new ClockFacts("Lantern", moved, [], [], [], bin is { } at ? Known.Of(at) : Known<DateTimeOffset>.Unknown)
                {
                    PlanEnds = plan,
                },
                time,
                moved
            );

        var end = new DateTimeOffset(2026, 11, 13, 0, 0, 0, TimeSpan.Zero);
        Assert.Equal(
            (end, true),
            (With(new(2026, 11, 12), null).RecoverableUntil!.Value, With(new(2026, 11, 12), null).IsEndOfPlan)
        );
        Assert.Equal(end, With(new(2026, 11, 12), moved.AddDays(30)).RecoverableUntil);
        Assert.Equal(
            (moved.AddDays(3), false),
            (With(new(2026, 11, 12), moved.AddDays(3)).HostEnds!.Value, With(new(2026, 11, 12), moved.AddDays(3)).IsEndOfPlan)
        );
        Assert.Contains("when its plan at Lantern", With(new(2026, 11, 12), null).Words("Lantern", moved));
    }

    private static (ClockFacts Facts, OrganisationTime Time, DateTimeOffset Now) Read(string line)
    {
        var parts = line.Split('|').Select(part => part.Trim()).ToArray();
        var moveToAttic = At(parts[1]);
        return (
            new ClockFacts(
                "Slipway",
                moveToAttic,
                [.. Items(parts[4]).Select(item => new ClassificationSince(item[0], At(item[1])))],
                [.. Items(parts[3]).Select(Rule)],
                [
                    .. Items(parts[5])
                        .Select(
                            (item, place) =>
                                new Hold(
                                    place + 1,
                                    "inquiry",
                                    new PersonId(1),
                                    At(item[0]),
                                    item[1] == "-" ? null : DateOnly.Parse(item[1], CultureInfo.InvariantCulture),
                                    item.Length > 2 ? At(item[2]) : null
                                )
                        ),
                ],
                parts[6].Length == 0 ? Known<DateTimeOffset>.Unknown : Known.Of(At(parts[6]))
            ),
            new OrganisationTime(TimeZoneInfo.FindSystemTimeZoneById(parts[0])),
            At(parts[2])
        );
    }

    private static RetentionRule Rule(string[] item) =>
        new(
            item[0].StartsWith('@') ? item[0][1..] : null,
            item[0] is "-" || item[0].StartsWith('@') ? null : item[0],
            int.Parse(item[1], CultureInfo.InvariantCulture),
            item.Length > 2 ? At(item[2]) : DateTimeOffset.MinValue,
            item.Length > 3 ? At(item[3]) : null
        );

    private static IEnumerable<string[]> Items(string text) =>
        text.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Select(item => item.Split(' '));

    private static DateTimeOffset At(string text) =>
        DateTimeOffset.Parse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal).ToUniversalTime();

    /// <summary>The independent computation. It never converts a local time to an instant: it takes the date of each
    /// instant.</summary>
    private sealed class Walk
    {
        private static readonly TimeSpan Step = TimeSpan.FromMinutes(15);
        private readonly TimeZoneInfo zone;
        private readonly DateTimeOffset now;

        public Walk(ClockFacts facts, TimeZoneInfo zone, DateTimeOffset now)
        {
            this.zone = zone;
            this.now = now;
            var longest = 0;
            for (var at = facts.MoveToAttic; ; at += Step)
            {
                longest = Math.Max(longest, Days(facts, at));
                if (at + Step > now)
                {
                    break;
                }
            }

            longest = Math.Max(longest, Days(facts, now < facts.MoveToAttic ? facts.MoveToAttic : now));
            End = AfterDay(facts.MoveToAttic, DateOf(facts.MoveToAttic).AddDays(longest));
            DateTimeOffset? clears = End;
            foreach (var hold in facts.Holds)
            {
                DateTimeOffset? over = hold.Through is { } through ? AfterDay(hold.From, through) : null;
                if (hold.Released is { } released && !(over < released))
                {
                    over = released;
                }

                if (hold.From <= now && (over is null || now < over))
                {
                    clears = null;
                }
                else if (
                    clears is not null
                    && over > facts.MoveToAttic
                    && over <= now
                    && AfterDay(over.Value, DateOf(over.Value).AddDays(7)) is var pushed
                    && pushed > clears
                )
                {
                    clears = pushed;
                }
            }

            Clears = clears;
            Recoverable = facts.HostEnds.Has(out var host) && (clears is null || host < clears) ? host : clears;
        }

        public DateTimeOffset End { get; }

        public DateTimeOffset? Clears { get; }

        public DateTimeOffset? Recoverable { get; }

        public (int Days, int Hours) Left(DateTimeOffset until)
        {
            if (now >= until)
            {
                return (0, 0);
            }

            var days = 0;
            for (var day = DateOf(now); day < DateOf(until - TimeSpan.FromTicks(1)); day = day.AddDays(1))
            {
                days++;
            }

            var hours = 0;
            for (var at = now; days == 0 && at < until; at += TimeSpan.FromHours(1))
            {
                hours++;
            }

            return (days, hours);
        }

        private static int Days(ClockFacts facts, DateTimeOffset at)
        {
            string? classification = facts.Classifications.Count > 0 ? facts.Classifications[0].Classification : null;
            foreach (var one in facts.Classifications)
            {
                classification = one.From <= at ? one.Classification : classification;
            }

            // From the least to the most specific; the last one that matches applies.
            var days = 90;
            foreach (
                var speaks in new Func<RetentionRule, bool>[]
                {
                    rule => rule.Host is null && rule.Classification is null,
                    rule => rule.Host == facts.Host && rule.Classification is null,
                    rule => rule.Host is null && rule.Classification is not null && rule.Classification == classification,
                    rule => rule.Host == facts.Host && rule.Classification is not null && rule.Classification == classification,
                }
            )
            {
                var said = facts
                    .Rules.Where(rule => speaks(rule) && at >= rule.From && (rule.Until is null || at < rule.Until))
                    .Select(rule => rule.Days)
                    .ToList();
                days = said.Count > 0 ? said.Max() : days;
            }

            return days;
        }

        private DateOnly DateOf(DateTimeOffset at) => DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(at, zone).DateTime);

        private DateTimeOffset AfterDay(DateTimeOffset from, DateOnly day)
        {
            var at = new DateTimeOffset(from.UtcTicks - (from.UtcTicks % Step.Ticks), TimeSpan.Zero);
            while (DateOf(at) <= day)
            {
                at += Step;
            }

            return at;
        }
    }
}
