using System.Globalization;
using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Npgsql;

namespace AtticLedger.Server.Sources;

using ImportAnswer = Results<Ok<ImportBegun>, Conflict<ImportPlan>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>Lists of sites: previewed and imported; and the manual procedure of their hosts.</summary>
internal static class ImportEndpoints
{
    private const long LargestList = 4L * 1024 * 1024 * 1024;
    private const int MostRows = 500;

    public static void MapLists(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/sources/{name}").WithTags("Sources").RequireAuthorization(Policies.Administer);
        api.MapPut("/manual-procedure", SetManualProcedure)
            .Carries(ActionName.ProcedureSet)
            .WithName("setManualProcedure")
            .WithSummary(
                "Sets the manual procedure of a host without a connector: who does the tasks, with which account, in which steps."
            );
        api.MapPost("/imports/plan", Plan)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .Previews()
            .WithName("planSiteImport")
            .WithSummary("The plan to import a list of sites of such a host; nothing is changed.");
        api.MapPost("/imports/rows", Rows)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .Previews()
            .WithName("siteImportRows")
            .WithSummary(
                "A list line by line with the planned result: new, changed and how, the same, or refused and why; a window of all lines or of one verdict."
            );
        api.MapPost("/imports/faults", Faulty)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .Previews()
            .WithName("siteImportFaults")
            .WithSummary(
                "The lines of a list with errors, as CSV, with the error in an additional column, to be corrected and imported again."
            )
            .Produces<string>(contentType: "text/csv");
        api.MapPost("/imports", Take)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .Carries(ActionName.SitesImport)
            .WithName("importSites")
            .WithSummary("Imports a list as planned; 409 with the new plan where the effect differs.");
    }

    private static async Task<Results<Ok<ImportPlan>, ProblemHttpResult>> Plan(
        string name,
        HttpContext context,
        Database database,
        ImportActions desk,
        [AsParameters] ListMappingQuery how,
        bool whole = true,
        DateTimeOffset? asOf = null
    ) =>
        await Read(name, how, context, database, desk, asOf, context.RequestAborted) is var (read, fault) && read is null
            ? fault!
            : TypedResults.Ok(
                (
                    await database.Read(connection =>
                        ImportPreview.Of(name, read, whole, asOf ?? database.Now, connection, database)
                    )
                ).ToResponse(read)
            );

    private static async Task<Results<Ok<ImportRows>, ProblemHttpResult>> Rows(
        string name,
        HttpContext context,
        Database database,
        ImportActions desk,
        [AsParameters] ListMappingQuery how,
        DateTimeOffset? asOf = null,
        string? verdict = null,
        int offset = 0,
        int limit = 100
    )
    {
        if (ImportRows.Verdict(verdict) is var (only, wrong) && wrong is not null)
        {
            return wrong;
        }

        var (read, fault) = await Read(name, how, context, database, desk, asOf, context.RequestAborted);
        if (read is null)
        {
            return fault!;
        }

        var (total, window) = (0, new List<ImportRow>());
        await database.Read(connection => ImportPreview.Of(name, read, false, asOf ?? database.Now, connection, database, row =>
            {
                if (only is null || row.Verdict == only)
                {
                    if (total >= offset && window.Count < Math.Clamp(limit, 0, MostRows))
                    {
                        window.Add(row);
                    }

                    total++;
                }
            }));
        return TypedResults.Ok(new ImportRows(total, window));
    }

    private static async Task<ImportAnswer> Take(
        string name,
        HttpContext context,
        Database database,
        ImportActions desk,
        SourceSync sources,
        LiveRegister index,
        IHostApplicationLifetime lifetime,
        string fingerprint,
        [AsParameters] ListMappingQuery how,
        bool whole = true,
        DateTimeOffset? asOf = null
    )
    {
        var (read, fault) = await Read(name, how, context, database, desk, asOf, CancellationToken.None);
        if (read is null)
        {
            return fault!;
        }

        var at = asOf ?? database.Now;
        var plan = await database.Read(connection => ImportPreview.Of(name, read, whole, at, connection, database));
        // The current mapping: the remembered one may differ when the import is resumed.
        var mapping = JsonSerializer.Serialize(ListMappingQuery.As(read.How));
        var kept = new KeptList(name, Viewer.Of(context).Person, whole, at, plan.Fingerprint, mapping);
        var answer = await context.Carry(
            new ImportSites(kept, read, plan.Fingerprint, sources),
            fingerprint,
            new
            {
                name,
                fingerprint,
                mapping,
                whole,
                asOf,
            },
            _ => Task.FromResult(plan.ToResponse(read))
        );
        if (answer.Result is not Ok<ImportBegun> { Value.Id: var siteImport })
        {
            return answer;
        }

        // A repeated request finds the import ended or another server at work on it.
        var isOpen = (await database.Read(connection => connection.SiteImports(name))).Exists(one =>
            one.Id == siteImport && one.IsOpen
        );
        if (isOpen && await desk.Complete(kept, read, siteImport, lifetime.ApplicationStopping) is { } error)
        {
            return TypedResults.Problem(
                statusCode: 503,
                title: "The import did not finish.",
                detail: $"{error} What was imported stays; import the list again."
            );
        }

        RegisterAt.Set(context, (await index.Refresh()).Place);
        return answer;
    }

    private static async Task<Results<PushStreamHttpResult, ProblemHttpResult>> Faulty(
        string name,
        HttpContext context,
        Database database,
        ImportActions desk,
        [AsParameters] ListMappingQuery how
    )
    {
        var (read, fault) = await Read(name, how, context, database, desk, null, context.RequestAborted);
        if (read is null)
        {
            return fault!;
        }

        return TypedResults.Stream(
            body =>
                CsvList.Write(
                    body,
                    [.. read.How.Table.Heads, ImportRows.WhatIsWrong],
                    read.How.ToCorrect(read.Lines.Select(line => (IReadOnlyList<string>)[.. line.Faults.Select(one => one.Why)])),
                    context.RequestAborted
                ),
            CsvList.ContentType
        );
    }

    private static Task<
        Results<Ok<ActionDone>, Conflict<ManualProcedureSettings>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>
    > SetManualProcedure(string name, ManualProcedureSettings request, HttpContext context, IEnumerable<ISiteHost> hosts) =>
        context.Carry(
            new SetManualProcedure(name, request, [.. hosts.Select(host => host.Name)], Viewer.Of(context)),
            null,
            request,
            _ => Task.FromResult(request)
        );

    /// <param name="stop">Not the request's own token: an import reads its list to the end, even if the person leaves. The file
    /// exists until the response is written.</param>
    private static async Task<(ParsedList? List, ProblemHttpResult? Fault)> Read(
        string name,
        ListMappingQuery how,
        HttpContext context,
        Database database,
        ImportActions desk,
        DateTimeOffset? asOf,
        CancellationToken stop
    )
    {
        if ((await database.Read(connection => connection.Organisation())).CapabilitiesOf(name).ManualProcedure is null)
        {
            return (
                null,
                TypedResults.Problem(
                    statusCode: 404,
                    title: $"There is no list of \"{name}\".",
                    detail: "Set the manual procedure of this host first."
                )
            );
        }

        if (asOf > database.Now)
        {
            return (null, TypedResults.Problem(statusCode: 422, title: "The instant of a list cannot be in the future."));
        }

        var list = await SpooledList.Of(to => context.Request.Body.CopyToAsync(to, context.RequestAborted));
        context.Response.RegisterForDispose(list);
        try
        {
            how.Check();
            return (await desk.Read(name, list.File, how, stop), null);
        }
        catch (Exception fault) when (fault is FormatException or HostException)
        {
            return (null, TypedResults.Problem(statusCode: 422, title: fault.Message));
        }
    }
}
