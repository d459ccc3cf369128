using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Register;

/// <summary>Reads a condition of a filter expression as a clause, if a clause can say the same and a form can show it.</summary>
internal static class ClauseReader
{
    public static Clause? Of(FilterSyntax syntax, OrganisationTime time)
    {
        var (inner, negated) = syntax is FilterSyntax.Not(var not, _) ? (not, true) : (syntax, false);

        // Of a list, "ne" means that some element is another, and not that none is this one.
        if (
            inner is FilterSyntax.Compare { Operator: Comparison.Ne } unequal
            && !negated
            && Checked(new Clause(unequal.Name, "any", []))?.Find().List is null
        )
        {
            (inner, negated) = (unequal with { Operator = Comparison.Eq }, true);
        }

        var list = "";
        if (inner is FilterSyntax.Within(var name, var elements, _))
        {
            (inner, list) = (elements, $"{name}.");
        }

        if (inner is FilterSyntax.Present(var present, _))
        {
            return Checked(new Clause(list + present, negated ? "none" : "any", []));
        }

        // "One of several" is the same as several joined by "or", of a text and of an element of a list alike.
        var compared = Alternatives(inner).OfType<FilterSyntax.Compare>().ToList();
        if (compared.Count == 0 || compared.Count != Alternatives(inner).Count())
        {
            return null;
        }

        var (first, values) = (compared[0], new List<string>());
        foreach (var one in compared)
        {
            if (
                !one.Name.Equals(first.Name, StringComparison.OrdinalIgnoreCase)
                || one.Operator != first.Operator
                || ValueOf(one.Value.Value, Checked(new Clause(list + one.Name, "any", [])), time) is not { } value
            )
            {
                return null;
            }

            values.Add(value);
        }

        return
            Checked(new Clause(list + first.Name, "any", [])) is { } clause
            && HowOf(first.Operator, negated, clause.Find().Simple.Type.Kind, values.Count) is { } how
            ? clause with
            {
                How = how,
                Values = values,
            }
            : null;
    }

    private static IEnumerable<FilterSyntax> Alternatives(FilterSyntax syntax) =>
        syntax is FilterSyntax.Or(var left, var right) ? Alternatives(left).Concat(Alternatives(right)) : [syntax];

    private static string? HowOf(Comparison comparison, bool negated, AttributeKind kind, int count) =>
        (kind, comparison, negated, count) switch
        {
            (AttributeKind.Truth, Comparison.Eq, false, 1) => "is",
            (AttributeKind.Number, Comparison.Eq, false, 1) => "is",
            (AttributeKind.Text or AttributeKind.Word, Comparison.Eq, false, _) => "is",
            (AttributeKind.Text or AttributeKind.Word, Comparison.Eq, true, _) => "not",
            (AttributeKind.Text, Comparison.Co, false, 1) => "has",
            (AttributeKind.Text, Comparison.Co, true, 1) => "lacks",
            (AttributeKind.Word or AttributeKind.Number, Comparison.Ge, false, 1) => "least",
            (AttributeKind.Word or AttributeKind.Number, Comparison.Le, false, 1) => "most",
            (AttributeKind.Instant, Comparison.Lt, false, 1) => "before",
            (AttributeKind.Instant, Comparison.Ge, false, 1) => "since",
            _ => null,
        };

    // Null for a value that the form cannot show, such as a time of day.
    private static string? ValueOf(object? value, Clause? clause, OrganisationTime time) =>
        (clause?.Find().Simple.Type.Kind, value) switch
        {
            (AttributeKind.Text or AttributeKind.Word, string text) => text,
            (AttributeKind.Truth, bool truth) => truth ? "yes" : "no",
            (AttributeKind.Number, decimal number) => number.ToString(System.Globalization.CultureInfo.InvariantCulture),
            (AttributeKind.Instant, string and ['-', 'P', .. var days, 'D']) when Clause.DaysAgo($"{days}d") is not null =>
                $"{days}d",
            (AttributeKind.Instant, string text)
                when DateTimeOffset.TryParse(text, System.Globalization.CultureInfo.InvariantCulture, out var instant)
                    && time.StartOf(time.DayOf(instant)) == instant => time.DayOf(instant)
                .ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture),
            _ => null,
        };

    // The clause with the name as the choices of the sentence have it; null if there is no such attribute.
    private static Clause? Checked(Clause clause)
    {
        var name = JudgedSite.Attributes.Find(clause.Attribute) is ListAttribute<JudgedSite> list
            ? $"{list.Name}.value"
            : clause.Attribute;
        return AttributeLabels.All.FirstOrDefault(one => one.Name.Equals(name, StringComparison.OrdinalIgnoreCase)) is { } known
            ? clause with
            {
                Attribute = known.Name,
            }
            : null;
    }
}
