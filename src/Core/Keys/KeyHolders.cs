using System.Collections.Concurrent;
using AtticLedger.Core.Doors;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Keys;

/// <summary>Why a key holder is not fit. Every reason that applies is given.</summary>
public enum Unfit : byte
{
    Outside,
    Service,
    Left,
    Leaving,
    Absent,
    MailFails,
}

/// <summary>A person who holds a key, by name or through a group, with what makes them unfit.</summary>
public sealed record KeyHolder(Person Person, Standing Standing, string? Through, IReadOnlyList<Unfit> Why)
{
    public bool IsFit => Why.Count == 0;

    public bool Equals(KeyHolder? other) =>
        ReferenceEquals(this, other)
        || (
            other is not null
            && Person == other.Person
            && Standing == other.Standing
            && Through == other.Through
            && Why.SequenceEqual(other.Why)
        );

    // One person holds keys through a few groups only: the name of the group need not tell them apart here.
    public override int GetHashCode() => HashCode.Combine(Person.Id, Through?.Length);
}

/// <summary>
/// A site's key holders: distinct people, also those in an owning group, never the group. Where the list is not all
/// known, there may be more.
/// </summary>
public sealed record KeyHolders(IReadOnlyList<KeyHolder> Holders, bool Complete)
{
    public int FitAtLeast { get; } = Holders.Count(holder => holder.IsFit);

    /// <summary>How many there may be; null where nobody has counted.</summary>
    public int? FitAtMost
    {
        get => Complete ? FitAtLeast : field;
        init;
    }

    public static KeyHolders Of(SiteFacts site, Roll roll, int fitDays)
    {
        if (!site.Sharing.Has(out var sharing))
        {
            return site.Sharing.IsNone
                ? new KeyHolders([], true)
                : new KeyHolders([], false) { FitAtMost = FitPeople.On(roll, fitDays).Count };
        }

        var (held, complete, possible) = (new List<HeldKeys>(), true, PeopleSet.Empty);
        var known = roll.Once(static on => new HeldBySubject(on));
        foreach (var grant in sharing.Grants)
        {
            if (grant.Power == Power.Own)
            {
                var lets = Ask.Of(grant, roll).Lets;
                if (!ReferenceEquals(lets.AtLeast, lets.AtMost))
                {
                    complete = false;
                    possible = possible.Union(lets.AtMost.Inside);
                }

                held.Add(known.Of(grant, lets.AtLeast, fitDays));
            }
        }

        var keys = new KeyHolders(held.Count == 1 ? held[0].Holders : Together(held), complete);
        return complete
            ? keys
            : keys with
            {
                FitAtMost = FitPeople
                    .On(roll, fitDays)
                    .Intersect(PeopleSet.UnionOf([possible, .. held.Select(one => PeopleSet.Of(one.Places))]))
                    .Count,
            };
    }

    /// <summary>Everybody on a roll who would be a fit holder of a key.</summary>
    private sealed class FitPeople
    {
        private readonly ConcurrentDictionary<int, PeopleSet> known = new();

        public static PeopleSet On(Roll roll, int fitDays) =>
            roll.Once(static _ => new FitPeople())
                .known.GetOrAdd(
                    fitDays,
                    static (days, of) => of.Where((person, standing) => !Unfitness(person, standing, of, days).Any()),
                    roll
                );
    }

    // In the order of the roll; who holds a key by name and through a group as well holds it by name.
    private static List<KeyHolder> Together(List<HeldKeys> held)
    {
        var holders = new List<(int Place, KeyHolder Holder)>();
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
        var distinct = new List<KeyHolder>(holders.Count);
        for (var i = 0; i < holders.Count; i++)
        {
            if (i == 0 || holders[i].Place != holders[i - 1].Place)
            {
                distinct.Add(holders[i].Holder);
            }
        }

        return distinct;
    }

    /// <summary>The people who hold a key by one grant, in the order of the roll.</summary>
    private sealed record HeldKeys(IReadOnlyList<int> Places, IReadOnlyList<KeyHolder> Holders);

    /// <summary>The same people and groups hold the keys of many sites.</summary>
    private sealed class HeldBySubject(Roll roll)
    {
        private readonly ConcurrentDictionary<(Opening, Subject, int FitDays), HeldKeys> known = new(ByReference.Instance);

        public HeldKeys Of(Grant grant, Opening lets, int fitDays) =>
            known.GetOrAdd(
                (lets, grant.Subject, fitDays),
                static (key, roll) =>
                {
                    var through = key.Item2 is Subject.OneGroup(var group) ? roll.Find(group)?.Name : null;
                    List<int> places = [.. key.Item1.Inside.Union(key.Item1.Guests).Places()];
                    return new HeldKeys(
                        places,
                        [
                            .. places.Select(place => new KeyHolder(
                                roll.People[place],
                                roll.Standings[place],
                                through,
                                [.. Unfitness(roll.People[place], roll.Standings[place], roll, key.FitDays)]
                            )),
                        ]
                    );
                },
                roll
            );

        // A subject opens one and the same on a roll, so that alone tells keys apart.
        private sealed class ByReference : IEqualityComparer<(Opening Lets, Subject Subject, int FitDays)>
        {
            public static readonly ByReference Instance = new();

            public bool Equals((Opening Lets, Subject Subject, int FitDays) a, (Opening Lets, Subject Subject, int FitDays) b) =>
                ReferenceEquals(a.Lets, b.Lets) && a.FitDays == b.FitDays && a.Subject == b.Subject;

            public int GetHashCode((Opening Lets, Subject Subject, int FitDays) key) =>
                System.Runtime.CompilerServices.RuntimeHelpers.GetHashCode(key.Lets);
        }
    }

    /// <summary>Every reason why somebody is no fit key holder; none for who is fit.</summary>
    public static IEnumerable<Unfit> Unfitness(Person person, Standing standing, Roll roll, int fitDays)
    {
        if (person.Kind == PersonKind.Guest)
        {
            yield return Unfit.Outside;
        }

        if (person.Kind is PersonKind.Service or PersonKind.Operator)
        {
            yield return Unfit.Service;
        }

        if (standing == Standing.Left)
        {
            yield return Unfit.Left;
        }

        // A leaver without a known day may be gone tomorrow.
        if (standing == Standing.Leaving && !(person.Day > roll.Time.DayOf(roll.Now).Plus(fitDays)))
        {
            yield return Unfit.Leaving;
        }

        if (standing == Standing.Absent)
        {
            yield return Unfit.Absent;
        }

        if (person.MailFails)
        {
            yield return Unfit.MailFails;
        }
    }
}
