using AtticLedger.Core.Filters;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>The attribute that has the value of a fact.</summary>
internal sealed class FactAttributes : IFactVisitor<Attribute<ComputedSite>>
{
    private static readonly AttributeList<string> TextParts = new([new TextAttribute<string>("value", "the text", Known.Text)]);

    /// <exception cref="NotSupportedException">No attribute has values of the fact's type.</exception>
    public Attribute<ComputedSite> Visit<T>(SiteFact<T> fact)
        where T : notnull
    {
        var (name, says) = (fact.Filter!.Name, fact.Filter.Says);
        return fact switch
        {
            SiteFact<string> text => new TextAttribute<ComputedSite>(name, says, Of(text), fact.Filter.IsExact),
            SiteFact<UnitCode> unit => new TextAttribute<ComputedSite>(name, says, line =>
                line.Site.Facts.Of(unit).Select(code => code.Value)
            ),
            SiteFact<DateTimeOffset> instant => new MomentAttribute<ComputedSite>(name, says, Of(instant)),
            SiteFact<int> number => new NumberAttribute<ComputedSite>(name, says, line =>
                line.Site.Facts.Of(number).Select(value => Span.Exactly(value))
            ),
            SiteFact<long> { Unit: FactUnit.Bytes } bytes => new NumberAttribute<ComputedSite>(name, says, line =>
                line.Site.Facts.Of(bytes).Select(value => Span.Exactly((value / 1000) + (value % 1000 == 0 ? 0 : 1)))
            ),
            SiteFact<bool> flag => new TruthAttribute<ComputedSite>(
                name,
                says,
                line => line.Site.Facts.Of(flag) is var known && known.IsUnknown ? Truth.Unknown : Truths.Of(known.Or(false)),
                line => line.Site.Facts.Of(flag).IsNone
            ),
            SiteFact<IReadOnlyList<string>> texts => new ListAttribute<ComputedSite, string>(name, says, TextParts, line =>
                line.Site.Facts.Of(texts) is var known && known.Has(out var values) ? new(values, true) : new([], known.IsNone)
            ),
            _ when typeof(T).IsEnum => new WordAttribute<ComputedSite>(name, says, Words(typeof(T)), line =>
                line.Site.Facts.Of(fact).Select(value => Span.Exactly(Convert.ToInt64(value, null)))
            ),
            _ => throw new NotSupportedException($"No attribute has values of the type {typeof(T).Name}, which {fact} has."),
        };
    }

    /// <summary>The values of an enumeration in their order, as filters write them: "never-published".</summary>
    internal static IReadOnlyList<string> Words(Type enumeration) =>
        [.. Enum.GetNames(enumeration).Select(System.Text.Json.JsonNamingPolicy.KebabCaseLower.ConvertName)];

    private static Func<ComputedSite, Known<T>> Of<T>(SiteFact<T> fact)
        where T : notnull => line => line.Site.Facts.Of(fact);
}
