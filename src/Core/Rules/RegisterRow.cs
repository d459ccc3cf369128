using AtticLedger.Core.Filters;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A row as the index keeps it: the content of lists of sites. Everything else is read from the database.</summary>
public readonly record struct RegisterRow(KeptColumns<JudgedSite> Columns, SiteId Id, int Place)
{
    public string Title => Text("title").Or("");

    public Known<string> Address => Text("address");

    public string Host => Text("host").Or("");

    /// <summary>Why it cannot be computed; null if it can.</summary>
    public string? Fault => Text("fault") is var fault && fault.Has(out var why) ? why : null;

    public Known<UnitCode> Unit => Text("unit").Select(code => new UnitCode(code));

    public IReadOnlyList<UnitCode> UnitChain => List<UnitCode>("units").Items;

    public Known<Status> Status => Of<Span>("status").Select(span => (Status)span.AtLeast);

    public Existence Existence => (Existence)Of<Span>("existence").Or(default).AtLeast;

    public bool NoLongerReported => Of<bool>("no-longer-reported").Or(false);

    public Known<DateTimeOffset> LastEdit => Of<DateTimeOffset>("edited");

    public Known<int> Visits => Of<Span>("visits").Select(span => (int)span.AtLeast);

    public Known<long> Pages => Of<Span>("pages").Select(span => span.AtLeast);

    /// <summary>Its storage, in thousands of bytes.</summary>
    public Known<long> Kilobytes => Of<Span>("storage").Select(span => span.AtLeast);

    public int UnderWay => (int)Of<Span>("underway.count").Or(default).AtLeast;

    /// <summary>The owners, whether they are complete, and how many of them can be active.</summary>
    public SiteOwners Owners
    {
        get
        {
            var (holders, complete) = List<SiteOwner>("owners");
            return new(holders, complete)
            {
                ActiveAtMost = Of<Span>("owners.active.count").Select(active => active.AtMost).Or(int.MaxValue)
                    is < int.MaxValue
                        and var most
                    ? (int)most
                    : null,
            };
        }
    }

    public IReadOnlyList<Rule> Breaks => List<Rule>("breaks").Items;

    /// <summary>What its findings are decided by; none for a site that its host no longer reports.</summary>
    public IReadOnlyList<Cause> Causes => List<Cause>(FindingAttributes.Causes).Items;

    public IReadOnlyList<Rule> Excepted => List<Rule>("excepted").Items;

    public IReadOnlyList<Rule> Unsure => List<Rule>("unsure").Items;

    /// <summary>The effective reach of a power inside; none for view if the site was never published.</summary>
    public Known<Span> Inside(Power power) => Of<Span>($"{power.Word()}.inside");

    public Known<Span> Outside(Power power) => Of<Span>($"{power.Word()}.outside");

    /// <summary>The reach that policy allows; unknown if a layer is.</summary>
    public Known<Span> AllowedInside(Power power) => Of<Span>($"{power.Word()}.inside.allowed");

    public Known<Span> AllowedOutside(Power power) => Of<Span>($"{power.Word()}.outside.allowed");

    private Known<string> Text(string name) => Of<string>(name);

    private Known<TValue> Of<TValue>(string name)
        where TValue : notnull => Columns.Of<TValue>(name)[Place];

    private Listed<TElement> List<TElement>(string name)
        where TElement : notnull => ((ListColumn<TElement>)Columns.Of(name))[Place];
}
