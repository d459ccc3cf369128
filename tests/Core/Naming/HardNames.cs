using AtticLedger.Core.Naming;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Naming;

/// <summary>Names that have broken address books: of each the address is known, and every law holds.</summary>
public class HardNames
{
    public static TheoryData<string, string?> All =>
        new()
        {
            // Accents, ligatures and letters of one's own.
            { "Café Øre", "cafe-ore" },
            { "Ærøskøbing", "aeroskobing" },
            { "Œuvre et Straße", "oeuvre-et-strasse" },
            { "Łódź", "lodz" },
            { "Þingvellir", "thingvellir" },
            { "Iğdır", "igdir" },
            { "İstanbul", "istanbul" },
            { "naïve coöperation", "naive-cooperation" },
            { "ﬁsh ﬂeet", "fish-fleet" },
            { "e\u0301te\u0301", "ete" },
            { "Ångström", "angstrom" },
            { "Señor Muñoz", "senor-munoz" },
            { "Dvořák", "dvorak" },
            { "Ẅeld", "weld" },
            { "ǆungla", "dzungla" },
            // Other scripts.
            { "Λιμάνι", "limani" },
            { "Порт Восток", "port-vostok" },
            { "Щука", "shchuka" },
            { "ميناء", "myn" },
            { "נמל", "nml" },
            { "港口公告", "gangkougonggao" },
            { "みなと", "minato" },
            { "항구", "hanggu" },
            { "बंदरगाह", "bmdrgah" },
            { "ท่าเรือ", "thaerueo" },
            { "Ἀθῆναι", "athinai" },
            // Numbers of every kind.
            { "Dock №5", "dock-no5" },
            { "Pier ½", "pier-1-2" },
            { "Berth ⅳ", "berth-iv" },
            { "٣ بحر", "3-bhr" },
            { "①②", "12" },
            { "2026", "2026" },
            { "1.2.3", "1-2-3" },
            { "H₂O", "h2o" },
            // Signs.
            { "R&D", "r-and-d" },
            { "A & B & C", "a-and-b-and-c" },
            { "&", "and" },
            { "C++", "c" },
            { "50%", "50" },
            { "a_b-c–d—e", "a-b-c-d-e" },
            { "What's on?", "what-s-on" },
            { "“Quoted”", "quoted" },
            { "Lock/Dock\\Yard", "lock-dock-yard" },
            { "x@y.example", "x-y-example" },
            { "<script>alert(1)</script>", "script-alert-1-script" },
            { "'; drop table site; --", "drop-table-site" },
            { "../../etc/passwd", "etc-passwd" },
            { "%2e%2e%2f", "2e-2e-2f" },
            { "--tide--", "tide" },
            { "   tide\t\n tables ", "tide-tables" },
            { "tide\u00a0tables", "tide-tables" },
            { "tide\u200btables", "tidetables" },
            { "\u202etide", "tide" },
            { "tide\0tables", "tide-tables" },
            { "TIDE TABLES", "tide-tables" },
            // Nothing is left.
            { "…", null },
            { "!!!", null },
            { "   ", null },
            { "", null },
            { "\u200b\u200c", null },
            { "\ud83d", null },
            // Length.
            { new string('a', 500), new string('a', 40) },
            { string.Join(' ', Enumerable.Repeat("tide", 40)), "tide-tide-tide-tide-tide-tide-tide-tide" },
            { "a " + new string('b', 60), "a" },
            { new string('é', 41), new string('e', 40) },
            { new string('&', 100), "and-and-and-and-and-and-and-and-and-and" },
        };

    [Theory]
    [MemberData(nameof(All))]
    public void Each_has_its_address(string name, string? address) => Assert.Equal(address, Addresses.Proposed(name));

    [Fact]
    public void There_are_at_least_sixty() => Assert.True(All.Count >= 60, $"{All.Count}");

    [Theory]
    [InlineData("🚢⚓", "PIL", "noticeboard")]
    [InlineData("☃", "MAR", "pages")]
    [InlineData("…", null, null)]
    [InlineData("", "ÆØ", "ß")]
    public void A_name_of_signs_alone_gets_an_address_that_is_one_and_free(string name, string? unit, string? kind)
    {
        var book = new AddressBook(["site"]);
        for (var taken = 0; taken < 20; taken++)
        {
            var address = book.Proposed(name, unit, kind);
            Assert.Null(Addresses.Fault(address));
            Assert.True(taken > 0 || book.IsFree(address), address);
            book.Hold(new Holding(address, address, HeldAs.InUse));
        }
    }

    [Theory]
    [InlineData("Tide-Tables", "tide tables")]
    [InlineData("TIDE TABLES", "tide tables")]
    [InlineData("tidetables", "tide-tables")]
    [InlineData("Modern", "Modem")]
    [InlineData("Pier 10", "Pier lO")]
    [InlineData("Ćafé", "cafe")]
    public void Names_that_differ_by_case_hyphens_or_look_alike_letters_meet_in_one_folded_address(string one, string other) =>
        Assert.Equal(Addresses.Folded(Addresses.Proposed(one)!), Addresses.Folded(Addresses.Proposed(other)!));

    [Fact]
    public void Whatever_the_name_the_laws_hold()
    {
        foreach (var (name, _) in All.Select(row => row.Data))
        {
            for (var longest = Addresses.LeastRoom; longest <= Addresses.Longest; longest += 8)
            {
                var book = new AddressBook(["admin"], longest);
                var address = book.Proposed(name, "PIL", "pages");
                Assert.Null(Addresses.Fault(address, longest));
                Assert.Equal(address, book.Proposed(name, "PIL", "pages"));
                Assert.Equal(address, book.Proposed(address, "PIL", "pages"));
                book.Hold(new Holding(address, name, HeldAs.InUse));
                Assert.All(book.Alternatives(address, "PIL", ["Notices"], 2026), other =>
                    Assert.True(book.IsFree(other) && Addresses.Fault(other, longest) is null && other != address)
                );
            }
        }
    }
}
