using AtticLedger.Core.Filters;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Filters;

/// <summary>The columns compared with an evaluator that takes one site at a time and does not use columns.</summary>
public class IndexEqualsSlowEvaluator
{
    private static readonly Harbour Here = new();

    private static readonly Gen<SiteFacts> AnySite =
        from grants in Gen.Select(Gen.Int[0, 3], Gen.Enum<Power>(), Gen.Long[1, 9], (which, power, person) => which switch
            {
                0 => ToStaff(power),
                1 => ToAnonymous(power),
                _ => ToPerson(power, new PersonId(person)),
            }).Array[0, 4]
        from state in Gen.Int[0, 3]
        from name in Gen.Int[0, 3]
        from visits in Gen.Int[-1, 2]
        from known in Gen.Int[0, 4]
        from edited in Gen.Int[-2, 4]
        select Site(grants) with
        {
            Name = name switch
            {
                0 => Known<string>.Unknown,
                1 => Known<string>.None,
                2 => Known.Of("Dredge log"),
                _ => Known.Of("Tug rota"),
            },
            Status = known == 1 ? Known<Status>.Unknown : Known.Of((Status)state),
            Sharing = known == 0 ? Known<Sharing>.Unknown : Site(grants).Sharing,
            Visits = visits < 0 ? Known<int>.Unknown : Known.Of(visits),
            LastEdit =
                edited < 0 ? (edited == -1 ? Known<DateTimeOffset>.None : Known<DateTimeOffset>.Unknown) : Known.Of(Day(edited)),
        };

    private static readonly Gen<FilterSyntax> AnyLeaf = Gen.Int[0, 10]
        .Select(Gen.Enum<Comparison>(), Gen.Int[0, 3])
        .Select(
            (which, comparison, value) =>
            {
                var ordered = comparison is Comparison.Co or Comparison.Sw or Comparison.Ew ? Comparison.Ge : comparison;
                var equal = comparison == Comparison.Ne ? Comparison.Ne : Comparison.Eq;
                return (FilterSyntax)(
                    which switch
                    {
                        0 => Compare("name", comparison, new[] { "Dredge log", "tug", "o", "" }[value]),
                        1 => Compare("status", ordered, SiteAttributes.StatusLabels[value]),
                        2 => Compare("visits", ordered, (decimal)value - 0.5m * (value % 2)),
                        3 => Compare("view.outside", ordered, SiteAttributes.OutsideLabels[value]),
                        4 => Compare("edit.inside", ordered, SiteAttributes.InsideLabels[value]),
                        5 => Compare("owners.standing", ordered, SiteAttributes.StandingLabels[value]),
                        6 => new FilterSyntax.Within(
                            "owners",
                            new FilterSyntax.And(
                                Compare("standing", ordered, SiteAttributes.StandingLabels[value]),
                                Compare("active", equal, value > 1)
                            ),
                            1
                        ),
                        7 => new FilterSyntax.Present(new[] { "name", "visits", "owners", "status" }[value], 1),
                        8 => Compare("name", equal, null),
                        9 => Compare("edited", ordered, Day(value)),
                        _ => Compare("exceeds", equal, value > 1),
                    }
                );
            }
        );

    private static readonly Gen<FilterSyntax> AnyFilter = Gen.Recursive<FilterSyntax>(
        (depth, inner) =>
            depth > 3
                ? AnyLeaf
                : Gen.OneOf(
                    AnyLeaf,
                    inner.Select(inner, (a, b) => (FilterSyntax)new FilterSyntax.And(a, b)),
                    inner.Select(inner, (a, b) => (FilterSyntax)new FilterSyntax.Or(a, b)),
                    inner.Select(a => (FilterSyntax)new FilterSyntax.Not(a, 1))
                )
    );

    [Fact]
    public void On_random_sites_and_filters_the_verdicts_are_the_same() =>
        Gen.Select(AnySite.Array[1, 130], AnyFilter, Gen.Int[1, 40])
            .Sample(
                (sites, syntax, batch) =>
                {
                    var lines = sites.Select(site => new ComputedSite(site, Here.Organisation, Here.PeopleDirectory)).ToList();
                    var filter = Filter.Parse(Written(syntax), SiteAttributes.List);
                    var mask = new ColumnsOfLines<ComputedSite>(lines).Evaluate(filter);
                    var kept = lines
                        .Select((line, place) => (place, line))
                        .Chunk(batch)
                        .Aggregate(KeptColumns<ComputedSite>.Empty(SiteAttributes.List), (columns, some) => columns.With(some))
                        .Evaluate(filter);
                    var slow = lines.ConvertAll(line => Slow(syntax, line));
                    return slow.SequenceEqual(Enumerable.Range(0, lines.Count).Select(line => mask[line]))
                        && slow.SequenceEqual(Enumerable.Range(0, lines.Count).Select(line => kept[line]))
                        && mask.CountYes == slow.Count(truth => truth == Truth.Yes)
                        && mask.CountUnknown == slow.Count(truth => truth == Truth.Unknown)
                        && mask.Lines(Truth.Unknown)
                            .SequenceEqual(Enumerable.Range(0, slow.Count).Where(line => slow[line] == Truth.Unknown));
                },
                iter: 400
            );

    private static DateTimeOffset Day(int day) => new(2026, 11, 1 + (2 * day), 7, 0, 0, TimeSpan.Zero);

    private static FilterSyntax Compare(string name, Comparison comparison, object? value) =>
        new FilterSyntax.Compare(name, comparison, new Literal(value, 1), 1);

    private static string Written(FilterSyntax filter) =>
        filter switch
        {
            FilterSyntax.And(var a, var b) => $"({Written(a)}) and ({Written(b)})",
            FilterSyntax.Or(var a, var b) => $"({Written(a)}) or ({Written(b)})",
            FilterSyntax.Not(var a, _) => $"not ({Written(a)})",
            FilterSyntax.Present(var name, _) => $"{name} pr",
            FilterSyntax.Within(var name, var inner, _) => $"{name}[{Written(inner)}]",
            FilterSyntax.Compare(var name, var comparison, var value, _) =>
                $"{name} {comparison.ToString().ToLowerInvariant()} {Written(value.Value)}",
            _ => throw new InvalidOperationException(),
        };

    private static string Written(object? value) =>
        value switch
        {
            null => "null",
            string text => $"\"{text}\"",
            bool flag => flag ? "true" : "false",
            DateTimeOffset instant => $"\"{instant:yyyy-MM-dd'T'HH:mm:ss'Z'}\"",
            decimal number => number.ToString(System.Globalization.CultureInfo.InvariantCulture),
            _ => throw new InvalidOperationException(),
        };

    private static Truth Slow(FilterSyntax filter, ComputedSite line)
    {
        switch (filter)
        {
            case FilterSyntax.And(var a, var b):
                return Slow(a, line).And(Slow(b, line));
            case FilterSyntax.Or(var a, var b):
                return Slow(a, line).Or(Slow(b, line));
            case FilterSyntax.Not(var a, _):
                return Slow(a, line).Not();
            case FilterSyntax.Within(_, var inner, _):
                return SomeOwner(line, holder => Slow(inner, holder));
            case FilterSyntax.Present("owners", _):
                return SomeOwner(line, _ => Truth.Yes);
            case FilterSyntax.Present(var name, _):
                return Values(name, line) is { } values ? Truths.Of(values.Count > 0) : Truth.Unknown;
            case FilterSyntax.Compare("owners.standing", Comparison.Ne, var value, _):
                return SomeOwner(line, holder => Slow(Compare("standing", Comparison.Eq, value.Value), holder)).Not();
            case FilterSyntax.Compare("owners.standing", var comparison, var value, _):
                return SomeOwner(line, holder => Slow(Compare("standing", comparison, value.Value), holder));
            case FilterSyntax.Compare(var name, Comparison.Eq, { Value: null }, _):
                return Slow(new FilterSyntax.Present(name, 1), line).Not();
            case FilterSyntax.Compare(var name, _, { Value: null }, _):
                return Slow(new FilterSyntax.Present(name, 1), line);
            case FilterSyntax.Compare(var name, var comparison, var value, _):
                return Slow(Values(name, line), comparison, Rank(name, value.Value!));
            default:
                throw new InvalidOperationException();
        }
    }

    private static Truth Slow(FilterSyntax filter, SiteOwner holder) =>
        filter switch
        {
            FilterSyntax.And(var a, var b) => Slow(a, holder).And(Slow(b, holder)),
            FilterSyntax.Compare("standing", var comparison, var value, _) => Slow(
                [(decimal)(int)holder.Standing],
                comparison,
                Rank("standing", value.Value!)
            ),
            FilterSyntax.Compare("active", var comparison, { Value: bool wanted }, _) => Truths.Of(
                (holder.IsActive == wanted) == (comparison == Comparison.Eq)
            ),
            _ => throw new InvalidOperationException(),
        };

    private static Truth SomeOwner(ComputedSite line, Func<SiteOwner, Truth> holds) =>
        line.Owners.Holders.Select(holds).Aggregate(line.Owners.Complete ? Truth.No : Truth.Unknown, Truths.Or);

    /// <summary>Every value that the fact may have: empty for none, null for unknown.</summary>
    private static IReadOnlyList<object>? Values(string name, ComputedSite line)
    {
        static IReadOnlyList<object>? Of<T>(Known<T> fact, Func<T, IReadOnlyList<object>> map)
            where T : notnull =>
            fact.Has(out var value) ? map(value)
            : fact.IsNone ? []
            : null;

        static IReadOnlyList<object> Each(Span span) =>
            [
                .. Enumerable
                    .Range(0, (int)(span.AtMost - span.AtLeast) + 1)
                    .Select(step => (object)(decimal)(span.AtLeast + step)),
            ];

        return name switch
        {
            "name" => Of(line.Site.Name, text => [text]),
            "status" => Of(line.Site.Status, status => [(decimal)(int)status]),
            "edited" => Of(line.Site.LastEdit, instant => [instant]),
            "visits" => Of(line.Site.Visits, visits => [(decimal)visits]),
            "view.outside" => Of(line.Outside(Power.View), Each),
            "edit.inside" => Of(line.Inside(Power.Edit), Each),
            "exceeds" => line.Excess == Truth.Unknown ? null : [line.Excess == Truth.Yes],
            _ => throw new InvalidOperationException(name),
        };
    }

    private static object Rank(string name, object value) =>
        name switch
        {
            "status" => (decimal)SiteAttributes.StatusLabels.ToList().IndexOf((string)value),
            "view.outside" => (decimal)SiteAttributes.OutsideLabels.ToList().IndexOf((string)value),
            "edit.inside" => (decimal)SiteAttributes.InsideLabels.ToList().IndexOf((string)value),
            "standing" => (decimal)SiteAttributes.StandingLabels.ToList().IndexOf((string)value),
            _ => value,
        };

    private static Truth Slow(IReadOnlyList<object>? values, Comparison comparison, object literal)
    {
        if (values is null)
        {
            return Truth.Unknown;
        }

        if (values.Count == 0)
        {
            return Truths.Of(comparison == Comparison.Ne);
        }

        var verdicts = values.Select(value => Holds(value, comparison, literal)).Distinct().ToList();
        return verdicts.Count > 1 ? Truth.Unknown : Truths.Of(verdicts[0]);
    }

    private static bool Holds(object value, Comparison comparison, object literal)
    {
        if (value is string text)
        {
            var (a, b) = (text.ToUpperInvariant(), ((string)literal).ToUpperInvariant());
            return comparison switch
            {
                Comparison.Co => a.Contains(b),
                Comparison.Sw => a.StartsWith(b, StringComparison.Ordinal),
                Comparison.Ew => a.EndsWith(b, StringComparison.Ordinal),
                _ => Compared(string.CompareOrdinal(a, b), comparison),
            };
        }

        return Compared(((IComparable)value).CompareTo(literal), comparison);
    }

    private static bool Compared(int order, Comparison comparison) =>
        comparison switch
        {
            Comparison.Eq => order == 0,
            Comparison.Ne => order != 0,
            Comparison.Gt => order > 0,
            Comparison.Ge => order >= 0,
            Comparison.Lt => order < 0,
            _ => order <= 0,
        };
}
