using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;

namespace AtticLedger.Server.Register;

/// <summary>A part of the filter sentence that cannot be read: its name, the position and the fault.</summary>
public sealed class SentenceError(string part, int column, string message) : Exception(message)
{
    public string Part => part;

    public int Column => column;
}

/// <summary>
/// The sentence over the register: four parts that are always there, any number of clauses, and whatever else is written
/// by hand. Each is a filter expression. A part offers what it could be, counted over what the other parts leave.
/// </summary>
/// <example>Sites <u>in Marine Operations</u> that <u>anonymous visitors can view</u> and that <u>break a rule</u>, and whose
/// <u>class is “Open”</u>.</example>
public sealed record Sentence(
    string? Unit,
    string? Reach,
    string? Rule,
    string? Status,
    string? Expression,
    IReadOnlyList<Clause> Clauses,
    PeopleDirectory PeopleDirectory
)
{
    private const int MostClauses = 20;
    private const int MostOwned = 5;

    /// <summary>The named reaches of the filter sentence.</summary>
    public static readonly IReadOnlyList<(string Key, string Words, string Filter)> Reaches =
    [
        ("read-anonymous", "anonymous visitors can view", "view.outside eq \"anonymous\""),
        ("read-outside", "people from outside can view", "view.outside gt \"no-one\""),
        ("read-staff", "all staff can view", "view.inside eq \"staff\""),
        ("edit-outside", "people from outside can edit", "edit.outside gt \"no-one\""),
        ("edit-staff", "all staff can edit", "edit.inside eq \"staff\""),
        ("exceeds", "exceed policy", "exceeds eq true"),
        ("within", "stay within policy", "exceeds eq false"),
    ];

    public static readonly IReadOnlyList<(string Key, string Words, string Filter)> Statuses =
    [
        ("never-published", "were never published", "status eq \"never-published\""),
        ("published", "are published", "status eq \"published\" or status eq \"unpublished-changes\""),
        ("unpublished-changes", "have unpublished changes", "status eq \"unpublished-changes\""),
        ("offline", "are offline", "status eq \"offline\""),
        ("no-longer-reported", "are no longer reported by their host", "no-longer-reported eq true"),
        ("attic", "are in the attic", "existence eq \"attic\""),
    ];

    /// <summary>The default of a filter sentence that does not name the attic.</summary>
    private const string InUse = "existence eq \"in-use\"";

    /// <summary>Special values of the rule filter, before the rules themselves.</summary>
    public static readonly IReadOnlyList<(string Key, string Words, string Filter)> AnyRule =
    [
        ("any", "break a rule", "breaks pr"),
        ("critical", "break a critical rule", "breaks[level eq \"critical\"]"),
        ("unsure", "have a rule that cannot tell", "unsure pr"),
        ("excepted", "have an exception from a rule", "excepted pr"),
        ("none", "break no rule", "not (breaks pr) and not (unsure pr) and not (excepted pr)"),
    ];

    public static Sentence Of(SentenceQuery query, PeopleDirectory directory)
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
            query.Status,
            query.Filter,
            [.. where.Select(text => Reading("where", () => Clause.Parse(text)))],
            directory
        );
    }

    /// <summary>The whole sentence as one filter expression.</summary>
    public string Filter =>
        Parts.Where(part => part.Filter is not null && part.Name != nameof(InUse)).Select(part => part.Filter!).ToList() switch
        {
            [var only] => only,
            var all => string.Join(" and ", all.Select(part => $"({part})")),
        };

    private IEnumerable<(string Name, string? Filter)> Parts =>
        [
            (nameof(Unit), Unit is null ? null : UnitFilter(Unit)),
            (nameof(Reach), Reach is null ? null : Known(Reaches, Reach, "reach")),
            (nameof(Rule), Rule is null ? null : RuleFilter(Rule)),
            (nameof(Status), Status is null ? null : Known(Statuses, Status, "status")),
            .. Clauses.Select(
                (clause, place) => (ClauseName(place), (string?)Reading("where", () => clause.Filter(PeopleDirectory)))
            ),
            (nameof(Expression), string.IsNullOrWhiteSpace(Expression) ? null : Expression),
            (nameof(InUse), SpeaksOfTheAttic ? null : InUse),
        ];

    /// <summary>The parts of this sentence that leave sites out, in words.</summary>
    public IEnumerable<(string Name, string Part, int? Place, string Words)> PartsInWords(LedgerState state) =>
        Parts
            .Where(part => part.Filter is not null)
            .Select(part =>
                part.Name switch
                {
                    nameof(Unit) => (part.Name, "unit", (int?)null, Unit == "none" ? "without a unit" : $"in {NameOf(Unit!)}"),
                    nameof(Reach) => (part.Name, "reach", null, WordsOf(Reaches, Reach!)),
                    nameof(Rule) => (
                        part.Name,
                        "rule",
                        null,
                        AnyRule.FirstOrDefault(any => any.Key == Rule).Words
                            ?? (state.Rules.Find(new RuleId(Rule!)) is { } rule ? $"break {rule.Id}: {rule.Title}" : Rule!)
                    ),
                    nameof(Status) => (part.Name, "status", null, WordsOf(Statuses, Status!)),
                    nameof(Expression) => (part.Name, "filter", null, Expression!),
                    nameof(InUse) => (part.Name, "in-use", null, "are in use"),
                    _ => Clauses.Index().First(clause => ClauseName(clause.Index) == part.Name) is var (place, clause)
                        ? (part.Name, "where", place, clause.Words(PeopleDirectory))
                        : default,
                }
            );

    private string NameOf(string unit) => PeopleDirectory.Find(new UnitCode(unit))?.Name ?? unit;

    private static string WordsOf(IReadOnlyList<(string Key, string Words, string Filter)> words, string key) =>
        words.FirstOrDefault(word => word.Key == key).Words ?? key;

    private bool SpeaksOfTheAttic =>
        Status == "attic"
        || Clauses.Any(clause => clause.Attribute.Equals(SiteAttributes.Existence, StringComparison.OrdinalIgnoreCase))
        || (!string.IsNullOrWhiteSpace(Expression) && UsesExistence(Expression));

    // From which periods are counted.
    private Today AsOf => Today.At(PeopleDirectory.Now, PeopleDirectory.Time);

    // An expression with an error uses nothing: the error itself is reported where the expression is read.
    private bool UsesExistence(string expression)
    {
        try
        {
            return Core.Filters.Filter.Parse(expression, JudgedSite.Attributes, AsOf).Uses(SiteAttributes.Existence);
        }
        catch (FilterError)
        {
            return false;
        }
    }

    /// <summary>The name of the clauses among the parts.</summary>
    public static string ClauseName(int place) => $"clause {place}";

    public static string UnitFilter(string unit) => unit == "none" ? "unit eq null" : $"units eq {FilterText.Literal(unit)}";

    public static string RuleFilter(string rule) =>
        AnyRule.FirstOrDefault(any => any.Key == rule).Filter ?? $"breaks eq {FilterText.Literal(rule)}";

    /// <summary>All parts except one: the base for counting the choices of that part.</summary>
    public Mask Without(string name, Columns<JudgedSite> columns) =>
        Parts
            .Where(part =>
                part.Name != name && part.Filter is not null && !(name == nameof(Status) && part.Name == nameof(InUse))
            )
            .Select(part =>
                columns.Evaluate(
                    Reading(part.Name == nameof(Expression) ? "filter" : "where", () =>
                        Core.Filters.Filter.Parse(part.Filter!, JudgedSite.Attributes, AsOf)
                    )
                )
            )
            .Aggregate(Mask.All(columns.Count, Truth.Yes), (all, one) => all.And(one));

    /// <summary>One part alone.</summary>
    public Mask Only(string name, Columns<JudgedSite> columns) =>
        columns.Evaluate(
            Reading(name == nameof(Expression) ? "filter" : "where", () =>
                Core.Filters.Filter.Parse(Parts.First(part => part.Name == name).Filter!, JudgedSite.Attributes, AsOf)
            )
        );

    public Mask Evaluate(Columns<JudgedSite> columns) => Without("", columns);

    /// <summary>A sort sequence as in the address: a list of attributes, with a hyphen before a descending one; or one of three
    /// words.</summary>
    public static IReadOnlyList<SortKey> Order(string sort) =>
        sort switch
        {
            "worst" => [new SortKey("gravity", true)],
            "title" => [],
            "edited" => [new SortKey("edited", true)],
            _ => [.. sort.Split(',').Take(MostOwned).Select(Key)],
        };

    private static SortKey Key(string text)
    {
        var name = text.TrimStart('-');
        return JudgedSite.Attributes.Find(name) is { } attribute and not ListAttribute<JudgedSite>
            ? new SortKey(attribute.Name, text.StartsWith('-'))
            : throw new SentenceError(
                "sort",
                1,
                $"the register cannot be sorted by \"{name}\": use an attribute that is not a list, or worst, title or edited"
            );
    }

    // An error names its part; columns count within that part.
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
        words.FirstOrDefault(word => word.Key == key).Filter ?? throw new SentenceError(part, 1, $"there is no {part} \"{key}\"");
}
