using System.Runtime.CompilerServices;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;

namespace AtticLedger.Server.Starting;

/// <summary>The addresses and names of a state of the register, by host: made on first use of each state.</summary>
internal sealed class LiveAddresses
{
    private readonly ConditionalWeakTable<RegisterIndex, OfState> known = [];

    /// <summary>The holders of addresses on a host.</summary>
    public IReadOnlyList<Holding> Holdings(LedgerState state, string host) => Of(state).ByHost.GetValueOrDefault(host, []);

    /// <summary>The sites in use with an equivalent name.</summary>
    public IEnumerable<SiteId> Named(LedgerState state, string name) =>
        LookAlikes.Bare(name) is { Length: > 0 } bare ? Of(state).ByName[bare] : [];

    private OfState Of(LedgerState state) => known.GetValue(state.Index, static index => new OfState(index));

    private sealed class OfState
    {
        public OfState(RegisterIndex index)
        {
            var all = index.Seen(new Scope.Everything());
            var names = new List<(string Bare, SiteId Site)>();
            foreach (var row in all.Lines(all.All))
            {
                if (row.Existence == Existence.Erased)
                {
                    continue;
                }

                if (row.Address.Has(out var address))
                {
                    if (!ByHost.TryGetValue(row.Host, out var holdings))
                    {
                        ByHost[row.Host] = holdings = [];
                    }

                    holdings.Add(new Holding(address, row.Title, As(row), row.Id));
                }

                if (row is { Existence: Existence.InUse, NoLongerReported: false })
                {
                    names.Add((LookAlikes.Bare(row.Title), row.Id));
                }
            }

            ByName = names.ToLookup(pair => pair.Bare, pair => pair.Site);
        }

        public Dictionary<string, List<Holding>> ByHost { get; } = [];

        public ILookup<string, SiteId> ByName { get; }

        private static HeldAs As(RegisterRow row) =>
            row.Existence == Existence.Attic ? HeldAs.MoveToAttic
            : row.NoLongerReported ? HeldAs.NoLongerReported
            : row.Status.Or(Status.Published) switch
            {
                Status.NeverPublished => HeldAs.NeverPublished,
                Status.Offline => HeldAs.Offline,
                _ => HeldAs.InUse,
            };
    }
}
