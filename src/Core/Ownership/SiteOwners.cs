using System.Collections.Concurrent;
using AtticLedger.Core.Access;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Ownership;

/// <summary>Why an owner is not active. All reasons that apply are listed.</summary>
public enum InactiveReason : byte
{
    Outside,
    Service,
    Left,
    Leaving,
    Absent,
    MailFails,
}

/// <summary>A person who is an owner, by name or through a group, with the reasons why they are not active.</summary>
public sealed record SiteOwner(Person Person, Standing Standing, string? Through, ValueList<InactiveReason> Why)
{
    public bool IsActive => Why.Count == 0;

    // A person owns sites through few groups only, so the group's name is not part of it.
    public override int GetHashCode() => HashCode.Combine(Person.Id, Through?.Length);
}

/// <summary>A site's owners: distinct people, including members of owning groups, never the group. If not all are known, there
/// may be more.
/// </summary>
public sealed record SiteOwners(IReadOnlyList<SiteOwner> Holders, bool Complete)
{
    public int ActiveAtLeast { get; } = Holders.Count(holder => holder.IsActive);

    /// <summary>The possible number; null if nobody has counted.</summary>
    public int? ActiveAtMost
    {
        get => Complete ? ActiveAtLeast : field;
        init;
    }

    public static SiteOwners Of(SiteFacts site, PeopleDirectory directory, int activeDays)
    {
        if (!site.Sharing.Has(out var sharing))
        {
            return site.Sharing.IsNone
                ? new SiteOwners([], true)
                : new SiteOwners([], false) { ActiveAtMost = ActivePeople.On(directory, activeDays).Count };
        }

        var (held, complete, possible) = (new List<OwnedSites>(), true, PeopleSet.Empty);
        var known = directory.Once(static on => new HeldBySubject(on));
        foreach (var grant in sharing.Grants)
        {
            if (grant.Power == Power.Own)
            {
                var lets = Ask.Of(grant, directory).Lets;
                if (!ReferenceEquals(lets.AtLeast, lets.AtMost))
                {
                    complete = false;
                    possible = possible.Union(lets.AtMost.Inside);
                }

                held.Add(known.Of(grant, lets.AtLeast, activeDays));
            }
        }

        var keys = new SiteOwners(held.Count == 1 ? held[0].Holders : Together(held), complete);
        return complete
            ? keys
            : keys with
            {
                ActiveAtMost = ActivePeople
                    .On(directory, activeDays)
                    .Intersect(PeopleSet.UnionOf([possible, .. held.Select(one => PeopleSet.Of(one.Places))]))
                    .Count,
            };
    }

    /// <summary>Everybody in a directory who could be an active owner.</summary>
    private sealed class ActivePeople
    {
        private readonly ConcurrentDictionary<int, PeopleSet> known = new();

        public static PeopleSet On(PeopleDirectory directory, int activeDays) =>
            directory
                .Once(static _ => new ActivePeople())
                .known.GetOrAdd(
                    activeDays,
                    static (days, of) => of.Where((person, standing) => !Unfitness(person, standing, of, days).Any()),
                    directory
                );
    }

    // In the sequence of the directory; who is an owner by name and through a group counts as by name.
    private static List<SiteOwner> Together(List<OwnedSites> held)
    {
        var holders = new List<(int Place, SiteOwner Holder)>();
        foreach (var keys in held)
        {
            for (var i = 0; i < keys.Places.Count; i++)
            {
                holders.Add((keys.Places[i], keys.Holders[i]));
            }
        }

        holders.Sort(
            static (a, b) =>
                a.Place != b.Place
                    ? a.Place.CompareTo(b.Place)
                    : (a.Holder.Through is not null).CompareTo(b.Holder.Through is not null)
        );
        var distinct = new List<SiteOwner>(holders.Count);
        for (var i = 0; i < holders.Count; i++)
        {
            if (i == 0 || holders[i].Place != holders[i - 1].Place)
            {
                distinct.Add(holders[i].Holder);
            }
        }

        return distinct;
    }

    /// <summary>The people who are owners by one grant, in the sequence of the directory.</summary>
    private sealed record OwnedSites(IReadOnlyList<int> Places, IReadOnlyList<SiteOwner> Holders);

    /// <summary>The same people and groups own many sites.</summary>
    private sealed class HeldBySubject(PeopleDirectory directory)
    {
        private readonly ConcurrentDictionary<(Opening, Subject, int ActiveDays), OwnedSites> known = new(ByReference.Instance);

        public OwnedSites Of(Grant grant, Opening lets, int activeDays) =>
            known.GetOrAdd(
                (lets, grant.Subject, activeDays),
                static (key, directory) =>
                {
                    var through = key.Item2 is Subject.OneGroup(var group) ? directory.Find(group)?.Name : null;
                    List<int> places = [.. key.Item1.Inside.Union(key.Item1.Guests).Places()];
                    return new OwnedSites(
                        places,
                        [
                            .. places.Select(place => new SiteOwner(
                                directory.People[place],
                                directory.Standings[place],
                                through,
                                [.. Unfitness(directory.People[place], directory.Standings[place], directory, key.ActiveDays)]
                            )),
                        ]
                    );
                },
                directory
            );

        // A subject admits the same people in one directory, so the subject alone is the key.
        private sealed class ByReference : IEqualityComparer<(Opening Lets, Subject Subject, int ActiveDays)>
        {
            public static readonly ByReference Instance = new();

            public bool Equals(
                (Opening Lets, Subject Subject, int ActiveDays) a,
                (Opening Lets, Subject Subject, int ActiveDays) b
            ) => ReferenceEquals(a.Lets, b.Lets) && a.ActiveDays == b.ActiveDays && a.Subject == b.Subject;

            public int GetHashCode((Opening Lets, Subject Subject, int ActiveDays) key) =>
                System.Runtime.CompilerServices.RuntimeHelpers.GetHashCode(key.Lets);
        }
    }

    /// <summary>Every reason why a person is not an active owner; empty if active.</summary>
    public static IEnumerable<InactiveReason> Unfitness(
        Person person,
        Standing standing,
        PeopleDirectory directory,
        int activeDays
    )
    {
        if (person.Kind == PersonKind.Guest)
        {
            yield return InactiveReason.Outside;
        }

        if (person.Kind is PersonKind.Service or PersonKind.Operator)
        {
            yield return InactiveReason.Service;
        }

        if (standing == Standing.Left)
        {
            yield return InactiveReason.Left;
        }

        // A leaver without a known day may leave tomorrow.
        if (standing == Standing.Leaving && !(person.Day > directory.Time.DayOf(directory.Now).Plus(activeDays)))
        {
            yield return InactiveReason.Leaving;
        }

        if (standing == Standing.Absent)
        {
            yield return InactiveReason.Absent;
        }

        if (person.MailFails)
        {
            yield return InactiveReason.MailFails;
        }
    }
}
