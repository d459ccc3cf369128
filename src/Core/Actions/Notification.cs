using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The purpose of a link in a mail. The link acts once, after sign-in, for the account that received it.</summary>
public enum LinkPurpose : byte
{
    /// <summary>Chooses a password; the link itself is the proof of identity.</summary>
    Password,

    /// <summary>Answers an offer of ownership.</summary>
    Offer,

    /// <summary>Stops one's own deletion of a site.</summary>
    Stop,

    /// <summary>Opens one's own sites; without an action.</summary>
    Yours,

    /// <summary>Opens a manual task; its page has the actions.</summary>
    ManualTask,
}

/// <param name="Subject">The id of the offer or the site, as text.</param>
/// <param name="Until">The first instant at which it is no longer valid.</param>
public sealed record NotificationLink(LinkPurpose Purpose, string Subject, DateTimeOffset Until, string Label);

/// <summary>A notification for one person. Notifications are collected: one that is not urgent waits for the morning's mail or
/// goes with the next urgent one.
/// </summary>
/// <param name="Key">A person gets no second notification with the same key.</param>
public sealed record Notification(
    PersonId To,
    string Key,
    string Title,
    IReadOnlyList<string> Sentences,
    bool Urgent = false,
    NotificationLink? Link = null
);
