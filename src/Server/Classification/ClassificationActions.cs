using System.Runtime.CompilerServices;
using AtticLedger.Core.Classification;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using AtticLedger.Store;

namespace AtticLedger.Server.Classification;

/// <summary>The missing facts and proposals of one state of the register; computed on first use.</summary>
public sealed class ClassificationActions(Database database)
{
    private const int MostNext = 12;
    private readonly ConditionalWeakTable<LedgerState, Dictionary<ClaimedFact, Lacking>> computed = [];

    /// <summary>For one fact: the sites without it, the proposals, and what to set next.</summary>
    public sealed record Lacking(
        IReadOnlyList<Traits> Sites,
        IReadOnlyList<IGrouping<string, Proposal>> Groups,
        IReadOnlyList<NextFact> Next
    );

    public async Task<Lacking> Of(LedgerState state, ClaimedFact fact)
    {
        var facts = computed.GetOrCreateValue(state);
        lock (facts)
        {
            if (facts.TryGetValue(fact, out var known))
            {
                return known;
            }
        }

        var keys = await database.Read(connection => connection.ParentKeys());
        var seen = state.Seen(new Scope.Everything());
        List<Traits> sites = [.. seen.Lines(seen.InUse).Select(line => Traits.Of(line, keys.GetValueOrDefault(line.Id)))];
        var proposals = Proposals.Of(sites, fact, state.Organisation.Terms);
        var lacking = new Lacking(
            sites,
            [
                .. proposals
                    .GroupBy(Proposals.GroupOf)
                    .OrderBy(group => group.First().Strength)
                    .ThenByDescending(group => group.Count())
                    .ThenBy(group => group.Key, StringComparer.Ordinal),
            ],
            NextFacts.Of(
                sites,
                fact,
                proposals.Where(proposal => proposal.Strength == Strength.Sure).Select(proposal => proposal.Site.Id).ToHashSet(),
                MostNext
            )
        );
        lock (facts)
        {
            return facts[fact] = lacking;
        }
    }
}
