using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Access;

/// <summary>The sites in use with one reach inside and one outside.</summary>
/// <param name="Exceeding">The number of them where this access exceeds policy.</param>
public sealed record MatrixCell(InsideLevel Inside, OutsideLevel Outside, int Sites, int Exceeding);

/// <summary>The reach of one power over all sites in use in the viewer's scope.</summary>
/// <param name="Cells">Those with sites.</param>
/// <param name="NotPublished">The number of sites that have nothing to view yet; 0 for other powers.</param>
/// <param name="CannotTell">The number of sites whose reach is known only between bounds, or not at all.</param>
/// <param name="Total">The sum of all.</param>
public sealed record AccessMatrix(Power Power, IReadOnlyList<MatrixCell> Cells, int NotPublished, int CannotTell, int Total);

/// <summary>All sites by how far access goes inside and outside.</summary>
internal static class MatrixEndpoint
{
    // As the register counts them, which a cell opens: also those that a host no longer reports.
    private static readonly Filter<JudgedSite> InUse = Filter.Parse("existence eq \"in-use\"", JudgedSite.Attributes);

    private static readonly OfPower[] ByPower = [.. Powers.Limited.Select(power => new OfPower(power))];

    public static void MapMatrix(this IEndpointRouteBuilder app) =>
        app.MapGet("/api/access", Look)
            .WithTags("Access")
            .RequireAuthorization(Policies.Read)
            .WithName("accessMatrix")
            .WithSummary(
                "The number of sites in use by effective reach inside and outside, for each power, in the viewer's scope."
            );

    private static Ok<IReadOnlyList<AccessMatrix>> Look(SeenRegister register)
    {
        var seen = register.Visible;
        return TypedResults.Ok<IReadOnlyList<AccessMatrix>>([.. ByPower.Select(power => Of(power, seen))]);
    }

    private static AccessMatrix Of(OfPower power, VisibleRegister seen)
    {
        var here = seen.Where(InUse).Certainly();
        var exceeds = here.And(seen.Where(power.Exceeds));
        var (inside, outside) = (
            Array.ConvertAll(power.Inside, filter => here.And(seen.Where(filter))),
            Array.ConvertAll(power.Outside, filter => here.And(seen.Where(filter)))
        );
        List<MatrixCell> cells =
        [
            .. from at in Enum.GetValues<InsideLevel>()
            from door in Enum.GetValues<OutsideLevel>()
            let both = inside[(int)at].And(outside[(int)door])
            where both.CountYes > 0
            select new MatrixCell(at, door, both.CountYes, both.And(exceeds).CountYes),
        ];
        var unpublished = here.And(seen.Where(power.None)).CountYes;
        return new AccessMatrix(
            power.Power,
            cells,
            unpublished,
            here.CountYes - unpublished - cells.Sum(cell => cell.Sites),
            here.CountYes
        );
    }

    private sealed class OfPower(Power power)
    {
        public Power Power => power;

        public Filter<JudgedSite>[] Inside { get; } =
        [.. Enum.GetValues<InsideLevel>().Select(level => Read(power, "inside", level))];

        public Filter<JudgedSite>[] Outside { get; } =
        [.. Enum.GetValues<OutsideLevel>().Select(level => Read(power, "outside", level))];

        public Filter<JudgedSite> Exceeds { get; } = Parse($"{power.Word()}.exceeds eq true");

        public Filter<JudgedSite> None { get; } = Parse($"not ({power.Word()}.inside pr)");

        private static Filter<JudgedSite> Read<T>(Power power, string axis, T level)
            where T : struct, Enum =>
            Parse(
                $"{power.Word()}.{axis} eq \"{System.Text.Json.JsonNamingPolicy.KebabCaseLower.ConvertName(level.ToString())}\""
            );

        private static Filter<JudgedSite> Parse(string text) => Filter.Parse(text, JudgedSite.Attributes);
    }
}
