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
        var rows = new List<Branch>();
        var shown = new HashSet<SiteId>();

        // Sites that are above each other in a circle have no root; the first by title stands for one.
        foreach (
            var root in Sorted(pairs.Select(pair => pair.Parent).Distinct().Where(parent => !children.Contains(parent)))
                .Concat(Sorted(children))
        )
        {
            Add(root);
        }

        AddUp(rows);
        return TypedResults.Ok(
            new TreeResponse(
                [.. rows.Take(MostRows).Select(branch => branch.Row)],
                Math.Max(0, rows.Count - MostRows),
                seen.InUse.CountYes - shown.Count
            )
        );

        IEnumerable<SiteId> Sorted(IEnumerable<SiteId> sites) =>
            sites.OrderBy(site => seen.Find(site)!.Value.Title, StringComparer.OrdinalIgnoreCase).ThenBy(site => site.Value);

        // A branch may be as deep as the register is large, so nothing here calls itself.
        void Add(SiteId root)
        {
            var next = new Stack<(SiteId Site, int? Above)>([(root, null)]);
            while (next.TryPop(out var one))
            {
                if (!shown.Add(one.Site))
                {
                    continue;
                }

                rows.Add(
                    Branch.Of(seen.Find(one.Site)!.Value, one.Above, one.Above is { } above ? rows[above].Row.Depth + 1 : 0)
                );
                var place = rows.Count - 1;
                foreach (var child in Sorted(below[one.Site]).Reverse())
                {
                    next.Push((child, place));
                }
            }
        }
    }

    // Each branch stands before those below it, so from the end every branch is complete when it is added to the one above.
    private static void AddUp(List<Branch> rows)
    {
        for (var place = rows.Count - 1; place >= 0; place--)
        {
            var branch = rows[place];
            branch.Row = branch.Row with { Totals = branch.Row.Totals with { Owners = branch.Owners.Count } };
            if (branch.Above is not { } above)
            {
                continue;
            }

            var (of, totals) = (branch.Row.Totals, rows[above].Row.Totals);
            rows[above].Owners.UnionWith(branch.Owners);
            rows[above].Row = rows[above].Row with
            {
                Totals = new TreeTotals(
                    totals.Sites + of.Sites,
                    totals.Pages + of.Pages,
                    totals.Kilobytes + of.Kilobytes,
                    totals.Unmeasured + of.Unmeasured,
                    0
                ),
            };
        }
    }

    /// <summary>A row while it is added up.</summary>
    private sealed class Branch
    {
        public required TreeRow Row { get; set; }

        /// <summary>The place of the row above; null at the root.</summary>
        public required int? Above { get; init; }

        public required HashSet<PersonId> Owners { get; init; }

        public static Branch Of(RegisterRow line, int? above, int depth) =>
            new()
            {
                Row = new TreeRow(
                    line.Id.Value,
                    line.Title,
                    line.Address.Has(out var address) ? address : null,
                    line.Host,
                    depth,
                    new TreeTotals(
                        1,
                        line.Pages.Or(0),
                        line.Kilobytes.Or(0),
                        line.Pages.IsUnknown || line.Kilobytes.IsUnknown ? 1 : 0,
                        0
                    )
                ),
                Above = above,
                Owners = [.. line.Owners.Holders.Select(holder => holder.Person.Id)],
            };
    }

    private static bool IsHere(RegisterRow? line) => line is { Existence: Existence.InUse, NoLongerReported: false };
}
