using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Naming;

/// <summary>Who has an address. No address becomes free by the passing of a day alone.</summary>
/// <param name="Site">Null for a requested address.</param>
/// <param name="Until">For a site in the attic: the last day on which the host can restore it, if known.</param>
public sealed record Holding(string Address, string Title, HeldAs As, SiteId? Site = null, DateTimeOffset? Until = null)
{
    /// <summary>How a site holds its address.</summary>
    public static HeldAs By(Existence existence, bool noLongerReported, Status? status) =>
        existence == Existence.Attic ? HeldAs.MoveToAttic
        : noLongerReported ? HeldAs.NoLongerReported
        : status switch
        {
            Status.NeverPublished => HeldAs.NeverPublished,
            Status.Offline => HeldAs.Offline,
            _ => HeldAs.InUse,
        };
}

/// <summary>A reason against an address.</summary>
public abstract record AddressFault
{
    private AddressFault() { }

    /// <summary>It is malformed; no other reason is given then.</summary>
    public sealed record Malformed(string Why) : AddressFault;

    public sealed record Held(Holding By) : AddressFault;

    public sealed record Reserved(string Word) : AddressFault;

    /// <summary>It can be mistaken for another one.</summary>
    /// <param name="By">Null if the other is a reserved word.</param>
    public sealed record Confusable(string With, Holding? By) : AddressFault;
}

/// <summary>The addresses that are taken on one host, and the free ones.</summary>
public sealed class AddressBook
{
    private const int MostAlternatives = 5;
    private readonly int longest;
    private readonly ILookup<string, string> reserved;
    private readonly Dictionary<string, List<Holding>> holdings = [];
    private readonly AddressBook? below;

    public AddressBook(IEnumerable<string> reserved, int longest = Addresses.Longest)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(longest, Addresses.LeastRoom);
        this.longest = longest;
        this.reserved = reserved.ToLookup(Addresses.Folded);
    }

    private AddressBook(AddressBook below, IEnumerable<Holding> more)
    {
        (this.below, longest, reserved) = (below, below.longest, below.reserved);
        foreach (var holding in more)
        {
            Hold(holding);
        }
    }

    /// <summary>The same addresses and a few more. This book stays as it is, and is not copied.</summary>
    public AddressBook With(IEnumerable<Holding> more) => new(this, more);

    public void Hold(Holding holding) => Hold(holding, Addresses.Folded(holding.Address));

    /// <param name="folded">Its folded address, where it is known already.</param>
    /// <seealso cref="Addresses.Folded"/>
    public void Hold(Holding holding, string folded)
    {
        if (!holdings.TryGetValue(folded, out var alike))
        {
            holdings[folded] = alike = [];
        }

        alike.Add(holding);
    }

    /// <summary>All reasons against an address; empty if it is free.</summary>
    /// <param name="own">A site that can keep its own address.</param>
    public IReadOnlyList<AddressFault> FaultsOf(string address, SiteId? own = null)
    {
        if (Addresses.Fault(address, longest) is { } why)
        {
            return [new AddressFault.Malformed(why)];
        }

        var folded = Addresses.Folded(address);
        var others = Alike(folded)
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

    private IEnumerable<Holding> Alike(string folded) =>
        below is null
            ? holdings.GetValueOrDefault(folded, [])
            : below.Alike(folded).Concat(holdings.GetValueOrDefault(folded, []));

    public bool IsFree(string address) => FaultsOf(address).Count == 0;

    /// <summary>The address that a name suggests; if none, the unit's code, the kind and the smallest free number.</summary>
    public string Proposed(string name, string? unit, string? kind)
    {
        if (Addresses.Proposed(name, longest) is { } address)
        {
            return address;
        }

        var stem = Addresses.Proposed($"{unit} {kind}", longest) ?? "site";
        return Enumerable.Range(1, int.MaxValue).Select(number => Addresses.With(stem, $"{number}", longest)).First(IsFree);
    }

    /// <summary>Free alternatives to an address: first with the unit's code, then without its faults, then with a distinguishing
    /// word, last with the year.</summary>
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
