using System.Globalization;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>A paid plan at a host, for one site or several.</summary>
/// <param name="Key">The host's own key of the plan.</param>
/// <param name="Price">For one period, in hundredths of the currency.</param>
/// <param name="Currency">ISO 4217.</param>
/// <param name="Months">The length of a period.</param>
/// <param name="Through">The last day that is paid for.</param>
/// <param name="Renews">True if it renews automatically.</param>
/// <param name="GraceDays">How long the host keeps the site after the plan has ended.</param>
/// <param name="Sites">The number of sites on the plan.</param>
public sealed record SitePlan(
    string Key,
    string Name,
    int Price,
    string Currency,
    int Months,
    DateOnly Through,
    bool Renews,
    int GraceDays,
    int Sites
)
{
    /// <summary>"168.00 EUR a year".</summary>
    public string Cost =>
        $"{(Price / 100m).ToString("0.00", CultureInfo.InvariantCulture)} {Currency} {Months switch { 1 => "a month", 12 => "a year", _ => $"every {Months} months" }}";

    /// <summary>The next step, as a sentence without full stop.</summary>
    public string Next =>
        Renews ? $"it renews after {Through.InWords()}"
        : GraceDays > 0 ? $"it ends on {Through.InWords()}, and the site is kept for {GraceDays.Counted("more day")}"
        : $"it ends on {Through.InWords()}";
}

/// <summary>Something that outsiders can still claim from a site: orders to deliver, vouchers to redeem. A mere record is no
/// claim.</summary>
/// <param name="What">In words after a number: "orders are not delivered".</param>
/// <param name="Through">The last day on which it can be claimed, if there is one.</param>
public sealed record Obligation(int Count, string What, DateOnly? Through = null);

/// <summary>Something in a site that needs attention if the site is open, with where it was seen.</summary>
/// <param name="Kind">"tracker", "form".</param>
public sealed record Signal(string Kind, string Evidence);
