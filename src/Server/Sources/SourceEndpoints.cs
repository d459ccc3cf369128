using AtticLedger.Server.Accounts;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Sources;

/// <param name="Read">How many sites have been taken in so far.</param>
/// <param name="Refused">What the source would not tell of.</param>
public sealed record SourceWire(string Name, DateTimeOffset? Began, DateTimeOffset? Ended, bool? Complete, int Read, int? Expected, IReadOnlyList<string> Refused, string? Error, bool IsReading);

internal static class SourceEndpoints
{
    public static void MapSources(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/sources").WithTags("Sources");
        api.MapGet("", List).RequireAuthorization(Policies.Read).WithName("sources").WithSummary("Each source, when it was last read and how completely.");
        api.MapPost("/{name}/read", Read).RequireAuthorization(Policies.Administer).WithName("readSource").WithSummary("Asks for a read now; it goes on in the background.");
    }

    private static async Task<Ok<IReadOnlyList<SourceWire>>> List(HttpContext context, Database database)
    {
        // What a source refused names sites, which only those who see everything may know of.
        var seesAll = Viewer.Of(context).Role is Role.Administrator or Role.Auditor;
        var sources = await database.Read(connection => connection.Sources(database.Now));
        return TypedResults.Ok<IReadOnlyList<SourceWire>>(
            [.. sources.Select(source => new SourceWire(
                source.Name, source.Began, source.Ended, source.Complete,
                seesAll ? source.Read : 0, seesAll ? source.Expected : null, seesAll ? source.Refused : [], seesAll ? source.Error : null,
                source.IsReading || source.Wanted))]);
    }

    private static async Task<Results<Accepted, ProblemHttpResult>> Read(string name, SourceReader reader, Database database, IHostApplicationLifetime life)
    {
        if (!reader.Names.Contains(name))
        {
            return TypedResults.Problem(statusCode: 404, title: $"There is no source \"{name}\".", detail: $"There are: {string.Join(", ", reader.Names)}.");
        }

        await database.Change(change => change.Want(name));
        reader.Wake(life.ApplicationStopping);
        return TypedResults.Accepted((string?)null);
    }
}
