using System.Globalization;
using System.Text.Json;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>Lists that are kept by hand: tried out, taken in, and how orders to their hosts are done.</summary>
internal static class ListEndpoints
{
    private const long LargestList = 4L * 1024 * 1024 * 1024;
    private const int MostRows = 500;
    private const int LongestName = 40;

    public static void MapLists(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/sources/{name}").WithTags("Sources").RequireAuthorization(Policies.Administer);
        api.MapPut("/hand", SetHand)
            .WithName("setHandKept")
            .WithSummary(
                "Sets how a host without reader and writer is worked: who does what is asked, with which account, in which steps."
            );
        api.MapPost("/list/plan", Plan)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .WithName("planList")
            .WithSummary("What taking in a list of such a host would come to; nothing is changed.");
        api.MapPost("/list/rows", Rows)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .WithName("listRows")
            .WithSummary(
                "A list line by line, with what would become of each: new, changed and how, the same, or refused and why; a window of all or of one verdict."
            );
        api.MapPost("/list/faults", Faulty)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .WithName("listFaults")
            .WithSummary(
                "The lines of a list with which something is wrong, as CSV, as they stand there with a column that says what: to be mended and taken in again as a part."
            )
            .Produces<string>(contentType: "text/csv");
        api.MapPost("/list", Take)
            .Accepts<string>("text/csv", XlsxList.ContentType)
            .WithMetadata(new RequestSizeLimitAttribute(LargestList))
            .WithName("takeList")
            .WithSummary("Takes a list in as planned; 409 with the new plan where it would come to something else by now.");
    }

    private static async Task<Results<Ok<ListPlanWire>, ProblemHttpResult>> Plan(
        string name,
        HttpContext context,
        Database database,
        ListDesk desk,
        [AsParameters] ListReadingQuery how,
        bool whole = true,
        DateTimeOffset? asOf = null
    ) =>
        await Read(name, how, context, database, desk, asOf, context.RequestAborted) is var (read, fault) && read is null
            ? fault!
            : TypedResults.Ok(
                (
                    await database.Read(connection =>
                        ListForesight.Of(name, read, whole, asOf ?? database.Now, connection, database)
                    )
                ).Wire(read)
            );

    private static async Task<Results<Ok<ListRowsWire>, ProblemHttpResult>> Rows(
        string name,
        HttpContext context,
        Database database,
        ListDesk desk,
        [AsParameters] ListReadingQuery how,
        DateTimeOffset? asOf = null,
        string? verdict = null,
        int offset = 0,
        int limit = 100
    )
    {
        if (ListRowsWire.Verdict(verdict) is var (only, wrong) && wrong is not null)
        {
            return wrong;
        }

        var (read, fault) = await Read(name, how, context, database, desk, asOf, context.RequestAborted);
        if (read is null)
        {
            return fault!;
        }

        var (total, window) = (0, new List<ListRowWire>());
        await database.Read(connection => ListForesight.Of(name, read, false, asOf ?? database.Now, connection, database, row =>
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
        return TypedResults.Ok(new ListRowsWire(total, window));
    }

    private static async Task<Results<Ok<ListTakenWire>, Conflict<ListPlanWire>, ProblemHttpResult>> Take(
        string name,
        HttpContext context,
        Database database,
        ListDesk desk,
        LedgerSheet sheet,
        IHostApplicationLifetime lifetime,
        string fingerprint,
        [AsParameters] ListReadingQuery how,
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
            await database.Read(connection => ListForesight.Of(name, read, whole, at, connection, database)) is var plan
            && plan.Fingerprint != fingerprint
        )
        {
            return TypedResults.Conflict(plan.Wire(read));
        }

        if (
            await desk.Take(name, read, Viewer.Of(context).Person, whole, at, fingerprint, lifetime.ApplicationStopping) is
            { } error
        )
        {
            return TypedResults.Problem(
                statusCode: 503,
                title: "The list was not taken in to its end.",
                detail: $"{error} What was taken in stays; take the list in again."
            );
        }

        var place = (await sheet.Refresh()).Place;
        SheetAt.Say(context, place);
        return TypedResults.Ok(new ListTakenWire(place));
    }

    private static async Task<Results<PushStreamHttpResult, ProblemHttpResult>> Faulty(
        string name,
        HttpContext context,
        Database database,
        ListDesk desk,
        [AsParameters] ListReadingQuery how
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
                    [.. read.How.Table.Heads, ListRowsWire.WhatIsWrong],
                    read.How.ToMend(read.Lines.Select(line => (IReadOnlyList<string>)[.. line.Faults.Select(one => one.Why)])),
                    context.RequestAborted
                ),
            CsvList.ContentType
        );
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SetHand(
        string name,
        HandKeptWire wish,
        HttpContext context,
        Database database,
        IEnumerable<ISiteHost> hosts
    )
    {
        var faults = Faults(name, wish, hosts).ToList();
        if (faults.Count > 0)
        {
            return TypedResults.Problem(statusCode: 422, title: string.Join(" ", faults));
        }

        return await database.Change<Results<NoContent, ProblemHttpResult>>(async change =>
        {
            var roll = await change.Roll(await change.Connection.HouseTime());
            PersonId? doer = null;
            if (!string.IsNullOrWhiteSpace(wish.Doer))
            {
                if (!roll.ByMail.TryGetValue(wish.Doer.Trim().ToLowerInvariant(), out var person) || !roll.IsHere(person))
                {
                    return TypedResults.Problem(
                        statusCode: 422,
                        title: $"Nobody of the staff has the mail address {wish.Doer.Trim()}."
                    );
                }

                doer = person;
            }

            var kept = new HandKept(
                doer,
                wish.Account.Trim(),
                wish.Support.Trim(),
                wish.Days,
                wish.Reach,
                wish.Key,
                wish.PutAway,
                wish.BringBack
            );
            await change.Declare(name, wanted: false);
            if (await change.SetHabits(name, Habits(kept)))
            {
                await change.Append([
                    new Draft("host.by-hand", Viewer.Of(context).InJournal, Draft.SubjectOf(name))
                    {
                        After = JournalValue.Of(
                            (
                                "doer",
                                JournalValue.Of(
                                    doer is { } set ? $"person:{set.Value.ToString(CultureInfo.InvariantCulture)}" : null
                                )
                            ),
                            ("days", JournalValue.Of(kept.Days)),
                            ("account", JournalValue.Of(kept.Account))
                        ),
                    },
                ]);
            }

            return TypedResults.NoContent();
        });
    }

    // Nothing can be done there but by people, who are told what the host is like in words; what is put away is shut and stays.
    public static HostHabits Habits(HandKept kept) =>
        new()
        {
            Deletes = Deletion.ForGood,
            ByHand = kept,
            Notes =
            [
                "Has no reader: what is known of it is what the list says that was last taken in.",
                $"Has no writer: what is asked of it goes to a person, with {kept.Days} {(kept.Days == 1 ? "day" : "days")} to do it, and is seen by the next list or by somebody else who looks.",
                "The attic is ours: a site that is put away is shut there, and nothing final is asked.",
            ],
        };

    private static IEnumerable<string> Faults(string name, HandKeptWire wish, IEnumerable<ISiteHost> hosts)
    {
        if (name.Trim() != name || name.Length is 0 or > LongestName || name.Any(char.IsControl))
        {
            yield return $"A host's name is 1 to {LongestName} characters long, without spaces around it.";
        }

        if (name.Equals(Statements.House, StringComparison.OrdinalIgnoreCase))
        {
            yield return "\"house\" stands for what is decided here. Call the host otherwise.";
        }

        if (name == StaffList.SourceName || hosts.Any(host => host.Name.Equals(name, StringComparison.OrdinalIgnoreCase)))
        {
            yield return $"{name} is connected: it is read and written by itself.";
        }

        if (wish.Days is < 1 or > HandKept.MostDays)
        {
            yield return $"An order by hand has 1 to {HandKept.MostDays} days to be done.";
        }

        foreach (var (what, text) in new[] { ("account", wish.Account), ("support contact", wish.Support) })
        {
            if (text.Length > HandOrder.LongestText || text.Contains('\0', StringComparison.Ordinal))
            {
                yield return $"The {what} has {text.Length} characters; {HandOrder.LongestText} is the most.";
            }
        }

        foreach (
            var (what, text) in new[]
            {
                ("changing who is let in", wish.Reach),
                ("changing an owner", wish.Key),
                ("putting away", wish.PutAway),
                ("bringing back", wish.BringBack),
            }
        )
        {
            if (string.IsNullOrWhiteSpace(text))
            {
                yield return $"Write down the steps for {what}: whoever does it reads nothing else.";
            }
            else if (text.Length > HandKept.LongestSteps || text.Contains('\0', StringComparison.Ordinal))
            {
                yield return $"The steps for {what} have {text.Length} characters; {HandKept.LongestSteps} is the most.";
            }
        }
    }

    /// <param name="stop">A list that is to be taken in is read to its end, whoever leaves.</param>
    // The file stays until the answer is written.
    private static async Task<(ReadList? List, ProblemHttpResult? Fault)> Read(
        string name,
        ListReadingQuery how,
        HttpContext context,
        Database database,
        ListDesk desk,
        DateTimeOffset? asOf,
        CancellationToken stop
    )
    {
        if ((await database.Read(connection => connection.House())).HabitsOf(name).ByHand is null)
        {
            return (
                null,
                TypedResults.Problem(
                    statusCode: 404,
                    title: $"There is no list of \"{name}\".",
                    detail: "First say how this host is worked by hand."
                )
            );
        }

        if (asOf > database.Now)
        {
            return (null, TypedResults.Problem(statusCode: 422, title: "A list cannot be true as of a time to come."));
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
