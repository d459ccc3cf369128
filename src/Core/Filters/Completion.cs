namespace AtticLedger.Core.Filters;

/// <summary>A part of a filter.</summary>
internal enum FilterPart : byte
{
    Attribute,
    Comparison,
    Value,

    /// <summary>And, or.</summary>
    Joint,
}

/// <param name="From">Where the part begins.</param>
/// <param name="List">The list in whose brackets it is; null outside brackets.</param>
/// <param name="Attribute">The latest attribute.</param>
internal sealed record Expectation(FilterPart Part, int From, string? List, string Attribute);

/// <summary>What can come at the caret of a filter that is being written.</summary>
/// <param name="From">Where the word at the caret begins; <paramref name="To"/>: where it ends, with the spaces after it. The option
/// that is chosen takes its place.</param>
/// <param name="Typed">The word up to the caret.</param>
/// <param name="ValuesOf">The attribute whose values in the register can come; null otherwise.</param>
public sealed record Completion(int From, int To, string Typed, IReadOnlyList<CompletionOption> Options, string? ValuesOf = null);

/// <summary>One of the things that can come.</summary>
/// <param name="Insert">What is written.</param>
public abstract record CompletionOption(string Insert)
{
    public sealed record Named(string Insert, string Says) : CompletionOption(Insert);

    public sealed record ListOf(string Insert) : CompletionOption(Insert);

    /// <param name="Operator">Null for <c>pr</c>.</param>
    public sealed record Compared(string Insert, Comparison? Operator) : CompletionOption(Insert);

    public sealed record Value(string Insert) : CompletionOption(Insert);

    public sealed record Joined(string Insert, bool IsBoth) : CompletionOption(Insert);
}

/// <summary>Completes a filter: the parser of filters says what is expected, and the attributes say what there is.</summary>
public static class Completions
{
    private static readonly Comparison[] OfTexts = [Comparison.Eq, Comparison.Ne, Comparison.Co, Comparison.Sw, Comparison.Ew];
    private static readonly Comparison[] OfOrdered =
    [
        Comparison.Eq,
        Comparison.Ne,
        Comparison.Gt,
        Comparison.Ge,
        Comparison.Lt,
        Comparison.Le,
    ];

    public static Completion At<TLine>(string text, int caret, AttributeList<TLine> attributes)
    {
        caret = Math.Clamp(caret, 0, text.Length);
        if (FilterParser.Expected(text[..caret]) is not { } expected)
        {
            return new Completion(caret, caret, "", []);
        }

        var typed = text[expected.From..caret];
        var type = TypeOf(attributes, expected);
        var isOfRegister = expected.Part == FilterPart.Value && type?.Type.Kind == AttributeKind.Text;
        return new Completion(
            expected.From,
            EndOf(text, caret, typed.Length > 0),
            typed,
            Fitting(
                expected.Part switch
                {
                    FilterPart.Attribute => Names(attributes, expected.List),
                    FilterPart.Comparison => type is { } compared ? ComparisonsOf(compared.Type.Kind) : [],
                    FilterPart.Value => type is { } valued ? ValuesOf(valued.Type) : [],
                    _ => [new CompletionOption.Joined("and ", true), new CompletionOption.Joined("or ", false)],
                },
                typed
            ),
            isOfRegister ? type!.Value.Name : null
        );
    }

    /// <summary>A value, with the blank after it.</summary>
    public static string Quoted(string value) => $"{FilterText.Literal(value)} ";

    /// <summary>The options that begin with the word, then those that contain it, or whose meaning does.</summary>
    public static IReadOnlyList<CompletionOption> Fitting(IEnumerable<CompletionOption> options, string typed)
    {
        var part = typed.TrimStart('"');
        return
        [
            .. options
                .Where(option =>
                    part.Length == 0
                    || option.Insert.Contains(part, StringComparison.OrdinalIgnoreCase)
                    || (option is CompletionOption.Named(_, var says) && says.Contains(part, StringComparison.OrdinalIgnoreCase))
                )
                .OrderBy(option => option.Insert.StartsWith(typed, StringComparison.OrdinalIgnoreCase) ? 0 : 1),
        ];
    }

    private static IEnumerable<CompletionOption> Names<TLine>(AttributeList<TLine> attributes, string? list)
    {
        if (list is not null)
        {
            return attributes.Find(list) is ListAttribute<TLine> whole
                ? whole.Parts.Select(part => new CompletionOption.Named($"{part.Name} ", part.Says))
                : [];
        }

        var lists = attributes.All.OfType<ListAttribute<TLine>>().ToList();
        return
        [
            .. attributes.All.Except(lists).Select(one => new CompletionOption.Named($"{one.Name} ", one.Says)),
            .. lists.SelectMany(one =>
                one.Parts.Select(part => new CompletionOption.Named($"{one.Name}.{part.Name} ", part.Says))
            ),
            .. lists.Select(one => new CompletionOption.ListOf($"{one.Name}[")),
        ];
    }

    private static (string Name, AttributeType Type)? TypeOf<TLine>(AttributeList<TLine> attributes, Expectation expected)
    {
        var name = expected.List is null ? expected.Attribute : $"{expected.List}.{expected.Attribute}";
        foreach (var attribute in attributes.All)
        {
            if (attribute is not ListAttribute<TLine> list)
            {
                if (attribute.Name.Equals(name, StringComparison.OrdinalIgnoreCase))
                {
                    return (attribute.Name, attribute.Type);
                }

                continue;
            }

            foreach (var part in list.Parts)
            {
                var whole = $"{list.Name}.{part.Name}";
                if (
                    whole.Equals(name, StringComparison.OrdinalIgnoreCase)
                    || whole.Equals($"{name}.value", StringComparison.OrdinalIgnoreCase)
                )
                {
                    return (whole, part.Type);
                }
            }
        }

        return null;
    }

    private static IEnumerable<CompletionOption> ComparisonsOf(AttributeKind kind)
    {
        Comparison[] fitting = kind switch
        {
            AttributeKind.Text => OfTexts,
            AttributeKind.Truth => [Comparison.Eq],
            _ => OfOrdered,
        };
        return fitting
            .Select(one => new CompletionOption.Compared($"{one.ToString().ToLowerInvariant()} ", one))
            .Append(new CompletionOption.Compared("pr ", null));
    }

    private static IEnumerable<CompletionOption> ValuesOf(AttributeType type) =>
        type.Kind == AttributeKind.Truth
            ? [new CompletionOption.Value("true "), new CompletionOption.Value("false ")]
            : (type.Order ?? []).Select(word => new CompletionOption.Value(Quoted(word)));

    // The rest of the word under the caret, a closing quote, and the spaces after it.
    private static int EndOf(string text, int caret, bool isInWord)
    {
        var end = caret;
        while (isInWord && end < text.Length && text[end] is not (' ' or '(' or ')' or '[' or ']' or '"'))
        {
            end++;
        }

        if (isInWord && end < text.Length && text[end] == '"')
        {
            end++;
        }

        while (end < text.Length && text[end] == ' ')
        {
            end++;
        }

        return end;
    }
}
