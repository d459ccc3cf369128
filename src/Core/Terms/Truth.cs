namespace AtticLedger.Core.Terms;

/// <summary>
/// Strong Kleene logic: true, false and unknown.
/// The change No &lt; Unknown &lt; Yes makes "and" the lesser and "or" the greater of two.
/// </summary>
public enum Truth : byte
{
    No,
    Unknown,
    Yes,
}

public static class Truths
{
    public static Truth And(this Truth a, Truth b) => a < b ? a : b;

    public static Truth Or(this Truth a, Truth b) => a > b ? a : b;

    public static Truth Not(this Truth a) => (Truth)(2 - (byte)a);

    /// <summary>What all of several possible truths share; unknown where they differ.</summary>
    public static Truth Shared(IEnumerable<Truth> possible) =>
        possible.Aggregate((one, other) => one == other ? one : Truth.Unknown);

    public static Truth Of(bool known) => known ? Truth.Yes : Truth.No;

    /// <summary>From what is certain and what is possible: <c>Between(true, …)</c> is Yes, <c>Between(false, false)</c> is
    /// No.</summary>
    public static Truth Between(bool certain, bool possible) =>
        certain ? Truth.Yes
        : possible ? Truth.Unknown
        : Truth.No;
}
