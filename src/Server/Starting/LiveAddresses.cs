using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;

namespace AtticLedger.Server.Starting;

/// <summary>The addresses and names of a state of the register, by host: made on first use of each state. What an address folds to, and
/// what a name means, is computed once for each text.</summary>
internal sealed class LiveAddresses
{
    private const int MostTexts = 1_000_000;
    private readonly ConditionalWeakTable<RegisterIndex, OfState> known = [];
    private readonly ConcurrentDictionary<string, string> folded = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, string> bare = new(StringComparer.Ordinal);

    /// <summary>The addresses of one form on a host.</summary>
    public AddressBook Addresses(LedgerState state, string host, AddressForm form) =>
        Of(state).Books.GetOrAdd((host, form), BookOf, (this, state));

    /// <summary>The sites in use with an equivalent name.</summary>
    public IEnumerable<SiteId> Named(LedgerState state, string name) =>
        LookAlikes.Bare(name) is { Length: > 0 } meaning ? Of(state).ByName.Value[meaning] : [];

    private OfState Of(LedgerState state)
    {
        // Texts that nobody has any more are forgotten with all others, which is seldom.
        if (folded.Count + bare.Count > MostTexts)
        {
            folded.Clear();
            bare.Clear();
        }

        return known.GetValue(state.Index, index => new OfState(index, this));
    }

    private static AddressBook BookOf((string Host, AddressForm Form) of, (LiveAddresses Live, LedgerState State) from)
    {
        var book = new AddressBook(from.State.Organisation.ReservedAddresses);
        var holdings = from.Live.Of(from.State).ByHost.Value.GetValueOrDefault(of.Host, []);
        foreach (var holding in StartSite.Own(of.Form, holdings))
        {
            book.Hold(holding, from.Live.folded.GetOrAdd(holding.Address, Core.Naming.Addresses.Folded));
        }

        return book;
    }

    private sealed class OfState(RegisterIndex index, LiveAddresses live)
    {
        public ConcurrentDictionary<(string Host, AddressForm Form), AddressBook> Books { get; } = new();

        public Lazy<Dictionary<string, List<Holding>>> ByHost { get; } = new(() => Hosts(index.Seen(new Scope.Everything())));

        public Lazy<ILookup<string, SiteId>> ByName { get; } = new(() => Names(index.Seen(new Scope.Everything()), live));

        private static ILookup<string, SiteId> Names(VisibleRegister all, LiveAddresses live) =>
            all.Lines(all.InUse).ToLookup(row => live.bare.GetOrAdd(row.Title, LookAlikes.Bare), row => row.Id);

        private static Dictionary<string, List<Holding>> Hosts(VisibleRegister all)
        {
            var hosts = new Dictionary<string, List<Holding>>();
            foreach (var row in all.Lines(all.All))
            {
                if (row.Existence != Existence.Erased && row.Address.Has(out var address))
                {
                    if (!hosts.TryGetValue(row.Host, out var holdings))
                    {
                        hosts[row.Host] = holdings = [];
                    }

                    holdings.Add(
                        new Holding(
                            address,
                            row.Title,
                            Holding.By(row.Existence, row.NoLongerReported, row.Status.Has(out var status) ? status : null),
                            row.Id
                        )
                    );
                }
            }

            return hosts;
        }
    }
}
