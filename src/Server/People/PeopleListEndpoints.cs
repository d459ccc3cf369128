using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.People;

/// <summary>Lists of people that somebody keeps by hand: tried out, and taken in.</summary>
internal static class PeopleListEndpoints
{
    // A list of people is held in memory; it has a line for each.
    private const long LargestList = 64L * 1024 * 1024;
    private const int MostRows = 500;

    public static void MapPeopleLists(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/people/list").WithTags("People").RequireAuthorization(Policies.Administer);
        api.MapPost("/plan", Plan)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .WithName("planPeople")
            .WithSummary("What taking in a list of people would come to; nothing is changed.");
        api.MapPost("/rows", Rows)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .WithName("peopleRows")
            .WithSummary("A list of people line by line, with what would become of each; a window of all or of one verdict.");
        api.MapPost("/faults", Faulty)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .WithName("peopleFaults")
            .WithSummary("The lines of a list of people with which something is wrong, as CSV, with a column that says what.")
            .Produces<string>(contentType: "text/csv");
        api.MapPost("", Take)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .WithName("takePeople")
            .WithSummary(
                "Takes a list of people in as planned; 409 with the new plan where it would come to something else by now."
            );
    }

    private static async Task<Results<Ok<PeoplePlanWire>, ProblemHttpResult>> Plan(
        HttpContext context,
        Database database,
        PeopleListDesk desk,
        LedgerSheet sheet,
        [AsParameters] ListReadingQuery how
    ) =>
        await Read(how, context, desk) is var (read, fault) && read is null
            ? fault!
            : TypedResults.Ok(await Planned(read, context, database, desk, sheet));

    private static async Task<Results<Ok<ListRowsWire>, ProblemHttpResult>> Rows(
        HttpContext context,
        Database database,
        PeopleListDesk desk,
        [AsParameters] ListReadingQuery how,
        string? verdict = null,
        int offset = 0,
        int limit = 100
    )
    {
        if (ListRowsWire.Verdict(verdict) is var (only, wrong) && wrong is not null)
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
        return TypedResults.Ok(new ListRowsWire(rows.Count, [.. rows.Skip(offset).Take(Math.Clamp(limit, 0, MostRows))]));
    }

    private static async Task<Results<PushStreamHttpResult, ProblemHttpResult>> Faulty(
        HttpContext context,
        Database database,
        PeopleListDesk desk,
        [AsParameters] ListReadingQuery how
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
                    [.. read.How.Table.Heads, ListRowsWire.WhatIsWrong],
                    read.How.ToMend(plan.Rows.Select(row => row.Why)),
                    context.RequestAborted
                ),
            CsvList.ContentType
        );
    }

    private static async Task<Results<Ok<ListTakenWire>, Conflict<PeoplePlanWire>, ProblemHttpResult>> Take(
        HttpContext context,
        Database database,
        PeopleListDesk desk,
        LedgerSheet sheet,
        string fingerprint,
        [AsParameters] ListReadingQuery how
    )
    {
        var (read, fault) = await Read(how, context, desk);
        if (read is null)
        {
            return fault!;
        }

        if (await desk.Take(read, Viewer.Of(context), fingerprint) is not { } place)
        {
            return TypedResults.Conflict(await Planned(read, context, database, desk, sheet));
        }

        SheetAt.Say(context, place);
        return TypedResults.Ok(new ListTakenWire(place));
    }

    private static async Task<PeoplePlanWire> Planned(
        ReadPeople read,
        HttpContext context,
        Database database,
        PeopleListDesk desk,
        LedgerSheet sheet
    )
    {
        var state = await sheet.Current();
        return await database.Read(async connection =>
            await (await desk.Plan(read, Viewer.Of(context), connection)).Wire(read, connection, [.. state.Sheet.Uncertain()])
        );
    }

    // The file stays until the answer is written.
    private static async Task<(ReadPeople? List, ProblemHttpResult? Fault)> Read(
        ListReadingQuery how,
        HttpContext context,
        PeopleListDesk desk
    )
    {
        var list = await SpooledList.Of(to => context.Request.Body.CopyToAsync(to, context.RequestAborted));
        context.Response.RegisterForDispose(list);
        try
        {
            return (await desk.Read(list.File, how, context.RequestAborted), null);
        }
        catch (Exception fault) when (fault is FormatException or HostException)
        {
            return (null, TypedResults.Problem(statusCode: 422, title: fault.Message));
        }
    }
}
