using AtticLedger.Core.Deeds;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Attic;
using AtticLedger.Server.Deeds;

namespace AtticLedger.Server.Register;

/// <summary>One end of a passage: what is so, in words of both parts, with people inside counted and guests behind named doors.</summary>
public sealed record AccessWire(BoundsWire Inside, BoundsWire Outside, string InsideWords, string OutsideWords, int PeopleAtLeast, int PeopleAtMost, int Guests);

/// <param name="InsideWords">What the layer caps inside; null where nobody could read it.</param>
/// <param name="Binds">The axes on which it refuses something asked.</param>
/// <param name="MayBind">The axes on which it possibly does.</param>
/// <param name="Behind">What is left of what was asked, behind this layer alone.</param>
public sealed record StepWire(
    LayerKind Kind, string Name, Enforcer Enforcer, string? InsideWords, string? OutsideWords, string? ProofWords, IReadOnlyList<string> Binds, IReadOnlyList<string> MayBind, AccessWire Behind);

public sealed record PassageWire(Power Power, AccessWire Asked, IReadOnlyList<StepWire> Steps, AccessWire Actual, AccessWire Allowed, Truth Beyond, Truth BeyondInside, Truth BeyondOutside);

/// <param name="IsGone">Whether the holder cannot act: has left, is from outside, or is a service.</param>
public sealed record KeyHolderWire(PersonWire Person, bool IsFit, bool IsGone, string Note, string? Through);

public sealed record GrantWire(string Who, Power Power, string Detail, bool IsOutside);

/// <param name="CanUndo">Whether the state table has a way back from here.</param>
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
    OrderPurpose Purpose);

public sealed record ExplainedWire(FindingWire Finding, string Headline, string Detail);

/// <param name="Remedy">The widest that the house permits; null where a layer is unknown.</param>
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
    IReadOnlyList<OrderWire> Orders,
    LimitsWire? Remedy,
    bool MayAct,
    string? Front,
    DateTimeOffset SeenAt,
    bool Vanished,
    Existence Existence,
    IReadOnlyList<HoldWire> Holds);
