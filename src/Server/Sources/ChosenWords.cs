using System.Text.Json;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>The meanings chosen for words of a list, once for all its lines, now or with an earlier list.</summary>
/// <param name="Meanings">Each as the list could have written it.</param>
/// <param name="NewUnits">The units that the import adds because they were asked for.</param>
internal sealed record ChosenWords(IReadOnlyDictionary<ListWord, string> Meanings, IReadOnlyList<Unit> NewUnits)
{
    private const string NewUnit = "new:";

    /// <param name="chosen">"unit:word=meaning" each; an empty meaning for a word that is not to have one any more.</param>
    /// <param name="remembered">The value of <see cref="Remembered"/> for the last such list.</param>
    /// <exception cref="FormatException">A choice is not understood, or cannot be made; the message says what to do.</exception>
    public static ChosenWords Of(IReadOnlyCollection<string> chosen, string remembered, PeopleDirectory directory)
    {
        var meanings = JsonSerializer
            .Deserialize<Dictionary<string, string>>(remembered)!
            .ToDictionary(kept => WordOf(kept.Key), kept => kept.Value);
        var units = new List<Unit>();
        foreach (var choice in chosen)
        {
            // A word can contain the equals sign; a meaning cannot.
            var at = choice.LastIndexOf('=');
            var word = WordOf(at < 0 ? choice : choice[..at]);
            var meaning = at < 0 ? "" : choice[(at + 1)..].Trim();
            if (meaning.Length == 0)
            {
                meanings.Remove(word);
                continue;
            }

            meanings[word] = meaning.StartsWith(NewUnit, StringComparison.Ordinal)
                ? Added(word, meaning[NewUnit.Length..], directory, units)
                : meaning;
        }

        return new ChosenWords(meanings, units);
    }

    /// <summary>The choices to remember, as JSON.</summary>
    public string Remembered =>
        JsonSerializer.Serialize(Meanings.ToDictionary(pair => $"{pair.Key.Of}:{pair.Key.Text}", pair => pair.Value));

    /// <summary>The choices as a request gives them, to read the list again later.</summary>
    public string[] Written =>
        [
            .. Meanings.Select(pair =>
                $"{pair.Key.Of}:{pair.Key.Text}={(NewUnits.Any(unit => IsFor(unit, pair)) ? NewUnit : "")}{pair.Value}"
            ),
        ];

    /// <summary>A unit that it would add, whose code another unit has meanwhile.</summary>
    public async Task<Remark?> Taken(Npgsql.NpgsqlConnection connection)
    {
        var units = NewUnits.Count == 0 ? [] : await connection.Units();
        return units.Find(unit => NewUnits.Any(added => added.Code == unit.Code && added.Name != unit.Name)) is { } other
            ? new UnitCodeTaken(other.Code.Value, other.Name)
            : null;
    }

    /// <summary>Adds the units that were asked for.</summary>
    /// <returns>The entries for the journal.</returns>
    public async Task<IReadOnlyList<Draft>> AddUnits(Change change, EntryActor by)
    {
        foreach (var unit in NewUnits)
        {
            await change.SetUnit(unit.Code.Value, unit.Name, unit.Parent?.Value);
        }

        return
        [
            .. NewUnits.Select(unit => new Draft(JournalAction.UnitAdded, by, EntrySubject.Organisation)
            {
                After = JournalValue.Of(("unit", JournalValue.Of(unit.Code.Value)), ("name", JournalValue.Of(unit.Name))),
            }),
        ];
    }

    private static bool IsFor(Unit unit, KeyValuePair<ListWord, string> pair) =>
        pair.Key.Of == ListWord.Units && pair.Value == unit.Code.Value;

    private static string Added(ListWord word, string code, PeopleDirectory directory, List<Unit> units)
    {
        if (word.Of != ListWord.Units)
        {
            throw new FormatException(
                $"\"{word.Text}\" is in a column that does not name units, so no unit can be added for it."
            );
        }

        if (UnitCodes.Fault(code) is { } fault)
        {
            throw new FormatException($"{fault}.");
        }

        var unit = new Unit(new UnitCode(code), word.Text.Trim(), null);
        var other = directory.Find(unit.Code) ?? units.Find(added => added.Code == unit.Code);
        if (other is null)
        {
            units.Add(unit);
        }
        else if (!other.Name.Equals(unit.Name, StringComparison.OrdinalIgnoreCase))
        {
            throw new FormatException($"{code} is the code of {other.Name}. Choose another code for {unit.Name}.");
        }

        return code;
    }

    private static ListWord WordOf(string text) =>
        text.Split(':', 2) is [{ Length: > 0 } of, { Length: > 0 } word]
            ? new ListWord(of, word)
            : throw new FormatException($"\"{text}\" does not name a word: write column:word=meaning.");
}
