using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;

namespace AtticLedger.Server.Register;

/// <summary>The choices for each part of a sentence, each counted without its own part, within the viewer's scope.</summary>
internal sealed class SentenceCounts(Sentence sentence, LedgerState state, VisibleRegister seen)
{
    public List<ValueCount> Units()
    {
        var over = Without(nameof(Sentence.Unit));
        var counts = ((ListColumn<UnitCode>)seen.Columns.Of("units"))
            .Counts(over)
            .ToDictionary(pair => pair.Element.Value, pair => pair.Count);
        var without = Count(over, Sentence.UnitFilter("none"));
        return
        [
            .. InTreeOrder()
                .Where(unit => counts.ContainsKey(unit.Code.Value))
                .Select(unit => new ValueCount(unit.Code.Value, unit.Name, counts[unit.Code.Value])),
            .. without > 0 ? [new ValueCount("none", "without a unit", without)] : Array.Empty<ValueCount>(),
        ];
    }

    public List<ValueCount> Reaches() => Counts(Sentence.Reaches, Without(nameof(Sentence.Reach)));

    public List<ValueCount> Rules()
    {
        var over = Without(nameof(Sentence.Rule));
        var broken = ((ListColumn<Rule>)seen.Columns.Of("breaks"))
            .Counts(over)
            .ToDictionary(pair => pair.Element.Id, pair => pair.Count);
        return
        [
            .. Counts(Sentence.AnyRule, over),
            .. state.Rules.Rules.Select(rule => new ValueCount(
                rule.Id.Value,
                $"break {rule.Id}: {rule.Title}",
                broken.GetValueOrDefault(rule.Id)
            )),
        ];
    }

    // Statuses are counted over sites in use, the attic separately.
    public List<ValueCount> Statuses() =>
        Counts(
            [
                .. Sentence.Statuses.Select(status =>
                    status.Key == "attic"
                        ? status
                        : (status.Key, status.Words, Filter: $"existence eq \"in-use\" and ({status.Filter})")
                ),
            ],
            Without(nameof(Sentence.Status))
        );

    /// <summary>For the facts used in clauses: the number of sites, among those that match the other parts, for which the fact
    /// is unknown.</summary>
    public List<Coverage> Coverage() =>
        [
            .. from pair in sentence.Clauses.Select(
                (clause, place) => (clause.Attribute, List: clause.Find().List?.Name, Place: place)
            )
            let unknown = seen
                .Columns.Evaluate(Filter.Parse($"{pair.List ?? pair.Attribute} pr", JudgedSite.Attributes))
                .CountUnknownOf(Without(Sentence.ClauseName(pair.Place)))
            where unknown > 0
            select new Coverage(pair.Attribute, AttributeLabels.Of(pair.List ?? pair.Attribute), unknown),
        ];

    private Mask Without(string part) => sentence.Without(part, seen.Columns).And(seen.All);

    private IEnumerable<Unit> InTreeOrder() =>
        state.PeopleDirectory.Units.OrderBy(
            unit => string.Join('\u0001', state.PeopleDirectory.ChainOf(unit.Code).Select(above => above.Name)),
            StringComparer.Ordinal
        );

    private List<ValueCount> Counts(IReadOnlyList<(string Key, string Words, string Filter)> words, Mask over) =>
        [.. words.Select(word => new ValueCount(word.Key, word.Words, Count(over, word.Filter)))];

    private int Count(Mask over, string filter) =>
        seen.Columns.Evaluate(Filter.Parse(filter, JudgedSite.Attributes)).And(over).CountYes;
}
