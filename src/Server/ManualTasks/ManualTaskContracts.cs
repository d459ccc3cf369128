using AtticLedger.Core.Actions;
using AtticLedger.Server.Contracts;

namespace AtticLedger.Server.ManualTasks;

/// <summary>A manual task, as lists show it.</summary>
/// <param name="Wanted">The wanted result, one sentence for each part.</param>
/// <param name="IsOverdue">True if its last day is over and it is neither done nor failed.</param>
/// <param name="Returned">How often it was returned after it was reported done.</param>
public sealed record ManualTaskRow(
    Guid HostChange,
    string Title,
    string Host,
    ChangeState State,
    ChangePurpose Purpose,
    IReadOnlyList<string> Wanted,
    PersonResponse To,
    PersonResponse By,
    DateOnly Through,
    bool IsOverdue,
    int Returned
);

/// <summary>A change that a person carries out at a host, for the people concerned.</summary>
/// <param name="Site">The id of the site, if the viewer may open its page.</param>
/// <param name="Steps">The steps, in sequence.</param>
/// <param name="Account">The account at the host that can do it.</param>
/// <param name="Words">The latest remark: why it was returned, or why it failed.</param>
/// <param name="Report">The assignee's report.</param>
/// <param name="MayDo">True if the viewer can report it done or failed.</param>
/// <param name="LogoPicture">The hash of the picture that becomes the logo, if it is kept with the site.</param>
/// <param name="MayCheck">True if the viewer can verify it; <paramref name="NoCheck"/>: why not, although it is done.</param>
public sealed record ManualTaskResponse(
    ManualTaskRow Line,
    long? Site,
    string? Address,
    string Key,
    string? Reason,
    DateTimeOffset RequestedAt,
    DateTimeOffset GivenAt,
    IReadOnlyList<string> Steps,
    string Account,
    string Support,
    string? Words,
    PersonResponse? DoneBy,
    DateTimeOffset? DoneAt,
    string? Report,
    bool HasPicture,
    PersonResponse? CheckedBy,
    DateTimeOffset? SeenAt,
    bool MayDo,
    bool MayCheck,
    string? NoCheck,
    bool MayReassign,
    bool MayCancel,
    string? LogoPicture
);

/// <param name="Report">What was done, and where that can be seen.</param>
public sealed record ManualTaskDoneRequest(string? Report = null);

/// <param name="Words">Why it failed or is cancelled; required for a failure.</param>
public sealed record ManualTaskNoteRequest(string? Words = null);

/// <param name="Words">What was found; required if the result is not as wanted.</param>
public sealed record ManualTaskCheckRequest(bool IsSo, string? Words = null);

/// <param name="To">A mail address.</param>
public sealed record ReassignRequest(string To);
