using AtticLedger.Core.Naming;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;

namespace AtticLedger.Core.Actions;

/// <content>The address and the mail alias: whether they can be had, and how well they pass on.</content>
public static partial class StartSite
{
    private const int LongAddress = 24;
    private const int MostConsonants = 5;

    private static void OfAddress(
        KindToStart kind,
        StartFacts facts,
        NewSite wanted,
        List<FieldRemark> refusals,
        List<FieldRemark> because,
        List<FieldRemark> advice
    )
    {
        if (wanted.Address.Length == 0)
        {
            refusals.Add(new FieldRemark(StartField.Address, new AddressMissing()));
            return;
        }

        var book = facts.Addresses ?? new AddressBook(facts.Organisation.ReservedAddresses);
        foreach (var fault in book.FaultsOf(wanted.Address))
        {
            switch (fault)
            {
                case AddressFault.Malformed(var why):
                    refusals.Add(new FieldRemark(StartField.Address, new AddressMalformed(why)));
                    break;
                case AddressFault.Held(var by):
                    refusals.Add(new FieldRemark(StartField.Address, Held(by, facts)));
                    break;
                case AddressFault.Reserved(var word):
                    refusals.Add(new FieldRemark(StartField.Address, new AddressReserved(word)));
                    break;
                case AddressFault.Confusable(var word, null):
                    because.Add(new FieldRemark(StartField.Address, new AddressLikeReserved(word)));
                    break;
                case AddressFault.Confusable(var like, { } by):
                    advice.Add(new FieldRemark(StartField.Address, new AddressLike(like, Seen(by, facts))));
                    break;
            }
        }

        advice.AddRange(Advice(wanted.Address).Select(remark => new FieldRemark(StartField.Address, remark)));
        if (kind.AliasDomain is null)
        {
            return;
        }

        if (Naming.Addresses.Fault(wanted.AliasPart) is { } alias)
        {
            refusals.Add(new FieldRemark(StartField.Alias, new AliasMalformed(alias)));
        }
        else if (facts.IsAliasHeld)
        {
            refusals.Add(new FieldRemark(StartField.Alias, new AliasHeld($"{wanted.AliasPart}@{kind.AliasDomain}")));
        }
    }

    /// <summary>The holders of addresses of one form, by the part that is their own.</summary>
    public static IEnumerable<Holding> Own(AddressForm form, IEnumerable<Holding> holdings) =>
        from holding in holdings
        let own = form.Own(holding.Address)
        where own is not null
        select holding with
        {
            Address = own,
        };

    /// <summary>What makes an address harder to pass on: its length, and what cannot be said.</summary>
    public static IEnumerable<Remark> Advice(string address)
    {
        if (address.Length > LongAddress)
        {
            yield return new AddressIsLong(address.Length);
        }

        if (address.Split('-').FirstOrDefault(IsHardToSay) is { } part)
        {
            yield return new AddressHardToSay(part);
        }
    }

    // Many consonants in a row, or letters and digits mixed.
    private static bool IsHardToSay(string part)
    {
        var consonants = 0;
        for (var at = 0; at < part.Length; at++)
        {
            consonants =
                char.IsAsciiLetter(part[at]) && !"aeiouy".Contains(part[at], StringComparison.Ordinal) ? consonants + 1 : 0;
            if (consonants >= MostConsonants || (at > 0 && char.IsAsciiDigit(part[at - 1]) && char.IsAsciiLetter(part[at])))
            {
                return true;
            }
        }

        return false;
    }

    private static AddressHeld Held(Holding by, StartFacts facts) =>
        new(by.Address, Seen(by, facts), by.As, by.Until is { } until ? facts.PeopleDirectory.Time.DayOf(until) : null);

    private static string? Seen(Holding by, StartFacts facts) => by.Site is { } site && facts.Sees(site) ? by.Title : null;
}
