namespace AtticLedger.Core.Sites;

/// <summary>How many hosts report a fact.</summary>
public enum FactSpread : byte
{
    /// <summary>Nearly all: unknown is worth saying.</summary>
    Common,

    /// <summary>Some, but it is mostly set in the product: that a host does not report it is not worth saying.</summary>
    SetHere,

    /// <summary>Few: where it is unknown, nothing is said about it.</summary>
    Rare,
}

/// <summary>How a fact changes.</summary>
public enum FactPace : byte
{
    /// <summary>Somebody changes it: a change has an entry in the journal.</summary>
    ByEvents,

    /// <summary>As by events, but a part of it, such as a count, changes by itself and has no entry.</summary>
    Partly,

    /// <summary>It changes by itself, as a count does: the newest value is kept, without an entry.</summary>
    ByItself,
}

/// <summary>The unit of a number.</summary>
public enum FactUnit : byte
{
    One,
    Bytes,
}

/// <summary>Where a site's page shows a fact as a line with its label.</summary>
public enum FactLine : byte
{
    /// <summary>The page shows it in a way of its own, or nowhere.</summary>
    None,
    About,
    Content,
}

/// <summary>The attribute of the register that has the value of a fact.</summary>
/// <param name="Name">In filters and rules.</param>
/// <param name="Label">In sentences about a filter: "the number of pages".</param>
/// <param name="Says">What it means, for the list of attributes.</param>
public sealed record FactFilter(string Name, string Label, string Says, bool IsExact = false);

/// <summary>A fact of a site, declared once in <see cref="DeclaredFacts"/>. What stores, bundles, compares, journals, filters and
/// shows facts loops over the declarations.
/// </summary>
public abstract class SiteFact
{
    private protected SiteFact(string name, string label)
    {
        Name = name;
        Label = label;
    }

    /// <summary>Its index among <see cref="DeclaredFacts.All"/>.</summary>
    public int Place { get; internal set; }

    /// <summary>In tables, bundles and the journal; never changed.</summary>
    public string Name { get; }

    /// <summary>For people, in lower case: "web domains".</summary>
    public string Label { get; }

    public FactSpread Spread { get; init; }

    public FactPace Pace { get; init; }

    public FactUnit Unit { get; init; }

    public FactLine Line { get; init; }

    /// <summary>Null if its value is no attribute by itself: attributes made from it are written out in the register.</summary>
    public FactFilter? Filter { get; init; }

    /// <summary>The type of its values.</summary>
    public abstract Type ValueType { get; }

    internal abstract bool Same(object one, object other);

    public abstract TResult Accept<TResult>(IFactVisitor<TResult> visitor);

    public override string ToString() => Name;
}

/// <summary>Does something with a fact whose type is known.</summary>
public interface IFactVisitor<out TResult>
{
    TResult Visit<T>(SiteFact<T> fact)
        where T : notnull;
}

public sealed class SiteFact<T> : SiteFact
    where T : notnull
{
    private readonly Func<T, T, bool> same;

    internal SiteFact(string name, string label, Func<T, T, bool>? same = null)
        : base(name, label) => this.same = same ?? EqualityComparer<T>.Default.Equals;

    public override Type ValueType => typeof(T);

    internal override bool Same(object one, object other) => same((T)one, (T)other);

    public override TResult Accept<TResult>(IFactVisitor<TResult> visitor) => visitor.Visit(this);
}
