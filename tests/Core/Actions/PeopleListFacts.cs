using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>What a list reports about a person, and the result.</summary>
public class PeopleListFacts
{
    private static readonly DateOnly Soon = new(2026, 12, 4);
    private static readonly DateOnly Gone = new(2026, 11, 20);
    private static readonly PersonClaim Nothing = new(
        "ada@merrowby.example",
        default,
        default,
        default,
        default,
        default,
        default,
        default
    );
    private static readonly Person Ada = new(
        new PersonId(4),
        PersonKind.Staff,
        "Ada Ray",
        "ada@merrowby.example",
        Standing.Current,
        null,
        Known.Of(Harbour.Pilotage),
        "Trainee"
    );

    // The register, the list, and the result. A dash means "none".
    [Theory]
    [InlineData("current", "", "", "", "current")]
    [InlineData("current", "", "soon", "", "leaving soon")]
    [InlineData("current", "current", "soon", "", "leaving soon")]
    [InlineData("current", "", "gone", "", "left gone")]
    [InlineData("current", "", "", "soon", "absent soon")]
    [InlineData("current", "current", "", "soon", "absent soon")]
    [InlineData("current", "", "", "gone", "current")]
    [InlineData("current", "", "soon", "soon", "leaving soon")]
    [InlineData("current", "left", "", "", "left")]
    [InlineData("current", "left", "gone", "", "left gone")]
    [InlineData("current", "absent", "", "", "absent")]
    [InlineData("leaving soon", "", "", "", "leaving soon")]
    [InlineData("leaving soon", "", "-", "", "current")]
    [InlineData("leaving soon", "", "-", "soon", "absent soon")]
    [InlineData("leaving soon", "", "", "soon", "leaving soon")]
    [InlineData("leaving soon", "current", "", "", "current")]
    [InlineData("leaving soon", "leaving", "", "", "leaving soon")]
    [InlineData("leaving soon", "leaving", "-", "", "leaving")]
    [InlineData("leaving soon", "left", "", "", "left soon")]
    [InlineData("left gone", "", "", "", "left gone")]
    [InlineData("left gone", "", "-", "", "current")]
    [InlineData("left gone", "current", "", "", "current")]
    [InlineData("absent soon", "", "", "", "absent soon")]
    [InlineData("absent soon", "", "", "-", "current")]
    [InlineData("absent soon", "", "-", "", "absent soon")]
    [InlineData("absent soon", "current", "", "", "current")]
    [InlineData("absent soon", "leaving", "", "", "leaving")]
    public void A_standing_follows_from_its_word_and_its_days_and_what_is_not_said_stays(
        string was,
        string standing,
        string leaves,
        string away,
        string then
    )
    {
        var said = Nothing with
        {
            Standing = standing.Length == 0 ? default : Known.Of(Word(standing)),
            Leaves = Day(leaves),
            Away = Day(away),
        };
        var after = said.Onto(Stands(was), Harbour.Now, Harbour.Time);
        Assert.Equal(Stands(then), after);

        // The same claim again is nothing new.
        Assert.Equal(after, said.Onto(after, Harbour.Now, Harbour.Time));
    }

    [Fact]
    public void The_content_of_a_cell_is_set_and_a_dash_clears_it()
    {
        var told = Nothing with
        {
            Name = Known.Of("Ada Vance"),
            Kind = Known.Of(PersonKind.Service),
            Unit = Known.Of(Harbour.Yard),
            Classification = Known.Of("Pilot"),
        };
        Assert.Equal(
            Ada with
            {
                Name = "Ada Vance",
                Kind = PersonKind.Service,
                Unit = Known.Of(Harbour.Yard),
                Classification = "Pilot",
            },
            told.Onto(Ada, Harbour.Now, Harbour.Time)
        );
        var none = Nothing with { Name = Known<string>.None, Unit = Known<UnitCode>.None, Classification = Known<string>.None };
        Assert.Equal(Ada with { Unit = Known<UnitCode>.None, Classification = "" }, none.Onto(Ada, Harbour.Now, Harbour.Time));
        Assert.Equal(
            new Person(
                default,
                PersonKind.Staff,
                "ada@merrowby.example",
                "ada@merrowby.example",
                Standing.Current,
                null,
                Known<UnitCode>.None
            ),
            (Nothing with { Kind = Known.Of(PersonKind.Staff) }).Onto(null, Harbour.Now, Harbour.Time)
        );
    }

    [Fact]
    public void Nobody_is_imported_without_a_kind_or_against_a_staff_list_that_is_synced()
    {
        var other = new PersonId(9);
        PersonImportOutcome Apply(PersonClaim said, Person? before, bool isSyncedElsewhere, PersonId actor) =>
            PeopleLists.Apply(said, before, isSyncedElsewhere, actor, Harbour.Now, Harbour.Time);
        Assert.StartsWith(
            "kind: this person is new",
            Assert.IsType<PersonImportOutcome.Refused>(Apply(Nothing, null, false, other)).Why
        );
        Assert.Null(
            Assert
                .IsType<PersonImportOutcome.Imported>(
                    Apply(Nothing with { Kind = Known.Of(PersonKind.Guest) }, null, false, other)
                )
                .Before
        );

        var leaves = Nothing with { Leaves = Known.Of(Soon) };
        Assert.StartsWith(
            "the staff list reports something else.",
            Assert.IsType<PersonImportOutcome.Refused>(Apply(leaves, Ada, true, other)).Why
        );
        Assert.Equal(
            new PersonImportOutcome.Imported(Ada, Ada),
            Apply(Nothing with { Name = Known.Of("Ada Ray") }, Ada, true, other)
        );
        Assert.Equal(
            new PersonImportOutcome.Imported(Ada, Ada with { Standing = Standing.Leaving, Day = Soon }),
            Apply(leaves, Ada, false, other)
        );

        // A person may enter their own last day, but not lock themselves out.
        Assert.IsType<PersonImportOutcome.Imported>(Apply(leaves, Ada, false, Ada.Id));
        Assert.StartsWith(
            "that is you",
            Assert
                .IsType<PersonImportOutcome.Refused>(
                    Apply(Nothing with { Standing = Known.Of(Standing.Left) }, Ada, false, Ada.Id)
                )
                .Why
        );
        Assert.StartsWith(
            "that is you",
            Assert
                .IsType<PersonImportOutcome.Refused>(
                    Apply(Nothing with { Kind = Known.Of(PersonKind.Guest) }, Ada, false, Ada.Id)
                )
                .Why
        );
    }

    [Fact]
    public void The_journal_says_what_changed_and_never_a_name()
    {
        var after = Ada with { Name = "Ada Vance", Standing = Standing.Leaving, Day = Soon };
        var entry = PeopleLists.Entry(Ada, after, EntryActor.Of(new PersonId(9)));
        Assert.Equal((JournalAction.PersonChanged, EntrySubject.Of(new PersonId(4))), (entry.Action, entry.Subject));
        Assert.Equal("""{"day":null,"standing":"current"}""", entry.Before.Canonical());
        Assert.Equal("""{"day":"2026-12-04","renamed":true,"standing":"leaving"}""", entry.After.Canonical());
        Assert.Equal(
            """{"classification":"Trainee","day":null,"kind":"staff","standing":"current","unit":"PIL"}""",
            PeopleLists.Entry(null, Ada, EntryActor.Of(new PersonId(9))).After.Canonical()
        );
    }

    private static Person Stands(string words)
    {
        var parts = words.Split(' ');
        return Ada with { Standing = Word(parts[0]), Day = parts.Length > 1 ? Day(parts[1]).Or(default) : null };
    }

    private static Standing Word(string word) => Enum.Parse<Standing>(word, ignoreCase: true);

    private static Known<DateOnly> Day(string word) =>
        word switch
        {
            "soon" => Known.Of(Soon),
            "gone" => Known.Of(Gone),
            "-" => Known<DateOnly>.None,
            _ => Known<DateOnly>.Unknown,
        };
}
