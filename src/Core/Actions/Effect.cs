using AtticLedger.Core.Access;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>Who gains and who loses a power. People with access by name are listed by name; doors are never summed with
/// them.</summary>
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
    /// <summary>Nobody gains or loses, and no finding changes.</summary>
    public static Effect None { get; } = new([], [], [], [], Known.Of(0));

    public JournalValue InJournal =>
        JournalValue.Of(
            ("grants", JournalValue.Of(Grants.Select(GrantText.InJournal))),
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
        JournalValue.Of(people.Select(person => JournalValue.Of(EntryActor.Of(person))));

    private static JournalValue Doors(IEnumerable<Door> doors) =>
        JournalValue.Of(doors.Select(door => JournalValue.Of($"{door.Who.Word()}, {door.VisitorSignIn.Word()}")));
}

public static class Predict
{
    /// <summary>The effect of changing a site's grants, from judging its one-row index before and after.</summary>
    public static Effect Change(
        SiteFacts site,
        IReadOnlyList<GrantChange> changes,
        Organisation organisation,
        RuleBook rules,
        PeopleDirectory directory
    )
    {
        var before = new ComputedSite(site.WithGrants(site.Expected.Or([])), organisation, directory);
        var after = new ComputedSite(site.WithGrants(site.Expected.Or([]).With(changes)), organisation, directory);
        var broken = Broken(rules, before);
        var stillBroken = Broken(rules, after);
        var powers = Between(before, after, directory);
        return new Effect(
            changes,
            powers,
            [.. broken.Except(stillBroken)],
            [.. stillBroken.Except(broken)],
            powers.Any(change => change.Power == Power.View && change.Shut.Count > 0) ? site.Visits : Known.Of(0)
        );
    }

    /// <summary>Who gains and who loses by the difference between two rows of one site.</summary>
    internal static IReadOnlyList<PowerChange> Between(ComputedSite before, ComputedSite after, PeopleDirectory directory) =>
        [
            .. Powers
                .Limited.Where(power => power != Power.View || AccessPaths.IsPublished(after.Site.Status) != Truth.No)
                .Select(power =>
                    (power, was: before.AccessPath(power).Effective.AtLeast, becomes: after.AccessPath(power).Effective.AtLeast)
                )
                .Where(pair => !pair.was.IsWithin(pair.becomes) || !pair.becomes.IsWithin(pair.was))
                .Select(pair => (pair.power, change: ReachChange.Between(pair.was, pair.becomes)))
                .Select(pair => new PowerChange(
                    pair.power,
                    Named(pair.change.Gained, directory),
                    Named(pair.change.Lost, directory),
                    [.. pair.change.Gained.Doors.Doors()],
                    [.. pair.change.Lost.Doors.Doors()]
                )),
        ];

    /// <summary>The effect of presenting a site differently: only findings can change.</summary>
    public static Effect Presenting(
        SiteFacts site,
        SiteFacts presented,
        Organisation organisation,
        RuleBook rules,
        PeopleDirectory directory
    )
    {
        var broken = Broken(rules, new ComputedSite(site, organisation, directory));
        var after = rules.Judge(new ComputedSite(presented, organisation, directory)).ToLookup(finding => finding.Verdict);
        List<RuleId> stillBroken = [.. after[Verdict.Breaks].Select(finding => finding.Rule.Id)];

        // What cannot be told before the host shows it, such as near names, is not promised.
        var untold = after[Verdict.CannotTell].Select(finding => finding.Rule.Id);
        return Effect.None with
        {
            Cleared = [.. broken.Except(stillBroken).Except(untold)],
            Opened = [.. stillBroken.Except(broken)],
        };
    }

    /// <summary>The effect of moving a site to the attic: nobody gets in any more, and no rule judges it there. The host keeps
    /// its grants, so none changes.
    /// </summary>
    public static Effect MoveToAttic(SiteFacts site, Organisation organisation, RuleBook rules, PeopleDirectory directory)
    {
        var gone = site.Expected.Or([]).Select(grant => new GrantChange(grant.Key, null)).ToList();
        var shut = Change(site, gone, organisation, rules, directory);
        return shut with
        {
            Grants = [],
            Cleared = Broken(rules, new ComputedSite(site, organisation, directory)),
            Opened = [],
            VisitsAffected = site.Visits,
        };
    }

    /// <summary>The effect of restoring a site with these grant changes: who gets in again, and which rules it will
    /// break.</summary>
    public static Effect Restore(
        SiteFacts site,
        IReadOnlyList<GrantChange> changes,
        Organisation organisation,
        RuleBook rules,
        PeopleDirectory directory
    )
    {
        var here = site with { Existence = Existence.InUse };
        var returning = here.Expected.Or([]).With(changes).Select(grant => new GrantChange(grant.Key, grant)).ToList();
        var opened = Change(here.WithGrants([]), returning, organisation, rules, directory);
        return opened with
        {
            Grants = changes,
            Cleared = [],
            Opened = Broken(
                rules,
                new ComputedSite(here.WithGrants(here.Expected.Or([]).With(changes)), organisation, directory)
            ),
            VisitsAffected = Known.Of(0),
        };
    }

    private static List<RuleId> Broken(RuleBook rules, ComputedSite line) =>
        [.. rules.Judge(line).Where(finding => finding.Verdict == Verdict.Breaks).Select(finding => finding.Rule.Id)];

    private static List<PersonId> Named(AccessSet access, PeopleDirectory directory) =>
        [.. access.Inside.Union(access.Guests).Places().Select(place => directory.People[place].Id)];
}

/// <summary>Grants in words, for screens and for the journal.</summary>
public static class GrantText
{
    /// <summary>The subject of a grant, as screens show it.</summary>
    public static string Who(Grant grant, PeopleDirectory directory) =>
        grant.IsLink ? $"{Who(grant.Subject, directory)} with a link" : Who(grant.Subject, directory);

    private static string Who(Subject subject, PeopleDirectory directory) =>
        subject switch
        {
            Subject.OnePerson(var person) => directory.Find(person)?.Name ?? "Somebody",
            Subject.OneGroup(var group) => directory.Find(group)?.Name ?? "A group",
            Subject.WholeUnit(var unit) => $"All of {directory.Find(unit)?.Name ?? unit.Value}",
            Subject.AllStaff => "All of the staff",
            Subject.Partners => "Partners",
            _ => "Anonymous visitors",
        };

    /// <summary>A grant in the journal: "Idris Vane (own)".</summary>
    public static string InWords(JournalValue grant, PeopleDirectory directory) =>
        $"{Who(Field(grant, "subject"), directory)} ({Field(grant, "power")})";

    /// <summary>A field of a grant in the journal; empty if there is none.</summary>
    public static string Field(JournalValue grant, string name) =>
        grant is JournalValue.Fields(var fields)
        && fields.FirstOrDefault(field => field.Name == name).Value is JournalValue.Text(var text)
            ? text
            : "";

    /// <summary>The subject of a grant in the journal; people and groups by their current name.</summary>
    public static string Who(string subject, PeopleDirectory directory) =>
        subject.Split(':', 2) switch
        {
            ["person", var id] => directory
                .Find(new PersonId(long.Parse(id, System.Globalization.CultureInfo.InvariantCulture)))
                ?.Name
                ?? "somebody",
            ["group", var id] => directory
                .Find(new GroupId(long.Parse(id, System.Globalization.CultureInfo.InvariantCulture)))
                ?.Name
                ?? "a group",
            ["unit", var code] => $"all of {directory.Find(new UnitCode(code))?.Name ?? code}",
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
            ("visitorSignIn", JournalValue.Of(grant.VisitorSignIn.Word())),
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
            _ => "anonymous",
        };
}
