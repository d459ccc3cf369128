using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>What a link in a letter leads to. It acts once, after signing in, for the account it was sent to.</summary>
public enum LinkPurpose : byte
{
    /// <summary>Choosing a first password, or another one: the link itself is the proof.</summary>
    Password,

    /// <summary>Answering the offer of a key.</summary>
    Offer,

    /// <summary>Stopping one's own deletion of a site.</summary>
    Stop,

    /// <summary>Looking at one's own sites; nothing to act on.</summary>
    Yours,

    /// <summary>Looking at an order by hand; what is done there is done on its page.</summary>
    ByHand,
}

/// <param name="Subject">The offer's id or the site's, as text.</param>
/// <param name="Until">The first instant at which it no longer leads anywhere.</param>
public sealed record LetterLink(LinkPurpose Purpose, string Subject, DateTimeOffset Until, string Label);

/// <summary>
/// A text for one person. Texts are collected: what is not urgent waits for the person's mail of the morning, or goes with
/// the next urgent one.
/// </summary>
/// <param name="Key">The same text is not written twice under one key to one person.</param>
public sealed record Letter(
    PersonId To,
    string Key,
    string Title,
    IReadOnlyList<string> Sentences,
    bool Urgent = false,
    LetterLink? Link = null
);
