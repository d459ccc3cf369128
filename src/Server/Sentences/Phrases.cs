using System.Globalization;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Sentences;

/// <summary>Parts of sentences.</summary>
internal static class Phrases
{
    /// <summary>Instead of the name of a site that the viewer may not see.</summary>
    public const string Hidden = "a site that you may not see";

    public static string Day(DateOnly day) => day.InWords();

    /// <summary>"07:30 on 12 Mar 2027". The instant has the offset of the organisation's zone.</summary>
    public static string Moment(DateTimeOffset at) => at.ToString("HH:mm 'on' d MMM yyyy", CultureInfo.InvariantCulture);

    /// <summary>"07:30 on 12 Mar".</summary>
    public static string MomentOfYear(DateTimeOffset at) => at.ToString("HH:mm 'on' d MMM", CultureInfo.InvariantCulture);

    /// <summary>Why a person cannot become owner, after their name: "has left".</summary>
    public static string Ineligible(Ineligibility because, DateOnly? day) =>
        because switch
        {
            Ineligibility.IsOwner => "is an owner already",
            Ineligibility.NotSaid => "is not eligible",
            Ineligibility.Outside => "is from outside the organisation",
            Ineligibility.Service => "is a service account",
            Ineligibility.Left => "has left",
            Ineligibility.Leaves => day is { } last ? $"leaves on {DayOfYear(last)}" : "is leaving",
            Ineligibility.Away => day is { } last ? $"is away until {DayOfYear(last)}" : "is away",
            _ => "cannot be reached by mail",
        };

    /// <summary>"2 vouchers, which can be claimed until the end of 1 Mar 2027".</summary>
    public static string Obligation(int count, string what, DateOnly? through) =>
        $"{count} {what}{(through is { } last ? $", which can be claimed until the end of {Day(last)}" : "")}";

    /// <summary>What to do where a host admits nobody by name.</summary>
    public static string ChangeTheGroup(string host, string? group) =>
        group is null
            ? $"Make a group an owner at {host}; the next sync reports it."
            : $"Change who is in the group \"{group}\" at {host}; the next sync reports it.";

    public static string Not(AccessStep step) =>
        step switch
        {
            AccessStep.Restrict => "it cannot be restricted yet. Sync the host first.",
            AccessStep.Undo => "the change cannot be undone yet.",
            AccessStep.Grant => "nobody can be granted access yet. Sync the host first.",
            AccessStep.Remove => "nobody's access can be removed yet. Sync the host first.",
            AccessStep.HandOver => "the site cannot be handed over yet.",
            _ => "the owner cannot be changed yet.",
        };

    /// <summary>"Ada Lund and Bo Reyes", "Ada Lund, Bo Reyes, Cleo Marsh and 6 more".</summary>
    public static string Some(IReadOnlyList<string> names)
    {
        const int Most = 3;
        List<string> shown = names.Count > Most ? [.. names.Take(Most), $"{names.Count - Most} more"] : [.. names];
        return shown.Count < 2 ? string.Concat(shown) : $"{string.Join(", ", shown.SkipLast(1))} and {shown[^1]}";
    }

    public static string ReadOrEdit(Power power) => power == Power.Edit ? "edit" : "read";

    /// <summary>One of them: "tag".</summary>
    public static string Word(this ClaimedFact fact) => fact == ClaimedFact.Tags ? "tag" : Labels.Of(fact);

    public static string Word(this ProcedureText text) =>
        text switch
        {
            ProcedureText.Account => "account",
            ProcedureText.Support => "support contact",
            ProcedureText.Reach => "steps for changing access",
            ProcedureText.Owners => "steps for changing an owner",
            ProcedureText.MoveToAttic => "steps for moving to the attic",
            _ => "steps for restoring",
        };

    public static InvalidOperationException Missing(Remark remark) => new($"The remark {remark.Code} has no sentence.");

    private static string DayOfYear(DateOnly day) => day.ToString("d MMM", CultureInfo.InvariantCulture);
}
