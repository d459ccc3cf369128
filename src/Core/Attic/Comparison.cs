using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Attic;

/// <summary>One difference; <paramref name="Meant"/> if the restore requested it.</summary>
public sealed record Difference(string What, string Before, string After, bool Meant);

/// <summary>The restored site compared with what went into the attic. Clean if there is no unintended difference.</summary>
public static class Comparison
{
    /// <param name="who">The subject of a grant, in words.</param>
    public static IReadOnlyList<Difference> Of(Snapshot went, Snapshot came, WantedState meant, Func<Grant, string> who)
    {
        var differences = new List<Difference>();
        Compare("name", went.Name, came.Name, false);
        Compare("address", went.Address, came.Address, meant.Address is not null && came.Address.Or("") == meant.Address);
        Compare("unit", went.Unit, came.Unit, false);
        Compare("classification", went.Classification, came.Classification, false);
        Compare("status", went.Status, came.Status, false);
        Compare("pages", went.Pages, came.Pages, false);
        if (!went.Grants.Has(out var before) || !came.Grants.Has(out var after))
        {
            differences.Add(
                new Difference(
                    "access",
                    went.Grants.IsUnknown ? "unknown" : "known",
                    came.Grants.IsUnknown ? "unknown" : "known",
                    false
                )
            );
            return differences;
        }

        var requested = meant.Grants.ToDictionary(change => change.Key, change => change.Wanted);
        foreach (var key in before.Concat(after).Select(grant => grant.Key).Distinct().Order(StringComparer.Ordinal))
        {
            var was = before.FirstOrDefault(grant => grant.Key == key);
            var isNow = after.FirstOrDefault(grant => grant.Key == key);
            if (was != isNow)
            {
                differences.Add(
                    new Difference(
                        who((was ?? isNow)!),
                        was?.Power.Word() ?? "nothing",
                        isNow?.Power.Word() ?? "nothing",
                        requested.TryGetValue(key, out var wanted) && wanted == isNow
                    )
                );
            }
        }

        return differences;

        void Compare<T>(string what, Known<T> was, Known<T> isNow, bool isMeant)
            where T : notnull
        {
            if (was != isNow)
            {
                differences.Add(new Difference(what, was.ToString(), isNow.ToString(), isMeant));
            }
        }
    }
}
