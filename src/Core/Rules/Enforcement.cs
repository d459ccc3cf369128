using System.Text.Json.Serialization;

namespace AtticLedger.Core.Rules;

/// <summary>What follows from a finding without an administrator.</summary>
public enum EnforcementKind : byte
{
    /// <summary>Nothing: it is reported.</summary>
    Report,

    /// <summary>The owners are asked to fix it or to answer.</summary>
    AskOwners,

    /// <summary>The owners are asked, and if nobody answers, access is restricted to what policy allows.</summary>
    Restrict,
}

/// <param name="Days">The days that owners have to answer; 0 if nobody is asked.</param>
public sealed record Enforcement(EnforcementKind Kind, int Days)
{
    public const int FewestDays = 3;
    public const int MostDays = 90;

    public static Enforcement Report { get; } = new(EnforcementKind.Report, 0);

    [JsonIgnore]
    public bool Asks => Kind != EnforcementKind.Report;

    /// <summary>True if restricting access can meet the demand.</summary>
    public static bool CanRestrict(Demand demand) => demand is Demand.WithinAllowed or Demand.EditingNamedOnly;
}
