using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>What is known about a site: for each declared fact its value, none, or unknown. Equal if every fact is.</summary>
public sealed class FactSet : IEquatable<FactSet>
{
    // A fact that is known to be none; unknown is null.
    private static readonly object none = new();
    private readonly object?[] values;

    private FactSet(object?[] values) => this.values = values;

    public static FactSet Unknown { get; } = new(new object?[DeclaredFacts.All.Count]);

    public Known<T> Of<T>(SiteFact<T> fact)
        where T : notnull =>
        values[fact.Place] switch
        {
            null => Known<T>.Unknown,
            var value when ReferenceEquals(value, none) => Known<T>.None,
            var value => Known.Of((T)value),
        };

    public bool IsUnknown(SiteFact fact) => values[fact.Place] is null;

    /// <summary>The value without its type; unknown and none have none.</summary>
    public Known<object> Of(SiteFact fact) =>
        values[fact.Place] switch
        {
            null => Known<object>.Unknown,
            var value when ReferenceEquals(value, none) => Known<object>.None,
            var value => Known.Of(value),
        };

    public FactSet With<T>(SiteFact<T> fact, Known<T> value)
        where T : notnull => new Builder(this).Set(fact, value).Build();

    /// <summary>These facts, and of some facts the values of another set.</summary>
    public FactSet With(FactSet other, Func<SiteFact, bool> which)
    {
        var mixed = new object?[values.Length];
        foreach (var fact in DeclaredFacts.All)
        {
            mixed[fact.Place] = (which(fact) ? other : this).values[fact.Place];
        }

        return new FactSet(mixed);
    }

    public bool Equals(FactSet? other)
    {
        if (other is null)
        {
            return false;
        }

        for (var place = 0; place < values.Length; place++)
        {
            var (one, two) = (values[place], other.values[place]);
            if (!ReferenceEquals(one, two))
            {
                var isSame =
                    one is not null
                    && two is not null
                    && !ReferenceEquals(one, none)
                    && !ReferenceEquals(two, none)
                    && DeclaredFacts.All[place].Same(one, two);
                if (!isSame)
                {
                    return false;
                }
            }
        }

        return true;
    }

    public override bool Equals(object? obj) => Equals(obj as FactSet);

    public override int GetHashCode() => HashCode.Combine(Of(DeclaredFacts.Name), Of(DeclaredFacts.Address));

    /// <summary>Fills a set; unset facts stay unknown.</summary>
    public sealed class Builder
    {
        private readonly object?[] filled;

        public Builder() => filled = new object?[DeclaredFacts.All.Count];

        internal Builder(FactSet from) => filled = [.. from.values];

        public Builder Set<T>(SiteFact<T> fact, Known<T> value)
            where T : notnull
        {
            filled[fact.Place] =
                value.Has(out var known) ? known
                : value.IsNone ? none
                : null;
            return this;
        }

        /// <summary>Call once: the set takes over what was filled.</summary>
        public FactSet Build() => new(filled);
    }
}
