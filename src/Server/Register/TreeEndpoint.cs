using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Register;

/// <summary>A site and everything below it, added up.</summary>
/// <param name="Pages">Of the sites that report them; <paramref name="Kilobytes"/> likewise.</param>
/// <param name="Unmeasured">The number of sites that do not report pages or storage.</param>
/// <param name="Owners">The number of different people.</param>
public sealed record TreeTotals(int Sites, long Pages, long Kilobytes, int Unmeasured, int Owners);

/// <param name="Depth">0 for a site without a parent in the viewer's scope.</param>
public sealed record TreeRow(long Id, string Title, string? Address, string Host, int Depth, TreeTotals Totals);

/// <param name="Rows">Each parent before those below it; at most 2,000.</param>
/// <param name="More">The number of rows not listed.</param>
/// <param name="Alone">The number of sites in use that have no other above or below them.</param>
public sealed record TreeResponse(IReadOnlyList<TreeRow> Rows, int More, int Alone);

/// <summary>The register as a tree by parent, with totals.</summary>
internal static class TreeEndpoint
{
    private const int MostRows = 2000;

    public static void MapTree(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/register/tree", Look)
            .WithTags("Register")
            .RequireAuthorization(Policies.Read)
            .WithName("tree")
            .WithSummary("Sites in use with others above or below them, as a tree with totals, within the viewer's scope.");

    private static async Task<Ok<TreeResponse>> Look(SeenRegister register, Database database)
    {
        var seen = register.Visible;
        var pairs = (await database.Read(connection => connection.Parents())).FindAll(pair =>
            IsHere(seen.Find(pair.Child)) && IsHere(seen.Find(pair.Parent))
        );
        var below = pairs.ToLookup(pair => pair.Parent, pair => pair.Child);
        var children = pairs.Select(pair => pair.Child).ToHashSet();
        List<(TreeRow Row, HashSet<PersonId> Owners)> rows = [];
        var shown = new HashSet<SiteId>();
        foreach (var root in Sorted(pairs.Select(pair => pair.Parent).Distinct().Where(parent => !children.Contains(parent))))
        {
            Add(root, 0);
        }

        // Sites that are above each other in a circle have no root.
        foreach (var rest in Sorted(children.Where(child => !shown.Contains(child))))
        {
            if (!shown.Contains(rest))
            {
                Add(rest, 0);
            }
        }

        return TypedResults.Ok(
            new TreeResponse(
                [.. rows.Take(MostRows).Select(row => row.Row)],
                Math.Max(0, rows.Count - MostRows),
                seen.InUse.CountYes - shown.Count
            )
        );

        IEnumerable<SiteId> Sorted(IEnumerable<SiteId> sites) =>
            sites.OrderBy(site => seen.Find(site)!.Value.Title, StringComparer.OrdinalIgnoreCase).ThenBy(site => site.Value);

        (TreeTotals Totals, HashSet<PersonId> Owners) Add(SiteId site, int depth)
        {
            shown.Add(site);
            var line = seen.Find(site)!.Value;
            var place = rows.Count;
            rows.Add(default);
            HashSet<PersonId> owners = [.. line.Owners.Holders.Select(holder => holder.Person.Id)];
            var (pages, storage) = (line.Pages, line.Kilobytes);
            var totals = new TreeTotals(
                1,
                pages.Or(0),
                storage.Or(0),
                pages.IsUnknown || storage.IsUnknown ? 1 : 0,
                owners.Count
            );
            foreach (var child in Sorted(below[site]).Where(child => !shown.Contains(child)))
            {
                var (of, theirs) = Add(child, depth + 1);
                owners.UnionWith(theirs);
                totals = new TreeTotals(
                    totals.Sites + of.Sites,
                    totals.Pages + of.Pages,
                    totals.Kilobytes + of.Kilobytes,
                    totals.Unmeasured + of.Unmeasured,
                    owners.Count
                );
            }

            rows[place] = (
                new TreeRow(site.Value, line.Title, line.Address.Has(out var address) ? address : null, line.Host, depth, totals),
                owners
            );
            return (totals, owners);
        }
    }

    private static bool IsHere(RegisterRow? line) => line is { Existence: Existence.InUse, NoLongerReported: false };
}
