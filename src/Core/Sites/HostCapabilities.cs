using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>What happens to a site that is deleted at its host.</summary>
public enum Deletion : byte
{
    /// <summary>It stays in the host's bin for a while.</summary>
    ToBin,

    /// <summary>It is erased at once. Here the product keeps the dates: the site is shut and stays where it is until it is
    /// erased.</summary>
    ForGood,
}

/// <summary>A part of how a site presents itself.</summary>
public enum LookField : byte
{
    Name,
    Description,
    Logo,
    Address,
}

/// <summary>The capabilities of a host, as its connector declares them: actions, screens and change queues depend on them and
/// never on a host's name.
/// </summary>
public sealed record HostCapabilities
{
    public static HostCapabilities Unheard { get; } = new();

    public Deletion Deletes { get; init; }

    /// <summary>The number of days its bin keeps deleted sites, if known.</summary>
    public int? BinDays { get; init; }

    /// <summary>The number of days for which it keeps earlier states of a site; 0 if it keeps none, null if not
    /// reported.</summary>
    public int? StateDays { get; init; }

    /// <summary>True if it recognises a repeated change. If not, the site is read before a change is tried again.
    /// </summary>
    public bool KnowsRepeats { get; init; }

    /// <summary>True if it reports what changed since the last sync, so that not everything has to be read.</summary>
    public bool TellsChanges { get; init; }

    /// <summary>True if single people can be admitted by name; otherwise only through groups of the host.</summary>
    public bool NamesPeople { get; init; } = true;

    /// <summary>True if it invites a guest who is granted access by a mail address that it does not know.</summary>
    public bool InvitesGuests { get; init; }

    /// <summary>The powers it can grant; a power in between is replaced by the next weaker one.</summary>
    public ValueList<Power> Powers { get; init; } = [.. Enum.GetValues<Power>()];

    /// <summary>How long its lists may omit a deleted site, in use and in the bin: that alone does not make a site "no longer
    /// reported".</summary>
    public TimeSpan ListLag { get; init; }

    /// <summary>True if sites can be made there from here; otherwise a person makes them.</summary>
    public bool MakesSites { get; init; }

    /// <summary>What of a site's look can be changed there from here.</summary>
    public ValueList<LookField> Changes { get; init; } = [];

    /// <summary>Where a logo that is set from here can be.</summary>
    public ValueList<LogoSource> Logos { get; init; } = [];

    /// <summary>The greatest number of days for which it forwards a former address; 0 if it does not.</summary>
    public int ForwardDays { get; init; }

    /// <summary>True if two sites can exchange their addresses in one change.</summary>
    public bool SwapsAddresses { get; init; }

    /// <summary>The manual procedure, if it has no connector; otherwise null.</summary>
    public ManualProcedure? ManualProcedure { get; init; }

    /// <summary>Peculiarities that readers of the register have to know, one sentence each.</summary>
    public ValueList<string> Notes { get; init; } = [];

    /// <summary>True if a part of a site's look can be changed, by its connector or by hand.</summary>
    public bool CanChange(LookField field) => ManualProcedure is not null || Changes.Contains(field);

    public bool AtticIsOurs => Deletes == Deletion.ForGood;
}
