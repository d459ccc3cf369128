using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Attic;

/// <summary>What is freed on a day. Sites of unknown size are counted and never taken for empty.</summary>
public sealed record FreedDay(DateOnly Day, int Sites, long Bytes, int Unmeasured, long BytesSoFar);

/// <summary>When storage is freed, day by day. What is brought back is not in it.</summary>
public static class Forecast
{
    /// <param name="ends">For each put-away site, when what it takes is freed, and how much that is. An end before now counts on today.</param>
    public static IReadOnlyList<FreedDay> Of(
        IReadOnlyList<(DateTimeOffset End, Known<long> Bytes)> ends,
        int days,
        HouseTime time,
        DateTimeOffset now
    )
    {
        var today = time.DayOf(now);
        var byDay = ends.ToLookup(one => one.End <= now ? today : time.DayOf(one.End));
        var soFar = 0L;
        return
        [
            .. Enumerable
                .Range(0, days)
                .Select(day => today.Plus(day))
                .Select(day =>
                {
                    var freed = byDay[day].ToList();
                    var bytes = freed.Sum(one => one.Bytes.Or(0));
                    soFar += bytes;
                    return new FreedDay(day, freed.Count, bytes, freed.Count(one => one.Bytes.IsUnknown), soFar);
                }),
        ];
    }
}
