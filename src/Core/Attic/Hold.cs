using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Attic;

/// <summary>An order not to clear a site. It stops clearing, not the count.</summary>
/// <param name="Through">The last day on which it holds by itself, or null for until it is released.</param>
/// <param name="Released">When somebody lifted it before its end.</param>
public sealed record Hold(
    long Id,
    string Reason,
    PersonId By,
    DateTimeOffset From,
    DateOnly? Through,
    DateTimeOffset? Released = null
)
{
    /// <summary>The first instant at which it no longer holds, or null while no end is known.</summary>
    public DateTimeOffset? EndsAt(HouseTime time) =>
        (Released, Through) switch
        {
            ({ } released, { } through) when time.EndOf(through) is var end => released < end ? released : end,
            ({ } released, null) => released,
            (null, { } through) => time.EndOf(through),
            _ => null,
        };

    public bool IsInForce(DateTimeOffset at, HouseTime time) => From <= at && !(EndsAt(time) <= at);
}
