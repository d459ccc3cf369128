using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;
using CsCheck;

namespace AtticLedger.Core.Tests.Filters;

public class FilterFuzz
{
    private static readonly string[] Pieces =
    [
        "name",
        "status",
        "owners",
        "owners.standing",
        "breaks",
        "eq",
        "ne",
        "co",
        "pr",
        "gt",
        "and",
        "or",
        "not",
        "(",
        ")",
        "[",
        "]",
        "\"",
        "\\",
        "\"published\"",
        "\"x\"",
        "3",
        "-1e9",
        "true",
        "null",
        " ",
        "  ",
        "ä",
        "\u202e",
        "\0",
        ".",
    ];

    private static readonly Gen<string> Texts = Gen.OneOf(
        Gen.Int[0, Pieces.Length - 1].Array[0, 14].Select(which => string.Concat(which.Select(piece => Pieces[piece] + " "))),
        Gen.String
    );

    [Fact]
    public void Any_text_is_completed_at_any_caret_within_it() =>
        Gen.Select(Texts, Gen.Int[0, 60])
            .Sample(
                (text, caret) =>
                    Completions.At(text, caret, JudgedSite.Attributes) is var at
                    && 0 <= at.From
                    && at.From <= Math.Min(caret, text.Length)
                    && Math.Min(caret, text.Length) <= at.To
                    && at.To <= text.Length,
                iter: 5000
            );

    [Fact]
    public void Any_text_is_a_filter_or_an_error_at_a_column_of_it() =>
        Texts.Sample(
            text =>
            {
                try
                {
                    Filter.Parse(text, JudgedSite.Attributes);
                    return true;
                }
                catch (FilterError error)
                {
                    return error.Column >= 1 && error.Column <= text.Length + 1 && error.Message.Length > 0;
                }
            },
            iter: 5000
        );
}
