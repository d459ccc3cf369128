using AtticLedger.Core.Filters;
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
            `list[…]` for one element of a list for which all of the inner filter holds. Errors name the column, counted in
            UTF-16 units from 1.

            - A verdict is *holds*, *breaks* or *cannot tell* (strong Kleene logic). A list shows what surely holds.
            - Comparing none is false, and `ne` true. `eq null` is `not pr`; the empty text is none.
            - `owners.standing ne "left"` says that no element equals; `owners[standing ne "left"]` judges each.
            - Text compares without case unless marked exact. Ordered words compare by their order; a word outside it cannot tell.
            - A value known only between bounds holds where the comparison holds for all of them.

            | attribute | type | says |
            |---|---|---|
            """
        );
        foreach (var attribute in JudgedLine.Attributes.All)
        {
            to.WriteLine($"| `{attribute.Name}` | {attribute.TypeWord} | {attribute.Says} |");
            if (attribute is ListAttribute<JudgedLine> list)
            {
                foreach (var (name, says, type) in list.Parts)
                {
                    to.WriteLine($"| `{attribute.Name}.{name}` | {type} | {says} |");
                }
            }
        }

        to.WriteLine();
        to.WriteLine("Rules speak of all of these but `breaks` and `unsure`.");
    }
}
