using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>What becomes of a site that is deleted at its host.</summary>
public enum Deletion : byte
{
    /// <summary>It lies in the host's bin for a while.</summary>
    ToBin,

    /// <summary>It is gone at once. There the attic is ours: the site is shut and stays where it is until it is cleared out.</summary>
    ForGood,
}

/// <summary>
/// What a host can do and how it behaves, as its adapter says: deeds, screens and lanes go by it and by no host's name.
/// </summary>
public sealed record HostHabits
{
    public static HostHabits Unheard { get; } = new();

    public Deletion Deletes { get; init; }

    /// <summary>How many days its bin keeps what is deleted, where it has one and says so.</summary>
    public int? BinDays { get; init; }

    /// <summary>For how many days back it keeps earlier states of a site; 0 where it keeps none, null where it does not say.</summary>
    public int? StateDays { get; init; }

    /// <summary>
    /// Whether it knows an order that comes a second time. Where it does not, the site is read back before an order is
    /// tried again.
    /// </summary>
    public bool KnowsRepeats { get; init; }

    /// <summary>Whether it can be asked for what changed since the last time, so that not all of it has to be read.</summary>
    public bool TellsChanges { get; init; }

    /// <summary>Whether single people can be let in by name; otherwise only through groups that the host keeps.</summary>
    public bool NamesPeople { get; init; } = true;

    /// <summary>Which powers it can grant; one in between is asked for as the next weaker.</summary>
    public IReadOnlyList<Power> Powers { get; init; } = Enum.GetValues<Power>();

    /// <summary>For how long its lists may not show what was deleted, neither in use nor in the bin: no site vanishes by that.</summary>
    public TimeSpan ListLag { get; init; }

    /// <summary>Where people are its reader and its writer: how they are to go about it. Null where an adapter is.</summary>
    public HandKept? ByHand { get; init; }

    /// <summary>Peculiarities that whoever reads the register has to know, a sentence each.</summary>
    public IReadOnlyList<string> Notes { get; init; } = [];

    public bool AtticIsOurs => Deletes == Deletion.ForGood;

    public bool Equals(HostHabits? other) =>
        other is not null
        && Deletes == other.Deletes
        && BinDays == other.BinDays
        && StateDays == other.StateDays
        && KnowsRepeats == other.KnowsRepeats
        && TellsChanges == other.TellsChanges
        && NamesPeople == other.NamesPeople
        && ListLag == other.ListLag
        && ByHand == other.ByHand
        && Powers.SequenceEqual(other.Powers)
        && Notes.SequenceEqual(other.Notes);

    public override int GetHashCode() => HashCode.Combine(Deletes, BinDays, KnowsRepeats, NamesPeople, ListLag, Notes.Count);
}
