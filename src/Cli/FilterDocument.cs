using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;

namespace AtticLedger.Cli;

/// <summary>The list of attributes, from the code: <c>docs/filters.md</c>.</summary>
internal static class FilterDocument
{
    public static void Write(TextWriter to)
    {
        to.WriteLine(
            """
            # Filters

            <!-- Written by `./attic filters` from the code. Do not edit by hand; the tests compare. -->

            The grammar is that of RFC 7644, section 3.4.2.2: `eq ne co sw ew gt ge lt le pr`, `and`, `or`, `not (…)`, and
            `list[…]` for one element of a list that matches the whole inner filter. Errors name the column, counted in
            UTF-16 units from 1.

            - The result is *matches*, *does not match* or *cannot tell* (strong Kleene logic). A list shows the sites that surely match.
            - Comparing none is false, and `ne` true. `eq null` is `not pr`; the empty text is none.
            - `owners.standing ne "left"` means that no element equals it; `owners[standing ne "left"]` tests each element.
            - Text compares without case unless marked exact. Ordered words compare by their order; for any other word the result is cannot tell.
            - A value known only between bounds matches if every value between them matches.
            - An instant is compared with an instant (RFC 3339, such as `"2026-11-24T07:00:00Z"`) or with days from today:
              `"-P90D"` is the first instant of the day 90 days ago, `"P30D"` that of the day in 30 days, in the organisation's
              time zone (ISO 8601-2 durations, days only).

            | attribute | type | meaning |
            |---|---|---|
            """
        );
        foreach (var attribute in JudgedSite.Attributes.All)
        {
            to.WriteLine($"| `{attribute.Name}` | {attribute.Type} | {attribute.Says} |");
            if (attribute is ListAttribute<JudgedSite> list)
            {
                foreach (var (name, says, type) in list.Parts)
                {
                    to.WriteLine($"| `{attribute.Name}.{name}` | {type} | {says} |");
                }
            }
        }

        to.WriteLine();
        var findings = JudgedSite.Attributes.All.Where(attribute => SiteAttributes.List.Find(attribute.Name) is null);
        to.WriteLine(
            $"Rules can use all attributes except {string.Join(", ", findings.Select(attribute => $"`{attribute.Name}`"))}."
        );
    }
}
