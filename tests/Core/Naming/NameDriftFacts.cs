using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Naming;

public class NameDriftFacts
{
    [Theory]
    [InlineData("Tide tables", "Tide Tables!", Truth.No)]
    [InlineData("Café rota", "cafe rota", Truth.No)]
    [InlineData("Tide tables", "Tide tables 2024", Truth.Yes)]
    [InlineData("Tide tables (copy)", "Tide tables", Truth.Yes)]
    public void A_shown_name_drifts_with_any_other_word(string stored, string shown, Truth drifts) =>
        Assert.Equal(drifts, NameDrift.Of(Named(stored) with { ShownName = Known.Of(shown) }, VisibleName.Shown));

    [Theory]
    [InlineData("Tide tables", "Tables for today", Truth.No)]
    [InlineData("Night pilots", "Pilot's corner", Truth.No)]
    [InlineData("Tide tables", "Welcome", Truth.Yes)]
    public void A_home_page_drifts_when_no_word_is_in_common(string stored, string home, Truth drifts) =>
        Assert.Equal(drifts, NameDrift.Of(Named(stored) with { HomeTitle = Known.Of(home) }, VisibleName.Home));

    [Theory]
    [InlineData("Tide tables", "slipway.example/tides", Truth.No)]
    [InlineData("Café rota", "slipway.example/cafe-2/", Truth.No)]
    [InlineData("Tide tables", "slipway.example/summer-fair", Truth.Yes)]
    [InlineData("Tide tables", "quay.example/sites/k9f20a-77", Truth.No)]
    [InlineData("Vessel Traffic", "quay.example/vts", Truth.No)]
    public void An_address_drifts_when_it_names_something_else_and_a_number_names_nothing(
        string stored,
        string address,
        Truth drifts
    ) => Assert.Equal(drifts, NameDrift.Of(Named(stored) with { Address = Known.Of(address) }, VisibleName.Address));

    [Fact]
    public void What_is_not_set_cannot_be_told_and_what_does_not_exist_does_not_drift()
    {
        Assert.Equal(Truth.Unknown, NameDrift.Of(Named("Tide tables"), VisibleName.Home));
        Assert.Equal(
            Truth.Unknown,
            NameDrift.Of(
                Site() with
                {
                    Name = Known<string>.Unknown,
                    Address = Known.Of("slipway.example/tides"),
                },
                VisibleName.Address
            )
        );
        Assert.Equal(Truth.No, NameDrift.Of(Named("Tide tables") with { ShownName = Known<string>.None }, VisibleName.Shown));
    }

    private static SiteFacts Named(string stored) => Site() with { Name = Known.Of(stored) };
}
