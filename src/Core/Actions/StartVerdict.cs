using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The facts on which a request to start a site is judged.</summary>
public sealed record StartFacts(Organisation Organisation, RuleBook Rules, PeopleDirectory PeopleDirectory)
{
    /// <summary>The addresses on the host that was asked about, by the part that is a site's own; null if nobody else is asked about
    /// them.</summary>
    public AddressBook? Addresses { get; init; }

    /// <summary>True if a site or a request has the mail alias.</summary>
    public bool IsAliasHeld { get; init; }

    /// <summary>The sites in the viewer's scope: of others they learn only that they hold an address.</summary>
    public Func<SiteId, bool> Sees { get; init; } = _ => true;

    public DateTimeOffset Now => PeopleDirectory.Now;
}

/// <summary>A field of the request.</summary>
public enum StartField : byte
{
    Kind,
    Name,
    Address,
    Alias,
    Unit,
    Purpose,
    Classification,
    Tags,
    Language,
    Description,
    ContentNotice,
    Ends,
    Owners,
    Editors,
    Reach,
}

/// <summary>What is said about one field.</summary>
public sealed record FieldRemark(StartField Field, Remark Remark);

/// <summary>What becomes of a request.</summary>
public enum Granting : byte
{
    AtOnce,

    /// <summary>At once, with less reach than asked for.</summary>
    WithChanges,

    /// <summary>An administrator decides.</summary>
    ByAdministrator,
    NotAllowed,
}

/// <summary>The verdict on a request as it is filled in.</summary>
/// <param name="Refusals">Why it is not allowed; empty if it is.</param>
/// <param name="Because">Why an administrator has to decide.</param>
/// <param name="Changes">What is granted otherwise than asked.</param>
/// <param name="Advice">What else to know.</param>
/// <param name="Grants">The access that is granted.</param>
/// <param name="Site">The site that it would be once published; null without a kind.</param>
public sealed record StartVerdict(
    IReadOnlyList<FieldRemark> Refusals,
    IReadOnlyList<FieldRemark> Because,
    IReadOnlyList<FieldRemark> Changes,
    IReadOnlyList<FieldRemark> Advice,
    IReadOnlyList<Grant> Grants,
    ComputedSite? Site
)
{
    /// <param name="grants">True for somebody who may grant it: what needs an administrator is theirs to decide.</param>
    public Granting Granting(bool grants) =>
        Refusals.Count > 0 ? Actions.Granting.NotAllowed
        : Because.Count > 0 && !grants ? Actions.Granting.ByAdministrator
        : Changes.Count > 0 ? Actions.Granting.WithChanges
        : Actions.Granting.AtOnce;
}
