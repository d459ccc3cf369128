using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>A picture that shows what was done.</summary>
/// <param name="Type">Its media type: <c>image/png</c> or <c>image/jpeg</c>.</param>
public sealed record ProofPicture(string Type, byte[] Bytes);

/// <summary>
/// What an order by hand has beside the order itself: whom it was given to and how they are to go about it, as it was said
/// then; what they say of it; who looked. How far it has come is the order's own state.
/// </summary>
public sealed record HandOrder
{
    public const int LongestText = 2000;

    public required OrderId Order { get; init; }

    public required PersonId To { get; init; }

    public required DateTimeOffset GivenAt { get; init; }

    /// <summary>The last day on which it is done in time.</summary>
    public required DateOnly Through { get; init; }

    /// <summary>One a line, made for this site.</summary>
    public required IReadOnlyList<string> Steps { get; init; }

    public required string Account { get; init; }

    public required string Support { get; init; }

    /// <summary>Who said that it is done, or cannot be, and what they say of it.</summary>
    public PersonId? DoneBy { get; init; }

    public string? Proof { get; init; }

    public bool HasPicture { get; init; }

    /// <summary>The second person who looked; null where a list showed it, or nothing has yet.</summary>
    public PersonId? CheckedBy { get; init; }

    /// <summary>How often it came back although it was said to be done.</summary>
    public int Returned { get; init; }
}

/// <summary>What a step of an order by hand comes to.</summary>
/// <param name="Site">The line as it is now, where it changes.</param>
public sealed record HandStep(Order Order, HandOrder Hand, SiteFacts? Site, IReadOnlyList<Letter> Letters);
