using AtticLedger.Server.Contracts;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;

namespace AtticLedger.Server.People;

/// <summary>The plan of an import of people.</summary>
/// <param name="People">The number of people in the list.</param>
/// <param name="New">The number of new people; <paramref name="Changed"/>, <paramref name="Same"/> and
/// <paramref name="Refusals"/>: changed, unchanged and refused ones.</param>
/// <param name="Sites">The number of sites affected, by their access or their owners.</param>
/// <param name="Rules">The findings that would appear or disappear, by rule.</param>
/// <param name="NotUnderstood">The number of cells not understood; they change nothing.</param>
/// <param name="Problems">The first faults: refused lines before cells.</param>
public sealed record PeoplePlanResponse(
    string Fingerprint,
    int People,
    int New,
    int Changed,
    int Same,
    int Refusals,
    int Sites,
    IReadOnlyList<RuleMove> Rules,
    int NotUnderstood,
    IReadOnlyList<string> Problems,
    ListMappingResponse Reading
);

/// <summary>A list of people that was imported.</summary>
/// <param name="People">The number of people it changed or added.</param>
/// <param name="MayUndo">True if it can be undone: only the latest import can, once.</param>
public sealed record PeopleImportResponse(
    long Id,
    DateTimeOffset ImportedAt,
    PersonResponse By,
    int People,
    DateTimeOffset? UndoneAt,
    bool MayUndo
);
