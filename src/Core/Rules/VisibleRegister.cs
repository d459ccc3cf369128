using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>The index within one viewer's scope: lists, counts and searches use these rows only. A row outside the scope looks
/// like one that does not exist.
/// </summary>
public sealed class VisibleRegister(RegisterIndex index, Mask seen)
{
    private static readonly Filter<JudgedSite> Here = Filter.Parse(
        "existence eq \"in-use\" and no-longer-reported eq false",
        JudgedSite.Attributes
    );

    public KeptColumns<JudgedSite> Columns => index.Columns;

    /// <summary>All rows in scope.</summary>
    public Mask All => seen;

    /// <summary>The sites in use among them: not in the attic and not erased.</summary>
    public Mask InUse => Where(Here);

    /// <summary>The rows in scope that match a filter; nothing is revealed about others.</summary>
    public Mask Where(Filter<JudgedSite> filter) => seen.And(Columns.Evaluate(filter));

    /// <summary>The site at a position of the index.</summary>
    public SiteId IdAt(int place) => index[place].Id;

    public RegisterRow? Find(SiteId site) => index.PlaceOf(site) is { } place && seen[place] == Truth.Yes ? index[place] : null;

    public IEnumerable<RegisterRow> Lines(Mask of) => of.And(seen).Lines().Select(place => index[place]);

    /// <summary>The rows of a mask in a sort sequence.</summary>
    public IEnumerable<RegisterRow> Lines(Mask of, IReadOnlyList<SortKey> order) =>
        index.OrderBy(order).Lines(of.And(seen)).Select(place => index[place]);
}
