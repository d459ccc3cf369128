using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Attic;

/// <summary>The storage freed on a day. Sites of unknown size are counted separately, never as 0.</summary>
public sealed record FreedDay(DateOnly Day, int Sites, long Bytes, int Unmeasured, long BytesSoFar);

/// <summary>The storage freed, day by day, without sites that are being restored.</summary>
public static class Forecast
{
    /// <param name="ends">For each site in the attic, when its storage is freed, and its size. An end before now counts as
    /// today.</param>
    public static IReadOnlyList<FreedDay> Of(
        IReadOnlyList<(DateTimeOffset End, Known<long> Bytes)> ends,
        int days,
        OrganisationTime time,
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
