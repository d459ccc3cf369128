using AtticLedger.Core.Filters;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Naming;

public class LookAlikeFacts
{
    [Theory]
    [InlineData("Tide tables (Copy)", "copy", Truth.Yes)]
    [InlineData("The latest contest", "test", Truth.No)]
    [InlineData("Café-Rota_2024", "cafe", Truth.Yes)]
    [InlineData("Café-Rota_2024", "2024", Truth.Yes)]
    [InlineData("…", "copy", Truth.No)]
    [InlineData(null, "copy", Truth.Unknown)]
    public void A_rule_forbids_whole_words_of_names(string? name, string word, Truth has)
    {
        var site = Site() with { Name = name is null ? Known<string>.Unknown : Known.Of(name) };
        var harbour = new Harbour();
        var line = new ComputedSite(site, harbour.Organisation, harbour.PeopleDirectory);
        var filter = Filter.Parse($"name.words eq \"{word}\"", SiteAttributes.List);
        Assert.Equal(has, new ColumnsOfLines<ComputedSite>([line]).Evaluate(filter)[0]);
    }

    [Theory]
    [InlineData("Tug crew rota", "Tug crew rota (copy)", true)]
    [InlineData("Tug crew rota", "tug-crew ROTA, old", true)]
    [InlineData("Wharf café orders", "Wharf cafe orders", true)]
    [InlineData("New regatta", "Regatta FINAL test", true)]
    [InlineData("Regatta 2024", "Regatta 2025", false)]
    [InlineData("Dock 1", "Dock 2", false)]
    [InlineData("Tug crew rota", "Tug crew route", false)]
    [InlineData("Renewal", "al", false)]
    [InlineData("(copy)", "old", false)]
    [InlineData("", "", false)]
    public void Names_that_say_the_same_look_alike_and_numbers_tell_apart(string one, string other, bool alike)
    {
        Assert.Equal(alike, LookAlikes.LookAlike(one, other));
        Assert.Equal(alike, LookAlikes.LookAlike(other, one));
    }
}
