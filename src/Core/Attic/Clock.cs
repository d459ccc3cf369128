using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Attic;

/// <summary>The classification of a site in the attic from an instant on.</summary>
public sealed record ClassificationSince(string? Classification, DateTimeOffset From);

/// <summary>The facts from which the periods are computed.</summary>
/// <param name="MoveToAttic">The instant from which days are counted.</param>
/// <param name="Classifications">The classifications since then; the first is from at or before the move to the attic.</param>
/// <param name="HostEnds">Until when the host can restore the site, if it reports that.</param>
public sealed record ClockFacts(
    string Host,
    DateTimeOffset MoveToAttic,
    IReadOnlyList<ClassificationSince> Classifications,
    IReadOnlyList<RetentionRule> Rules,
    IReadOnlyList<Hold> Holds,
    Known<DateTimeOffset> HostEnds
)
{
    /// <summary>The last day on which the host keeps it, because its plan ends and does not renew; null if there is none.</summary>
    public DateOnly? PlanEnds { get; init; }
}

/// <summary>The time left: whole days, begun hours on the last day, or none. Never negative.</summary>
public readonly record struct TimeLeft(int Days, int Hours)
{
    public bool IsOver => Days == 0 && Hours == 0;

    public string Words =>
        IsOver ? "over"
        : Days == 0 ? Hours.Counted("hour")
        : Days.Counted("day");
}

/// <summary>How long a site in the attic is kept: the organisation's end and the host's end, always two dates. The
/// organisation's end is the first instant of the day after D in its time zone, where D is the latest day that any rule in force
/// since the move gave, each counted from the move.
/// </summary>
public sealed record Clock
{
    /// <summary>The minimum number of whole days left after a hold ends.</summary>
    public const int DaysAfterRelease = 7;

    private readonly OrganisationTime time;

    private Clock(OrganisationTime time) => this.time = time;

    public required DateTimeOffset MoveToAttic { get; init; }

    /// <summary>The last day by the retention rules, without holds.</summary>
    public required DateOnly LastDay { get; init; }

    public required RetentionRule Because { get; init; }

    /// <summary>The hold that is in force, or null.</summary>
    public Hold? Held { get; init; }

    /// <summary>The ended hold that postponed the end, or null.</summary>
    public Hold? PushedBy { get; init; }

    /// <summary>From when it can be erased: null while a hold is in force.</summary>
    public DateTimeOffset? Clears { get; init; }

    /// <summary>The host's own end, if it has one that is known: of its bin, or of the plan.</summary>
    public DateTimeOffset? HostEnds { get; init; }

    /// <summary>True if the host's end is that of the plan.</summary>
    public bool IsEndOfPlan { get; init; }

    public DateTimeOffset End => time.EndOf(LastDay);

    /// <summary>True if the host's end is before the organisation's.</summary>
    public bool HostIsFirst => HostEnds is { } host && !(Clears <= host);

    /// <summary>Until when it can certainly be restored: the earlier of the two ends; null if neither is known.</summary>
    public DateTimeOffset? RecoverableUntil => HostIsFirst ? HostEnds : Clears;

    public bool IsDue(DateTimeOffset now) => Clears <= now;

    public static Clock Of(ClockFacts facts, OrganisationTime time, DateTimeOffset now)
    {
        var (because, lastDay) = Latest(facts, time, now);
        var held = facts
            .Holds.Where(hold => hold.IsInForce(now, time))
            .OrderByDescending(hold => hold.EndsAt(time) ?? DateTimeOffset.MaxValue)
            .FirstOrDefault();
        var end = time.EndOf(lastDay);
        DateTimeOffset? bin = facts.HostEnds.Has(out var host) ? host : null;
        DateTimeOffset? plan = facts.PlanEnds is { } planned ? time.EndOf(planned) : null;
        var pushed = facts
            .Holds.Where(hold => hold.EndsAt(time) is { } over && over <= now && over > facts.MoveToAttic)
            .Select(hold => (Hold: hold, End: time.EndOf(time.DayOf(hold.EndsAt(time)!.Value).Plus(DaysAfterRelease))))
            .Where(pair => pair.End > end)
            .OrderByDescending(pair => pair.End)
            .FirstOrDefault();
        return new Clock(time)
        {
            MoveToAttic = facts.MoveToAttic,
            LastDay = lastDay,
            Because = because,
            Held = held,
            PushedBy = held is null ? pushed.Hold : null,
            Clears =
                held is not null ? null
                : pushed.Hold is not null ? pushed.End
                : end,
            HostEnds = plan < bin || bin is null ? plan : bin,
            IsEndOfPlan = plan is not null && (bin is null || plan < bin),
        };
    }

    /// <summary>The time left in which it can certainly be restored; over if the end has passed.</summary>
    public TimeLeft Left(DateTimeOffset now) => RecoverableUntil is { } until ? LeftUntil(until, now) : LeftUntil(End, now);

    /// <summary>The part of the time that has passed, 0 to 1; 1 after the end.</summary>
    public double Passed(DateTimeOffset now)
    {
        var until = RecoverableUntil ?? End;
        return until <= MoveToAttic ? 1 : Math.Clamp((now - MoveToAttic) / (until - MoveToAttic), 0, 1);
    }

    /// <summary>The sentence that every screen shows.</summary>
    public string Words(string host, DateTimeOffset now)
    {
        var organisation = $"policy keeps {Because.Of} {Because.Days} days";
        var ours =
            Held is { } held
                ? $"held{(held.Through is { } through ? $" until the end of {through.InWords()}" : "")}: {held.Reason}"
            : PushedBy is { } pushed
                ? $"kept until the end of {time.LastDayBefore(Clears!.Value).InWords()}, {DaysAfterRelease} days after the hold \"{pushed.Reason}\" ended"
            : $"kept until the end of {LastDay.InWords()}, because {organisation}";
        return HostEnds is { } ends && HostIsFirst
                ? $"Can be restored until {Moment(ends)}, when {(IsEndOfPlan ? $"its plan at {host} and the time after it are over" : $"{host} empties its bin")}; {(Held is null ? $"policy would keep it until the end of {time.LastDayBefore(Clears ?? End).InWords()}" : ours)}."
            : IsDue(now)
                ? $"Its last day was {time.LastDayBefore(Clears!.Value).InWords()}, because {organisation}; it is due to be erased."
            : $"{char.ToUpperInvariant(ours[0])}{ours[1..]}.";
    }

    private static (RetentionRule Because, DateOnly LastDay) Latest(ClockFacts facts, OrganisationTime time, DateTimeOffset now)
    {
        // The applicable rule can change only when a rule begins or ends, or the classification changes.
        var until = now < facts.MoveToAttic ? facts.MoveToAttic : now;
        var moments = facts
            .Rules.SelectMany(rule => new[] { rule.From, rule.Until ?? facts.MoveToAttic })
            .Concat(facts.Classifications.Select(one => one.From))
            .Append(facts.MoveToAttic)
            .Where(at => at >= facts.MoveToAttic && at <= until)
            .Distinct()
            .Order();
        return moments
            .Select(at => Speaking(facts, at))
            .Select(rule => (rule, time.DayOf(facts.MoveToAttic).Plus(rule.Days)))
            .MaxBy(pair => pair.Item2);
    }

    private static RetentionRule Speaking(ClockFacts facts, DateTimeOffset at)
    {
        var classification = (
            facts.Classifications.LastOrDefault(one => one.From <= at) ?? facts.Classifications.FirstOrDefault()
        )?.Classification;
        return facts
            .Rules.Where(rule => rule.IsInForce(at) && rule.Covers(facts.Host, classification))
            .OrderByDescending(rule => rule.Particular)
            .ThenByDescending(rule => rule.Days)
            .FirstOrDefault()
            ?? RetentionRule.Standard;
    }

    private TimeLeft LeftUntil(DateTimeOffset until, DateTimeOffset now)
    {
        if (now >= until)
        {
            return new TimeLeft(0, 0);
        }

        var days = time.LastDayBefore(until).DayNumber - time.DayOf(now).DayNumber;
        return days > 0 ? new TimeLeft(days, 0) : new TimeLeft(0, (int)Math.Ceiling((until - now).TotalHours));
    }

    private string Moment(DateTimeOffset at) =>
        at == time.StartOf(time.DayOf(at))
            ? $"the end of {time.LastDayBefore(at).InWords()}"
            : $"{time.DayOf(at).InWords()}, {time.InZone(at).ToString("HH:mm", System.Globalization.CultureInfo.InvariantCulture)}";
}
