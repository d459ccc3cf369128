using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Stores people, groups and a host's own limit. One journal entry per sync, none if nothing changed. A person or a
/// group that cannot be stored is skipped and named, and all others are stored.
/// </summary>
internal sealed class PeopleIntake(Database database)
{
    /// <param name="hosts">Synced again if people or groups are new: until then, whom they name is unknown.</param>
    /// <returns>Who was skipped, and why.</returns>
    public async Task<IReadOnlyList<string>> TakeStaff(StaffList list, IEnumerable<string> hosts, CancellationToken stop)
    {
        var said = await list.People(stop);
        var groups = await list.Groups(said.ToDictionary(person => person.Key, person => person.Mail), stop);
        return await Each(
            async (change, step) =>
            {
                var directory = await change.PeopleDirectory(await change.Connection.OrganisationTime());
                var units = directory.Units.Select(unit => unit.Code.Value).ToHashSet();
                var (isMore, changes) = await TakePeople(
                    change,
                    step,
                    directory,
                    said.Select(one => Person(one, units))
                        .Select(person =>
                            person with
                            {
                                // A past last day is over, even if the list still has the person.
                                Standing =
                                    person.Standing == Standing.Leaving
                                        ? person.StandingAt(change.Now, directory.Time)
                                        : person.Standing,
                            }
                        )
                );
                await TakeOver(change, said);
                var known = directory.Groups.Count;
                changes += await TakeGroups(change, step, StaffList.SourceName, groups, directory);
                isMore |= (await change.Connection.GroupKeys()).Count > known;
                foreach (var host in isMore ? hosts : [])
                {
                    await change.Want(host);
                }

                await Write(change, StaffList.SourceName, changes, changes > 0 ? await change.EndSessionsOfLeft() : []);
            },
            stop
        );
    }

    /// <param name="isStaffKnown">False while a connected staff list has never been read: until then nobody can tell who of the
    /// host's people is from outside, so they stay unknown.</param>
    /// <returns>Who was skipped, and why.</returns>
    public Task<IReadOnlyList<string>> TakeHost(string host, HostSetting setting, bool isStaffKnown, CancellationToken stop) =>
        Each(
            async (change, step) =>
            {
                var directory = await change.PeopleDirectory(await change.Connection.OrganisationTime());
                var staff = directory
                    .People.Where(person => !person.IsOutside)
                    .Select(person => person.Mail.ToLowerInvariant())
                    .ToHashSet();
                List<HostPerson> guests = isStaffKnown
                    ? [.. setting.People.Where(said => !staff.Contains(said.Mail.ToLowerInvariant()))]
                    : [];
                var byHand = (await change.Connection.PeopleByHand())
                    .Select(person => directory.Find(person)?.Mail.ToLowerInvariant())
                    .ToHashSet();

                // The organisation's own lists decide who is inside. A person known only to a host is from outside, whatever the
                // host reports.
                var (_, changes) = await TakePeople(
                    change,
                    step,
                    directory,
                    guests
                        .Where(said => !byHand.Contains(said.Mail.ToLowerInvariant()))
                        .Select(said => new Person(
                            default,
                            PersonKind.Guest,
                            said.Name,
                            said.Mail,
                            Standing.Current,
                            null,
                            Known<UnitCode>.None
                        ))
                );
                changes += await TakeGroups(change, step, host, setting.Groups, directory);
                changes += await TakeSponsors(change, host, guests);
                await TakeAccounts(change, host, guests);
                await Write(change, host, changes, []);

                // A host's own limit and capabilities concern all its sites, not people.
                var behaves = await change.SetCapabilities(host, setting.Capabilities);
                if (await change.SetLimit(new LimitSetting(LayerKind.Host, host, Enforcer.Host, setting.Limit)) || behaves)
                {
                    await change.Append([
                        new Draft(JournalAction.HostSynced, EntryActor.OfSource(host), EntrySubject.OfSource(host))
                        {
                            After = JournalValue.Of(
                                (
                                    "limit",
                                    setting.Limit.Has(out var limit) ? JournalValue.Of(limit.ToString()) : JournalValue.Unknown
                                ),
                                ("deletes", JournalValue.Of(setting.Capabilities.Deletes.ToString()))
                            ),
                        },
                    ]);
                }
            },
            stop
        );

    // Everything in one transaction; if the database refuses a value, again with each step alone.
    private async Task<IReadOnlyList<string>> Each(Func<Change, Step, Task> take, CancellationToken stop)
    {
        try
        {
            await database.Change(change => take(change, async (_, step) =>
                    {
                        await step();
                        return true;
                    }), stop);
            return [];
        }
        catch (Npgsql.PostgresException fault) when (Unstorable.Is(fault))
        {
            var refused = new List<string>();
            await database.Change(
                change =>
                {
                    refused.Clear();
                    return take(change, async (what, step) =>
                    {
                        if (await change.Alone(step) is { } why)
                        {
                            refused.Add($"{what} cannot be imported: {why}.");
                            return false;
                        }

                        return true;
                    });
                },
                stop
            );
            return refused;
        }
    }

    // For people in the staff list, imported lists no longer apply.
    private static async Task TakeOver(Change change, IReadOnlyList<ListedPerson> said)
    {
        if (await change.Connection.PeopleByHand() is { Count: > 0 } byHand)
        {
            var ids = await change.Connection.PeopleByMail();
            byHand.IntersectWith(
                said.Select(person => person.Mail.ToLowerInvariant()).Where(ids.ContainsKey).Select(mail => ids[mail])
            );
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
            said.Unit.Has(out var code)
                ? units.Contains(code)
                    ? Known.Of(new UnitCode(code))
                    : Known<UnitCode>.Unknown
                : said.Unit.Select(_ => default(UnitCode)),
            said.Classification
        );

    /// <returns>Whether people are new, and how many are new or changed.</returns>
    private static async Task<(bool IsMore, int Changes)> TakePeople(
        Change change,
        Step step,
        PeopleDirectory directory,
        IEnumerable<Person> said
    )
    {
        var known = directory
            .People.Where(person => person.Mail.Length > 0)
            .DistinctBy(person => person.Mail.ToLowerInvariant())
            .ToDictionary(person => person.Mail.ToLowerInvariant());
        var (isMore, changes) = (false, 0);
        foreach (var person in said.DistinctBy(person => person.Mail.ToLowerInvariant()))
        {
            if (!known.TryGetValue(person.Mail.ToLowerInvariant(), out var before))
            {
                if (await step(person.Mail, () => change.AddPerson(person)))
                {
                    (isMore, changes) = (true, changes + 1);
                }
            }
            else if (before != person with { Id = before.Id, MailFails = before.MailFails })
            {
                changes += await step(person.Mail, () =>
                    change.UpdatePerson(person with { Id = before.Id, MailFails = before.MailFails })
                )
                    ? 1
                    : 0;
            }
        }

        return (isMore, changes);
    }

    private static async Task<int> TakeGroups(
        Change change,
        Step step,
        string source,
        IReadOnlyList<HostGroup> groups,
        PeopleDirectory directory
    )
    {
        var keys = await change.Connection.GroupKeys();
        foreach (var group in groups.Where(group => !keys.ContainsKey((source, group.Key))))
        {
            await step($"The group {group.Name}", async () =>
                keys[(source, group.Key)] = await change.AddGroup(source, group.Key, group.Name)
            );
        }

        var people = await change.Connection.PeopleByMail();
        var changes = 0;
        foreach (var said in groups.Where(group => keys.ContainsKey((source, group.Key))))
        {
            var members = said
                .Members.Select(member =>
                    member.Mail is { } mail
                        ? people.TryGetValue(mail.ToLowerInvariant(), out var person)
                            ? Member.Of(person)
                            : (Member?)null
                        : member is { GroupSource: { } of, GroupKey: { } key } && keys.TryGetValue((of, key), out var inner)
                            ? Member.Of(inner)
                            : null
                )
                .ToList();
            var id = keys[(source, said.Key)];
            var group = new Group(
                id,
                said.Name,
                [.. members.OfType<Member>()],
                said.Complete && members.TrueForAll(member => member is not null)
            );
            var before = directory.Find(id);
            if (
                before is null
                || before.Name != group.Name
                || before.Complete != group.Complete
                || !before.Members.SequenceEqual(group.Members)
            )
            {
                changes += await step($"The group {group.Name}", () => change.SetGroup(group)) ? 1 : 0;
            }
        }

        return changes;
    }

    private static async Task<int> TakeSponsors(Change change, string host, IReadOnlyList<HostPerson> guests)
    {
        var people = await change.Connection.PeopleByMail();
        PersonId? Known(string? mail) =>
            mail is not null && people.TryGetValue(mail.ToLowerInvariant(), out var person) ? person : null;
        return await change.SetSponsors(
            host,
            [
                .. guests
                    .DistinctBy(guest => guest.Mail.ToLowerInvariant())
                    .Select(guest => (Guest: Known(guest.Mail), Sponsor: Known(guest.SponsorMail)))
                    .Where(pair => pair is { Guest: not null, Sponsor: not null })
                    .Select(pair => (pair.Guest!.Value, pair.Sponsor!.Value)),
            ]
        );
    }

    // When a guest was last seen changes often and is nothing for the journal.
    private static async Task TakeAccounts(Change change, string host, IReadOnlyList<HostPerson> guests)
    {
        var people = await change.Connection.PeopleByMail();
        await change.SetGuestAccounts(
            host,
            [
                .. from guest in guests.DistinctBy(guest => guest.Mail.ToLowerInvariant())
                where !guest.Joined.IsUnknown && people.ContainsKey(guest.Mail.ToLowerInvariant())
                select new GuestAccount(
                    people[guest.Mail.ToLowerInvariant()],
                    host,
                    guest.Joined.Has(out var joined) ? joined : null,
                    guest.LastSeen.Has(out var seen) ? seen : null
                ),
            ]
        );
    }

    private static async Task Write(Change change, string source, int changes, IReadOnlyList<Draft> besides)
    {
        if (changes > 0)
        {
            await change.Append([
                .. besides,
                new Draft(JournalAction.PeopleSynced, EntryActor.OfSource(source), EntrySubject.OfSource(source))
                {
                    After = JournalValue.Of(("changes", JournalValue.Of(changes.ToString(CultureInfo.InvariantCulture)))),
                },
            ]);
        }
    }

    /// <summary>Runs one step; false if it was skipped.</summary>
    private delegate Task<bool> Step(string what, Func<Task> step);
}
