using AtticLedger.Core.Filters;

namespace AtticLedger.Server.Register;

/// <param name="Insert">What is written in place of the word at the caret.</param>
/// <param name="Says">What it means; empty where that is plain.</param>
/// <param name="Count">How many sites have this value; null if it is not a value of the register.</param>
public sealed record CompletionOptionResponse(string Insert, string Says, int? Count);

/// <summary>What can come at the caret of a filter.</summary>
/// <param name="From">Where the word at the caret begins; <paramref name="To"/>: where it ends, with the spaces after it.</param>
public sealed record CompletionResponse(int From, int To, IReadOnlyList<CompletionOptionResponse> Options)
{
    private const int Most = 8;

    public static CompletionResponse Of(Completion completion) =>
        new(
            completion.From,
            completion.To,
            [.. completion.Options.Take(Most).Select(option => new CompletionOptionResponse(option.Insert, Says(option), null))]
        );

    /// <param name="choices">The values of the register.</param>
    public static CompletionResponse Of(Completion completion, ChoicesResponse choices)
    {
        var counts = choices.Values.ToDictionary(value => Completions.Quoted(value.Key), value => value.Count);
        var values = counts.Keys.Select(CompletionOption (insert) => new CompletionOption.Value(insert));
        return new(
            completion.From,
            completion.To,
            [
                .. Completions
                    .Fitting(values, completion.Typed)
                    .Take(Most)
                    .Select(option => new CompletionOptionResponse(option.Insert, "", counts[option.Insert])),
            ]
        );
    }

    private static string Says(CompletionOption option) =>
        option switch
        {
            CompletionOption.Named(_, var says) => says,
            CompletionOption.ListOf => "one of them for which all in the brackets holds",
            CompletionOption.Joined(_, var isBoth) => isBoth ? "both hold" : "either holds",
            CompletionOption.Compared(_, var comparison) => comparison switch
            {
                Comparison.Eq => "is",
                Comparison.Ne => "is not",
                Comparison.Co => "contains",
                Comparison.Sw => "begins with",
                Comparison.Ew => "ends with",
                Comparison.Gt => "is more than",
                Comparison.Ge => "is at least",
                Comparison.Lt => "is less than",
                Comparison.Le => "is at most",
                _ => "is known",
            },
            _ => "",
        };
}
