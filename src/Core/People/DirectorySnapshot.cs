using AtticLedger.Core.Terms;

namespace AtticLedger.Core.People;

/// <summary>A directory as rows: people, units and groups at its instant.</summary>
public static class DirectorySnapshot
{
    private static readonly SnapshotCodec<Known<string>> Texts = SnapshotCodecs.Facts(SnapshotCodecs.Text);

    public static void Write(this PeopleDirectory directory, ISnapshotWriter to)
    {
        SnapshotCodecs.Moment.Write(to, [directory.Now]);
        var people = directory.People;
        to.Longs([.. people.Select(person => person.Id.Value)]);
        to.Numbers([.. people.Select(person => (int)person.Kind)]);
        to.Numbers([.. people.Select(person => (int)person.Standing)]);
        to.Numbers([.. people.Select(person => person.Day?.DayNumber ?? -1)]);
        to.Texts([.. people.Select(person => person.Name)]);
        to.Texts([.. people.Select(person => person.Mail)]);
        Texts.Write(to, [.. people.Select(person => person.Unit.Select(unit => unit.Value))]);
        to.Texts([.. people.Select(person => person.Classification)]);
        to.Numbers([.. people.Select(person => person.MailFails ? 1 : 0)]);

        var units = directory.Units.OrderBy(unit => unit.Code.Value, StringComparer.Ordinal).ToList();
        to.Texts([.. units.Select(unit => unit.Code.Value)]);
        to.Texts([.. units.Select(unit => unit.Name)]);
        Texts.Write(to, [.. units.Select(unit => unit.Parent is { } parent ? Known.Of(parent.Value) : Known<string>.None)]);

        var groups = directory.Groups.OrderBy(group => group.Id.Value).ToList();
        to.Longs([.. groups.Select(group => group.Id.Value)]);
        to.Texts([.. groups.Select(group => group.Name)]);
        to.Numbers([.. groups.Select(group => group.Complete ? 1 : 0)]);
        to.Numbers([.. groups.Select(group => group.Members.Count)]);
        var members = groups.SelectMany(group => group.Members).ToList();
        to.Longs([.. members.Select(member => member.Person?.Value ?? (member.Group is { } inner ? ~inner.Value : 0))]);
        to.Texts([.. members.Where(member => member.Unit is not null).Select(member => member.Unit!.Value.Value)]);
    }

    /// <exception cref="SnapshotError">The snapshot is incomplete.</exception>
    public static PeopleDirectory Read(ISnapshotReader from, OrganisationTime time)
    {
        var now = SnapshotCodecs.Moment.Read(from) is [var one] ? one : throw new SnapshotError("The directory has no instant.");
        var (ids, kinds, standings, days) = (from.Longs(), from.Numbers(), from.Numbers(), from.Numbers());
        var (names, mails, own, classes, fails) = (from.Texts(), from.Texts(), Texts.Read(from), from.Texts(), from.Numbers());
        var people = new Person[ids.Length];
        for (var at = 0; at < people.Length; at++)
        {
            people[at] = new Person(
                new PersonId(ids[at]),
                (PersonKind)kinds[at],
                names[at],
                mails[at],
                (Standing)standings[at],
                days[at] < 0 ? null : DateOnly.FromDayNumber(days[at]),
                own[at].Select(code => new UnitCode(code)),
                classes[at],
                fails[at] != 0
            );
        }

        var (codes, titles, parents) = (from.Texts(), from.Texts(), Texts.Read(from));
        var units = codes.Select(
            (code, at) => new Unit(new UnitCode(code), titles[at], parents[at].Has(out var parent) ? new UnitCode(parent) : null)
        );

        var (groupIds, groupNames, complete, counts) = (from.Longs(), from.Texts(), from.Numbers(), from.Numbers());
        var (members, ofUnits) = (from.Longs(), from.Texts());
        var groups = new Group[groupIds.Length];
        var (next, unit) = (0, 0);
        for (var at = 0; at < groups.Length; at++)
        {
            var inside = new Member[counts[at]];
            for (var i = 0; i < inside.Length; i++)
            {
                var member = members[next++];
                inside[i] =
                    member > 0 ? Member.Of(new PersonId(member))
                    : member < 0 ? Member.Of(new GroupId(~member))
                    : Member.Of(new UnitCode(ofUnits[unit++]));
            }

            groups[at] = new Group(new GroupId(groupIds[at]), groupNames[at], inside, complete[at] != 0);
        }

        return new PeopleDirectory(people, units, groups, now, time);
    }
}
