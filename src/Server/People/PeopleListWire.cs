using AtticLedger.Server.Deeds;
using AtticLedger.Server.FirstWeek;
using AtticLedger.Server.Sources;

namespace AtticLedger.Server.People;

/// <summary>What taking in a list of people would come to.</summary>
/// <param name="People">How many people it names.</param>
/// <param name="New">How many the register does not have yet; <paramref name="Changed"/>, <paramref name="Same"/> and <paramref name="Refusals"/> likewise.</param>
/// <param name="Sites">How many sites may feel it: by who is let in or who holds their keys.</param>
/// <param name="Rules">Which findings there would be more or fewer of.</param>
/// <param name="NotUnderstood">How many cells are not understood: nothing is said by them then.</param>
/// <param name="Problems">What is wrong, lines that are refused before cells; the first of it.</param>
public sealed record PeoplePlanWire(
    string Fingerprint,
    int People,
    int New,
    int Changed,
    int Same,
    int Refusals,
    int Sites,
    IReadOnlyList<RuleMoveWire> Rules,
    int NotUnderstood,
    IReadOnlyList<string> Problems,
    ListReadingWire Reading
);

/// <summary>A list of people that was taken in.</summary>
/// <param name="People">How many people it changed or brought.</param>
/// <param name="MayUndo">Whether it can be taken back: the latest one can, once.</param>
public sealed record PeopleTakingWire(
    long Id,
    DateTimeOffset TakenAt,
    PersonWire By,
    int People,
    DateTimeOffset? UndoneAt,
    bool MayUndo
);
