using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;

namespace AtticLedger.Server.Register;

/// <summary>Effective and allowed access of one power, inside and outside, on the scales of three cells. Where the bounds
/// differ, no more can be told; allowed is null if a layer is unknown.
/// </summary>
/// <param name="Inside">0 nobody, 1 named, 2 unit, 3 staff.</param>
/// <param name="Outside">0 no one, 1 named guests, 2 partners, 3 anonymous visitors.</param>
public sealed record ReachCell(Bounds Inside, Bounds Outside, int? AllowedInside, int? AllowedOutside, string Words);

public sealed record Bounds(int AtLeast, int AtMost);

public sealed record FindingResponse(
    string Rule,
    string Title,
    string Short,
    Level Level,
    bool CannotTell,
    DateTimeOffset? Since
);

/// <param name="Published">Null for a site that was never published.</param>
/// <param name="SiteOwners">The first one, and how many more.</param>
/// <param name="OwnerNote">What is wrong with its owners, in a few words; null if nothing is.</param>
/// <param name="Cells">The requested additional attributes in words, in the sequence requested.</param>
/// <param name="UnderWay">The number of changes that the host has not confirmed.</param>
/// <param name="Fault">Why the site cannot be computed; null if it can.</param>
public sealed record RegisterRowResponse(
    long Id,
    string Title,
    string? Address,
    string Host,
    string? Fault,
    UnitResponse? Unit,
    Status? Status,
    ReachCell Draft,
    ReachCell? Published,
    string SiteOwners,
    string? OwnerNote,
    DateTimeOffset? LastEdit,
    IReadOnlyList<FindingResponse> Findings,
    int UnderWay,
    IReadOnlyList<string> Cells
);

public sealed record ValueCount(string Key, string Words, int Count);

/// <param name="Total">The number of sites that match the filter.</param>
/// <param name="CannotTell">The number of sites for which the filter cannot tell, because a fact is unknown.</param>
/// <param name="Whole">The number of sites in use in the viewer's scope. Sites in the attic are listed only if the filter names
/// the attic.</param>
/// <param name="Units">The units with the number of sites that choosing each leaves; likewise reaches, rules and statuses. Each
/// is counted without its own filter.</param>
/// <param name="Clauses">Each clause in words.</param>
/// <param name="Coverage">Facts used in the filter that are unknown for some of the sites.</param>
public sealed record RegisterResponse(
    IReadOnlyList<RegisterRowResponse> Lines,
    int Total,
    int CannotTell,
    int Whole,
    IReadOnlyList<ValueCount> Units,
    IReadOnlyList<ValueCount> Reaches,
    IReadOnlyList<ValueCount> Rules,
    IReadOnlyList<ValueCount> Statuses,
    IReadOnlyList<string> Clauses,
    IReadOnlyList<ColumnResponse> Columns,
    IReadOnlyList<Coverage> Coverage,
    string Filter
);

/// <summary>A requested column in addition to the standard ones.</summary>
/// <param name="IsSortable">False for a list.</param>
public sealed record ColumnResponse(string Name, string Words, bool IsSortable);

/// <summary>A fact used in the filter, with the number of sites for which it is unknown.</summary>
public sealed record Coverage(string Attribute, string Words, int Unknown);

/// <summary>The values that a filter can choose for an attribute.</summary>
/// <param name="Values">The most frequent values among the sites that match the other filters.</param>
/// <param name="More">The number of values not listed; a search by a part of the text finds them.</param>
/// <param name="None">The number of sites for which it is none.</param>
/// <param name="Unknown">The number of sites for which it is unknown.</param>
public sealed record ChoicesResponse(
    AttributeResponse Attribute,
    IReadOnlyList<ValueCount> Values,
    int More,
    int None,
    int Unknown
);

/// <param name="Place">Counted from 0; null if the site is not in the list.</param>
public sealed record PlaceResponse(int? Place);

/// <param name="Sites">Ids of sites, in the sequence of the list.</param>
public sealed record SiteRange(IReadOnlyList<long> Sites);

/// <summary>What is wrong with a filter sentence, and where.</summary>
/// <param name="Part">`filter` for the typed expression; `where`, `sort`, `show`, `reach` or `status` for the other
/// parameters.</param>
/// <param name="Column">Counted from 1, within the typed expression.</param>
public sealed record FilterProblem(string Part, int Column, string Message);
