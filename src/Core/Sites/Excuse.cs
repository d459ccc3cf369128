using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>
/// A dated exception: through the end of a day a site may break a rule, as far as it did when it was excused and no further.
/// </summary>
/// <param name="Through">The last day.</param>
/// <param name="Demand">What the rule asked then, as an expression.</param>
/// <param name="Distance">How far the site was from it then, in the steps of the rule's demand.</param>
/// <param name="Ended">When somebody ended it before its day.</param>
public sealed record Excuse(
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
    /// <summary>Whether it is, as things stand: it counts from when it is given, and until somebody ends it or its day is over.</summary>
    public bool IsInForce(DateTimeOffset now, HouseTime time) => Ended is null && !time.IsOver(Through, now);
}
