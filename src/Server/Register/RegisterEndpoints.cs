using AtticLedger.Core.Deeds;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Register;

internal static class RegisterEndpoints
{
    private const int MostLines = 500;
    private const int MostColumns = 12;

    /// <summary>What an exported list always has: all that a line of the register shows.</summary>
    private static readonly string[] ListColumns =
    [
        "title",
        "address",
        "host",
        "unit",
        "stage",
        "existence",
        "view.inside",
        "view.outside",
        "preview.inside",
        "preview.outside",
        "edit.inside",
        "edit.outside",
        "owners",
        "owners.fit.count",
        "edited",
        "visits",
        "breaks",
        "excused",
        "unsure",
        "underway.count",
        "fault",
    ];

    public static void MapRegister(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Register").RequireAuthorization(Policies.Read);
        api.MapGet("/register", List)
            .WithName("register")
            .WithSummary("A window of the register, filtered by a sentence, with what each of its parts could be.");
        api.MapGet("/register/places/{site:long}", Place)
            .WithName("place")
            .WithSummary("Where a site stands in the list that a sentence makes.");
        api.MapGet("/register/range", Range)
            .WithName("range")
            .WithSummary("The ids of a range of lines of the list that a sentence makes, 5,000 at the most.");
        api.MapGet("/register/export", Export)
            .WithName("exportRegister")
            .WithSummary(
                "The whole list that a sentence makes, with the columns that are shown and a link to each line: as CSV, as a workbook or as JSON Lines."
            )
            .Produces<string>(contentType: "text/csv");
        api.MapGet("/register/choices", Choose)
            .WithName("choices")
            .WithSummary("What a clause could say of an attribute, counted over what the rest of the sentence leaves.");
        api.MapGet("/register/attributes", () => TypedResults.Ok(AttributeWords.All))
            .WithName("attributes")
            .WithSummary("Every attribute that a sentence can speak of.");
        api.MapGet("/sites/{site:long}", Folio)
            .WithName("folio")
            .WithSummary("Everything known of one site: facts, arithmetic, findings, keys, orders and the remedy.");
    }

    private static async Task<Results<Ok<RegisterWire>, BadRequest<FilterProblemWire>>> List(
        HttpContext context,
        LedgerSheet sheet,
        Database database,
        [AsParameters] SentenceQuery query,
        string[]? show = null,
        int offset = 0,
        int limit = 100
    )
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        try
        {
            var seen = state.Seen(Viewer.Of(context).SightOn(state.Roll));
            var sentence = Sentence.Of(query, state.Roll);
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
                new RegisterWire(
                    [.. window.Select(line => LineWriter.Line(line, state, since, columns))],
                    found.CountYes,
                    mask.CountUnknownOf(seen.All),
                    seen.Where(Filter.Parse("existence eq \"here\"", JudgedLine.Attributes)).CountYes,
                    counts.Units(),
                    counts.Reaches(),
                    counts.Rules(),
                    counts.Stages(),
                    [.. sentence.Clauses.Select(clause => clause.Words(state.Roll))],
                    [.. columns.Select(column => new ColumnWire(column.Name, AttributeWords.Of(column.Name)))],
                    counts.Coverage(),
                    sentence.Filter
                )
            );
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblemWire(error.Part, error.Column, error.Message));
        }
    }

    private static Task<Results<Ok<PlaceWire>, BadRequest<FilterProblemWire>>> Place(
        long site,
        HttpContext context,
        LedgerSheet sheet,
        [AsParameters] SentenceQuery query
    ) => OfList(context, sheet, query, list =>
        {
            var place = list.Index().FirstOrDefault(one => one.Item.Id.Value == site, (-1, default)).Index;
            return new PlaceWire(place < 0 ? null : place);
        });

    private static Task<Results<Ok<RangeWire>, BadRequest<FilterProblemWire>>> Range(
        HttpContext context,
        LedgerSheet sheet,
        [AsParameters] SentenceQuery query,
        int from = 0,
        int to = Batch.MostSites - 1
    ) =>
        OfList(context, sheet, query, list => new RangeWire([
            .. list.Skip(Math.Max(0, from))
                .Take(Math.Clamp(to - Math.Max(0, from) + 1, 0, Batch.MostSites))
                .Select(line => line.Id.Value),
        ]));

    // What is told of the whole list that a sentence makes, in its order.
    private static async Task<Results<Ok<T>, BadRequest<FilterProblemWire>>> OfList<T>(
        HttpContext context,
        LedgerSheet sheet,
        SentenceQuery query,
        Func<IEnumerable<SheetLine>, T> tell
    )
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        try
        {
            var seen = state.Seen(Viewer.Of(context).SightOn(state.Roll));
            return TypedResults.Ok(
                tell(
                    seen.Lines(
                        Found(Sentence.Of(query, state.Roll).Evaluate(seen.Columns), query),
                        Sentence.Order(query.Sort ?? "worst")
                    )
                )
            );
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblemWire(error.Part, error.Column, error.Message));
        }
    }

    private static async Task<Results<PushStreamHttpResult, BadRequest<FilterProblemWire>>> Export(
        HttpContext context,
        LedgerSheet sheet,
        Settings settings,
        [AsParameters] SentenceQuery query,
        string[]? show = null,
        [FromQuery(Name = "as")] string form = "csv"
    )
    {
        var state = await sheet.Current();
        try
        {
            var seen = state.Seen(Viewer.Of(context).SightOn(state.Roll));
            var found = Found(Sentence.Of(query, state.Roll).Evaluate(seen.Columns), query);
            var order = Sentence.Order(query.Sort ?? "worst");
            List<Attribute<JudgedLine>> columns =
            [
                .. ListColumns.Select(Column).Concat(Columns(show ?? [])).DistinctBy(column => column.Name),
            ];
            IReadOnlyList<string> heads = [.. columns.Select(column => column.Name), "link"];
            var rows = seen.Lines(found, order)
                .Select(line =>
                    (IReadOnlyList<string>)
                        [
                            .. columns.Select(column => CellWords.Exact(line, column)),
                            new Uri(settings.Address, $"/sites/{line.Id.Value}").ToString(),
                        ]
                );
            var numbers = columns
                .Index()
                .Where(pair => pair.Item is NumberAttribute<JudgedLine>)
                .Select(pair => pair.Index)
                .ToHashSet();
            return ListFile.Of(form, "Register", heads, numbers, rows, context.RequestAborted) is { } file
                ? file.Answer(context, $"register-{state.Roll.Time.DayOf(state.Roll.Now):yyyy-MM-dd}")
                : TypedResults.BadRequest(new FilterProblemWire("as", 1, ListFile.NoSuchForm(form)));
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblemWire(error.Part, error.Column, error.Message));
        }
    }

    private static async Task<Results<Ok<ChoicesWire>, BadRequest<FilterProblemWire>>> Choose(
        HttpContext context,
        LedgerSheet sheet,
        [AsParameters] SentenceQuery query,
        string of,
        string? find = null,
        int? clause = null
    )
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        try
        {
            var seen = state.Seen(Viewer.Of(context).SightOn(state.Roll));
            var sentence = Sentence.Of(query, state.Roll);
            return
                AttributeWords.All.FirstOrDefault(attribute => attribute.Name.Equals(of, StringComparison.OrdinalIgnoreCase))
                    is { } attribute
                ? TypedResults.Ok(
                    Choices.Of(
                        attribute,
                        seen,
                        sentence.Without(clause is { } place ? Sentence.ClauseName(place) : "", seen.Columns),
                        find
                    )
                )
                : TypedResults.BadRequest(new FilterProblemWire("of", 1, $"there is no attribute \"{of}\""));
        }
        catch (SentenceError error)
        {
            return TypedResults.BadRequest(new FilterProblemWire(error.Part, error.Column, error.Message));
        }
    }

    // The lines for which the sentence holds, or those of which it cannot be told.
    internal static Mask Found(Mask mask, SentenceQuery query) =>
        query.Verdict switch
        {
            null => mask,
            "cannot-tell" => mask.Untold(),
            _ => throw new SentenceError(
                "verdict",
                1,
                $"there is no verdict \"{query.Verdict}\": leave it out, or say cannot-tell"
            ),
        };

    internal static List<Attribute<JudgedLine>> Columns(string[] show) => [.. show.Take(MostColumns).Select(Column)];

    private static Attribute<JudgedLine> Column(string name) =>
        JudgedLine.Attributes.Find(name) ?? throw new SentenceError("show", 1, $"there is no attribute \"{name}\"");

    private static async Task<Results<Ok<FolioWire>, ProblemHttpResult>> Folio(
        long site,
        HttpContext context,
        LedgerSheet sheet,
        Database database,
        Settings settings
    )
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        var id = new SiteId(site);
        var sight = viewer.SightOn(state.Roll);
        var (found, orders, hands, holds, since, family) = await database.Read(async connection =>
        {
            var (parents, children) = await connection.FamilyOf(id);
            var seen = (await connection.Sites(sight, [.. parents, .. children])).ToLookup(site => parents.Contains(site.Id));
            var lane = await connection.OrdersOf(id);
            return (
                await connection.Sites(sight, [id]),
                lane,
                await connection.HandOrders([.. lane.Select(order => order.Id)]),
                (await connection.Holds([id]))[id],
                await connection.Since([id]),
                new Family(seen[true].FirstOrDefault(), [.. seen[false]], children.Count - seen[false].Count())
            );
        });
        return found is [var facts]
            ? TypedResults.Ok(
                FolioWriter.Folio(
                    state.Judge(facts),
                    state,
                    orders,
                    hands,
                    holds,
                    family,
                    since,
                    viewer,
                    settings.Front,
                    database.Now
                )
            )
            : Deeds.Carrying.NotThere();
    }
}
