using AtticLedger.Core.Naming;
using AtticLedger.Core.Terms;
using CsCheck;

namespace AtticLedger.Core.Tests.Naming;

public class AddressFacts
{
    [Theory]
    [InlineData("Tide tables", "tide-tables")]
    [InlineData("  Wharf Café -- Orders! ", "wharf-cafe-orders")]
    [InlineData("Nets & Pots", "nets-and-pots")]
    [InlineData("Nets&Pots", "nets-and-pots")]
    [InlineData("Größe 2", "grosse-2")]
    [InlineData("Приливы", "prilivy")]
    [InlineData("…!", null)]
    [InlineData("", null)]
    [InlineData("Visitor moorings and the berths of the outer basin", "visitor-moorings-and-the-berths-of-the")]
    [InlineData("Sixtyfourhundredandtwentyeightboatsinonewordalone x", "sixtyfourhundredandtwentyeightboatsinone")]
    [InlineData("Pilot boarding and landing, northern part of it", "pilot-boarding-and-landing-northern-part")]
    public void A_name_suggests_an_address(string name, string? address) => Assert.Equal(address, Addresses.Proposed(name));

    [Fact]
    public void What_any_name_suggests_is_an_address_and_suggests_itself() =>
        Gen.Select(Gen.String, Gen.Int[1, 60])
            .Sample(
                (name, longest) =>
                    Addresses.Proposed(name, longest) is not { } address
                    || (Addresses.Fault(address, longest) is null && Addresses.Proposed(address, longest) == address)
            );

    [Theory]
    [InlineData("tide-tables", null)]
    [InlineData("tide-Tables", "character 6, \"T\", is a capital")]
    [InlineData("tide--tables", "character 6 is a hyphen that does not stand between two others")]
    [InlineData("-tide", "character 1 is a hyphen that does not stand between two others")]
    [InlineData("tide-", "character 5 is a hyphen that does not stand between two others")]
    [InlineData("tide tables", "character 5, \" \", is none of a to z, 0 to 9 and hyphen")]
    [InlineData("tidé", "character 4, \"é\", is none of a to z, 0 to 9 and hyphen")]
    [InlineData("t\U0001F6A2", "character 2, \"\U0001F6A2\", is none of a to z, 0 to 9 and hyphen")]
    [InlineData("t\uD83D", "character 2, \"\uFFFD\", is none of a to z, 0 to 9 and hyphen")]
    [InlineData("", "it is empty")]
    [InlineData("a2345678901234567890123456789012345678901", "it has 41 characters; 40 is the maximum")]
    public void What_is_none_is_told_with_the_place(string address, string? fault) =>
        Assert.Equal(fault, Addresses.Fault(address));

    [Theory]
    [InlineData("moorings", "rnoorings", true)]
    [InlineData("wharf", "vvharf", true)]
    [InlineData("pilot-1", "pllot-i", true)]
    [InlineData("dock5", "docks", true)]
    [InlineData("tide-tables", "tidetables", true)]
    [InlineData("tide-tables", "tide-table", false)]
    [InlineData("dock-1", "dock-2", false)]
    public void Addresses_that_are_mistaken_for_each_other_fold_alike(string one, string other, bool alike) =>
        Assert.Equal(alike, Addresses.Folded(one) == Addresses.Folded(other));

    [Fact]
    public void All_that_speaks_against_an_address_is_told_but_of_a_malformed_one_only_that()
    {
        var book = new AddressBook(["admin", "tides"]);
        var held = new Holding("tides", "Tides", HeldAs.MoveToAttic, new SiteId(3));
        var alike = new Holding("t1des", "Tides too", HeldAs.InUse, new SiteId(4));
        book.Hold(held);
        book.Hold(alike);

        Assert.Equal(
            [new AddressFault.Held(held), new AddressFault.Reserved("tides"), new AddressFault.Confusable("t1des", alike)],
            book.FaultsOf("tides")
        );
        Assert.Equal([new AddressFault.Confusable("admin", null)], book.FaultsOf("adrnin"));
        Assert.Equal([new AddressFault.Malformed("character 1, \"T\", is a capital")], book.FaultsOf("Tides"));
        Assert.Empty(book.FaultsOf("moorings"));

        // A site may keep its own address.
        Assert.Equal(
            [new AddressFault.Confusable("tides", held), new AddressFault.Confusable("tides", null)],
            book.FaultsOf("t1des", new SiteId(4))
        );
        Assert.DoesNotContain(new AddressFault.Held(alike), book.FaultsOf("t1des", new SiteId(4)));
    }

    [Fact]
    public void A_name_that_says_nothing_gets_the_least_free_number_of_its_unit_and_kind()
    {
        var book = new AddressBook([]);
        Assert.Equal("pil-noticeboard-1", book.Proposed("…", "PIL", "noticeboard"));
        book.Hold(new Holding("pil-noticeboard-1", "One", HeldAs.NeverPublished));
        Assert.Equal("pil-noticeboard-2", book.Proposed("!", "PIL", "noticeboard"));
        Assert.Equal("site-1", book.Proposed("", null, null));
        Assert.Equal("tides", book.Proposed("Tides", "PIL", "noticeboard"));
        Assert.Equal("harbou-1", new AddressBook([], Addresses.LeastRoom).Proposed("…", "HARBOUR", "pages"));
    }

    [Fact]
    public void Alternatives_are_free_with_the_unit_first_and_the_year_last()
    {
        var book = new AddressBook([]);
        foreach (var address in new[] { "tides", "tides-pil" })
        {
            book.Hold(new Holding(address, address, HeldAs.InUse));
        }

        Assert.Equal(
            ["pil-tides", "tides-public-information", "tides-public-information-pil", "tides-2026"],
            book.Alternatives("tides", "PIL", ["Public information"], 2026)
        );
        Assert.Equal(["tides-2026"], book.Alternatives("tides", null, [], 2026));
        Assert.Empty(book.Alternatives("…", "PIL", [], 2026));
    }

    [Fact]
    public void Whatever_is_held_alternatives_are_addresses_that_nobody_holds() =>
        Gen.Select(Gen.String[Gen.Char["ab-1l"], 1, 50], Gen.String[Gen.Char["ab-1l"], 1, 6].Array[0, 30])
            .Sample(
                (name, others) =>
                {
                    var book = new AddressBook([]);
                    foreach (var other in others.Select(other => Addresses.Proposed(other)).OfType<string>())
                    {
                        book.Hold(new Holding(other, other, HeldAs.InUse));
                    }

                    var address = book.Proposed(name, "AB", "b");
                    return book.Alternatives(address, "AB", ["la", "b1"], 2026) is { Count: <= 5 } found
                        && found.All(book.IsFree)
                        && found.All(one => one.Length <= Addresses.Longest)
                        && !found.Contains(address);
                }
            );
}
