namespace AtticLedger.Core.Terms;

/// <summary>What a person may do on a site. Each power includes the ones before it.</summary>
public enum Power : byte
{
    /// <summary>Read the published site.</summary>
    View,

    /// <summary>Read the draft.</summary>
    Preview,
    Edit,
    Publish,
    Invite,
    Manage,
    Own,
}

public static class Powers
{
    /// <summary>The powers that limits speak of; the stronger ones inherit the last.</summary>
    public static readonly IReadOnlyList<Power> Limited = [Power.View, Power.Preview, Power.Edit];

    /// <summary>The limited powers whose caps bear on <paramref name="power"/>: a cap on a weaker power caps the
    /// stronger.</summary>
    public static IEnumerable<Power> CappedBy(Power power) => Limited.Where(limited => limited <= power);

    public static string Word(this Power power) => power.ToString().ToLowerInvariant();
}
