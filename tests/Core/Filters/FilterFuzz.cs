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

    [Fact]
    public void Any_text_is_a_filter_or_an_error_at_a_column_of_it() =>
        Gen.OneOf(
                Gen.Int[0, Pieces.Length - 1]
                    .Array[0, 14]
                    .Select(which => string.Concat(which.Select(piece => Pieces[piece] + " "))),
                Gen.String
            )
            .Sample(
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
