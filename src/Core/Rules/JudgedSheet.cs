using System.Collections.Concurrent;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>
/// The register at one place of the feed as columns: every attribute and every verdict of all sites, and nothing else of
/// them. Immutable; it can be thrown away and made anew from the database. One writer at a time.
/// </summary>
public sealed class JudgedSheet
{
    // Each takes eight bytes a line: whoever asks for ever other orders does not fill the memory.
    private const int MostOrders = 12;
    private readonly ConcurrentDictionary<SiteId, int> placeOf;
    private readonly Distinct<SiteId> sites;
    private readonly ArraySegment<SiteId> ids;
    private readonly LastFew<string, SheetOrder> orders = new(MostOrders);

    private JudgedSheet(KeptColumns<JudgedLine> columns, Distinct<SiteId> sites, ConcurrentDictionary<SiteId, int> placeOf)
    {
        Columns = columns;
        this.sites = sites;
        this.placeOf = placeOf;
        ids = sites.Part;
    }

    public static JudgedSheet Empty => new(KeptColumns<JudgedLine>.Empty(JudgedLine.Attributes), new(), new());

    /// <summary>The sheet as it was written.</summary>
    /// <exception cref="SnapshotError">It is not whole, or names people or rules that there are not.</exception>
    public static JudgedSheet Read(ISnapshotReader from, Roll roll, RuleBook rules)
    {
        var ids = Array.ConvertAll(from.Longs(), id => new SiteId(id));
        var columns = KeptColumns<JudgedLine>.Read(JudgedLine.Attributes, from, new SheetCodecs(roll, rules));
        return columns.Count == ids.Length
            ? new JudgedSheet(
                columns,
                new Distinct<SiteId>(ids),
                new(ids.Index().Select(pair => KeyValuePair.Create(pair.Item, pair.Index)))
            )
            : throw new SnapshotError("The sheet has other lines than columns.");
    }

    public void Write(ISnapshotWriter to)
    {
        to.Longs([.. ids.Select(id => id.Value)]);
        Columns.Write(to, new SheetCodecs(null, null));
    }

    public KeptColumns<JudgedLine> Columns { get; }

    public int Count => ids.Count;

    /// <summary>The sheet with other or more lines.</summary>
    public JudgedSheet With(IReadOnlyList<JudgedLine> lines)
    {
        var placed = new (int, JudgedLine)[lines.Count];
        for (var i = 0; i < placed.Length; i++)
        {
            var site = lines[i].Line.Site.Id;
            var place = sites.CodeOf(site);
            placeOf.TryAdd(site, place);
            placed[i] = (place, lines[i]);
        }

        return new JudgedSheet(Columns.With(placed), sites, placeOf);
    }

    /// <summary>The sheet as a viewer may see it. There is no other way to its lines.</summary>
    public SeenSheet Seen(Sight sight) =>
        new(
            this,
            sight switch
            {
                Sight.Everything => Mask.All(Count, Truth.Yes),
                Sight.OfUnits(var units) => Columns
                    .Of<string>("unit")
                    .Where(Comparison.Eq, unit => Truths.Of(units.Contains(unit)))
                    .Certainly(),
                Sight.OfKeys { Person: var person } => ((ListColumn<KeyHolder>)Columns.Of("owners"))
                    .Any(holder => holder.Person.Id == person)
                    .Certainly(),
                _ => throw new InvalidOperationException("Every kind of sight is answered above."),
            }
        );

    /// <summary>The sites of which something of reach or keys is known only between bounds: they feel whatever may be possible.</summary>
    public IEnumerable<SiteId> Uncertain()
    {
        IEnumerable<string> bounded =
        [
            .. Powers.Limited.SelectMany(power => new[] { $"{power.Word()}.inside", $"{power.Word()}.outside" }),
            "editors.count",
        ];
        var exact = bounded
            .Select(name =>
                Columns
                    .Of<Span>(name)
                    .Where(Comparison.Eq, span => Truths.Of(span.AtLeast == span.AtMost))
                    .Or(Columns.Of(name).IsPresent().Not())
            )
            .Aggregate(Columns.Of<bool>("beyond").IsPresent(), (all, one) => all.And(one))
            .And(((ListColumn<KeyHolder>)Columns.Of("owners")).IsComplete());
        return exact.Certainly().Lines(Truth.No).Select(place => ids[place]);
    }

    internal SheetLine this[int place] => new(Columns, ids[place], place);

    internal int? PlaceOf(SiteId site) => placeOf.TryGetValue(site, out var place) && place < Count ? place : null;

    /// <summary>The lines in an order; ties fall to the title, then to the id.</summary>
    public SheetOrder OrderBy(IReadOnlyList<SortKey> keys) =>
        orders.GetOrAdd(string.Join(',', keys), _ => SheetOrder.Of([.. keys, new SortKey("title", false)], Columns, ids));
}

/// <summary>One key of an order: an attribute that is no list, upwards or down.</summary>
public readonly record struct SortKey(string Attribute, bool Down)
{
    public override string ToString() => Down ? $"-{Attribute}" : Attribute;
}
