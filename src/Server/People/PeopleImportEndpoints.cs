using AtticLedger.Core.Actions;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.People;

using ImportAnswer = Results<
    Ok<ImportDone>,
    Conflict<PeoplePlanResponse>,
    UnprocessableEntity<RefusalResponse>,
    ProblemHttpResult
>;

/// <summary>Lists of people: previewed and imported.</summary>
internal static class PeopleImportEndpoints
{
    // A list of people is kept in memory, one line per person.
    private const long LargestList = 64L * 1024 * 1024;
    private const int MostRows = 500;

    public static void MapPeopleLists(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/people/imports").WithTags("People").RequireAuthorization(Policies.Administer);
        api.MapPost("/plan", Plan)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .Previews()
            .WithName("planPeopleImport")
            .WithSummary("The plan to import a list of people; nothing is changed.");
        api.MapPost("/rows", Rows)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .Previews()
            .WithName("peopleImportRows")
            .WithSummary("A list of people line by line with the planned result; a window of all lines or of one verdict.");
        api.MapPost("/faults", Faulty)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .Previews()
            .WithName("peopleImportFaults")
            .WithSummary("The lines of a list of people with errors, as CSV, with the error in a column.")
            .Produces<string>(contentType: "text/csv");
        api.MapPost("", Take)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .Carries(ActionName.PeopleImport)
            .WithName("importPeople")
            .WithSummary("Imports a list of people as planned; 409 with the new plan where the effect differs.");
    }

    private static async Task<Results<Ok<PeoplePlanResponse>, ProblemHttpResult>> Plan(
        HttpContext context,
        Database database,
        PeopleImportActions desk,
        LiveRegister index,
        [AsParameters] ListMappingQuery how
    ) =>
        await Read(how, context, desk) is var (read, fault) && read is null
            ? fault!
            : TypedResults.Ok(await Planned(read, context, database, desk, index));

    private static async Task<Results<Ok<ImportRows>, ProblemHttpResult>> Rows(
        HttpContext context,
        Database database,
        PeopleImportActions desk,
        [AsParameters] ListMappingQuery how,
        string? verdict = null,
        int offset = 0,
        int limit = 100
    )
    {
        if (ImportRows.Verdict(verdict) is var (only, wrong) && wrong is not null)
        {
            return wrong;
        }

        var (read, fault) = await Read(how, context, desk);
        if (read is null)
        {
            return fault!;
        }

        var plan = await database.Read(connection => desk.Plan(read, Viewer.Of(context), connection));
        var rows = plan.Rows.Where(row => only is null || row.Verdict == only).ToList();
        return TypedResults.Ok(new ImportRows(rows.Count, [.. rows.Skip(offset).Take(Math.Clamp(limit, 0, MostRows))]));
    }

    private static async Task<Results<PushStreamHttpResult, ProblemHttpResult>> Faulty(
        HttpContext context,
        Database database,
        PeopleImportActions desk,
        [AsParameters] ListMappingQuery how
    )
    {
        var (read, fault) = await Read(how, context, desk);
        if (read is null)
        {
            return fault!;
        }

        var plan = await database.Read(connection => desk.Plan(read, Viewer.Of(context), connection));
        return TypedResults.Stream(
            body =>
                CsvList.Write(
                    body,
                    [.. read.How.Table.Heads, ImportRows.WhatIsWrong],
                    read.How.ToCorrect(plan.Rows.Select(row => row.Why)),
                    context.RequestAborted
                ),
            CsvList.ContentType
        );
    }

    private static async Task<ImportAnswer> Take(
        HttpContext context,
        Database database,
        PeopleImportActions desk,
        LiveRegister index,
        string fingerprint,
        [AsParameters] ListMappingQuery how
    )
    {
        var (read, fault) = await Read(how, context, desk);
        return read is null
            ? fault!
            : await context.Carry(new ImportPeople(read, desk, Viewer.Of(context)), fingerprint, new { fingerprint, how }, _ =>
                Planned(read, context, database, desk, index)
            );
    }

    private static async Task<PeoplePlanResponse> Planned(
        ReadPeople read,
        HttpContext context,
        Database database,
        PeopleImportActions desk,
        LiveRegister index
    )
    {
        var state = await index.Current();
        return await database.Read(async connection =>
            await (await desk.Plan(read, Viewer.Of(context), connection)).ToResponse(
                read,
                connection,
                [.. state.Index.Uncertain()]
            )
        );
    }

    // The file exists until the response is written.
    private static async Task<(ReadPeople? List, ProblemHttpResult? Fault)> Read(
        ListMappingQuery how,
        HttpContext context,
        PeopleImportActions desk
    )
    {
        var list = await SpooledList.Of(to => context.Request.Body.CopyToAsync(to, context.RequestAborted));
        context.Response.RegisterForDispose(list);
        try
        {
            how.Check();
            return (await desk.Read(list.File, how, context.RequestAborted), null);
        }
        catch (Exception fault) when (fault is FormatException or HostException)
        {
            return (null, TypedResults.Problem(statusCode: 422, title: fault.Message));
        }
    }
}
