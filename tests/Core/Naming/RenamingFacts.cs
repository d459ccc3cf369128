using AtticLedger.Core.Naming;
using CsCheck;

namespace AtticLedger.Core.Tests.Naming;

public class RenamingFacts
{
    private static readonly Gen<string> Name = Gen.OneOf(
            Gen.OneOf([
                "berth",
                "Tide",
                "dock",
                "Café",
                "12",
                "old",
                "NEW",
                "copy",
                "v2",
                "ver",
                "version 3",
                "1.2",
                "Порт",
                "()",
                "(copy)",
                "-",
                ":",
                "of",
                "😀",
            ]),
            Gen.String[0, 3]
        )
        .Array[0, 6]
        .Select(words => string.Join(' ', words));

    [Theory]
    [InlineData("Tug crew rota (copy)", "Tug crew rota")]
    [InlineData("Copy of Tug crew rota", "Tug crew rota")]
    [InlineData("Tug crew rota - final - v2", "Tug crew rota")]
    [InlineData("Tug crew rota_final", "Tug crew rota")]
    [InlineData("OLD: tide tables, version 3", "Tide tables")]
    [InlineData("Regatta (new) 2024", "Regatta 2024")]
    [InlineData("Регата (new)", "Регата")]
    [InlineData("Tide tables v2.1", null)]
    [InlineData("The latest contest", null)]
    [InlineData("Tide  tables", null)]
    [InlineData("copy (old)", null)]
    [InlineData("", null)]
    public void Filler_words_go_with_the_marks_around_them(string name, string? tidy) =>
        Assert.Equal(tidy, new Renaming.Tidied().Of(name, null));

    [Theory]
    [InlineData("Port of Merrowby", "Harbour of Merrowby")]
    [InlineData("PORT reports, port", "Harbour reports, Harbour")]
    [InlineData("Reports", null)]
    [InlineData("Port_1", null)]
    public void Words_are_replaced_only_where_they_stand_as_whole_words(string name, string? renamed) =>
        Assert.Equal(renamed, new Renaming.Replacing("port", "Harbour").Of(name, null));

    [Theory]
    [InlineData("(old)", "", "Tide tables (old)", "Tide tables")]
    [InlineData("$1 (a.b", "$0", "x $1 (a.b y", "x $0 y")]
    [InlineData("tide tables", " ", "Tide tables", null)]
    [InlineData("tide\ntables", "x", "Tide tables", null)]
    [InlineData("", "x", "Tide tables", null)]
    public void What_is_replaced_is_text_and_never_an_expression(string find, string with, string name, string? renamed) =>
        Assert.Equal(renamed, new Renaming.Replacing(find, with).Of(name, null));

    [Theory]
    [InlineData("{unit}:", "Tide tables", "MAR", "MAR: Tide tables")]
    [InlineData("{unit}:", "mar: Tide tables", "MAR", null)]
    [InlineData("{unit}", "Maritime", "MAR", "MAR Maritime")]
    [InlineData("{unit}", "MAR", "MAR", null)]
    [InlineData("{unit}", "Tide tables", null, null)]
    [InlineData("Harbour", "Tide tables", null, "Harbour Tide tables")]
    [InlineData(" ", "Tide tables", "MAR", null)]
    public void Words_are_put_before_a_name_once(string words, string name, string? unit, string? renamed) =>
        Assert.Equal(renamed, new Renaming.Beginning(words).Of(name, unit));

    [Fact]
    public void A_tidy_name_means_the_same_and_is_tidy() =>
        Name.Sample(name =>
        {
            var tidy = new Renaming.Tidied();
            return tidy.Of(name, null) is not { } once
                || tidy.Of(once, null) is null
                    && LookAlikes.Bare(once)
                        == LookAlikes.Bare(Renaming.OneLine(name).Replace("copy of", "copy", StringComparison.OrdinalIgnoreCase));
        });

    [Fact]
    public void A_derived_name_is_one_line_and_never_the_same_or_empty() =>
        Gen.Select(Name, Name, Name)
            .Sample(
                (name, find, with) =>
                    new Renaming[]
                    {
                        new Renaming.Tidied(),
                        new Renaming.Beginning(with),
                        new Renaming.Replacing(find, with),
                    }.All(way =>
                        way.Of(name, "MAR") is not { } derived
                        || derived.Length > 0 && derived != name && derived == Renaming.OneLine(derived)
                    )
            );
}
