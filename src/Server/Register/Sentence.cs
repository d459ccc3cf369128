using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Register;

/// <summary>
/// The sentence over the register: four parts, each a filter expression, and whatever else is written by hand. A part
/// offers what it could be, counted over what the other parts leave.
/// </summary>
/// <example>Sites <u>in Marine Operations</u> that <u>passers-by can read</u> and that <u>break a rule</u>.</example>
public sealed record Sentence(string? Unit, string? Reach, string? Rule, string? Stage, string? Expression)
{
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
        ("none", "break no rule", "not (breaks pr) and not (unsure pr)"),
    ];

    /// <summary>The whole sentence as one expression in the open grammar.</summary>
    public string Filter => string.Join(" and ", Parts.Where(part => part.Filter is not null && part.Name != nameof(InUse)).Select(part => $"({part.Filter})"));

    private IEnumerable<(string Name, string? Filter)> Parts =>
    [
        (nameof(Unit), Unit is null ? null : UnitFilter(Unit)),
        (nameof(Reach), Reach is null ? null : Known(Reaches, Reach, "reach")),
        (nameof(Rule), Rule is null ? null : RuleFilter(Rule)),
        (nameof(Stage), Stage is null ? null : Known(Stages, Stage, "stage")),
        (nameof(Expression), string.IsNullOrWhiteSpace(Expression) ? null : Expression),
        (nameof(InUse), SpeaksOfTheAttic ? null : InUse),
    ];

    private bool SpeaksOfTheAttic => Stage == "attic" || Expression?.Contains("existence", StringComparison.OrdinalIgnoreCase) == true;

    public static string UnitFilter(string unit) => unit == "none" ? "unit eq null" : $"units eq {Quoted(unit)}";

    public static string RuleFilter(string rule) => AnyRule.FirstOrDefault(any => any.Key == rule).Filter ?? $"breaks eq {Quoted(rule)}";

    /// <summary>All parts but one: what the choices of that part are counted over.</summary>
    public Mask Without(string name, Columns<JudgedLine> columns) =>
        Parts.Where(part => part.Name != name && part.Filter is not null && !(name == nameof(Stage) && part.Name == nameof(InUse)))
            .Select(part => columns.Evaluate(Core.Filters.Filter.Parse(part.Filter!, JudgedLine.Attributes)))
            .Aggregate(Mask.All(columns.Count, Truth.Yes), (all, one) => all.And(one));

    // The errors of the hand-written part are counted in its own columns, so it is read by itself.
    public Mask Evaluate(Columns<JudgedLine> columns) => Without("", columns);

    private static string Known(IReadOnlyList<(string Key, string Words, string Filter)> words, string key, string part) =>
        words.FirstOrDefault(word => word.Key == key).Filter ?? throw new FilterError(1, $"the sentence knows no {part} \"{key}\"");

    private static string Quoted(string text) => System.Text.Json.JsonSerializer.Serialize(text);
}
