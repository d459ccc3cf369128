using System.Globalization;
using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>Lists of sites: previewed and imported; and the manual procedure of their hosts.</summary>
internal static class ImportEndpoints
{
    private const long LargestList = 4L * 1024 * 1024 * 1024;
    private const int MostRows = 500;
    private const int LongestName = 40;

    public static void MapLists(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/sources/{name}").WithTags("Sources").RequireAuthorization(Policies.Administer);
        api.MapPut("/manual-procedure", SetManualProcedure)
            .WithName("setManualProcedure")
            .WithSummary(
                "Sets the manual procedure of a host without a connector: who does the tasks, with which account, in which steps."
            );
        api.MapPost("/imports/plan", Plan)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .WithName("planSiteImport")
            .WithSummary("The plan to import a list of sites of such a host; nothing is changed.");
        api.MapPost("/imports/rows", Rows)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .WithName("siteImportRows")
            .WithSummary(
                "A list line by line with the planned result: new, changed and how, the same, or refused and why; a window of all lines or of one verdict."
            );
        api.MapPost("/imports/faults", Faulty)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .WithName("siteImportFaults")
            .WithSummary(
                "The lines of a list with errors, as CSV, with the error in an additional column, to be corrected and imported again."
            )
            .Produces<string>(contentType: "text/csv");
        api.MapPost("/imports", Take)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
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

    private static async Task<Results<Ok<ImportDone>, Conflict<ImportPlan>, ProblemHttpResult>> Take(
        string name,
        HttpContext context,
        Database database,
        ImportActions desk,
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
        if (
            await database.Read(connection => ImportPreview.Of(name, read, whole, at, connection, database)) is var plan
            && plan.Fingerprint != fingerprint
        )
        {
            return TypedResults.Conflict(plan.ToResponse(read));
        }

        if (
            await desk.Take(name, read, Viewer.Of(context).Person, whole, at, fingerprint, lifetime.ApplicationStopping) is
            { } error
        )
        {
            return TypedResults.Problem(
                statusCode: 503,
                title: "The import did not finish.",
                detail: $"{error} What was imported stays; import the list again."
            );
        }

        var place = (await index.Refresh()).Place;
        RegisterAt.SetFact(context, place);
        return TypedResults.Ok(new ImportDone(place));
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

    private static async Task<Results<NoContent, ProblemHttpResult>> SetManualProcedure(
        string name,
        ManualProcedureSettings request,
        HttpContext context,
        Database database,
        IEnumerable<ISiteHost> hosts
    )
    {
        var faults = Faults(name, request, hosts).ToList();
        if (faults.Count > 0)
        {
            return TypedResults.Problem(statusCode: 422, title: string.Join(" ", faults));
        }

        return await database.Change<Results<NoContent, ProblemHttpResult>>(async change =>
        {
            var directory = await change.PeopleDirectory(await change.Connection.OrganisationTime());
            PersonId? actor = null;
            if (!string.IsNullOrWhiteSpace(request.Assignee))
            {
                if (
                    !directory.ByMail.TryGetValue(request.Assignee.Trim().ToLowerInvariant(), out var person)
                    || !directory.IsHere(person)
                )
                {
                    return TypedResults.Problem(
                        statusCode: 422,
                        title: $"No member of staff has the mail address {request.Assignee.Trim()}."
                    );
                }

                actor = person;
            }

            var kept = new ManualProcedure(
                actor,
                request.Account.Trim(),
                request.Support.Trim(),
                request.Days,
                request.Reach,
                request.Owners,
                request.MoveToAttic,
                request.Restore
            );
            await change.Declare(name, wanted: false);
            if (await change.SetCapabilities(name, Capabilities(kept)))
            {
                await change.Append([
                    new Draft(JournalAction.HostProcedureSet, Viewer.Of(context).InJournal, EntrySubject.OfSource(name))
                    {
                        After = JournalValue.Of(
                            ("assignee", JournalValue.Of(actor is { } set ? EntryActor.Of(set) : null)),
                            ("days", JournalValue.Of(kept.Days)),
                            ("account", JournalValue.Of(kept.Account))
                        ),
                    },
                ]);
            }

            return TypedResults.NoContent();
        });
    }

    // All changes there are manual tasks; a site that is moved to the attic is shut and stays.
    public static HostCapabilities Capabilities(ManualProcedure kept) =>
        new()
        {
            Deletes = Deletion.ForGood,
            ManualProcedure = kept,
            Notes =
            [
                "Has no connector: its facts come from imported lists.",
                $"Changes become manual tasks for a person, with {kept.Days} {(kept.Days == 1 ? "day" : "days")} to do one; the next import or a second person verifies it.",
                "Has no bin: a site in the attic is only shut there.",
            ],
        };

    private static IEnumerable<string> Faults(string name, ManualProcedureSettings request, IEnumerable<ISiteHost> hosts)
    {
        if (name.Trim() != name || name.Length is 0 or > LongestName || name.Any(char.IsControl))
        {
            yield return $"A host's name is 1 to {LongestName} characters long, without spaces around it.";
        }

        if (name.Equals(Claims.Organisation, StringComparison.OrdinalIgnoreCase))
        {
            yield return "\"organisation\" is reserved. Choose another name for the host.";
        }

        if (name == StaffList.SourceName || hosts.Any(host => host.Name.Equals(name, StringComparison.OrdinalIgnoreCase)))
        {
            yield return $"{name} has a connector, so it needs no manual procedure.";
        }

        if (request.Days is < 1 or > ManualProcedure.MostDays)
        {
            yield return $"The days to do a manual task have to be 1 to {ManualProcedure.MostDays}.";
        }

        foreach (var (what, text) in new[] { ("account", request.Account), ("support contact", request.Support) })
        {
            if (text.Length > ManualTask.LongestText || text.Contains('\0', StringComparison.Ordinal))
            {
                yield return $"The {what} has {text.Length} characters; {ManualTask.LongestText} is the maximum.";
            }
        }

        foreach (
            var (what, text) in new[]
            {
                ("changing access", request.Reach),
                ("changing an owner", request.Owners),
                ("moving to the attic", request.MoveToAttic),
                ("restoring", request.Restore),
            }
        )
        {
            if (string.IsNullOrWhiteSpace(text))
            {
                yield return $"Describe the steps for {what}.";
            }
            else if (text.Length > ManualProcedure.LongestSteps || text.Contains('\0', StringComparison.Ordinal))
            {
                yield return $"The steps for {what} have {text.Length} characters; {ManualProcedure.LongestSteps} is the maximum.";
            }
        }
    }

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
            return (await desk.Read(name, list.File, how, stop), null);
        }
        catch (Exception fault) when (fault is FormatException or HostException)
        {
            return (null, TypedResults.Problem(statusCode: 422, title: fault.Message));
        }
    }
}
