using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;

namespace AtticLedger.Core.Filters;

/// <summary>A filter as written, before names are looked up.</summary>
public abstract record FilterSyntax(int Column)
{
    public sealed record And(FilterSyntax Left, FilterSyntax Right) : FilterSyntax(Left.Column);

    public sealed record Or(FilterSyntax Left, FilterSyntax Right) : FilterSyntax(Left.Column);

    public sealed record Not(FilterSyntax Inner, int At) : FilterSyntax(At);

    public sealed record Present(string Name, int At) : FilterSyntax(At);

    public sealed record Compare(string Name, Comparison Operator, Literal Value, int At) : FilterSyntax(At);

    /// <summary><c>owners[standing eq "left"]</c>: one element for which all of the inner filter holds.</summary>
    public sealed record Within(string Name, FilterSyntax Inner, int At) : FilterSyntax(At);

    /// <summary>Every value that something is compared with.</summary>
    public IEnumerable<Literal> Literals() =>
        this switch
        {
            And(var left, var right) => left.Literals().Concat(right.Literals()),
            Or(var left, var right) => left.Literals().Concat(right.Literals()),
            Not(var inner, _) => inner.Literals(),
            Within(_, var inner, _) => inner.Literals(),
            Compare compare => [compare.Value],
            _ => [],
        };
}

/// <summary>A JSON value on the right of an operator: text, number, true, false, or null.</summary>
public sealed record Literal(object? Value, int Column);

/// <summary>Reads the grammar of RFC 7644, section 3.4.2.2: not binds before and, and before or; brackets do not nest.</summary>
public sealed partial class FilterParser
{
    private const int DeepestNesting = 200;
    private readonly string text;
    private int at;
    private readonly bool stopsAtEnd;
    private int depth;
    private string? list;
    private string attribute = "";

    private FilterParser(string text, bool stopsAtEnd = false) => (this.text, this.stopsAtEnd) = (text, stopsAtEnd);

    /// <summary>What the grammar expects at the end of a filter that is being written; null if it begins wrongly.</summary>
    internal static Expectation? Expected(string begun)
    {
        try
        {
            var parser = new FilterParser(begun, stopsAtEnd: true);
            parser.Spaces();
            parser.Alternatives(false);
            return null;
        }
        catch (EndReached end)
        {
            return end.Expectation;
        }
        catch (FilterError)
        {
            return null;
        }
    }

    public static FilterSyntax Parse(string text)
    {
        var parser = new FilterParser(text);
        parser.Spaces();
        var filter = parser.Alternatives(false);
        parser.Spaces();
        return parser.at == text.Length ? filter : throw parser.Error("expected \"and\", \"or\" or the end of the filter");
    }

    /// <summary>The conditions of a filter that all have to hold, each with its own text; only one where "or" joins them.
    /// </summary>
    /// <exception cref="FilterError">It cannot be read.</exception>
    public static IReadOnlyList<(string Text, FilterSyntax Syntax)> Conditions(string text)
    {
        if (Parse(text) is var whole && whole is not FilterSyntax.And)
        {
            return [(text.Trim(' '), whole)];
        }

        var parser = new FilterParser(text);
        var conditions = new List<(string, FilterSyntax)>();
        do
        {
            parser.Spaces();
            var start = parser.at;
            var syntax = parser.Factor(false);
            conditions.Add((text[start..parser.at], syntax));
        } while (parser.Keyword("and"));

        return conditions;
    }

    private FilterSyntax Alternatives(bool inBrackets)
    {
        if (++depth > DeepestNesting)
        {
            throw Error($"nested more than {DeepestNesting} deep");
        }

        List<FilterSyntax> all = [Conjunction(inBrackets)];
        while (Keyword("or"))
        {
            all.Add(Conjunction(inBrackets));
        }

        depth--;
        return Together(all, 0, all.Count, static (left, right) => new FilterSyntax.Or(left, right));
    }

    private FilterSyntax Conjunction(bool inBrackets)
    {
        List<FilterSyntax> all = [Factor(inBrackets)];
        while (Keyword("and"))
        {
            all.Add(Factor(inBrackets));
        }

        return Together(all, 0, all.Count, static (left, right) => new FilterSyntax.And(left, right));
    }

    // A balanced tree: the depth of a long chain is only its logarithm.
    private static FilterSyntax Together(
        List<FilterSyntax> all,
        int from,
        int count,
        Func<FilterSyntax, FilterSyntax, FilterSyntax> join
    ) =>
        count == 1
            ? all[from]
            : join(Together(all, from, count / 2, join), Together(all, from + (count / 2), count - (count / 2), join));

    private FilterSyntax Factor(bool inBrackets)
    {
        Spaces();
        var column = at + 1;
        if (Peek() == '(')
        {
            return Group(inBrackets);
        }

        var name = attribute = Name(FilterPart.Attribute);
        if (name.Equals("not", StringComparison.OrdinalIgnoreCase))
        {
            Spaces();
            if (Peek() == '(')
            {
                return new FilterSyntax.Not(Group(inBrackets), column);
            }
        }

        if (Peek() == '[')
        {
            if (inBrackets)
            {
                throw Error("brackets do not nest");
            }

            at++;
            list = name;
            var inner = Alternatives(true);
            Spaces();
            Expect(']');
            list = null;
            return new FilterSyntax.Within(name, inner, column);
        }

        Spaces();
        var operatorColumn = at + 1;
        var word = Name(FilterPart.Comparison);
        if (word.Equals("pr", StringComparison.OrdinalIgnoreCase))
        {
            return new FilterSyntax.Present(name, column);
        }

        if (word.Length == 0 || char.IsAsciiDigit(word[0]) || !Enum.TryParse<Comparison>(word, true, out var comparison))
        {
            throw new FilterError(operatorColumn, $"expected one of eq ne co sw ew gt ge lt le pr after \"{name}\"");
        }

        if (Peek() != ' ')
        {
            throw Error($"expected a space and a value after \"{word}\"");
        }

        Spaces();
        return new FilterSyntax.Compare(name, comparison, Value(), column);
    }

    private FilterSyntax Group(bool inBrackets)
    {
        at++;
        var inner = Alternatives(inBrackets);
        Spaces();
        Expect(')');
        return inner;
    }

    private bool Keyword(string word)
    {
        var start = at;
        Spaces();
        if (text.AsSpan(at).IndexOfAny(" ()[]") < 0)
        {
            StopAtEnd(FilterPart.Joint, at);
        }

        if (at > start || (at > 0 && text[at - 1] is ')' or ']'))
        {
            if (
                string.Compare(text, at, word, 0, word.Length, StringComparison.OrdinalIgnoreCase) == 0
                && (at + word.Length == text.Length || text[at + word.Length] is ' ' or '(')
            )
            {
                at += word.Length;
                return true;
            }
        }

        at = start;
        return false;
    }

    private string Name(FilterPart part)
    {
        var start = at;
        while (at < text.Length && (char.IsAsciiLetterOrDigit(text[at]) || text[at] is '.' or '-' or '_' or ':' or '$'))
        {
            at++;
        }

        if (at == text.Length)
        {
            StopAtEnd(part, start);
        }

        return at > start ? text[start..at] : throw Error("expected the name of an attribute");
    }

    private Literal Value()
    {
        var column = at + 1;
        if (Peek() == '"')
        {
            return new Literal(Quoted(), column);
        }

        var start = at;
        while (at < text.Length && text[at] is not (' ' or ')' or ']' or '(' or '['))
        {
            at++;
        }

        if (at == text.Length)
        {
            StopAtEnd(FilterPart.Value, start);
        }

        var word = text[start..at];
        return word switch
        {
            "true" => new Literal(true, column),
            "false" => new Literal(false, column),
            "null" => new Literal(null, column),
            _ when Number().IsMatch(word) => decimal.TryParse(
                word,
                NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint | NumberStyles.AllowExponent,
                CultureInfo.InvariantCulture,
                out var number
            )
                ? new Literal(number, column)
                : throw new FilterError(column, "this number is too large"),
            _ when word.Length > 0 && (char.IsAsciiDigit(word[0]) || word[0] is '+' or '-' or '.') => throw new FilterError(
                column,
                "expected a number as JSON has it, such as 5 or -0.5"
            ),
            _ => throw new FilterError(column, "expected a quoted text, a number, true, false or null"),
        };
    }

    private string Quoted()
    {
        var start = at++;
        var value = new StringBuilder();
        while (at < text.Length && text[at] != '"')
        {
            if (text[at] < ' ')
            {
                throw new FilterError(at + 1, "a control character stands in a text; write it as an escape, such as \\t");
            }

            value.Append(text[at] == '\\' ? Escaped() : text[at]);
            at++;
        }

        if (at == text.Length)
        {
            StopAtEnd(FilterPart.Value, start);
            throw new FilterError(start + 1, "this quote is never closed");
        }

        at++;
        return value.ToString();
    }

    private char Escaped()
    {
        at++;
        switch (at < text.Length ? text[at] : '\0')
        {
            case 'n':
                return '\n';
            case 't':
                return '\t';
            case 'r':
                return '\r';
            case 'b':
                return '\b';
            case 'f':
                return '\f';
            case '"' or '\\' or '/':
                return text[at];
            case 'u'
                when at + 4 < text.Length
                    && ushort.TryParse(
                        text.AsSpan(at + 1, 4),
                        NumberStyles.AllowHexSpecifier,
                        CultureInfo.InvariantCulture,
                        out var unit
                    ):
                at += 4;
                return (char)unit;
            default:
                throw new FilterError(Math.Min(at + 1, text.Length), "this is not an escape of JSON");
        }
    }

    private void Expect(char wanted)
    {
        if (Peek() != wanted)
        {
            throw Error($"expected \"{wanted}\"");
        }

        at++;
    }

    // RFC 8259, section 6.
    [GeneratedRegex(@"^-?(0|[1-9]\d*)(\.\d+)?([eE][+-]?\d+)?$", RegexOptions.CultureInvariant)]
    private static partial Regex Number();

    private char Peek() => at < text.Length ? text[at] : '\0';

    private void Spaces()
    {
        while (at < text.Length && text[at] == ' ')
        {
            at++;
        }
    }

    private void StopAtEnd(FilterPart part, int from)
    {
        if (stopsAtEnd)
        {
            throw new EndReached(new Expectation(part, from, list, attribute));
        }
    }

    private sealed class EndReached(Expectation expectation) : Exception
    {
        public Expectation Expectation { get; } = expectation;
    }

    private FilterError Error(string message) => new(at + 1, message);
}
