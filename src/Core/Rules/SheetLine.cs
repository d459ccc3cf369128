using AtticLedger.Core.Filters;
using AtticLedger.Core.Keys;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A line as the sheet keeps it: what lists of sites are made of. All else of a site is read from the database.</summary>
public readonly record struct SheetLine(KeptColumns<JudgedLine> Columns, SiteId Id, int Place)
{
    public string Title => Text("title").Or("");

    public Known<string> Address => Text("address");

    public string Host => Text("host").Or("");

    /// <summary>Why nothing can be computed of it; null where all can.</summary>
    public string? Fault => Text("fault") is var fault && fault.Has(out var why) ? why : null;

    public Known<UnitCode> Unit => Text("unit").Select(code => new UnitCode(code));

    public IReadOnlyList<UnitCode> UnitChain => List<UnitCode>("units").Items;

    public Known<Stage> Stage => Of<Span>("stage").Select(span => (Stage)span.AtLeast);

    public Existence Existence => (Existence)Of<Span>("existence").Or(default).AtLeast;

    public bool Vanished => Of<bool>("vanished").Or(false);

    public Known<DateTimeOffset> LastEdit => Of<DateTimeOffset>("edited");

    public Known<int> Visits => Of<Span>("visits").Select(span => (int)span.AtLeast);

    public int UnderWay => (int)Of<Span>("underway.count").Or(default).AtLeast;

    /// <summary>The key holders, and whether that is all of them.</summary>
    public KeyHolders Keys
    {
        get
        {
            var (holders, complete) = List<KeyHolder>("owners");
            return new(holders, complete);
        }
    }

    public IReadOnlyList<Rule> Breaks => List<Rule>("breaks").Items;

    public IReadOnlyList<Rule> Excused => List<Rule>("excused").Items;

    public IReadOnlyList<Rule> Unsure => List<Rule>("unsure").Items;

    /// <summary>How far inside a power reaches in fact; none for the live copy of a site that was never live.</summary>
    public Known<Span> Inside(Power power) => Of<Span>($"{power.Word()}.inside");

    public Known<Span> Outside(Power power) => Of<Span>($"{power.Word()}.outside");

    /// <summary>How far the house allows; unknown where a layer is.</summary>
    public Known<Span> AllowedInside(Power power) => Of<Span>($"{power.Word()}.inside.allowed");

    public Known<Span> AllowedOutside(Power power) => Of<Span>($"{power.Word()}.outside.allowed");

    private Known<string> Text(string name) => Of<string>(name);

    private Known<TValue> Of<TValue>(string name)
        where TValue : notnull => Columns.Of<TValue>(name)[Place];

    private Listed<TElement> List<TElement>(string name)
        where TElement : notnull => ((ListColumn<TElement>)Columns.Of(name))[Place];
}
