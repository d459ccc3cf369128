using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Attic;
using AtticLedger.Server.Contracts;

namespace AtticLedger.Server.Desk;

/// <summary>Findings that are decided together.</summary>
/// <param name="Cause">What they have in common.</param>
/// <param name="Host">The host at which a person who has left still has access; null for other causes.</param>
/// <param name="Person">The person who leaves or has left; null for a group by rule.</param>
/// <param name="DaysLeft">Days until harm: 0 if it happens daily, null if no day is known.</param>
/// <param name="Count">The number of sites.</param>
/// <param name="ByName">The number of sites on which a person who has left is named; on the others, access is through groups.</param>
/// <param name="Name">The name of the cause, for a plan of remedies.</param>
/// <param name="Remedies">The actions that can help; which of them is possible on a site, its plan says. Empty if every site is
/// mended at its host.</param>
/// <param name="AtOnce">The number of sites in one plan of remedies: all, or as many as a batch can have.</param>
/// <param name="Fact">The fact to set, if that helps.</param>
/// <param name="Clause">Finds exactly these sites in the register: a <c>where</c> of its address.</param>
/// <param name="Sites">The first of them.</param>
/// <param name="Asked">Null if no owner was asked.</param>
/// <param name="Began">Events for the whole organisation that began some of the findings, the one with most sites first; only for
/// those who see every entry of the journal.</param>
/// <param name="Together">The place among those that are decided together; null if it is decided alone.</param>
public sealed record GroupResponse(
    CauseKind Cause,
    string? Host,
    PersonResponse? Person,
    Standing? Standing,
    DateOnly? Day,
    RuleResponse? Rule,
    int? DaysLeft,
    int Count,
    int Critical,
    int Warnings,
    int Notes,
    int OnlyOwner,
    int ByName,
    string Name,
    IReadOnlyList<Remedy> Remedies,
    int AtOnce,
    ClaimedFact? Fact,
    string Clause,
    IReadOnlyList<SiteNameResponse> Sites,
    AskedOwners? Asked,
    IReadOnlyList<BeganResponse> Began,
    int? Together
);

/// <summary>Several people whose groups are decided as one; of many the first groups are sent.</summary>
/// <param name="Host">The host at which they still have access; null for owners.</param>
/// <param name="Critical">The number of critical findings, each once; <paramref name="Warnings"/> and <paramref name="Notes"/>
/// likewise.</param>
/// <param name="ByName">The number of the first who are named on some of their sites.</param>
/// <param name="Through">The number of the first who have access through groups on some.</param>
/// <param name="LastDay">The last of their last days, if it is to come.</param>
public sealed record TogetherResponse(
    TogetherKind Kind,
    string? Host,
    int People,
    int Critical,
    int Warnings,
    int Notes,
    int ByName,
    int Through,
    DateOnly? LastDay
);

/// <summary>An event that began findings of a group, such as a changed rule or a changed limit of a host.</summary>
/// <param name="Label">What happened, to follow the word "where".</param>
/// <param name="By">The person or host.</param>
/// <param name="Sites">The number of the group's sites whose finding it began.</param>
public sealed record BeganResponse(long Entry, DateTimeOffset At, string Action, string Label, string By, int Sites);

/// <summary>Questions to owners about the findings of a rule that have not ended.</summary>
/// <param name="Sites">The number of sites with one.</param>
/// <param name="Answered">Those of them with an answer.</param>
/// <param name="Overdue">Those without an answer by their last day, and those that had nobody to ask.</param>
/// <param name="Restricts">The first day on which access is restricted where nobody answers; null if it is not.</param>
public sealed record AskedOwners(int Sites, int Answered, int Overdue, DateOnly? Restricts);

/// <summary>A request for approval, as lists show it.</summary>
public sealed record ApprovalLine(
    Guid Id,
    ActionName Action,
    string ActionLabel,
    long Site,
    string Title,
    PersonResponse By,
    string Because,
    string? Reason,
    DateTimeOffset RequestedAt,
    DateOnly Through,
    bool MayAnswer
);

/// <summary>A change that the host refused, that failed for good, or that a later sync contradicts.</summary>
/// <param name="HostMessage">What the host answered; null if nothing.</param>
public sealed record ChangeNotDone(
    Guid HostChange,
    long Site,
    string Title,
    string Host,
    ChangePurpose Purpose,
    ChangeState State,
    PersonResponse By,
    string? HostMessage,
    DateTimeOffset RequestedAt
);

public sealed record OfferWaiting(
    Guid Id,
    long Site,
    string Title,
    PersonResponse To,
    PersonResponse? CurrentOwner,
    DateTimeOffset OfferedAt,
    DateOnly Through,
    int DaysLeft
);

/// <summary>A question that an administrator decides: an owner answered that it is not theirs or needs an exception.</summary>
public sealed record QuestionToDecide(long Site, string Title, RuleResponse Rule, QuestionResponse Question);

/// <summary>A decision that waits until the end of a day, or until it concerns another site.</summary>
public sealed record PutOffGroup(GroupResponse Group, DateOnly Through, string Reason, PersonResponse By);

/// <summary>What became of findings since the day on which the viewer last looked at the desk, that day included.</summary>
public sealed record SinceVisit(DateOnly Day, int Opened, int Cleared, int Excepted);

/// <param name="Today">The day in the organisation's time zone.</param>
/// <param name="Findings">The number of critical findings and warnings in the groups.</param>
/// <param name="Notes">The number of findings that are notes.</param>
/// <param name="Since">Null on the first day, and for those who do not see the whole register.</param>
/// <param name="NotDone">Changes of the last two weeks that did not become so, where nothing was asked since.</param>
/// <param name="MovedRecently">Sites that owners, or people at a host, recently moved to the attic.</param>
public sealed record DeskResponse(
    DateOnly Today,
    int Sites,
    int Findings,
    int Notes,
    SinceVisit? Since,
    IReadOnlyList<GroupResponse> Groups,
    IReadOnlyList<TogetherResponse> Together,
    IReadOnlyList<ApprovalLine> Approvals,
    IReadOnlyList<OfferWaiting> Offers,
    IReadOnlyList<AtticEntryResponse> MovedRecently,
    IReadOnlyList<ChangeNotDone> NotDone,
    IReadOnlyList<QuestionToDecide> Questions,
    IReadOnlyList<PutOffGroup> PutOff
);
