using System.Collections.Concurrent;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>The register at one position of the feed as columns: every attribute and every verdict of all sites. Immutable; it
/// can be discarded and rebuilt from the database. One writer at a time.
/// </summary>
public sealed class RegisterIndex
{
    // Each takes eight bytes per row: requests for ever different sort sequences do not fill the memory.
    private const int MostOrders = 12;
    private static readonly AttributeList<FindingsOfRow> RowFindings = new(FindingAttributes.Of<FindingsOfRow>());
    private readonly ConcurrentDictionary<SiteId, int> placeOf;
    private readonly Distinct<SiteId> sites;
    private readonly ArraySegment<SiteId> ids;
    private readonly LastFew<string, RegisterOrder> orders = new(MostOrders);

    private RegisterIndex(KeptColumns<JudgedSite> columns, Distinct<SiteId> sites, ConcurrentDictionary<SiteId, int> placeOf)
    {
        Columns = columns;
        this.sites = sites;
        this.placeOf = placeOf;
        ids = sites.Part;
    }

    public static RegisterIndex Empty => new(KeptColumns<JudgedSite>.Empty(JudgedSite.Attributes), new(), new());

    /// <summary>The index as it was stored.</summary>
    /// <exception cref="SnapshotError">It is incomplete, or names unknown people or rules.</exception>
    public static RegisterIndex Read(ISnapshotReader from, PeopleDirectory directory, RuleBook rules)
    {
        var ids = Array.ConvertAll(from.Longs(), id => new SiteId(id));
        var columns = KeptColumns<JudgedSite>.Read(JudgedSite.Attributes, from, new IndexCodecs(directory, rules));
        return columns.Count == ids.Length
            ? new RegisterIndex(
                columns,
                new Distinct<SiteId>(ids),
                new(ids.Index().Select(pair => KeyValuePair.Create(pair.Item, pair.Index)))
            )
            : throw new SnapshotError("The sheet has other lines than columns.");
    }

    public void Write(ISnapshotWriter to)
    {
        to.Longs([.. ids.Select(id => id.Value)]);
        Columns.Write(to, new IndexCodecs(null, null));
    }

    public KeptColumns<JudgedSite> Columns { get; }

    public int Count => ids.Count;

    /// <summary>The index with changed or additional rows.</summary>
    public RegisterIndex With(IReadOnlyList<JudgedSite> lines)
    {
        var placed = new (int, JudgedSite)[lines.Count];
        for (var i = 0; i < placed.Length; i++)
        {
            var site = lines[i].Line.Site.Id;
            var place = sites.CodeOf(site);
            placeOf.TryAdd(site, place);
            placed[i] = (place, lines[i]);
        }

        return new RegisterIndex(Columns.With(placed), sites, placeOf);
    }

    /// <summary>The index with other verdicts on some rows.</summary>
    internal RegisterIndex With((int Place, FindingsOfRow Findings)[] findings) =>
        findings.Length == 0 ? this : new(Columns.With(RowFindings, findings), sites, placeOf);

    /// <summary>The index within a viewer's scope: the only way to its rows.</summary>
    public VisibleRegister Seen(Scope viewerScope) =>
        new(
            this,
            viewerScope switch
            {
                Scope.Everything => Mask.All(Count, Truth.Yes),
                Scope.OfUnits(var units) => Columns
                    .Of<string>("unit")
                    .Where(Comparison.Eq, unit => Truths.Of(units.Contains(unit)))
                    .Certainly(),
                Scope.OfOwners { Person: var person } => ((ListColumn<SiteOwner>)Columns.Of("owners"))
                    .Any(holder => holder.Person.Id == person)
                    .Certainly(),
                _ => throw new InvalidOperationException("Every kind of sight is answered above."),
            }
        );

    /// <summary>The sites whose reach or owners are known only as bounds: any possible change affects them.</summary>
    public IEnumerable<SiteId> Uncertain()
    {
        IEnumerable<string> bounded =
        [
            .. Powers.Limited.SelectMany(power => new[] { $"{power.Word()}.inside", $"{power.Word()}.outside" }),
            "editors.count",
        ];
        var exact = bounded
            .Select(name => Columns.Of(name).IsCertain())
            .Aggregate(Columns.Of<bool>("exceeds").IsPresent(), (all, one) => all.And(one))
            .And(Columns.Of("owners").IsCertain());
        return exact.Certainly().Lines(Truth.No).Select(place => ids[place]);
    }

    internal RegisterRow this[int place] => new(Columns, ids[place], place);

    internal int? PlaceOf(SiteId site) => placeOf.TryGetValue(site, out var place) && place < Count ? place : null;

    /// <summary>The rows in a sort sequence; ties by title, then by id.</summary>
    public RegisterOrder OrderBy(IReadOnlyList<SortKey> keys) =>
        orders.GetOrAdd(string.Join(',', keys), _ => RegisterOrder.Of([.. keys, new SortKey("title", false)], Columns, ids));
}

/// <summary>One sort key: an attribute that is not a list, ascending or descending.</summary>
public readonly record struct SortKey(string Attribute, bool Down)
{
    public override string ToString() => Down ? $"-{Attribute}" : Attribute;
}
