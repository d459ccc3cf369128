using System.Text;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Batches;

using BatchAnswer = Results<Ok<BatchIdResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>Plans new names for many sites, derived from those that they have or read from a list.</summary>
internal static class RenamingEndpoints
{
    private const int LongestWords = 200;
    private const int LongestList = 2_000_000;
    private const int MostFaults = 5;
    private static readonly string[] SiteHeads = ["site", "address", "name", "current name"];
    private static readonly string[] NameHeads = ["new name", "new"];

    public static void MapRenaming(this IEndpointRouteBuilder app) =>
        app.MapPost("/api/batches/renaming", Plan)
            .WithTags("Batches")
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planRenaming")
            .WithSummary(
                "Plans new names for many sites, derived from those that they have or read from a list. Nothing is changed; the plan is deleted after a day."
            );

    private static async Task<BatchAnswer> Plan(
        RenamingRequest request,
        HttpContext context,
        BatchActions desk,
        SeenRegister register
    )
    {
        Dictionary<SiteId, string>? listed = null;
        if (request.Way == RenamingWay.List)
        {
            try
            {
                listed = Listed(request.List ?? "", register.Visible);
            }
            catch (FormatException fault)
            {
                return BatchEndpoints.Problem("The list cannot be used.", fault.Message);
            }
        }

        List<SiteId> sites = [.. listed?.Keys ?? (request.Sites ?? []).Distinct().Select(site => new SiteId(site))];
        if (Missing(request) is { } problem)
        {
            return problem;
        }

        var way = Way(request);
        return sites.Count switch
        {
            0 => BatchEndpoints.Problem("The list of sites is empty.", "Name at least one site."),
            > Batch.MostSites => BatchEndpoints.Problem(
                $"{sites.Count} sites are too many.",
                $"Name at most {Batch.MostSites}, and the others in a later batch."
            ),
            _ => BatchEndpoints.Answer(
                await desk.Rename(
                    Viewer.Of(context),
                    sites,
                    listed is null
                        ? site =>
                            site.Name.Has(out var name) ? way.Of(name, site.Unit.Has(out var unit) ? unit.Value : null) : null
                        : site => listed[site.Id] is var name && site.Name.Has(out var now) && name == now ? null : name,
                    SiteActionAnswers.Reason(request.Reason)
                ),
                context
            ),
        };
    }

    private static Renaming Way(RenamingRequest request) =>
        request.Way switch
        {
            RenamingWay.Replace => new Renaming.Replacing(
                Renaming.OneLine(Text(request.Find)),
                Renaming.OneLine(Text(request.Words))
            ),
            RenamingWay.Begin => new Renaming.Beginning(Text(request.Words)),
            _ => new Renaming.Tidied(),
        };

    private static ProblemHttpResult? Missing(RenamingRequest request) =>
        request.Way == RenamingWay.Replace && string.IsNullOrWhiteSpace(request.Find)
            ? BatchEndpoints.Problem("The words to replace are missing.", "Type what the names have now.")
        : request.Way == RenamingWay.Begin && string.IsNullOrWhiteSpace(request.Words)
            ? BatchEndpoints.Problem("The words are missing.", "Type what the names are to begin with.")
        : Math.Max(request.Find?.Length ?? 0, request.Words?.Length ?? 0) > LongestWords
            ? BatchEndpoints.Problem("The words are too long.", $"{LongestWords} characters are the maximum.")
        : null;

    /// <summary>The new names of a list, by site.</summary>
    /// <exception cref="FormatException">It is not a list, or a line names no site or no name; the message names the
    /// lines.</exception>
    private static Dictionary<SiteId, string> Listed(string list, VisibleRegister seen)
    {
        if (list.Length > LongestList)
        {
            throw new FormatException($"It is too long: {LongestList} characters are the maximum. Split it.");
        }

        var bytes = Encoding.UTF8.GetBytes(Text(list).TrimStart());
        var table = ListTable.Read(() => new MemoryStream(bytes, writable: false));
        var (siteAt, nameAt) = (Place(table.Heads, SiteHeads, "site"), Place(table.Heads, NameHeads, "new name"));
        var rows = seen.Lines(seen.InUse).ToList();
        var byAddress = rows.Where(row => row.Address.Has(out _)).ToLookup(row => row.Address.Or(""));
        var byName = rows.ToLookup(row => row.Title);
        var names = new Dictionary<SiteId, (int Line, string Name)>();
        var faults = new List<string>();
        foreach (var row in table.Rows)
        {
            string Cell(int place) => place < row.Cells.Count ? Renaming.OneLine(row.Cells[place]) : "";
            var (site, name) = (Cell(siteAt), Cell(nameAt));
            if (site.Length == 0 && name.Length == 0)
            {
                continue;
            }

            List<RegisterRow> found = [.. byAddress[site]];
            found = found.Count > 0 ? found : [.. byName[site]];
            var fault =
                site.Length == 0 ? "no site is named"
                : name.Length == 0 ? $"no new name for {site}"
                : found.Count == 0 ? $"no site in use in your scope has the address or the name {site}"
                : found.Count > 1 ? $"{found.Count} sites are {site}; write the address instead"
                : names.TryGetValue(found[0].Id, out var before) ? $"{site} has a new name in line {before.Line} already"
                : null;
            if (fault is not null)
            {
                faults.Add($"Line {row.Line}: {fault}.");
            }
            else
            {
                names[found[0].Id] = (row.Line, name);
            }
        }

        if (faults.Count > 0)
        {
            throw new FormatException(
                string.Join(' ', faults.Take(MostFaults))
                    + (faults.Count > MostFaults ? $" {faults.Count - MostFaults} more lines have faults." : "")
            );
        }

        return names.ToDictionary(pair => pair.Key, pair => pair.Value.Name);
    }

    private static int Place(IReadOnlyList<string> heads, string[] known, string head) =>
        heads.ToList().FindIndex(one => known.Contains(one.Trim().ToLowerInvariant())) is >= 0 and var at
            ? at
            : throw new FormatException(
                $"Its first line names no column \"{head}\". The columns are \"site\", with the address or the name that the site has, and \"new name\"."
            );

    // The database cannot store NUL.
    private static string Text(string? text) => (text ?? "").Normalize().Replace('\0', '\uFFFD');
}
