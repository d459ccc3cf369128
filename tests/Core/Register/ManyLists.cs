using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Terms;
using CsCheck;

namespace AtticLedger.Core.Tests.Index;

/// <summary>Thousands of different lists are looked up by their elements; the results equal those of a scan.</summary>
public class ManyLists
{
    private static readonly AttributeList<int> Parts = new([
        new NumberAttribute<int>("value", "the number", number => Known.Of(Span.Exactly(number))),
    ]);
    private static readonly AttributeList<Listed<int>> Lists = new([
        new ListAttribute<Listed<int>, int>("numbers", "the numbers", Parts, list => list),
    ]);

    // Small numbers are in many lists, large ones in few.
    private static readonly Gen<Listed<int>> AnyList = Gen.Select(
        Gen.OneOf(Gen.Int[0, 3], Gen.Int[0, 4000]).Array[0, 4],
        Gen.Int[0, 9],
        (numbers, whole) => new Listed<int>(numbers, whole > 0)
    );

    [Fact]
    public void An_element_is_found_in_all_lists_that_have_it_also_in_later_ones() =>
        Gen.Select(AnyList.Array[5000, 6000], AnyList.Array[1, 3000], Gen.Int[0, 4100].Array[1, 4])
            .Sample(
                (first, later, sought) =>
                {
                    var before = KeptColumns<Listed<int>>.Empty(Lists).With(Placed(first, 0));
                    var isSame = sought.All(number => Same(before, first, number));
                    var after = before.With(Placed(later, first.Length - 500));
                    Listed<int>[] all = [.. first[..^500], .. later];
                    return isSame
                        && sought.All(number => Same(after, [.. all, .. first[Math.Min(first.Length, all.Length)..]], number))
                        && sought.All(number => Same(before, first, number));
                },
                iter: 20
            );

    private static bool Same(KeptColumns<Listed<int>> columns, Listed<int>[] lists, int sought)
    {
        var column = (ListColumn<int>)columns.Of("numbers");
        var found = column.Any(number => number == sought);
        return column.Count == lists.Length
            && lists
                .Index()
                .All(list =>
                    found[list.Index]
                    == (
                        list.Item.Items.Contains(sought) ? Truth.Yes
                        : list.Item.Complete ? Truth.No
                        : Truth.Unknown
                    )
                );
    }

    private static (int, Listed<int>)[] Placed(Listed<int>[] lists, int from) =>
        [.. lists.Select((list, at) => (from + at, list))];
}
