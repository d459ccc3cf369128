using AtticLedger.Core.Naming;

namespace AtticLedger.Core.Tests.Naming;

public class LookAlikeFacts
{
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
