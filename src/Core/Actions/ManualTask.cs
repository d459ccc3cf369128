using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A picture that shows what was done.</summary>
/// <param name="Type">Its media type: <c>image/png</c> or <c>image/jpeg</c>.</param>
public sealed record ProofPicture(string Type, byte[] Bytes);

/// <summary>What a manual task has in addition to its change: the assignee, the steps as they were when it was assigned, the
/// assignee's report, and who verified it. Its progress is the state of the change.
/// </summary>
public sealed record ManualTask
{
    public const int LongestText = 2000;

    public required ChangeId HostChange { get; init; }

    public required PersonId To { get; init; }

    public required DateTimeOffset GivenAt { get; init; }

    /// <summary>The last day to do it in time.</summary>
    public required DateOnly Through { get; init; }

    /// <summary>One step per line, made for this site.</summary>
    public required IReadOnlyList<string> Steps { get; init; }

    public required string Account { get; init; }

    public required string Support { get; init; }

    /// <summary>Who reported it done or failed, and the report.</summary>
    public PersonId? DoneBy { get; init; }

    public string? Report { get; init; }

    public bool HasPicture { get; init; }

    /// <summary>The second person who verified it; null if a list did, or nobody has yet.</summary>
    public PersonId? CheckedBy { get; init; }

    /// <summary>How often it was returned after it was reported done.</summary>
    public int Returned { get; init; }
}

/// <summary>The result of a step of a manual task.</summary>
/// <param name="Site">The new row, if it changes.</param>
public sealed record ManualTaskStep(
    HostChange HostChange,
    ManualTask ManualTask,
    SiteFacts? Site,
    IReadOnlyList<Notification> Notifications
);
