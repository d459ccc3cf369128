using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Contracts;

namespace AtticLedger.Server.Names;

/// <summary>One of two sites with near names.</summary>
/// <param name="Owners">The number of known owners.</param>
/// <param name="OwnersComplete">False if there can be others.</param>
/// <param name="Edited">The last edit; null if unknown or none.</param>
/// <param name="Visits">The visits in a week; null if unknown or none.</param>
public sealed record Twin(
    long Id,
    string Title,
    string? Address,
    string Host,
    UnitResponse? Unit,
    Existence Existence,
    int Owners,
    bool OwnersComplete,
    DateTimeOffset? Edited,
    int? Visits
);

/// <summary>Who said that both are right, and why.</summary>
public sealed record SaidBothRight(PersonResponse By, DateTimeOffset At, string? Reason);

/// <param name="Nearness">Same or near.</param>
/// <param name="Right">Null while the pair is not decided.</param>
public sealed record TwinRow(Twin One, Twin Other, Nearness Nearness, SaidBothRight? Right);

/// <param name="Open">The number of pairs about which nobody has decided.</param>
/// <param name="Right">The number of pairs that are both right.</param>
/// <param name="Rows">Of those asked for, a window: equal names first, then by title.</param>
public sealed record TwinsResponse(int Open, int Right, IReadOnlyList<TwinRow> Rows);

/// <param name="Reason">A few words for the journal; null for none.</param>
public sealed record BothRightRequest(long One, long Other, string? Reason);

public sealed record OpenTwinsAgainRequest(long One, long Other);

public sealed record TwinsDone(long Place);
