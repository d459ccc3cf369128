using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Attic;

/// <summary>The class that a put-away site had from an instant on.</summary>
public sealed record ClassSince(string? Class, DateTimeOffset From);

/// <summary>What a clock is read from.</summary>
/// <param name="PutAway">The instant that days are counted from.</param>
/// <param name="Classes">The classes since then, the first one at or before the putting away.</param>
/// <param name="HostEnds">Until when the host itself can bring the site back, where it says.</param>
public sealed record ClockFacts(
    string Host,
    DateTimeOffset PutAway,
    IReadOnlyList<ClassSince> Classes,
    IReadOnlyList<KeepRule> Rules,
    IReadOnlyList<Hold> Holds,
    Known<DateTimeOffset> HostEnds
);

/// <summary>How much time is left: whole days, begun hours on the last day, or none. Never negative.</summary>
public readonly record struct TimeLeft(int Days, int Hours)
{
    public bool IsOver => Days == 0 && Hours == 0;

    public string Words =>
        IsOver ? "over"
        : Days == 0 ? $"{Hours} {(Hours == 1 ? "hour" : "hours")}"
        : $"{Days} {(Days == 1 ? "day" : "days")}";
}

/// <summary>
/// How long a put-away site is kept: our end and the host's, two dates and never one. Our end is the first instant of
/// the day after D in the organisation's zone, where D is the latest day that any rule in force since the putting away
/// gave, each counted from the putting away.
/// </summary>
public sealed record Clock
{
    /// <summary>After a hold ends, at least so many whole days are left.</summary>
    public const int DaysAfterRelease = 7;

    private readonly HouseTime time;

    private Clock(HouseTime time) => this.time = time;

    public required DateTimeOffset PutAway { get; init; }

    /// <summary>The last day on which the house keeps it by its rules, holds apart.</summary>
    public required DateOnly LastDay { get; init; }

    public required KeepRule Because { get; init; }

    /// <summary>The hold that is in force, or null.</summary>
    public Hold? Held { get; init; }

    /// <summary>The hold that ended and pushed the end on, or null.</summary>
    public Hold? PushedBy { get; init; }

    /// <summary>From when the house may clear it: null while a hold is in force.</summary>
    public DateTimeOffset? Clears { get; init; }

    /// <summary>The end of the host's own clock, where it has one that is known.</summary>
    public DateTimeOffset? HostEnds { get; init; }

    public DateTimeOffset End => time.EndOf(LastDay);

    /// <summary>Whether the host's clock runs out before ours.</summary>
    public bool HostIsFirst => HostEnds is { } host && !(Clears <= host);

    /// <summary>Until when it can surely be brought back: the earlier of the two ends; null where neither is known.</summary>
    public DateTimeOffset? RecoverableUntil => HostIsFirst ? HostEnds : Clears;

    public bool IsDue(DateTimeOffset now) => Clears <= now;

    public static Clock Of(ClockFacts facts, HouseTime time, DateTimeOffset now)
    {
        var (because, lastDay) = Latest(facts, time, now);
        var held = facts
            .Holds.Where(hold => hold.IsInForce(now, time))
            .OrderByDescending(hold => hold.EndsAt(time) ?? DateTimeOffset.MaxValue)
            .FirstOrDefault();
        var end = time.EndOf(lastDay);
        var pushed = facts
            .Holds.Where(hold => hold.EndsAt(time) is { } over && over <= now && over > facts.PutAway)
            .Select(hold => (Hold: hold, End: time.EndOf(time.DayOf(hold.EndsAt(time)!.Value).Plus(DaysAfterRelease))))
            .Where(pair => pair.End > end)
            .OrderByDescending(pair => pair.End)
            .FirstOrDefault();
        return new Clock(time)
        {
            PutAway = facts.PutAway,
            LastDay = lastDay,
            Because = because,
            Held = held,
            PushedBy = held is null ? pushed.Hold : null,
            Clears =
                held is not null ? null
                : pushed.Hold is not null ? pushed.End
                : end,
            HostEnds = facts.HostEnds.Has(out var host) ? host : null,
        };
    }

    /// <summary>What is left until it can no longer surely be brought back; over where the end has passed.</summary>
    public TimeLeft Left(DateTimeOffset now) => RecoverableUntil is { } until ? LeftUntil(until, now) : LeftUntil(End, now);

    /// <summary>How much of the time has passed, from 0 to 1; past the end it stays full.</summary>
    public double Passed(DateTimeOffset now)
    {
        var until = RecoverableUntil ?? End;
        return until <= PutAway ? 1 : Math.Clamp((now - PutAway) / (until - PutAway), 0, 1);
    }

    /// <summary>The one line that every screen shows.</summary>
    public string Words(string host, DateTimeOffset now)
    {
        var house = $"the house keeps {Because.Of} {Because.Days} days";
        var ours =
            Held is { } held ? $"held{(held.Through is { } through ? $" through {Day(through)}" : "")}: {held.Reason}"
            : PushedBy is { } pushed
                ? $"kept through {Day(time.LastDayBefore(Clears!.Value))}, {DaysAfterRelease} days after the hold \"{pushed.Reason}\" ended"
            : $"kept through {Day(LastDay)}, because {house}";
        return HostEnds is { } ends && HostIsFirst
                ? $"Can be brought back until {Moment(ends)}, because {host} clears its bin then; {(Held is null ? $"the house would keep it through {Day(time.LastDayBefore(Clears ?? End))}" : ours)}."
            : IsDue(now)
                ? $"Its time was over on {Day(time.LastDayBefore(Clears!.Value))}, because {house}; it waits to be cleared out."
            : $"{char.ToUpperInvariant(ours[0])}{ours[1..]}.";
    }

    private static (KeepRule Because, DateOnly LastDay) Latest(ClockFacts facts, HouseTime time, DateTimeOffset now)
    {
        // What speaks can only change when a rule begins or ends, or the class does.
        var until = now < facts.PutAway ? facts.PutAway : now;
        var moments = facts
            .Rules.SelectMany(rule => new[] { rule.From, rule.Until ?? facts.PutAway })
            .Concat(facts.Classes.Select(one => one.From))
            .Append(facts.PutAway)
            .Where(at => at >= facts.PutAway && at <= until)
            .Distinct()
            .Order();
        return moments
            .Select(at => Speaking(facts, at))
            .Select(rule => (rule, time.DayOf(facts.PutAway).Plus(rule.Days)))
            .MaxBy(pair => pair.Item2);
    }

    private static KeepRule Speaking(ClockFacts facts, DateTimeOffset at)
    {
        var @class = (facts.Classes.LastOrDefault(one => one.From <= at) ?? facts.Classes.FirstOrDefault())?.Class;
        return facts
            .Rules.Where(rule => rule.IsInForce(at) && rule.Covers(facts.Host, @class))
            .OrderByDescending(rule => rule.Particular)
            .ThenByDescending(rule => rule.Days)
            .FirstOrDefault()
            ?? KeepRule.Standard;
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
            ? $"the end of {Day(time.LastDayBefore(at))}"
            : $"{Day(time.DayOf(at))}, {TimeZoneInfo.ConvertTime(at, time.Zone).ToString("HH:mm", System.Globalization.CultureInfo.InvariantCulture)}";

    private static string Day(DateOnly day) => day.ToString("d MMM yyyy", System.Globalization.CultureInfo.InvariantCulture);
}
