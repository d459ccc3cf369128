using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Register;

internal static class RegisterEndpoints
{
    private const int MostLines = 500;

    public static void MapRegister(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api").WithTags("Register").RequireAuthorization(Policies.Read);
        api.MapGet("/register", List).WithName("register").WithSummary("A window of the register, filtered by a sentence, with what each of its parts could be.");
        api.MapGet("/register/places/{site:long}", Place).WithName("place").WithSummary("Where a site stands in the list that a sentence makes.");
        api.MapGet("/sites/{site:long}", Folio).WithName("folio").WithSummary("Everything known of one site: facts, arithmetic, findings, keys, orders and the remedy.");
    }

    private static async Task<Results<Ok<RegisterWire>, BadRequest<FilterProblemWire>>> List(
        HttpContext context, LedgerSheet sheet, string? unit = null, string? reach = null, string? rule = null, string? stage = null, string? filter = null, string sort = "worst", int offset = 0, int limit = 100)
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        try
        {
            var sentence = new Sentence(unit, reach, rule, stage, filter);
            var columns = state.Sheet.Columns;
            var seen = Seen(context, state);
            var mask = sentence.Evaluate(columns);
            var found = Found(mask, seen, state, sort);
            return TypedResults.Ok(new RegisterWire(
                [.. found.Skip(Math.Max(0, offset)).Take(Math.Clamp(limit, 0, MostLines)).Select(line => LineWriter.Line(line, state))],
                found.Count,
                mask.Lines(Truth.Unknown).Count(line => seen[line] == Truth.Yes),
                seen.And(columns.Evaluate(Filter.Parse("existence eq \"here\"", JudgedLine.Attributes))).CountYes,
                Units(sentence, state, seen),
                Counts(Sentence.Reaches, sentence.Without(nameof(Sentence.Reach), columns).And(seen), columns),
                Rules(sentence, state, seen),
                Stages(sentence, seen, columns),
                sentence.Filter));
        }
        catch (FilterError error)
        {
            return TypedResults.BadRequest(new FilterProblemWire(error.Column, error.Message));
        }
    }

    private static async Task<Results<Ok<PlaceWire>, BadRequest<FilterProblemWire>>> Place(
        long site, HttpContext context, LedgerSheet sheet, string? unit = null, string? reach = null, string? rule = null, string? stage = null, string? filter = null, string sort = "worst")
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        try
        {
            var found = Found(new Sentence(unit, reach, rule, stage, filter).Evaluate(state.Sheet.Columns), Seen(context, state), state, sort);
            var place = found.FindIndex(line => line.Line.Site.Id.Value == site);
            return TypedResults.Ok(new PlaceWire(place < 0 ? null : place));
        }
        catch (FilterError error)
        {
            return TypedResults.BadRequest(new FilterProblemWire(error.Column, error.Message));
        }
    }

    private static Mask Seen(HttpContext context, LedgerState state)
    {
        var sight = Viewer.Of(context).SightOn(state.Roll);
        return Mask.Of(state.Sheet.Columns.Count, line => Truths.Of(sight.Sees(state.Sheet.Lines[line].Line.Site)));
    }

    private static List<JudgedLine> Found(Mask mask, Mask seen, LedgerState state, string sort)
    {
        var found = mask.And(seen).Lines().Select(line => state.Sheet.Lines[line]).ToList();
        found.Sort(sort switch
        {
            "worst" => JudgedLine.WorstFirst,
            "title" => JudgedLine.ByTitle,
            "edited" => JudgedLine.LatestEdit,
            _ => throw new FilterError(1, $"the register knows no order \"{sort}\": there are worst, title and edited"),
        });
        return found;
    }

    private static async Task<Results<Ok<FolioWire>, ProblemHttpResult>> Folio(long site, HttpContext context, LedgerSheet sheet, Database database, Settings settings)
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        if (state.Find(new SiteId(site), viewer.SightOn(state.Roll)) is not { } line)
        {
            return Deeds.Carrying.NotThere();
        }

        var id = line.Line.Site.Id;
        var (orders, holds) = await database.Read(async connection => (await connection.OrdersOf(id), (await connection.Holds([id]))[id]));
        return TypedResults.Ok(FolioWriter.Folio(line, state, orders, holds, viewer, settings.Front, database.Now));
    }

    private static List<CountWire> Units(Sentence sentence, LedgerState state, Mask seen)
    {
        // Counting line by line along the chain of units costs one pass, whatever the number of units.
        var others = sentence.Without(nameof(Sentence.Unit), state.Sheet.Columns).And(seen);
        var counts = others.Lines()
            .SelectMany(line => state.Sheet.Lines[line].Line is var at && at.Site.Unit.IsNone ? ["none"] : at.UnitChain.Select(unit => unit.Value))
            .CountBy(unit => unit)
            .ToDictionary(pair => pair.Key, pair => pair.Value);
        return
        [
            .. InTreeOrder(state).Where(unit => counts.ContainsKey(unit.Code.Value)).Select(unit => new CountWire(unit.Code.Value, unit.Name, counts[unit.Code.Value])),
            .. counts.TryGetValue("none", out var without) ? [new CountWire("none", "no unit", without)] : Array.Empty<CountWire>(),
        ];
    }

    private static IEnumerable<Core.People.Unit> InTreeOrder(LedgerState state) =>
        state.Roll.Units.OrderBy(unit => string.Join('\u0001', state.Roll.ChainOf(unit.Code).Select(above => above.Name)), StringComparer.Ordinal);

    private static List<CountWire> Rules(Sentence sentence, LedgerState state, Mask seen)
    {
        var others = sentence.Without(nameof(Sentence.Rule), state.Sheet.Columns).And(seen);
        var rules = state.Rules.Rules.Select(rule => (rule.Id.Value, $"break {rule.Id}: {rule.Title}", Sentence.RuleFilter(rule.Id.Value)));
        return Counts([.. Sentence.AnyRule, .. rules], others, state.Sheet.Columns);
    }

    // Stages are counted over sites in use, the attic by itself.
    private static List<CountWire> Stages(Sentence sentence, Mask seen, Columns<JudgedLine> columns)
    {
        var others = sentence.Without(nameof(Sentence.Stage), columns).And(seen);
        return Counts([.. Sentence.Stages.Select(stage => stage.Key == "attic" ? stage : (stage.Key, stage.Words, Filter: $"existence eq \"here\" and ({stage.Filter})"))], others, columns);
    }

    private static List<CountWire> Counts(IReadOnlyList<(string Key, string Words, string Filter)> words, Mask over, Columns<JudgedLine> columns) =>
        [.. words.Select(word => new CountWire(word.Key, word.Words, columns.Evaluate(Filter.Parse(word.Filter, JudgedLine.Attributes)).And(over).CountYes))];
}
