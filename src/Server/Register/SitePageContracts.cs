using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Attic;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Register;

/// <summary>Set, effective or allowed access of one power, in words: inside and outside, with the people inside counted and the
/// guests of named doors.</summary>
public sealed record AccessResponse(
    Bounds Inside,
    Bounds Outside,
    string InsideLabels,
    string OutsideLabels,
    int PeopleAtLeast,
    int PeopleAtMost,
    int Guests
);

/// <param name="InsideLabels">What the layer allows inside; null if it could not be read.</param>
/// <param name="Limits">The axes on which it limits the access that is set.</param>
/// <param name="MayLimit">The axes on which it may limit it.</param>
/// <param name="Behind">What this layer alone leaves of the access that is set.</param>
public sealed record StepResponse(
    LayerKind Kind,
    string Name,
    Enforcer Enforcer,
    string? InsideLabels,
    string? OutsideLabels,
    string? SignInLabels,
    IReadOnlyList<string> Limits,
    IReadOnlyList<string> MayLimit,
    AccessResponse Behind
);

public sealed record AccessPathResponse(
    Power Power,
    AccessResponse Set,
    IReadOnlyList<StepResponse> Steps,
    AccessResponse Effective,
    AccessResponse Allowed,
    Truth Exceeds,
    Truth ExceedsInside,
    Truth ExceedsOutside
);

/// <param name="IsGone">True if the owner cannot act: has left, is from outside, or is a service account.</param>
/// <param name="HasLeft">True if the owner has left.</param>
public sealed record SiteOwnerResponse(
    PersonResponse Person,
    bool IsActive,
    bool IsGone,
    bool HasLeft,
    string Note,
    string? Through
);

/// <param name="Person">The person who is named; <paramref name="Group"/>: the group; null for everything else.</param>
/// <param name="HasLeft">True if the person has left.</param>
public sealed record GrantResponse(
    string Who,
    Power Power,
    string Detail,
    bool IsOutside,
    long? Person,
    long? Group,
    bool HasLeft
);

/// <param name="CanUndo">True if the change can be undone in its state.</param>
/// <param name="Fields">What becomes different of how the site presents itself.</param>
/// <param name="With">The assignee, if the host has no connector that writes.</param>
public sealed record HostChangeResponse(
    Guid Id,
    ChangeState State,
    bool IsOverdue,
    IReadOnlyList<GrantChangeResponse> Changes,
    PersonResponse By,
    string? Reason,
    DateTimeOffset RequestedAt,
    DateTimeOffset? SentAt,
    DateTimeOffset? ConfirmedAt,
    DateTimeOffset? SeenAt,
    DateTimeOffset DueAt,
    DateTimeOffset NextTry,
    int Attempts,
    string? Words,
    Guid? UndoOf,
    bool CanUndo,
    ChangePurpose Purpose,
    PersonResponse? With,
    IReadOnlyList<FieldChangeResponse> Fields
);

/// <summary>A parent or child site.</summary>
public sealed record Related(long Id, string Title, string? Address, Existence Existence, int? Pages, long? Bytes);

/// <summary>What a site consists of, beside its facts in <c>Facts</c>.</summary>
/// <param name="Parent">The parent site; null if there is none in the viewer's scope.</param>
/// <param name="HasParent">True if there is a parent, in the viewer's scope or not; null if unknown.</param>
/// <param name="Children">The child sites in the viewer's scope.</param>
/// <param name="HiddenChildren">The number of others.</param>
/// <param name="Owed">What outsiders can still claim from the site, such as goods not delivered, a sentence each.</param>
/// <param name="Says">The optional facts that this host reports: screens omit the others.</param>
public sealed record ContentResponse(
    Related? Parent,
    bool? HasParent,
    IReadOnlyList<Related> Children,
    int HiddenChildren,
    IReadOnlyList<PersonResponse> Editing,
    SitePlanResponse? Plan,
    IReadOnlyList<string> Owed,
    IReadOnlyList<SignalResponse> Signals,
    IReadOnlyList<Section> Sections,
    JoiningResponse? Joining,
    IReadOnlyList<SharedPiece> Shared,
    IReadOnlyList<OptionalFact> Says
);

/// <summary>Facts that few hosts report.</summary>
public enum OptionalFact
{
    Plan,
    Owed,
    Signals,
    Sections,
    Joining,
    Shared,
}

/// <param name="Waiting">The number of requests to join that wait; <paramref name="Since"/>: when the first was made.</param>
/// <param name="NobodyAnswers">True if no active owner can answer.</param>
/// <param name="Members">The power of those who have joined; null if not reported.</param>
public sealed record JoiningResponse(JoinWay Way, int Waiting, DateTimeOffset? Since, bool NobodyAnswers, Power? Members);

/// <param name="Count">The number of other sites that show it.</param>
/// <param name="In">The names at the host; only for viewers who see everything.</param>
public sealed record SharedPiece(string What, int Count, IReadOnlyList<string> In);

/// <summary>A section of a site with its own access settings.</summary>
/// <param name="View">Who can effectively view it.</param>
/// <param name="IsAjar">True if it admits somebody whom its site does not.</param>
public sealed record Section(string Name, SectionTie Tie, AccessResponse View, Truth IsAjar);

/// <param name="Cost">"96.00 EUR a year".</param>
/// <param name="Next">The next step, as a sentence without full stop.</param>
/// <param name="Sites">The number of sites on the plan.</param>
public sealed record SitePlanResponse(string Name, string Cost, string Next, DateOnly Through, bool Renews, int Sites);

/// <param name="Evidence">Where it was seen.</param>
public sealed record SignalResponse(string Kind, string Evidence);

/// <summary>The other names of a site (null if unknown), and which of them differ in meaning from the stored name.</summary>
public sealed record SiteNames(string? Shown, string? Home, IReadOnlyList<VisibleName> Drift);

/// <summary>A fact with its source and the instant since which it is known.</summary>
public sealed record FactSource(string Fact, string Source, DateTimeOffset At);

/// <param name="IsExcepted">True if an exception covers it: while in force, it is no finding.</param>
/// <param name="Remedies">The actions that help, in the order to do them.</param>
/// <param name="Clears">True if the site no longer breaks the rule after all of them; null if it does not break it now.</param>
/// <param name="Left">What they leave, and who can change it.</param>
/// <param name="Exceptions">The exceptions in force, including those that no longer cover the current facts.</param>
/// <param name="Question">The question to its owners; null if they were not asked.</param>
public sealed record Explained(
    FindingResponse Finding,
    string Headline,
    string Detail,
    bool IsExcepted,
    IReadOnlyList<Remedy> Remedies,
    bool? Clears,
    IReadOnlyList<string> Left,
    IReadOnlyList<ExceptionInForce> Exceptions,
    QuestionResponse? Question
);

/// <summary>A fact claimed by more sources than the host.</summary>
/// <param name="IsDisputed">True if a source has claimed a different value since the last decision.</param>
/// <param name="MayDecide">True if the viewer can decide it.</param>
public sealed record FactClaim(ClaimedFact Fact, bool IsDisputed, bool MayDecide, IReadOnlyList<ClaimResponse> Claims);

/// <param name="Source">The host or list; null for a fact set in the product.</param>
/// <param name="Value">The code of the value; null if the source claims that there is none.</param>
/// <param name="Since">Since when the source has claimed this value.</param>
/// <param name="Stands">True if the register uses this claim.</param>
public sealed record ClaimResponse(
    string? Source,
    string? Value,
    string Words,
    DateTimeOffset Since,
    PersonResponse? By,
    bool Stands
);

/// <param name="Remedy">The widest access that policy allows; null if a layer is unknown.</param>
/// <param name="NoHandOver">Why the site cannot be handed over from here, and what to do instead; null if it can.</param>
/// <param name="Tags">Null if no other source has claimed anything.</param>
/// <param name="Front">Where visitors find the published site.</param>
public sealed record SitePage(
    RegisterRowResponse Line,
    string? Classification,
    string? Kind,
    DateTimeOffset? Created,
    DateTimeOffset? LastVisit,
    int? Visits,
    IReadOnlyList<UnknownFact> Unknowns,
    IReadOnlyList<UnitResponse> Units,
    IReadOnlyList<AccessPathResponse> AccessPaths,
    IReadOnlyList<SiteOwnerResponse> SiteOwners,
    IReadOnlyList<GrantResponse> Grants,
    IReadOnlyList<Explained> Findings,
    bool MayException,
    IReadOnlyList<HostChangeResponse> HostChanges,
    Limits? Remedy,
    RemarkResponse? NoHandOver,
    bool MayAct,
    string? Front,
    DateTimeOffset SeenAt,
    bool NoLongerReported,
    Existence Existence,
    IReadOnlyList<HoldResponse> Holds,
    ContentResponse Content,
    IReadOnlyList<FactSource> Sources,
    string? Purpose,
    IReadOnlyList<FactClaim> Claims,
    SiteTags? Tags,
    SiteNames Names,
    string? Language,
    IReadOnlyList<FactResponse> Facts
);

/// <param name="Approved">Tags that are mapped to a term, by name.</param>
/// <param name="Loose">Tags that are not mapped to a term.</param>
public sealed record SiteTags(IReadOnlyList<string> Approved, IReadOnlyList<string> Loose);
