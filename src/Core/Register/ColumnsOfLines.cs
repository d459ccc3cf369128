using System.Collections.Concurrent;
using AtticLedger.Core.Filters;

namespace AtticLedger.Core.Register;

/// <summary>A few rows in memory: a column is built from them on first use.</summary>
public sealed class ColumnsOfLines<TLine>(IReadOnlyList<TLine> lines) : Columns<TLine>
{
    private readonly ConcurrentDictionary<string, Column> made = new();

    public override int Count => lines.Count;

    public override Column Of(Attribute<TLine> attribute) => made.GetOrAdd(attribute.Name, _ => Made(attribute));

    private Column Made(Attribute<TLine> attribute)
    {
        var change = Changing(attribute, Empty(attribute));
        change.Add([.. lines.Select((line, place) => (place, line))]);
        return change.End();
    }
}
