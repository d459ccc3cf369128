using AtticLedger.Core.Filters;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>
/// The sheet as one viewer may see it: lists, counts and finds come from these lines alone. A line that there is not and
/// one that may not be seen look the same.
/// </summary>
public sealed class SeenSheet(JudgedSheet sheet, Mask seen)
{
    private static readonly Filter<JudgedLine> Here = Filter.Parse(
        "existence eq \"here\" and vanished eq false",
        JudgedLine.Attributes
    );

    public KeptColumns<JudgedLine> Columns => sheet.Columns;

    /// <summary>All lines that may be seen.</summary>
    public Mask All => seen;

    /// <summary>Of these the sites in use: not put away, not gone from their host.</summary>
    public Mask InUse => Where(Here);

    /// <summary>The lines that may be seen and for which a filter holds; of the others it is not told whether it does.</summary>
    public Mask Where(Filter<JudgedLine> filter) => seen.And(Columns.Evaluate(filter));

    /// <summary>Which site stands at a place of the sheet.</summary>
    public SiteId IdAt(int place) => sheet[place].Id;

    public SheetLine? Find(SiteId site) => sheet.PlaceOf(site) is { } place && seen[place] == Truth.Yes ? sheet[place] : null;

    public IEnumerable<SheetLine> Lines(Mask of) => of.And(seen).Lines().Select(place => sheet[place]);

    /// <summary>The lines of a mask in an order.</summary>
    public IEnumerable<SheetLine> Lines(Mask of, IReadOnlyList<SortKey> order) =>
        sheet.OrderBy(order).Lines(of.And(seen)).Select(place => sheet[place]);
}
