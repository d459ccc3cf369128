using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>What becomes of somebody of whom a list speaks that is kept by hand.</summary>
public abstract record HeardPerson
{
    private HeardPerson() { }

    public sealed record Refused(string Why) : HeardPerson;

    /// <param name="Before">Null where the register does not have them yet.</param>
    /// <param name="After">The same where the list says nothing else.</param>
    public sealed record Taken(Person? Before, Person After) : HeardPerson;
}

/// <summary>Lists of people that are kept by hand.</summary>
public static class PeopleLists
{
    public const string Changed = "person.changed";
    public const string TakenIn = "people.taken";
    public const string Undone = "people.undone";
    private const string Name = "name";

    /// <param name="isReadElsewhere">Whether a staff list that is connected speaks of them: it is more direct.</param>
    public static HeardPerson Hear(
        SaidPerson said,
        Person? before,
        bool isReadElsewhere,
        PersonId doer,
        DateTimeOffset now,
        HouseTime time
    )
    {
        if (before is null && !said.Kind.Has(out _))
        {
            return new HeardPerson.Refused("kind: nobody on the register has this address yet; write staff, guest or service.");
        }

        var after = said.Onto(before, now, time);
        return after == before ? new HeardPerson.Taken(before, after)
            : isReadElsewhere
                ? new HeardPerson.Refused(
                    "the staff list speaks of them, and says otherwise. Change it there: its next read would take this back."
                )
            : before?.Id == doer && (after.IsOutside || after.Standing == Standing.Left)
                ? new HeardPerson.Refused("that is you. Somebody else has to say that you are outside or have left.")
            : new HeardPerson.Taken(before, after);
    }

    /// <summary>What a list changes of somebody, fact by fact, in the order of its columns; all of whoever is new.</summary>
    public static IEnumerable<(string Fact, string? Before, string? After)> Differences(Person? before, Person after) =>
        before is null
            ? Facts(after).Select(fact => (fact.Fact, (string?)null, fact.Value))
            : Facts(before)
                .Zip(Facts(after))
                .Where(pair => pair.First.Value != pair.Second.Value)
                .Select(pair => (pair.First.Fact, pair.First.Value, pair.Second.Value));

    /// <summary>Of a name that is another only that it is: names can be erased, and what the journal says cannot.</summary>
    public static Draft Entry(Person? before, Person after, string actor)
    {
        var others = Differences(before, after).Where(change => change.Fact != Name).ToList();
        return new(Changed, actor, $"person:{after.Id.Value.ToString(CultureInfo.InvariantCulture)}")
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
        yield return ("class", person.Class.Length > 0 ? person.Class : null);
        yield return ("standing", person.Standing.ToString().ToLowerInvariant());
        yield return ("day", person.Day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture));
    }
}
