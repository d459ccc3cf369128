using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Register;

/// <summary>
/// Three cells inside and three outside: how far a power reaches in fact, and how far the house allows. Where the
/// bounds differ nobody can tell more; allowed is null where a layer is unknown.
/// </summary>
/// <param name="Inside">0 nobody, 1 named, 2 unit, 3 staff.</param>
/// <param name="Outside">0 no one, 1 named guests, 2 partners, 3 passers-by.</param>
public sealed record ReachWire(BoundsWire Inside, BoundsWire Outside, int? AllowedInside, int? AllowedOutside, string Words);

public sealed record BoundsWire(int AtLeast, int AtMost);

public sealed record FindingWire(string Rule, string Title, string Short, Level Level, bool CannotTell, DateTimeOffset? Since);

public sealed record UnitWire(string Code, string Name);

/// <param name="Live">Null for a site that was never live.</param>
/// <param name="KeyHolders">The first one, and how many more.</param>
/// <param name="KeyNote">What is wrong with the keys, in a few words, or null.</param>
/// <param name="Cells">The attributes that were asked for besides, in words, in the order in which they were named.</param>
/// <param name="UnderWay">How many orders the host has not confirmed yet.</param>
/// <param name="Fault">Why nothing can be computed of the site; null where all can.</param>
public sealed record LineWire(
    long Id,
    string Title,
    string? Address,
    string Host,
    string? Fault,
    UnitWire? Unit,
    Stage? Stage,
    ReachWire Working,
    ReachWire? Live,
    string KeyHolders,
    string? KeyNote,
    DateTimeOffset? LastEdit,
    IReadOnlyList<FindingWire> Findings,
    int UnderWay,
    IReadOnlyList<string> Cells
);

public sealed record CountWire(string Key, string Words, int Count);

/// <param name="Total">How many sites hold for the filter.</param>
/// <param name="CannotTell">Of how many it cannot be told: a fact is not known.</param>
/// <param name="Whole">How many sites in use the viewer may see at all; those in the attic are listed where the sentence speaks of it.</param>
/// <param name="Units">What each unit would leave; likewise reaches, rules and stages: each counted without its own part of the sentence.</param>
/// <param name="Clauses">What each clause says, in words.</param>
/// <param name="Coverage">Facts that the sentence speaks of and that are not known of some of the sites it is about.</param>
public sealed record RegisterWire(
    IReadOnlyList<LineWire> Lines,
    int Total,
    int CannotTell,
    int Whole,
    IReadOnlyList<CountWire> Units,
    IReadOnlyList<CountWire> Reaches,
    IReadOnlyList<CountWire> Rules,
    IReadOnlyList<CountWire> Stages,
    IReadOnlyList<string> Clauses,
    IReadOnlyList<ColumnWire> Columns,
    IReadOnlyList<CoverageWire> Coverage,
    string Filter
);

/// <summary>A column that was asked for besides those that are always there.</summary>
public sealed record ColumnWire(string Name, string Words);

/// <summary>A fact that the sentence speaks of and that nobody said of so many sites.</summary>
public sealed record CoverageWire(string Attribute, string Words, int Unknown);

/// <summary>What a part of the sentence could say of an attribute.</summary>
/// <param name="Values">The most frequent, over what the other parts leave.</param>
/// <param name="More">How many values are not listed; a part of the text finds them.</param>
/// <param name="None">Of how many lines it is none.</param>
/// <param name="Unknown">Of how many nobody could say.</param>
public sealed record ChoicesWire(AttributeWire Attribute, IReadOnlyList<CountWire> Values, int More, int None, int Unknown);

/// <param name="Place">Counted from 0, or null where the site is not in the list.</param>
public sealed record PlaceWire(int? Place);

/// <param name="Sites">Ids of sites, in the order of the list.</param>
public sealed record RangeWire(IReadOnlyList<long> Sites);

/// <summary>What is wrong with a sentence, and where.</summary>
/// <param name="Part">filter for what is written by hand; where, sort, show, reach or stage for the other parts.</param>
/// <param name="Column">Counted from 1, within what is written by hand.</param>
public sealed record FilterProblemWire(string Part, int Column, string Message);
