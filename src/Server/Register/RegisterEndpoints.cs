using AtticLedger.Core.Actions;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Register;

internal static class RegisterEndpoints
{
    private const int MostLines = 500;
    private const int MostColumns = 12;

    /// <summary>The columns of every export: everything that a row of the register shows.</summary>
    private static readonly string[] ListColumns =
    [
        "title",
        "address",
        "host",
        "unit",
        "status",
        "existence",
        "view.inside",
        "view.outside",
        "preview.inside",
        "preview.outside",
        "edit.inside",
        "edit.outside",
        "owners",
        "owners.active.count",
        "edited",
        "visits",
        "breaks",
        "excepted",
        "unsure",
        "underway.count",
        "fault",
    ];

    public static void MapRegister(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Register").RequireAuthorization(Policies.Read);
        api.MapGet("/register", List)
            .WithName("register")
            .WithSummary("A window of the register with filters, and the choices of each filter.");
        api.MapGet("/register/places/{site:long}", Place)
            .WithName("place")
            .WithSummary("The place of a site in the filtered list.");
        api.MapGet("/register/range", Range)
            .WithName("range")
            .WithSummary("The ids of a range of rows of the filtered list, at most 5,000.");
        api.MapGet("/register/export", Export)
            .WithName("exportRegister")
            .WithSummary(
                "The whole filtered list with the shown columns and a link to each site, as CSV, a workbook or JSON Lines."
            )
            .Produces<string>(contentType: "text/csv");
        api.MapGet("/register/choices", Choose)
            .WithName("choices")
            .WithSummary("The values of an attribute, counted over the sites that match the other filters.");
        api.MapGet("/register/completion", Complete)
            .WithName("completion")
            .WithSummary("What can come at the caret of a filter that is being written.");
        api.MapGet("/register/attributes", () => TypedResults.Ok(AttributeLabels.All))
            .WithName("attributes")
            .WithSummary("All attributes for filters.");
        api.MapGet("/sites/{site:long}", SitePage)
            .WithName("sitePage")
            .WithSummary("Everything known of one site: facts, access paths, findings, owners, changes and the remedy.");
    }

    private static async Task<Results<Ok<RegisterResponse>, BadRequest<FilterProblem>>> List(
        SeenRegister register,
        Database database,
        [AsParameters] SentenceQuery query,
        string[]? show = null,
        int offset = 0,
        int limit = 100
    )
    {
        var state = register.State;
        try
        {
            var seen = register.Visible;
            var sentence = Sentence.Of(query, state.PeopleDirectory);
            var columns = Columns(show ?? []);
            var mask = sentence.Evaluate(seen.Columns);
            var found = Found(mask, query).And(seen.All);
            var window = seen.Lines(found, Sentence.Order(query.Sort ?? "worst"))
                .Skip(Math.Max(0, offset))
                .Take(Math.Clamp(limit, 0, MostLines))
                .ToList();
            var since =
                window.Count == 0
                    ? Since.None
                    : await database.Read(connection => connection.Since([.. window.Select(line => line.Id)]));
            var counts = new SentenceCounts(sentence, state, seen);
            return TypedResults.Ok(
                new RegisterResponse(
                    [.. window.Select(line => RegisterRowWriter.Line(line, state, since, columns))],
                    found.CountYes,
                    mask.CountUnknownOf(seen.All),
                    seen.Where(Filter.Parse("existence eq \"in-use\"", JudgedSite.Attributes)).CountYes,
                    counts.Units(),
                    counts.Reaches(),
                    counts.Rules(),
                    counts.Statuses(),
                    [.. sentence.Clauses.Select(clause => clause.Words(state.PeopleDirectory))],
                    [
                        .. columns.Select(column => new ColumnResponse(
                            column.Name,
                            AttributeLabels.Of(column.Name),
                            column is not ListAttribute<JudgedSite>
                        )),
                    ],
                    counts.Coverage(),
                    sentence.Filter
                )
            );
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblem(error.Part, error.Column, error.Message));
        }
    }

    private static Task<Results<Ok<PlaceResponse>, BadRequest<FilterProblem>>> Place(
        long site,
        SeenRegister register,
        [AsParameters] SentenceQuery query
    ) => OfList(register, query, list =>
        {
            var place = list.Index().FirstOrDefault(one => one.Item.Id.Value == site, (-1, default)).Index;
            return new PlaceResponse(place < 0 ? null : place);
        });

    private static Task<Results<Ok<SiteRange>, BadRequest<FilterProblem>>> Range(
        SeenRegister register,
        [AsParameters] SentenceQuery query,
        int from = 0,
        int to = Batch.MostSites - 1
    ) =>
        OfList(register, query, list => new SiteRange([
            .. list.Skip(Math.Max(0, from))
                .Take(Math.Clamp(to - Math.Max(0, from) + 1, 0, Batch.MostSites))
                .Select(line => line.Id.Value),
        ]));

    // The data of the whole list that a filter produces, in its sort sequence.
    private static async Task<Results<Ok<T>, BadRequest<FilterProblem>>> OfList<T>(
        SeenRegister register,
        SentenceQuery query,
        Func<IEnumerable<RegisterRow>, T> tell
    )
    {
        var state = register.State;
        try
        {
            var seen = register.Visible;
            return TypedResults.Ok(
                tell(
                    seen.Lines(
                        Found(Sentence.Of(query, state.PeopleDirectory).Evaluate(seen.Columns), query),
                        Sentence.Order(query.Sort ?? "worst")
                    )
                )
            );
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblem(error.Part, error.Column, error.Message));
        }
    }

    private static async Task<Results<PushStreamHttpResult, BadRequest<FilterProblem>>> Export(
        HttpContext context,
        LiveRegister index,
        Settings settings,
        [AsParameters] SentenceQuery query,
        string[]? show = null,
        [FromQuery(Name = "as")] string form = "csv"
    )
    {
        var state = await index.Current();
        try
        {
            var seen = state.Seen(Viewer.Of(context).ScopeOn(state.PeopleDirectory));
            var found = Found(Sentence.Of(query, state.PeopleDirectory).Evaluate(seen.Columns), query);
            var order = Sentence.Order(query.Sort ?? "worst");
            List<Attribute<JudgedSite>> columns =
            [
                .. ListColumns.Select(Column).Concat(Columns(show ?? [])).DistinctBy(column => column.Name),
            ];
            IReadOnlyList<string> heads = [.. columns.Select(column => column.Name), "link"];
            var rows = seen.Lines(found, order)
                .Select(line =>
                    (IReadOnlyList<string>)
                        [
                            .. columns.Select(column => CellText.Exact(line, column)),
                            new Uri(settings.Address, $"/sites/{line.Id.Value}").ToString(),
                        ]
                );
            var numbers = columns
                .Index()
                .Where(pair => pair.Item is NumberAttribute<JudgedSite>)
                .Select(pair => pair.Index)
                .ToHashSet();
            return ListFile.Of(form, "Register", heads, numbers, rows, context.RequestAborted) is { } file
                ? file.Answer(context, $"register-{state.PeopleDirectory.Time.DayOf(state.PeopleDirectory.Now):yyyy-MM-dd}")
                : TypedResults.BadRequest(new FilterProblem("as", 1, ListFile.NoSuchForm(form)));
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblem(error.Part, error.Column, error.Message));
        }
    }

    private static async Task<Results<Ok<ChoicesResponse>, BadRequest<FilterProblem>>> Choose(
        SeenRegister register,
        [AsParameters] SentenceQuery query,
        string of,
        string? find = null,
        int? clause = null
    )
    {
        var state = register.State;
        try
        {
            var seen = register.Visible;
            var sentence = Sentence.Of(query, state.PeopleDirectory);
            return
                AttributeLabels.All.FirstOrDefault(attribute => attribute.Name.Equals(of, StringComparison.OrdinalIgnoreCase))
                    is { } attribute
                ? TypedResults.Ok(
                    Choices.Of(
                        attribute,
                        seen,
                        sentence.Without(clause is { } place ? Sentence.ClauseName(place) : "", seen.Columns),
                        find
                    )
                )
                : TypedResults.BadRequest(new FilterProblem("of", 1, $"there is no attribute \"{of}\""));
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblem(error.Part, error.Column, error.Message));
        }
    }

    private static Results<Ok<CompletionResponse>, BadRequest<FilterProblem>> Complete(
        SeenRegister register,
        [AsParameters] SentenceQuery query,
        string text,
        int caret,
        bool inRule = false
    )
    {
        try
        {
            // A rule cannot read what rules find.
            var completion = inRule
                ? Completions.At(text, caret, SiteAttributes.List)
                : Completions.At(text, caret, JudgedSite.Attributes);
            var seen = register.Visible;
            return TypedResults.Ok(
                completion.ValuesOf is { } name
                    ? CompletionResponse.Of(
                        completion,
                        Choices.Of(
                            AttributeLabels.All.First(attribute => attribute.Name == name),
                            seen,
                            Sentence.Of(query, register.State.PeopleDirectory).Evaluate(seen.Columns),
                            completion.Typed.TrimStart('"')
                        )
                    )
                    : CompletionResponse.Of(completion)
            );
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblem(error.Part, error.Column, error.Message));
        }
    }

    // The rows that match the filter, or those for which it cannot tell.
    internal static Mask Found(Mask mask, SentenceQuery query) =>
        query.Verdict switch
        {
            null => mask,
            "cannot-tell" => mask.Untold(),
            _ => throw new SentenceError("verdict", 1, $"there is no verdict \"{query.Verdict}\": omit it, or use cannot-tell"),
        };

    internal static List<Attribute<JudgedSite>> Columns(string[] show) => [.. show.Take(MostColumns).Select(Column)];

    private static Attribute<JudgedSite> Column(string name) =>
        JudgedSite.Attributes.Find(name) ?? throw new SentenceError("show", 1, $"there is no attribute \"{name}\"");

    private static async Task<Results<Ok<SitePage>, ProblemHttpResult>> SitePage(
        long site,
        SeenRegister register,
        Database database,
        Settings settings
    )
    {
        var state = register.State;
        var viewer = register.Viewer;
        var id = new SiteId(site);
        var viewerScope = viewer.ScopeOn(state.PeopleDirectory);
        var (found, hostChanges, manualTasks, holds, since, questions, family) = await database.Read(async connection =>
        {
            var (parents, children) = await connection.FamilyOf(id);
            var seen = (await connection.Sites(viewerScope, [.. parents, .. children])).ToLookup(site =>
                parents.Contains(site.Id)
            );
            var changeQueue = await connection.HostChangesOf(id);
            return (
                await connection.Sites(viewerScope, [id]),
                changeQueue,
                await connection.ManualTasks([.. changeQueue.Select(order => order.Id)]),
                (await connection.Holds([id]))[id],
                await connection.Since([id]),
                (await connection.OpenQuestions([id]))[id],
                new Family(seen[true].FirstOrDefault(), [.. seen[false]], children.Count - seen[false].Count())
            );
        });
        return found is [var facts]
            ? TypedResults.Ok(
                SitePageWriter.SitePage(
                    state.Judge(facts),
                    state,
                    hostChanges,
                    manualTasks,
                    holds,
                    family,
                    since,
                    [.. questions],
                    viewer,
                    settings.Hosts.FirstOrDefault(host => host.Name == facts.Host)?.Front,
                    database.Now
                )
            )
            : Execution.ActionEndpoint.NotThere("site");
    }
}
