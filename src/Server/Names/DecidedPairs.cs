using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Rules;

namespace AtticLedger.Server.Names;

/// <summary>Which pairs of near names are both right, as the names are now.</summary>
internal sealed class DecidedPairs(TwinPairs pairs, IEnumerable<BothRight> said, VisibleRegister seen)
{
    private readonly Dictionary<(Core.Terms.SiteId, Core.Terms.SiteId), BothRight> said = said.ToDictionary(one =>
        (one.One, one.Other)
    );

    /// <summary>Who said it, and why; null if the pair is open.</summary>
    public BothRight? Of(TwinPair pair)
    {
        if (said.Count == 0)
        {
            return null;
        }

        var (lower, higher) =
            seen.IdAt(pair.One).Value < seen.IdAt(pair.Other).Value ? (pair.One, pair.Other) : (pair.Other, pair.One);
        return
            said.TryGetValue((seen.IdAt(lower), seen.IdAt(higher)), out var its)
            && its.Meaning == pairs.MeaningAt(lower)
            && its.OtherMeaning == pairs.MeaningAt(higher)
            ? its
            : null;
    }
}
