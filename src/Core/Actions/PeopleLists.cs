using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The result for a person in an imported list.</summary>
public abstract record PersonImportOutcome
{
    private PersonImportOutcome() { }

    public sealed record Refused(string Why) : PersonImportOutcome;

    /// <param name="Before">Null if the register does not have them yet.</param>
    /// <param name="After">Unchanged if the list says nothing different.</param>
    public sealed record Imported(Person? Before, Person After) : PersonImportOutcome;
}

/// <summary>Imported lists of people.</summary>
public static class PeopleLists
{
    private const string Name = "name";

    /// <param name="isSyncedElsewhere">True if a connected staff list reports them: it is more direct.</param>
    public static PersonImportOutcome Apply(
        PersonClaim said,
        Person? before,
        bool isSyncedElsewhere,
        PersonId actor,
        DateTimeOffset now,
        OrganisationTime time
    )
    {
        if (before is null && !said.Kind.Has(out _))
        {
            return new PersonImportOutcome.Refused("kind: this person is new; write staff, guest or service.");
        }

        var after = said.Onto(before, now, time);
        return after == before ? new PersonImportOutcome.Imported(before, after)
            : isSyncedElsewhere
                ? new PersonImportOutcome.Refused(
                    "the staff list reports something else. Change it there: its next sync would undo this."
                )
            : before?.Id == actor && (after.IsOutside || after.Standing == Standing.Left)
                ? new PersonImportOutcome.Refused("that is you. Another person has to import that you are outside or have left.")
            : new PersonImportOutcome.Imported(before, after);
    }

    /// <summary>What a list changes about a person, fact by fact, in the sequence of its columns; everything for new
    /// people.</summary>
    public static IEnumerable<(string Fact, string? Before, string? After)> Differences(Person? before, Person after) =>
        before is null
            ? Facts(after).Select(fact => (fact.Fact, (string?)null, fact.Value))
            : Facts(before)
                .Zip(Facts(after))
                .Where(pair => pair.First.Value != pair.Second.Value)
                .Select(pair => (pair.First.Fact, pair.First.Value, pair.Second.Value));

    /// <summary>A changed name is journalled without the name: names can be erased, journal entries cannot.</summary>
    public static Draft Entry(Person? before, Person after, EntryActor actor)
    {
        var others = Differences(before, after).Where(change => change.Fact != Name).ToList();
        return new(JournalAction.PersonChanged, actor, EntrySubject.Of(after.Id))
        {
            Before = before is null
                ? JournalValue.Null
                : JournalValue.Of([.. others.Select(change => (change.Fact, JournalValue.Of(change.Before)))]),
            After = JournalValue.Of([
                .. others.Select(change => (change.Fact, JournalValue.Of(change.After))),
                .. before is not null && before.Name != after.Name
                    ? [("renamed", (JournalValue)new JournalValue.Flag(true))]
                    : Array.Empty<(string, JournalValue)>(),
            ]),
        };
    }

    private static IEnumerable<(string Fact, string? Value)> Facts(Person person)
    {
        yield return (Name, person.Name);
        yield return ("kind", person.Kind.ToString().ToLowerInvariant());
        yield return ("unit", person.Unit.Has(out var unit) ? unit.Value : null);
        yield return ("classification", person.Classification.Length > 0 ? person.Classification : null);
        yield return ("standing", person.Standing.ToString().ToLowerInvariant());
        yield return ("day", person.Day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture));
    }
}
