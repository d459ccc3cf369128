using System.Globalization;

namespace AtticLedger.Bench;

/// <summary>A filter with its sort order, in the grammar of the register and in SQL.</summary>
internal sealed record BenchFilter(int Conditions, string Filter, string Where, string Sort, string Order);

/// <summary>Filters like those of administrators: none, one or three conditions on different attributes, in one of four sort
/// orders.</summary>
internal static class RandomFilters
{
    private static readonly string[] Words =
    [
        "tide",
        "plan",
        "dredge",
        "rota",
        "news",
        "board",
        "light",
        "storm",
        "final",
        "copy",
    ];
    private static readonly DateTimeOffset Today = new(2026, 11, 24, 7, 0, 0, TimeSpan.Zero);

    private static readonly (string Sort, string Order)[] SortOrders =
    [
        ("-gravity", "gravity desc"),
        ("title", "title_key"),
        ("-edited", "edited_known, edited desc"),
        ("-visits", "visits_known, visits desc"),
    ];

    private static readonly Func<Random, (string Filter, string Where)>[] Conditions =
    [
        random => $"U{random.Next(40):D3}" is var unit ? ($"units eq \"{unit}\"", $"units @> array['{unit}']") : default,
        random =>
            Pick(random, "Open", "Internal", "Guarded", "Sealed") is var name
                ? ($"classification eq \"{name}\"", $"classification = '{name}'")
                : default,
        random =>
            Pick(random, "noticeboard", "team", "project", "course") is var kind
                ? ($"kind eq \"{kind}\"", $"kind = '{kind}'")
                : default,
        random =>
            random.Next(4) is var status
                ? ($"status eq \"{Core.Register.SiteAttributes.StatusLabels[status]}\"", $"status = {status}")
                : default,
        random => Pick(random, "Slipway", "Quay", "Lantern") is var host ? ($"host eq \"{host}\"", $"host = '{host}'") : default,
        _ => ("exceeds eq true", "exceeds"),
        _ => ("view.outside gt \"no-one\"", "view_outside_least > 0"),
        _ => ("owners.active.count lt 2", "active_most < 2"),
        random => Pick(random, Words) is var word ? ($"title co \"{word}\"", $"title ilike '%{word}%'") : default,
        random =>
            Today.AddDays(-random.Next(10, 900)) is var day
                ? ($"edited lt \"{Instant(day)}\"", $"edited < '{Instant(day)}'")
                : default,
        random => random.Next(1, 400) is var visits ? ($"visits ge {visits}", $"visits >= {visits}") : default,
        random => random.Next(2, 30) is var editors ? ($"editors.count ge {editors}", $"editors_least >= {editors}") : default,
        random =>
            $"p{random.Next(1, 3000):D6}@merrowby.example" is var mail
                ? ($"owners eq \"{mail}\"", $"owners @> array['{mail}']")
                : default,
        random =>
            Pick(random, "R-02", "R-03", "R-07", "R-09") is var rule
                ? ($"breaks eq \"{rule}\"", $"breaks @> array['{rule}']")
                : default,
    ];

    public static IReadOnlyList<BenchFilter> Of(int count, int seed)
    {
        var random = new Random(seed);
        return
        [
            .. Enumerable
                .Range(0, count)
                .Select(at =>
                {
                    var several = (int[])[0, 1, 3];
                    var conditions = several[at % several.Length];
                    List<(string Filter, string Where)> chosen =
                    [
                        .. Enumerable
                            .Range(0, Conditions.Length)
                            .OrderBy(_ => random.Next())
                            .Take(conditions)
                            .Select(which => Conditions[which](random)),
                    ];
                    var (sort, order) = SortOrders[random.Next(SortOrders.Length)];
                    return new BenchFilter(
                        conditions,
                        string.Join(" and ", chosen.Select(one => one.Filter)),
                        chosen.Count == 0 ? "true" : string.Join(" and ", chosen.Select(one => one.Where)),
                        sort,
                        order
                    );
                }),
        ];
    }

    private static string Pick(Random random, params string[] of) => of[random.Next(of.Length)];

    private static string Instant(DateTimeOffset at) =>
        at.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);
}
