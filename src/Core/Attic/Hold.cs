using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Attic;

/// <summary>An instruction not to erase a site. It stops erasing, not the count of days.</summary>
/// <param name="Through">The last day of the hold; null: until it is released.</param>
/// <param name="Released">When it was released before its end.</param>
public sealed record Hold(
    long Id,
    string Reason,
    PersonId By,
    DateTimeOffset From,
    DateOnly? Through,
    DateTimeOffset? Released = null
)
{
    /// <summary>The first instant after the hold; null while no end is known.</summary>
    public DateTimeOffset? EndsAt(OrganisationTime time) =>
        (Released, Through) switch
        {
            ({ } released, { } through) when time.EndOf(through) is var end => released < end ? released : end,
            ({ } released, null) => released,
            (null, { } through) => time.EndOf(through),
            _ => null,
        };

    public bool IsInForce(DateTimeOffset at, OrganisationTime time) => From <= at && !(EndsAt(time) <= at);
}
