using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>Who can start a site of a kind.</summary>
public enum StartedBy : byte
{
    /// <summary>Any member of staff, as far as the rules let it.</summary>
    Staff,

    /// <summary>Any member of staff asks, and an administrator grants.</summary>
    Request,

    /// <summary>Administrators only.</summary>
    Administrators,
}

/// <summary>The fixed parts of a whole address, around the part that is chosen: <c>pages.example/</c> before it and nothing after
/// it, for instance.</summary>
public sealed record AddressForm(string Before, string After)
{
    public string Whole(string own) => $"{Before}{own}{After}";

    /// <summary>The chosen part of a whole address; null if the address has another form.</summary>
    public string? Own(string whole) =>
        whole.Length > Before.Length + After.Length
        && whole.StartsWith(Before, StringComparison.Ordinal)
        && whole.EndsWith(After, StringComparison.Ordinal)
            ? whole[Before.Length..^After.Length]
            : null;
}

/// <summary>A kind of site that can be started, and what it implies.</summary>
/// <param name="Kind">The code of the kind.</param>
/// <param name="Host">Where sites of this kind are made.</param>
/// <param name="Describes">One sentence: what it is good for.</param>
/// <param name="MakesGroup">True if a group of its editors is made with the site, and removed with it.</param>
/// <param name="AliasDomain">The domain of its mail alias, if it gets one: <c>sites.example</c>.</param>
/// <param name="StarterPages">The titles of the pages that it begins with.</param>
public sealed record KindToStart(
    string Kind,
    string Host,
    string Describes,
    AddressForm Address,
    StartedBy StartedBy,
    bool MakesGroup,
    string? AliasDomain,
    ValueList<string> StarterPages
);

/// <summary>The reach of the published copy that a purpose expects. Somebody who wants more asks an administrator.</summary>
/// <param name="Purpose">The code of the purpose.</param>
public sealed record ExpectedReach(string Purpose, ViewReach Reach);

/// <summary>Who can view the published copy beside its owners and editors.</summary>
/// <param name="Inside">Nobody else and named people are the same here: nobody besides its owners and editors.</param>
/// <param name="SignIn">What visitors from outside need.</param>
public sealed record ViewReach(InsideLevel Inside, OutsideLevel Outside, VisitorSignIn SignIn)
{
    /// <summary>Owners and editors only.</summary>
    public static ViewReach Named { get; } = new(InsideLevel.Named, OutsideLevel.NoOne, VisitorSignIn.Account);

    /// <summary>True if it lets in nobody whom the other does not.</summary>
    public bool IsWithin(ViewReach other) =>
        (Inside <= other.Inside || (Inside <= InsideLevel.Named && other.Inside <= InsideLevel.Named))
        && Outside <= other.Outside
        && (Outside <= OutsideLevel.NamedGuests || SignIn >= other.SignIn);
}
