using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Filters;

/// <summary>The elements of a list, and whether they are complete.</summary>
public readonly record struct Listed<T>(IReadOnlyList<T> Items, bool Complete);

public enum AttributeKind
{
    Text,
    Word,
    Number,
    Instant,
    Truth,
    List,
}

/// <summary>What the values of an attribute are.</summary>
/// <param name="Order">The values of an ordered attribute, the lowest first; null for others.</param>
public sealed record AttributeType(AttributeKind Kind, IReadOnlyList<string>? Order = null, bool IsExact = false)
{
    /// <summary>As the list of attributes names it.</summary>
    public override string ToString() =>
        Kind switch
        {
            AttributeKind.Word => string.Join(" < ", Order ?? []),
            AttributeKind.Truth => "true or false",
            AttributeKind.Text when IsExact => "text, exact",
            _ => Kind.ToString().ToLowerInvariant(),
        };
}

/// <summary>An attribute of a row (or of an element in one): its name in filters, its meaning, and how it is read.</summary>
public abstract record Attribute<TLine>(string Name, string Says)
{
    public abstract AttributeType Type { get; }

    /// <summary>The same attribute of a row that contains this one.</summary>
    public abstract Attribute<TOuter> Of<TOuter>(Func<TOuter, TLine> inner);
}

public sealed record TextAttribute<TLine>(string Name, string Says, Func<TLine, Known<string>> Read, bool IsExact = false)
    : Attribute<TLine>(Name, Says)
{
    public override AttributeType Type => new(AttributeKind.Text, IsExact: IsExact);

    /// <summary>The empty text is none.</summary>
    public Known<string> TextOf(TLine line) =>
        Read(line) is var said && said.Has(out var value) && value.Length == 0 ? Known<string>.None : said;

    public override Attribute<TOuter> Of<TOuter>(Func<TOuter, TLine> inner) =>
        new TextAttribute<TOuter>(Name, Says, outer => Read(inner(outer)), IsExact);
}

/// <summary>Ordered values, compared by their order; where only bounds are known, a comparison may not be able to tell.</summary>
public sealed record WordAttribute<TLine>(string Name, string Says, IReadOnlyList<string> Order, Func<TLine, Known<Span>> Read)
    : Attribute<TLine>(Name, Says)
{
    public override AttributeType Type => new(AttributeKind.Word, Order);

    public override Attribute<TOuter> Of<TOuter>(Func<TOuter, TLine> inner) =>
        new WordAttribute<TOuter>(Name, Says, Order, outer => Read(inner(outer)));
}

public sealed record NumberAttribute<TLine>(string Name, string Says, Func<TLine, Known<Span>> Read)
    : Attribute<TLine>(Name, Says)
{
    public override AttributeType Type => new(AttributeKind.Number);

    public override Attribute<TOuter> Of<TOuter>(Func<TOuter, TLine> inner) =>
        new NumberAttribute<TOuter>(Name, Says, outer => Read(inner(outer)));
}

/// <summary>An instant, in the format of RFC 3339.</summary>
public sealed record MomentAttribute<TLine>(string Name, string Says, Func<TLine, Known<DateTimeOffset>> Read)
    : Attribute<TLine>(Name, Says)
{
    public override AttributeType Type => new(AttributeKind.Instant);

    public override Attribute<TOuter> Of<TOuter>(Func<TOuter, TLine> inner) =>
        new MomentAttribute<TOuter>(Name, Says, outer => Read(inner(outer)));
}

/// <param name="IsNone">The rows for which it is none; null if there are no such rows.</param>
public sealed record TruthAttribute<TLine>(string Name, string Says, Func<TLine, Truth> Read, Func<TLine, bool>? IsNone = null)
    : Attribute<TLine>(Name, Says)
{
    public override AttributeType Type => new(AttributeKind.Truth);

    public override Attribute<TOuter> Of<TOuter>(Func<TOuter, TLine> inner) =>
        new TruthAttribute<TOuter>(
            Name,
            Says,
            outer => Read(inner(outer)),
            IsNone is { } isNone ? outer => isNone(inner(outer)) : null
        );
}

/// <summary>A multi-valued attribute. Its elements have attributes of their own, among them <c>value</c>, the default.</summary>
public abstract record ListAttribute<TLine>(string Name, string Says) : Attribute<TLine>(Name, Says)
{
    public override AttributeType Type => new(AttributeKind.List);

    public abstract IReadOnlyList<(string Name, string Says, AttributeType Type)> Parts { get; }

    internal abstract TResult Accept<TResult>(IListVisitor<TLine, TResult> visitor);
}

internal interface IListVisitor<TLine, TResult>
{
    TResult Visit<TElement>(ListAttribute<TLine, TElement> list)
        where TElement : notnull;
}

public sealed record ListAttribute<TLine, TElement>(
    string Name,
    string Says,
    AttributeList<TElement> Elements,
    Func<TLine, Listed<TElement>> Read
) : ListAttribute<TLine>(Name, Says)
    where TElement : notnull
{
    public override IReadOnlyList<(string Name, string Says, AttributeType Type)> Parts =>
        [.. Elements.All.Select(part => (part.Name, part.Says, part.Type))];

    public override Attribute<TOuter> Of<TOuter>(Func<TOuter, TLine> inner) =>
        new ListAttribute<TOuter, TElement>(Name, Says, Elements, outer => Read(inner(outer)));

    internal override TResult Accept<TResult>(IListVisitor<TLine, TResult> visitor) => visitor.Visit(this);
}

/// <summary>All attributes of a kind of row. Names are matched without case, as in RFC 7644.</summary>
public sealed class AttributeList<TLine>(IReadOnlyList<Attribute<TLine>> all)
{
    private readonly Dictionary<string, Attribute<TLine>> byName = all.ToDictionary(
        one => one.Name,
        StringComparer.OrdinalIgnoreCase
    );

    public IReadOnlyList<Attribute<TLine>> All { get; } = all;

    public Attribute<TLine>? Find(string name) => byName.GetValueOrDefault(name);
}
