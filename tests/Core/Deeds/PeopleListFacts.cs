using AtticLedger.Core.Deeds;
using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Deeds;

/// <summary>What a list that somebody keeps says of a person, and what becomes of it.</summary>
public class PeopleListFacts
{
    private static readonly DateOnly Soon = new(2026, 12, 4);
    private static readonly DateOnly Gone = new(2026, 11, 20);
    private static readonly SaidPerson Nothing = new(
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

    // What the register has, what the list says, and what is so then. A dash is "there is none".
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

        // Whoever hears it again hears nothing new.
        Assert.Equal(after, said.Onto(after, Harbour.Now, Harbour.Time));
    }

    [Fact]
    public void What_a_cell_says_is_taken_and_a_dash_takes_away()
    {
        var told = Nothing with
        {
            Name = Known.Of("Ada Vance"),
            Kind = Known.Of(PersonKind.Service),
            Unit = Known.Of(Harbour.Yard),
            Class = Known.Of("Pilot"),
        };
        Assert.Equal(
            Ada with
            {
                Name = "Ada Vance",
                Kind = PersonKind.Service,
                Unit = Known.Of(Harbour.Yard),
                Class = "Pilot",
            },
            told.Onto(Ada, Harbour.Now, Harbour.Time)
        );
        var none = Nothing with { Name = Known<string>.None, Unit = Known<UnitCode>.None, Class = Known<string>.None };
        Assert.Equal(Ada with { Unit = Known<UnitCode>.None, Class = "" }, none.Onto(Ada, Harbour.Now, Harbour.Time));
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
    public void Nobody_is_brought_without_a_kind_and_nobody_is_told_otherwise_than_a_staff_list_that_is_read()
    {
        var other = new PersonId(9);
        HeardPerson Hear(SaidPerson said, Person? before, bool isReadElsewhere, PersonId doer) =>
            PeopleLists.Hear(said, before, isReadElsewhere, doer, Harbour.Now, Harbour.Time);
        Assert.StartsWith(
            "kind: nobody on the register",
            Assert.IsType<HeardPerson.Refused>(Hear(Nothing, null, false, other)).Why
        );
        Assert.Null(
            Assert.IsType<HeardPerson.Taken>(Hear(Nothing with { Kind = Known.Of(PersonKind.Guest) }, null, false, other)).Before
        );

        var leaves = Nothing with { Leaves = Known.Of(Soon) };
        Assert.StartsWith(
            "the staff list speaks of them",
            Assert.IsType<HeardPerson.Refused>(Hear(leaves, Ada, true, other)).Why
        );
        Assert.Equal(new HeardPerson.Taken(Ada, Ada), Hear(Nothing with { Name = Known.Of("Ada Ray") }, Ada, true, other));
        Assert.Equal(
            new HeardPerson.Taken(Ada, Ada with { Standing = Standing.Leaving, Day = Soon }),
            Hear(leaves, Ada, false, other)
        );

        // One may announce one's own leaving, but not shut oneself out.
        Assert.IsType<HeardPerson.Taken>(Hear(leaves, Ada, false, Ada.Id));
        Assert.StartsWith(
            "that is you",
            Assert.IsType<HeardPerson.Refused>(Hear(Nothing with { Standing = Known.Of(Standing.Left) }, Ada, false, Ada.Id)).Why
        );
        Assert.StartsWith(
            "that is you",
            Assert.IsType<HeardPerson.Refused>(Hear(Nothing with { Kind = Known.Of(PersonKind.Guest) }, Ada, false, Ada.Id)).Why
        );
    }

    [Fact]
    public void The_journal_says_what_changed_and_never_a_name()
    {
        var after = Ada with { Name = "Ada Vance", Standing = Standing.Leaving, Day = Soon };
        var entry = PeopleLists.Entry(Ada, after, "person:9");
        Assert.Equal(("person.changed", "person:4"), (entry.Deed, entry.Subject));
        Assert.Equal("""{"day":null,"standing":"current"}""", entry.Before.Canonical());
        Assert.Equal("""{"day":"2026-12-04","renamed":true,"standing":"leaving"}""", entry.After.Canonical());
        Assert.Equal(
            """{"class":"Trainee","day":null,"kind":"staff","standing":"current","unit":"PIL"}""",
            PeopleLists.Entry(null, Ada, "person:9").After.Canonical()
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
