using AtticLedger.Core.Doors;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>Who gains and who loses a power. People are named where they are named; doors are never summed with them.</summary>
public sealed record PowerChange(
    Power Power,
    IReadOnlyList<PersonId> Gain,
    IReadOnlyList<PersonId> Lose,
    IReadOnlyList<Door> Opened,
    IReadOnlyList<Door> Shut
);

/// <summary>What follows from a change: found by judging the changed site as the unchanged one was judged.</summary>
public sealed record Effect(
    IReadOnlyList<GrantChange> Grants,
    IReadOnlyList<PowerChange> Powers,
    IReadOnlyList<RuleId> Cleared,
    IReadOnlyList<RuleId> Opened,
    Known<int> VisitsAffected
)
{
    /// <summary>Nobody gains, nobody loses, no finding moves.</summary>
    public static Effect None { get; } = new([], [], [], [], Known.Of(0));

    public JournalValue InJournal =>
        JournalValue.Of(
            ("grants", JournalValue.Of(Grants.Select(GrantWords.InJournal))),
            (
                "powers",
                JournalValue.Of(
                    Powers.Select(change =>
                        JournalValue.Of(
                            ("power", JournalValue.Of(change.Power.Word())),
                            ("gain", People(change.Gain)),
                            ("lose", People(change.Lose)),
                            ("opened", Doors(change.Opened)),
                            ("shut", Doors(change.Shut))
                        )
                    )
                )
            ),
            ("cleared", JournalValue.Of(Cleared.Select(rule => JournalValue.Of(rule.Value)))),
            ("opened", JournalValue.Of(Opened.Select(rule => JournalValue.Of(rule.Value))))
        );

    private static JournalValue People(IEnumerable<PersonId> people) =>
        JournalValue.Of(people.Select(person => JournalValue.Of($"person:{person.Value}")));

    private static JournalValue Doors(IEnumerable<Door> doors) =>
        JournalValue.Of(doors.Select(door => JournalValue.Of($"{door.Who.Word()}, {door.Proof.Word()}")));
}

public static class Foresee
{
    /// <summary>The effect of changing a site's grants, from judging a sheet of the one line before and after.</summary>
    public static Effect Change(SiteFacts site, IReadOnlyList<GrantChange> changes, House house, RuleBook rules, Roll roll)
    {
        var before = new SiteLine(site.WithGrants(site.Expected.Or([])), house, roll);
        var after = new SiteLine(site.WithGrants(site.Expected.Or([]).With(changes)), house, roll);
        var broken = Broken(rules, before);
        var stillBroken = Broken(rules, after);
        var powers = Powers
            .Limited.Where(power => power != Power.View || Passages.WasPublished(site.Stage) != Truth.No)
            .Select(power =>
                (power, change: ReachChange.Between(before.Passage(power).Actual.AtLeast, after.Passage(power).Actual.AtLeast))
            )
            .Where(pair => !pair.change.IsNothing)
            .Select(pair => new PowerChange(
                pair.power,
                Named(pair.change.Gained, roll),
                Named(pair.change.Lost, roll),
                [.. pair.change.Gained.Doors.Doors()],
                [.. pair.change.Lost.Doors.Doors()]
            ))
            .ToList();
        return new Effect(
            changes,
            powers,
            [.. broken.Except(stillBroken)],
            [.. stillBroken.Except(broken)],
            powers.Any(change => change.Power == Power.View && change.Shut.Count > 0) ? site.Visits : Known.Of(0)
        );
    }

    /// <summary>
    /// The effect of putting a site away: nobody gets in any more, and no rule judges what lies in the attic. The host keeps
    /// its grants, so none of them changes.
    /// </summary>
    public static Effect PutAway(SiteFacts site, House house, RuleBook rules, Roll roll)
    {
        var gone = site.Expected.Or([]).Select(grant => new GrantChange(grant.Key, null)).ToList();
        var shut = Change(site, gone, house, rules, roll);
        return shut with
        {
            Grants = [],
            Cleared = Broken(rules, new SiteLine(site, house, roll)),
            Opened = [],
            VisitsAffected = site.Visits,
        };
    }

    /// <summary>The effect of bringing a site back with these changes on the way: who gets in again, and which rules it will break.</summary>
    public static Effect BringBack(SiteFacts site, IReadOnlyList<GrantChange> changes, House house, RuleBook rules, Roll roll)
    {
        var here = site with { Existence = Existence.Here };
        var returning = here.Expected.Or([]).With(changes).Select(grant => new GrantChange(grant.Key, grant)).ToList();
        var opened = Change(here.WithGrants([]), returning, house, rules, roll);
        return opened with
        {
            Grants = changes,
            Cleared = [],
            Opened = Broken(rules, new SiteLine(here.WithGrants(here.Expected.Or([]).With(changes)), house, roll)),
            VisitsAffected = Known.Of(0),
        };
    }

    private static List<RuleId> Broken(RuleBook rules, SiteLine line) =>
        [.. rules.Judge(line).Where(finding => finding.Verdict == Verdict.Breaks).Select(finding => finding.Rule.Id)];

    private static List<PersonId> Named(Access access, Roll roll) =>
        [.. access.Inside.Union(access.Guests).Places().Select(place => roll.People[place].Id)];
}

/// <summary>Grants in words, for screens and for the journal.</summary>
public static class GrantWords
{
    /// <summary>Whom a grant is for, as screens say it.</summary>
    public static string Who(Grant grant, Roll roll) =>
        grant.IsLink ? $"{Who(grant.Subject, roll)} with a link" : Who(grant.Subject, roll);

    private static string Who(Subject subject, Roll roll) =>
        subject switch
        {
            Subject.OnePerson(var person) => roll.Find(person)?.Name ?? "Somebody",
            Subject.OneGroup(var group) => roll.Find(group)?.Name ?? "A group",
            Subject.WholeUnit(var unit) => $"All of {roll.Find(unit)?.Name ?? unit.Value}",
            Subject.AllStaff => "All of the staff",
            Subject.Partners => "Partners",
            _ => "Passers-by",
        };

    /// <summary>A grant in the journal: "Idris Vane (own)".</summary>
    public static string InWords(JournalValue grant, Roll roll) =>
        $"{Who(Field(grant, "subject"), roll)} ({Field(grant, "power")})";

    /// <summary>A field of a grant in the journal; empty where there is none.</summary>
    public static string Field(JournalValue grant, string name) =>
        grant is JournalValue.Fields(var fields)
        && fields.FirstOrDefault(field => field.Name == name).Value is JournalValue.Text(var text)
            ? text
            : "";

    /// <summary>Whom a grant in the journal is for, where that is a person or group by the name they have today.</summary>
    public static string Who(string subject, Roll roll) =>
        subject.Split(':', 2) switch
        {
            ["person", var id] => roll.Find(new PersonId(long.Parse(id, System.Globalization.CultureInfo.InvariantCulture)))?.Name
                ?? "somebody",
            ["group", var id] => roll.Find(new GroupId(long.Parse(id, System.Globalization.CultureInfo.InvariantCulture)))?.Name
                ?? "a group",
            ["unit", var code] => $"all of {roll.Find(new UnitCode(code))?.Name ?? code}",
            ["staff"] => "all of the staff",
            [var other, ..] => other,
            _ => subject,
        };

    public static JournalValue InJournal(GrantChange change) =>
        JournalValue.Of(
            ("key", JournalValue.Of(change.Key)),
            ("wanted", change.Wanted is { } grant ? InJournal(grant) : JournalValue.Null)
        );

    public static JournalValue InJournal(Grant grant) =>
        JournalValue.Of(
            ("key", JournalValue.Of(grant.Key)),
            ("power", JournalValue.Of(grant.Power.Word())),
            ("subject", JournalValue.Of(SubjectText(grant.Subject))),
            ("proof", JournalValue.Of(grant.Proof.Word())),
            ("through", JournalValue.Of(grant.Through?.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture)))
        );

    private static string SubjectText(Subject subject) =>
        subject switch
        {
            Subject.OnePerson(var person) => $"person:{person.Value}",
            Subject.OneGroup(var group) => $"group:{group.Value}",
            Subject.WholeUnit(var unit) => $"unit:{unit.Value}",
            Subject.AllStaff => "staff",
            Subject.Partners => "partners",
            _ => "passers-by",
        };
}
