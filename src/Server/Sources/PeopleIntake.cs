using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Accounts;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Takes in people, groups and a host's own limit. One entry a read, and none where nothing changed.</summary>
internal sealed class PeopleIntake(Database database)
{
    public async Task TakeStaff(StaffList list, CancellationToken stop)
    {
        var said = await list.People(stop);
        var groups = await list.Groups(said.ToDictionary(person => person.Key, person => person.Mail), stop);
        await database.Change(
            async change =>
            {
                var roll = await change.Roll(await change.Connection.HouseTime());
                var units = roll.Units.Select(unit => unit.Code.Value).ToHashSet();
                var changes = await TakePeople(change, roll, said.Select(one => Person(one, units)).Select(person => person with
                {
                    // A last day that has passed is over, although the list still has the person.
                    Standing = person.Standing == Standing.Leaving ? person.StandingAt(change.Now, roll.Time) : person.Standing,
                }));
                await TakeOver(change, said);
                changes += await TakeGroups(change, StaffList.SourceName, groups, roll);
                await Write(change, StaffList.SourceName, changes, changes > 0 ? await change.EndSessionsOfLeft() : []);
            },
            stop);
    }

    public Task TakeHost(string host, HostSetting setting, CancellationToken stop) =>
        database.Change(
            async change =>
            {
                var roll = await change.Roll(await change.Connection.HouseTime());
                var staff = roll.People.Where(person => !person.IsOutside).Select(person => person.Mail.ToLowerInvariant()).ToHashSet();
                List<HostPerson> guests = [.. setting.People.Where(said => !staff.Contains(said.Mail.ToLowerInvariant()))];
                var byHand = (await change.Connection.PeopleByHand()).Select(person => roll.Find(person)?.Mail.ToLowerInvariant()).ToHashSet();

                // The house's own lists decide who is inside. Whoever only the host knows is from outside, whatever it says.
                var changes = await TakePeople(change, roll, guests
                    .Where(said => !byHand.Contains(said.Mail.ToLowerInvariant()))
                    .Select(said => new Person(default, PersonKind.Guest, said.Name, said.Mail, Standing.Current, null, Known<UnitCode>.None)));
                changes += await TakeGroups(change, host, setting.Groups, roll);
                changes += await TakeSponsors(change, host, guests);
                await Write(change, host, changes, []);

                // What a host lets nobody past and how it behaves concerns all its sites, and not people.
                var behaves = await change.SetHabits(host, setting.Habits);
                if (await change.SetLimit(new LimitSetting(LayerKind.Host, host, Enforcer.Host, setting.Limit)) || behaves)
                {
                    await change.Append([new Draft("host.seen", Draft.ActorOf(host), Draft.SubjectOf(host)) { After = JournalValue.Of(("limit", setting.Limit.Has(out var limit) ? JournalValue.Of(limit.ToString()) : JournalValue.Unknown), ("deletes", JournalValue.Of(setting.Habits.Deletes.ToString()))) }]);
                }
            },
            stop);

    // Whom the staff list names, no list speaks of any more that is kept by hand.
    private static async Task TakeOver(Change change, IReadOnlyList<ListedPerson> said)
    {
        if (await change.Connection.PeopleByHand() is { Count: > 0 } byHand)
        {
            var ids = await change.Connection.PeopleByMail();
            byHand.IntersectWith(said.Select(person => ids[person.Mail.ToLowerInvariant()]));
            await change.SetByHand(byHand, false);
        }
    }

    private static Person Person(ListedPerson said, HashSet<string> units) =>
        new(
            default,
            said.Kind,
            said.Name,
            said.Mail,
            said.Standing,
            said.Day,
            said.Unit.Has(out var code) ? units.Contains(code) ? Known.Of(new UnitCode(code)) : Known<UnitCode>.Unknown : said.Unit.Select(_ => default(UnitCode)),
            said.Class);

    private static async Task<int> TakePeople(Change change, Roll roll, IEnumerable<Person> said)
    {
        var known = roll.People.Where(person => person.Mail.Length > 0).ToDictionary(person => person.Mail.ToLowerInvariant());
        var changes = 0;
        foreach (var person in said.DistinctBy(person => person.Mail.ToLowerInvariant()))
        {
            if (!known.TryGetValue(person.Mail.ToLowerInvariant(), out var before))
            {
                await change.AddPerson(person);
                changes++;
            }
            else if (before != person with { Id = before.Id, MailFails = before.MailFails })
            {
                await change.UpdatePerson(person with { Id = before.Id, MailFails = before.MailFails });
                changes++;
            }
        }

        return changes;
    }

    private static async Task<int> TakeGroups(Change change, string source, IReadOnlyList<HostGroup> groups, Roll roll)
    {
        var keys = await change.Connection.GroupKeys();
        foreach (var group in groups.Where(group => !keys.ContainsKey((source, group.Key))))
        {
            keys[(source, group.Key)] = await change.AddGroup(source, group.Key, group.Name);
        }

        var people = await change.Connection.PeopleByMail();
        var changes = 0;
        foreach (var said in groups)
        {
            var members = said.Members.Select(member =>
                member.Mail is { } mail ? people.TryGetValue(mail.ToLowerInvariant(), out var person) ? Member.Of(person) : (Member?)null
                : member is { GroupSource: { } of, GroupKey: { } key } && keys.TryGetValue((of, key), out var inner) ? Member.Of(inner)
                : null).ToList();
            var id = keys[(source, said.Key)];
            var group = new Group(id, said.Name, [.. members.OfType<Member>()], said.Complete && members.TrueForAll(member => member is not null));
            var before = roll.Find(id);
            if (before is null || before.Name != group.Name || before.Complete != group.Complete || !before.Members.SequenceEqual(group.Members))
            {
                await change.SetGroup(group);
                changes++;
            }
        }

        return changes;
    }

    private static async Task<int> TakeSponsors(Change change, string host, IReadOnlyList<HostPerson> guests)
    {
        var people = await change.Connection.PeopleByMail();
        PersonId? Known(string? mail) => mail is not null && people.TryGetValue(mail.ToLowerInvariant(), out var person) ? person : null;
        return await change.SetSponsors(host, [.. guests.DistinctBy(guest => guest.Mail.ToLowerInvariant()).Select(guest => (Guest: Known(guest.Mail), Sponsor: Known(guest.SponsorMail))).Where(pair => pair is { Guest: not null, Sponsor: not null }).Select(pair => (pair.Guest!.Value, pair.Sponsor!.Value))]);
    }

    private static async Task Write(Change change, string source, int changes, IReadOnlyList<Draft> besides)
    {
        if (changes > 0)
        {
            await change.Append([.. besides, new Draft("people.seen", Draft.ActorOf(source), Draft.SubjectOf(source)) { After = JournalValue.Of(("changes", JournalValue.Of(changes.ToString(CultureInfo.InvariantCulture)))) }]);
        }
    }
}
