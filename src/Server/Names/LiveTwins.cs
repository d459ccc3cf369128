using AtticLedger.Core.Filters;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;

namespace AtticLedger.Server.Names;

/// <summary>The pairs of near names in the register, found on first use and followed from then on.</summary>
internal sealed class LiveTwins : IDisposable
{
    private static readonly Filter<JudgedSite> Compared = Filter.Parse(
        "not (existence eq \"erased\") and no-longer-reported eq false",
        JudgedSite.Attributes
    );

    private readonly SemaphoreSlim following = new(1, 1);
    private TwinPairs pairs = TwinPairs.None;
    private RegisterIndex? at;

    /// <summary>The pairs by the positions of the state's index.</summary>
    public async Task<TwinPairs> Of(LedgerState state)
    {
        await following.WaitAsync();
        try
        {
            if (!ReferenceEquals(at, state.Index))
            {
                pairs = pairs.Following(Names(state.Index));
                at = state.Index;
            }

            return pairs;
        }
        finally
        {
            following.Release();
        }
    }

    // Sites in the attic included, for a restored one comes back with its name.
    private static string?[] Names(RegisterIndex index)
    {
        var (column, compared) = (index.Columns.Of<string>("name"), index.Columns.Evaluate(Compared));
        var names = new string?[index.Count];
        for (var place = 0; place < names.Length; place++)
        {
            names[place] = compared.IsYes(place) && column[place].Has(out var name) ? name : null;
        }

        return names;
    }

    public void Dispose() => following.Dispose();
}
