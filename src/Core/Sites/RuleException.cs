using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>A dated exception: until the end of a day a site may break a rule as far as it did when the exception was granted,
/// and no further; or, where the rule could not tell, stay untold.
/// </summary>
/// <param name="Through">The last day.</param>
/// <param name="Demand">The rule's demand then, as an expression.</param>
/// <param name="Distance">The distance of the site from it then, in the steps of the demand.</param>
/// <param name="Ended">When it was ended before its day.</param>
public sealed record RuleException(
    long Id,
    RuleId Rule,
    string Reason,
    PersonId By,
    DateTimeOffset From,
    DateOnly Through,
    string Demand,
    IReadOnlyList<int> Distance,
    DateTimeOffset? Ended = null
)
{
    /// <summary>True if the rule could not tell about the site then: it covers not knowing, and no break.</summary>
    public bool IsUntold { get; init; }

    /// <summary>True if in force: from when it is granted until somebody ends it or its day is over.</summary>
    public bool IsInForce(DateTimeOffset now, OrganisationTime time) => Ended is null && !time.IsOver(Through, now);
}
