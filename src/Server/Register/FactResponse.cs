using System.Text.Json;
using AtticLedger.Core.Sites;

namespace AtticLedger.Server.Register;

/// <summary>A fact of a site as a line of its page: one of the values, or none of them.</summary>
/// <param name="Fact">The name of its declaration.</param>
/// <param name="Label">In lower case.</param>
/// <param name="Line">The part of the page that shows it.</param>
/// <param name="IsKnown">True with no value if it is known that there is none.</param>
/// <param name="Unit">The unit of the number.</param>
public sealed record FactResponse(
    string Fact,
    string Label,
    FactLine Line,
    bool IsKnown,
    FactUnit Unit,
    string? Text = null,
    long? Number = null,
    bool? Flag = null,
    DateTimeOffset? At = null,
    IReadOnlyList<string>? Items = null
)
{
    /// <summary>The facts that are shown as lines: those that few hosts report only where they are known.</summary>
    public static IReadOnlyList<FactResponse> Of(FactSet facts) =>
        [
            .. DeclaredFacts
                .All.Where(fact => fact.Line != FactLine.None)
                .Where(fact => fact.Spread == FactSpread.Common || !facts.IsUnknown(fact))
                .Select(fact => Of(fact, facts)),
        ];

    private static FactResponse Of(SiteFact fact, FactSet facts)
    {
        var line = new FactResponse(fact.Name, fact.Label, fact.Line, !facts.IsUnknown(fact), fact.Unit);
        return !facts.Of(fact).Has(out var value)
            ? line
            : value switch
            {
                string text => line with { Text = text },
                int number => line with { Number = number },
                long number => line with { Number = number },
                bool flag => line with { Flag = flag },
                DateTimeOffset instant => line with { At = instant },
                Enum word => line with { Text = JsonNamingPolicy.KebabCaseLower.ConvertName(word.ToString()).Replace('-', ' ') },
                IReadOnlyList<string> items => line with { Items = items },
                _ => throw new NotSupportedException($"A line shows no {value.GetType().Name}, which {fact} has."),
            };
    }
}

/// <summary>A fact that nearly all hosts report, and the host of a site does not.</summary>
/// <param name="Fact">The name of its declaration, or <c>access</c> for who has access.</param>
/// <param name="Label">In lower case.</param>
public sealed record UnknownFact(string Fact, string Label)
{
    private static readonly UnknownFact access = new("access", "who has access");

    public static IEnumerable<UnknownFact> Of(SiteFacts site) =>
        DeclaredFacts
            .All.Where(fact => fact.Spread == FactSpread.Common && site.Facts.IsUnknown(fact))
            .Select(fact => new UnknownFact(fact.Name, fact.Label))
            .Concat(site.Sharing.IsUnknown ? [access] : []);
}
