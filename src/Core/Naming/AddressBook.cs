using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Naming;

/// <summary>As what somebody holds an address.</summary>
public enum HeldAs : byte
{
    Live,
    NeverLive,
    Offline,
    Vanished,
    PutAway,
    Listed,
}

/// <summary>Who holds an address. A day that is over frees none by itself.</summary>
/// <param name="Site">Null for what is only asked for.</param>
/// <param name="Until">Of a site that is put away: through when the host can bring it back, where that is known.</param>
public sealed record Holding(string Address, string Title, HeldAs As, SiteId? Site = null, DateTimeOffset? Until = null);

/// <summary>What speaks against an address.</summary>
public abstract record AddressFault
{
    private AddressFault() { }

    /// <summary>It is no address at all; nothing else is said of it then.</summary>
    public sealed record Malformed(string Why) : AddressFault;

    public sealed record Held(Holding By) : AddressFault;

    public sealed record Reserved(string Word) : AddressFault;

    /// <summary>It is taken for another one.</summary>
    /// <param name="By">Null where the other is a reserved word.</param>
    public sealed record Confusable(string With, Holding? By) : AddressFault;
}

/// <summary>Who holds which address on one host, and what is free there.</summary>
public sealed class AddressBook
{
    private const int MostAlternatives = 5;
    private readonly int longest;
    private readonly ILookup<string, string> reserved;
    private readonly Dictionary<string, List<Holding>> holdings = [];

    public AddressBook(IEnumerable<string> reserved, int longest = Addresses.Longest)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(longest, Addresses.LeastRoom);
        this.longest = longest;
        this.reserved = reserved.ToLookup(Addresses.Folded);
    }

    public void Hold(Holding holding)
    {
        var folded = Addresses.Folded(holding.Address);
        if (!holdings.TryGetValue(folded, out var alike))
        {
            holdings[folded] = alike = [];
        }

        alike.Add(holding);
    }

    /// <summary>All that speaks against an address; nothing where it is free.</summary>
    /// <param name="own">A site that may keep what it holds.</param>
    public IReadOnlyList<AddressFault> FaultsOf(string address, SiteId? own = null)
    {
        if (Addresses.Fault(address, longest) is { } why)
        {
            return [new AddressFault.Malformed(why)];
        }

        var folded = Addresses.Folded(address);
        var others = holdings
            .GetValueOrDefault(folded, [])
            .Where(holding => own is null || holding.Site != own)
            .ToLookup(holding => holding.Address == address);
        var words = reserved[folded].ToLookup(word => word == address);
        return
        [
            .. others[true].Select(holding => new AddressFault.Held(holding)),
            .. words[true].Select(word => new AddressFault.Reserved(word)),
            .. others[false].Select(holding => new AddressFault.Confusable(holding.Address, holding)),
            .. words[false].Select(word => new AddressFault.Confusable(word, null)),
        ];
    }

    public bool IsFree(string address) => FaultsOf(address).Count == 0;

    /// <summary>The address that a name suggests, or, where it says nothing, the unit's code, the kind and the least number that is free.</summary>
    public string Proposed(string name, string? unit, string? kind)
    {
        if (Addresses.Proposed(name, longest) is { } address)
        {
            return address;
        }

        var stem = Addresses.Proposed($"{unit} {kind}", longest) ?? "site";
        return Enumerable.Range(1, int.MaxValue).Select(number => Addresses.With(stem, $"{number}", longest)).First(IsFree);
    }

    /// <summary>Free ones in place of an address: with the unit's code first, then what it is without its faults, then with a word that tells it apart, with the year last.</summary>
    public IReadOnlyList<string> Alternatives(string address, string? unit, IEnumerable<string> words, int year)
    {
        if (Addresses.Proposed(address, longest) is not { } stem)
        {
            return [];
        }

        var code = unit is null ? null : Addresses.Proposed(unit, longest);
        IEnumerable<string?> candidates =
        [
            code is null ? null : Addresses.Proposed($"{code} {stem}", longest),
            code is null ? null : Addresses.With(stem, code, longest),
            stem,
            .. words
                .Select(word => Addresses.Proposed(word, longest))
                .OfType<string>()
                .SelectMany(word =>
                    new[]
                    {
                        Addresses.With(stem, word, longest),
                        code is null ? null : Addresses.With(stem, $"{word}-{code}", longest),
                    }
                ),
            Addresses.With(stem, $"{year}", longest),
        ];
        return
        [
            .. candidates
                .OfType<string>()
                .Where(candidate => candidate != address && IsFree(candidate))
                .Distinct()
                .Take(MostAlternatives),
        ];
    }
}
