using AtticLedger.Core.Deeds;
using AtticLedger.Server.Deeds;

namespace AtticLedger.Server.Hands;

/// <summary>An order by hand in a list.</summary>
/// <param name="Wanted">What is to be so in the end, a sentence each.</param>
/// <param name="IsOverdue">Whether it is neither done nor refused although its last day is over.</param>
/// <param name="Returned">How often it came back although it was said to be done.</param>
public sealed record HandLineWire(
    Guid Order,
    string Title,
    string Host,
    OrderState State,
    OrderPurpose Purpose,
    IReadOnlyList<string> Wanted,
    PersonWire To,
    PersonWire By,
    DateOnly Through,
    bool IsOverdue,
    int Returned
);

/// <summary>An order that a person carries out, for whom it concerns.</summary>
/// <param name="Site">The site's id, for those who may see its folio.</param>
/// <param name="Steps">How to go about it, in order.</param>
/// <param name="Account">Which account at the host can.</param>
/// <param name="Words">What was last said of it: why it came back, or cannot be done.</param>
/// <param name="Proof">What whoever did it says of it.</param>
/// <param name="MayDo">Whether the viewer can say that it is done or cannot be.</param>
/// <param name="MayCheck">Whether the viewer can say that they looked; <paramref name="NoCheck"/> says why they cannot although it is done.</param>
public sealed record HandOrderWire(
    HandLineWire Line,
    long? Site,
    string? Address,
    string Key,
    string? Reason,
    DateTimeOffset AskedAt,
    DateTimeOffset GivenAt,
    IReadOnlyList<string> Steps,
    string Account,
    string Support,
    string? Words,
    PersonWire? DoneBy,
    DateTimeOffset? DoneAt,
    string? Proof,
    bool HasPicture,
    PersonWire? CheckedBy,
    DateTimeOffset? SeenAt,
    bool MayDo,
    bool MayCheck,
    string? NoCheck,
    bool MayHandOn,
    bool MayCallBack
);

/// <param name="Proof">What was done and how it can be seen.</param>
public sealed record HandDoneWire(string? Proof = null);

/// <param name="Words">Why it cannot be done, or why it is called back; needed for the former.</param>
public sealed record HandWordsWire(string? Words = null);

/// <param name="Words">What was found; needed where it is not so.</param>
public sealed record HandCheckWire(bool IsSo, string? Words = null);

/// <param name="To">A mail address.</param>
public sealed record HandOnWire(string To);
