using AtticLedger.Core.Deeds;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Attic;
using AtticLedger.Server.Deeds;

namespace AtticLedger.Server.Register;

/// <summary>One end of a passage: what is so, in words of both parts, with people inside counted and guests behind named doors.</summary>
public sealed record AccessWire(
    BoundsWire Inside,
    BoundsWire Outside,
    string InsideWords,
    string OutsideWords,
    int PeopleAtLeast,
    int PeopleAtMost,
    int Guests
);

/// <param name="InsideWords">What the layer caps inside; null where nobody could read it.</param>
/// <param name="Binds">The axes on which it refuses something asked.</param>
/// <param name="MayBind">The axes on which it possibly does.</param>
/// <param name="Behind">What is left of what was asked, behind this layer alone.</param>
public sealed record StepWire(
    LayerKind Kind,
    string Name,
    Enforcer Enforcer,
    string? InsideWords,
    string? OutsideWords,
    string? ProofWords,
    IReadOnlyList<string> Binds,
    IReadOnlyList<string> MayBind,
    AccessWire Behind
);

public sealed record PassageWire(
    Power Power,
    AccessWire Asked,
    IReadOnlyList<StepWire> Steps,
    AccessWire Actual,
    AccessWire Allowed,
    Truth Beyond,
    Truth BeyondInside,
    Truth BeyondOutside
);

/// <param name="IsGone">Whether the holder cannot act: has left, is from outside, or is a service.</param>
public sealed record KeyHolderWire(PersonWire Person, bool IsFit, bool IsGone, string Note, string? Through);

public sealed record GrantWire(string Who, Power Power, string Detail, bool IsOutside);

/// <param name="CanUndo">Whether the state table has a way back from here.</param>
/// <param name="With">The person who has it to carry out, where its host has no writer.</param>
public sealed record OrderWire(
    Guid Id,
    OrderState State,
    bool IsOverdue,
    IReadOnlyList<GrantChangeWire> Changes,
    PersonWire By,
    string? Reason,
    DateTimeOffset AskedAt,
    DateTimeOffset? SentAt,
    DateTimeOffset? ConfirmedAt,
    DateTimeOffset? SeenAt,
    DateTimeOffset DueAt,
    DateTimeOffset NextTry,
    int Attempts,
    string? Words,
    Guid? UndoOf,
    bool CanUndo,
    OrderPurpose Purpose,
    PersonWire? With
);

/// <summary>A site that stands above or below another.</summary>
public sealed record RelatedWire(long Id, string Title, string? Address, Existence Existence, int? Pages, long? Bytes);

/// <summary>What a site consists of. Null where it is not known, unless <c>Unknowns</c> does not name it: then it is none.</summary>
/// <param name="Parent">The site above it; null where there is none, or none that the viewer may see.</param>
/// <param name="HasParent">Whether there is one, seen or not; null where it is not known.</param>
/// <param name="Children">The sites below it that the viewer may see.</param>
/// <param name="HiddenChildren">How many others there are.</param>
/// <param name="Owed">What somebody outside can still claim, a sentence each.</param>
/// <param name="Says">Which of the facts that few hosts speak of this one does: screens leave out the others.</param>
public sealed record ContentWire(
    int? Pages,
    long? Bytes,
    IReadOnlyList<string> Domains,
    RelatedWire? Parent,
    bool? HasParent,
    IReadOnlyList<RelatedWire> Children,
    int HiddenChildren,
    IReadOnlyList<PersonWire> Editing,
    SitePlanWire? Plan,
    string? MailAlias,
    IReadOnlyList<string> Owed,
    int? Records,
    IReadOnlyList<SignalWire> Signals,
    IReadOnlyList<SectionWire> Sections,
    JoiningWire? Joining,
    IReadOnlyList<SharedWire> Shared,
    IReadOnlyList<RarerFact> Says,
    IReadOnlyList<string> Unknowns
);

/// <summary>Facts that few hosts speak of.</summary>
public enum RarerFact
{
    Plan,
    MailAlias,
    Owed,
    Records,
    Signals,
    Sections,
    Joining,
    Shared,
}

/// <param name="Waiting">How many wait for an answer, and <paramref name="Since"/> when the first of them does.</param>
/// <param name="NobodyAnswers">Whether there is no fit owner who could.</param>
/// <param name="Members">What somebody may do who has joined; null where the host does not say.</param>
public sealed record JoiningWire(JoinWay Way, int Waiting, DateTimeOffset? Since, bool NobodyAnswers, Power? Members);

/// <param name="Count">In how many other sites it stands.</param>
/// <param name="In">How they are called at the host; told to those who see everything.</param>
public sealed record SharedWire(string What, int Count, IReadOnlyList<string> In);

/// <summary>A part of a site with permissions of its own.</summary>
/// <param name="View">Who can view it in fact.</param>
/// <param name="IsAjar">Whether it lets in somebody whom its site does not.</param>
public sealed record SectionWire(string Name, PartTie Tie, AccessWire View, Truth IsAjar);

/// <param name="Cost">"96.00 EUR a year".</param>
/// <param name="Next">What comes next, as a sentence without its full stop.</param>
/// <param name="Sites">How many sites are on it.</param>
public sealed record SitePlanWire(string Name, string Cost, string Next, DateOnly Through, bool Renews, int Sites);

/// <param name="Evidence">Where it was seen.</param>
public sealed record SignalWire(string Kind, string Evidence);

/// <summary>What a site is called beside its stored name, null where nobody said; and which of these names say something else than that.</summary>
public sealed record NamesWire(string? Shown, string? Home, IReadOnlyList<MetName> Drift);

/// <summary>A fact with where it comes from and since when it is known.</summary>
public sealed record SourcedWire(string Fact, string Source, DateTimeOffset At);

/// <param name="IsExcused">Whether an excuse covers it: then it is no finding while that is in force.</param>
/// <param name="Excuses">The excuses in force, also those that no longer cover what is so.</param>
public sealed record ExplainedWire(
    FindingWire Finding,
    string Headline,
    string Detail,
    bool IsExcused,
    IReadOnlyList<ExcuseWire> Excuses
);

/// <summary>A fact that more than the host speaks of.</summary>
/// <param name="IsDisputed">Whether a source says something else than what stands, and said so after the last decision.</param>
/// <param name="MayDecide">Whether the viewer can decide it.</param>
public sealed record FactSaidWire(SaidFact Fact, bool IsDisputed, bool MayDecide, IReadOnlyList<StatementWire> Statements);

/// <param name="Source">A host or a list; null for what was decided here.</param>
/// <param name="Value">Its code; null where it says that there is none.</param>
/// <param name="Since">Since when it has said just this.</param>
/// <param name="Stands">Whether this is what the register goes by.</param>
public sealed record StatementWire(
    string? Source,
    string? Value,
    string Words,
    DateTimeOffset Since,
    PersonWire? By,
    bool Stands
);

/// <param name="Remedy">The widest that the house permits; null where a layer is unknown.</param>
/// <param name="NoHandOver">Why its host cannot have a key handed over from here, and what to do instead; null where it can.</param>
/// <param name="Tags">Null where nobody has spoken of any.</param>
/// <param name="Front">Where visitors find the live copy.</param>
public sealed record FolioWire(
    LineWire Line,
    string? Class,
    string? Kind,
    DateTimeOffset? Created,
    DateTimeOffset? LastVisit,
    int? Visits,
    IReadOnlyList<string> Unknowns,
    IReadOnlyList<UnitWire> Units,
    IReadOnlyList<PassageWire> Passages,
    IReadOnlyList<KeyHolderWire> KeyHolders,
    IReadOnlyList<GrantWire> Grants,
    IReadOnlyList<ExplainedWire> Findings,
    bool MayExcuse,
    IReadOnlyList<OrderWire> Orders,
    LimitsWire? Remedy,
    string? NoHandOver,
    bool MayAct,
    string? Front,
    DateTimeOffset SeenAt,
    bool Vanished,
    Existence Existence,
    IReadOnlyList<HoldWire> Holds,
    ContentWire Content,
    IReadOnlyList<SourcedWire> Sources,
    string? Purpose,
    IReadOnlyList<FactSaidWire> Said,
    TagsWire? Tags,
    NamesWire Names,
    string? Description,
    string? Language
);

/// <param name="Approved">By their names.</param>
/// <param name="Loose">Words that mean no tag.</param>
public sealed record TagsWire(IReadOnlyList<string> Approved, IReadOnlyList<string> Loose);
