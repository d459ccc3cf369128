using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Register;

/// <summary>A part of the sentence that cannot be read: which one, where in it, and what is wrong.</summary>
public sealed class SentenceError(string part, int column, string message) : Exception(message)
{
    public string Part => part;

    public int Column => column;
}

/// <summary>
/// The sentence over the register: four parts that are always there, any number of clauses, and whatever else is written
/// by hand. Each is a filter expression. A part offers what it could be, counted over what the other parts leave.
/// </summary>
/// <example>Sites <u>in Marine Operations</u> that <u>passers-by can read</u> and that <u>break a rule</u>, and whose <u>class is “Open”</u>.</example>
public sealed record Sentence(
    string? Unit,
    string? Reach,
    string? Rule,
    string? Stage,
    string? Expression,
    IReadOnlyList<Clause> Clauses,
    Roll Roll
)
{
    private const int MostClauses = 20;
    private const int MostKeys = 5;

    /// <summary>The reaches that the sentence knows by name.</summary>
    public static readonly IReadOnlyList<(string Key, string Words, string Filter)> Reaches =
    [
        ("read-passers-by", "passers-by can read", "view.outside eq \"passers-by\""),
        ("read-outside", "somebody outside can read", "view.outside gt \"no-one\""),
        ("read-staff", "all of the staff can read", "view.inside eq \"staff\""),
        ("edit-outside", "somebody outside can edit", "edit.outside gt \"no-one\""),
        ("edit-staff", "all of the staff can edit", "edit.inside eq \"staff\""),
        ("beyond", "reach further than allowed", "beyond eq true"),
        ("within", "reach no further than allowed", "beyond eq false"),
    ];

    public static readonly IReadOnlyList<(string Key, string Words, string Filter)> Stages =
    [
        ("never-live", "were never live", "stage eq \"never-live\""),
        ("live", "are live", "stage eq \"live\" or stage eq \"changed\""),
        ("changed", "have unseen changes", "stage eq \"changed\""),
        ("offline", "are offline", "stage eq \"offline\""),
        ("vanished", "have vanished from their host", "vanished eq true"),
        ("attic", "lie in the attic", "existence eq \"attic\""),
    ];

    /// <summary>What a sentence is about where it does not speak of the attic itself.</summary>
    private const string InUse = "existence eq \"here\"";

    /// <summary>Special words of the rule part, before the rules themselves.</summary>
    public static readonly IReadOnlyList<(string Key, string Words, string Filter)> AnyRule =
    [
        ("any", "break a rule", "breaks pr"),
        ("must", "break a rule that must be kept", "breaks[level eq \"must\"]"),
        ("unsure", "cannot be judged", "unsure pr"),
        ("excused", "are excused from a rule", "excused pr"),
        ("none", "break no rule", "not (breaks pr) and not (unsure pr) and not (excused pr)"),
    ];

    public static Sentence Of(SentenceQuery query, Roll roll)
    {
        var where = query.Where ?? [];
        if (where.Length > MostClauses)
        {
            throw new SentenceError("where", 1, $"a sentence has at most {MostClauses} clauses");
        }

        return new Sentence(
            query.Unit,
            query.Reach,
            query.Rule,
            query.Stage,
            query.Filter,
            [.. where.Select(text => Reading("where", () => Clause.Parse(text)))],
            roll
        );
    }

    /// <summary>The whole sentence as one expression in the open grammar.</summary>
    public string Filter =>
        string.Join(
            " and ",
            Parts.Where(part => part.Filter is not null && part.Name != nameof(InUse)).Select(part => $"({part.Filter})")
        );

    private IEnumerable<(string Name, string? Filter)> Parts =>
        [
            (nameof(Unit), Unit is null ? null : UnitFilter(Unit)),
            (nameof(Reach), Reach is null ? null : Known(Reaches, Reach, "reach")),
            (nameof(Rule), Rule is null ? null : RuleFilter(Rule)),
            (nameof(Stage), Stage is null ? null : Known(Stages, Stage, "stage")),
            .. Clauses.Select((clause, place) => (ClauseName(place), (string?)Reading("where", () => clause.Filter(Roll)))),
            (nameof(Expression), string.IsNullOrWhiteSpace(Expression) ? null : Expression),
            (nameof(InUse), SpeaksOfTheAttic ? null : InUse),
        ];

    private bool SpeaksOfTheAttic =>
        Stage == "attic"
        || Clauses.Any(clause => clause.Attribute.Equals("existence", StringComparison.OrdinalIgnoreCase))
        || Expression?.Contains("existence", StringComparison.OrdinalIgnoreCase) == true;

    /// <summary>The name of a clause among the parts.</summary>
    public static string ClauseName(int place) => $"clause {place}";

    public static string UnitFilter(string unit) => unit == "none" ? "unit eq null" : $"units eq {Quoted(unit)}";

    public static string RuleFilter(string rule) =>
        AnyRule.FirstOrDefault(any => any.Key == rule).Filter ?? $"breaks eq {Quoted(rule)}";

    /// <summary>All parts but one: what the choices of that part are counted over.</summary>
    public Mask Without(string name, Columns<JudgedLine> columns) =>
        Parts
            .Where(part => part.Name != name && part.Filter is not null && !(name == nameof(Stage) && part.Name == nameof(InUse)))
            .Select(part =>
                columns.Evaluate(
                    Reading(part.Name == nameof(Expression) ? "filter" : "where", () =>
                        Core.Filters.Filter.Parse(part.Filter!, JudgedLine.Attributes)
                    )
                )
            )
            .Aggregate(Mask.All(columns.Count, Truth.Yes), (all, one) => all.And(one));

    public Mask Evaluate(Columns<JudgedLine> columns) => Without("", columns);

    /// <summary>An order as the address bar carries it: attributes in a row, a hyphen before one that goes down; or one of three words.</summary>
    public static IReadOnlyList<SortKey> Order(string sort) =>
        sort switch
        {
            "worst" => [new SortKey("gravity", true)],
            "title" => [],
            "edited" => [new SortKey("edited", true)],
            _ => [.. sort.Split(',').Take(MostKeys).Select(Key)],
        };

    private static SortKey Key(string text)
    {
        var name = text.TrimStart('-');
        return JudgedLine.Attributes.Find(name) is { } attribute and not ListAttribute<JudgedLine>
            ? new SortKey(attribute.Name, text.StartsWith('-'))
            : throw new SentenceError(
                "sort",
                1,
                $"the register cannot be sorted by \"{name}\": name an attribute that is no list, or worst, title or edited"
            );
    }

    // What is wrong is told with the part in which it stands; columns count within that part.
    private static T Reading<T>(string part, Func<T> read)
    {
        try
        {
            return read();
        }
        catch (FilterError error)
        {
            throw new SentenceError(part, error.Column, error.Message);
        }
    }

    private static string Known(IReadOnlyList<(string Key, string Words, string Filter)> words, string key, string part) =>
        words.FirstOrDefault(word => word.Key == key).Filter
        ?? throw new SentenceError(part, 1, $"the sentence knows no {part} \"{key}\"");

    private static string Quoted(string text) => System.Text.Json.JsonSerializer.Serialize(text);
}
