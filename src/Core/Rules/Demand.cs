using System.Globalization;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>What a rule demands of a site. Built-in demands are short names for expressions over computed attributes.</summary>
public abstract record Demand
{
    private Demand() { }

    /// <summary>The demand that an expression makes: a built-in one if it is exactly its expression.</summary>
    public static Demand Of(string expression) =>
        BuiltIn.FirstOrDefault(demand => demand.Expression == expression)
        ?? (ActiveOwners.Read(expression) is { } least ? new ActiveOwners(least) : new General(expression));

    private static readonly IReadOnlyList<Demand> BuiltIn = [new WithinAllowed(), new EditingNamedOnly()];

    /// <summary>The demand as an expression in the grammar of filters.</summary>
    public abstract string Expression { get; }

    /// <summary>The certain distance of a site from the demand, in steps of which a higher one is worse: what an exception
    /// covers. Narrower limits are further away. Empty if it cannot be measured.
    /// </summary>
    public abstract IReadOnlyList<int> Distance(ComputedSite line);

    public sealed record General(string Text) : Demand
    {
        public override string Expression => Text;

        public override IReadOnlyList<int> Distance(ComputedSite line) => [];
    }

    /// <summary>No effective access exceeds policy.</summary>
    public sealed record WithinAllowed : Demand
    {
        public override string Expression => "exceeds eq false";

        public override IReadOnlyList<int> Distance(ComputedSite line) =>
            [.. Powers.Limited.SelectMany(power => Distance(line, power))];

        private static int[] Distance(ComputedSite line, Power power)
        {
            if (line.ExcessOf(power) != Truth.Yes)
            {
                return [0, 0, 0, 0];
            }

            var allowed = line.AccessPath(power).Permitted;
            var outside = (int)
                Math.Max(
                    0,
                    line.Outside(power).Or(default).AtLeast
                        - allowed.Select(limit => (int)limit.Widest).Or((int)OutsideLevel.Anonymous)
                );
            var inside = (int)
                Math.Max(
                    0,
                    line.Inside(power).Or(default).AtLeast
                        - allowed.Select(limit => (int)limit.Inside.Level()).Or((int)InsideLevel.Staff)
                );

            // A whole level counts once; people who are admitted one by one each count.
            var exceeds = line.AccessPath(power).Excess.Certain;
            return
            [
                outside,
                inside,
                exceeds.Doors.Doors().Count(),
                outside + inside > 0 ? int.MaxValue : exceeds.Inside.Count + exceeds.Guests.Count,
            ];
        }
    }

    /// <summary>Only named people edit, one by one or in groups.</summary>
    public sealed record EditingNamedOnly : Demand
    {
        public override string Expression => "edit.inside le \"named\" and edit.outside le \"named-guests\"";

        public override IReadOnlyList<int> Distance(ComputedSite line) =>
            [
                (int)Math.Max(0, line.Inside(Power.Edit).Or(default).AtLeast - (int)InsideLevel.Named),
                (int)Math.Max(0, line.Outside(Power.Edit).Or(default).AtLeast - (int)OutsideLevel.NamedGuests),
            ];
    }

    /// <summary>At least this number of distinct active owners.</summary>
    public sealed record ActiveOwners(int Least) : Demand
    {
        private const string Compared = "owners.active.count ge ";

        public override string Expression => string.Create(CultureInfo.InvariantCulture, $"{Compared}{Least}");

        internal static int? Read(string expression) =>
            expression.StartsWith(Compared, StringComparison.Ordinal)
            && int.TryParse(expression.AsSpan(Compared.Length), NumberStyles.None, CultureInfo.InvariantCulture, out var least)
                ? least
                : null;

        public override IReadOnlyList<int> Distance(ComputedSite line) =>
            [Math.Max(0, Least - (line.Owners.ActiveAtMost ?? line.Owners.ActiveAtLeast))];
    }
}
