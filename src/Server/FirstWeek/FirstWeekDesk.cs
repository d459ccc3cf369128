using System.Runtime.CompilerServices;
using AtticLedger.Core.FirstWeek;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using AtticLedger.Store;

namespace AtticLedger.Server.FirstWeek;

/// <summary>What one state of the register lacks and proposes; computed when it is first asked for.</summary>
public sealed class FirstWeekDesk(Database database)
{
    private const int MostNext = 12;
    private readonly ConditionalWeakTable<LedgerState, Dictionary<SaidFact, Lacking>> computed = [];

    /// <summary>What is lacking of a fact, what is proposed for it, and what to say next.</summary>
    public sealed record Lacking(
        IReadOnlyList<Traits> Sites,
        IReadOnlyList<IGrouping<string, Proposal>> Groups,
        IReadOnlyList<NextFact> Next
    );

    public async Task<Lacking> Of(LedgerState state, SaidFact fact)
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
        var seen = state.Seen(new Sight.Everything());
        List<Traits> sites = [.. seen.Lines(seen.InUse).Select(line => Traits.Of(line, keys.GetValueOrDefault(line.Id)))];
        var proposals = Proposals.Of(sites, fact, state.House.Terms);
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
