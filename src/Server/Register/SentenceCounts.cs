using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;

namespace AtticLedger.Server.Register;

/// <summary>What the parts of a sentence could be, each counted without its own part, over what the viewer may see.</summary>
internal sealed class SentenceCounts(Sentence sentence, LedgerState state, SeenSheet seen)
{
    public List<CountWire> Units()
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
                .Select(unit => new CountWire(unit.Code.Value, unit.Name, counts[unit.Code.Value])),
            .. without > 0 ? [new CountWire("none", "no unit", without)] : Array.Empty<CountWire>(),
        ];
    }

    public List<CountWire> Reaches() => Counts(Sentence.Reaches, Without(nameof(Sentence.Reach)));

    public List<CountWire> Rules()
    {
        var over = Without(nameof(Sentence.Rule));
        var broken = ((ListColumn<Rule>)seen.Columns.Of("breaks"))
            .Counts(over)
            .ToDictionary(pair => pair.Element.Id, pair => pair.Count);
        return
        [
            .. Counts(Sentence.AnyRule, over),
            .. state.Rules.Rules.Select(rule => new CountWire(
                rule.Id.Value,
                $"break {rule.Id}: {rule.Title}",
                broken.GetValueOrDefault(rule.Id)
            )),
        ];
    }

    // Stages are counted over sites in use, the attic by itself.
    public List<CountWire> Stages() =>
        Counts(
            [
                .. Sentence.Stages.Select(stage =>
                    stage.Key == "attic" ? stage : (stage.Key, stage.Words, Filter: $"existence eq \"here\" and ({stage.Filter})")
                ),
            ],
            Without(nameof(Sentence.Stage))
        );

    /// <summary>Of the facts that clauses speak of: of how many sites, of those that the other parts leave, nobody said them.</summary>
    public List<CoverageWire> Coverage() =>
        [
            .. from pair in sentence.Clauses.Select(
                (clause, place) => (clause.Attribute, List: clause.Find().List?.Name, Place: place)
            )
            let unknown = seen
                .Columns.Evaluate(Filter.Parse($"{pair.List ?? pair.Attribute} pr", JudgedLine.Attributes))
                .CountUnknownOf(Without(Sentence.ClauseName(pair.Place)))
            where unknown > 0
            select new CoverageWire(pair.Attribute, AttributeWords.Of(pair.List ?? pair.Attribute), unknown),
        ];

    private Mask Without(string part) => sentence.Without(part, seen.Columns).And(seen.All);

    private IEnumerable<Unit> InTreeOrder() =>
        state.Roll.Units.OrderBy(
            unit => string.Join('\u0001', state.Roll.ChainOf(unit.Code).Select(above => above.Name)),
            StringComparer.Ordinal
        );

    private List<CountWire> Counts(IReadOnlyList<(string Key, string Words, string Filter)> words, Mask over) =>
        [.. words.Select(word => new CountWire(word.Key, word.Words, Count(over, word.Filter)))];

    private int Count(Mask over, string filter) =>
        seen.Columns.Evaluate(Filter.Parse(filter, JudgedLine.Attributes)).And(over).CountYes;
}
