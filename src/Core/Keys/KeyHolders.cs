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
        || (other is not null && Person == other.Person && Standing == other.Standing && Through == other.Through && Why.SequenceEqual(other.Why));

    public override int GetHashCode() => HashCode.Combine(Person.Id, Standing, Through, Why.Count);
}

/// <summary>
/// A site's key holders: distinct people, also those in an owning group, never the group. Where the list is not all
/// known, there may be more.
/// </summary>
public sealed record KeyHolders(IReadOnlyList<KeyHolder> Holders, bool Complete)
{
    public int FitAtLeast => Holders.Count(holder => holder.IsFit);

    public int? FitAtMost => Complete ? FitAtLeast : null;

    public static KeyHolders Of(SiteFacts site, Roll roll, int fitDays)
    {
        if (!site.Sharing.Has(out var sharing))
        {
            return new KeyHolders([], site.Sharing.IsNone);
        }

        // The same people hold the keys of many sites.
        var known = roll.Once(_ => new ConcurrentDictionary<(int Place, string? Through, int FitDays), KeyHolder>());
        var holders = new SortedDictionary<int, KeyHolder>();
        var complete = true;
        foreach (var grant in sharing.Grants.Where(grant => grant.Power == Power.Own))
        {
            var lets = Ask.Of(grant, roll).Lets;
            complete &= ReferenceEquals(lets.AtLeast, lets.AtMost);
            var through = grant.Subject is Subject.OneGroup(var group) ? roll.Find(group)?.Name : null;
            foreach (var place in lets.AtLeast.Inside.Union(lets.AtLeast.Guests).Places())
            {
                if (!holders.TryGetValue(place, out var already) || already.Through is not null)
                {
                    holders[place] = known.GetOrAdd((place, through, fitDays), key => Holder(key.Place, key.Through, roll, key.FitDays));
                }
            }
        }

        return new KeyHolders([.. holders.Values], complete);
    }

    private static KeyHolder Holder(int place, string? through, Roll roll, int fitDays)
    {
        var person = roll.People[place];
        var standing = roll.Standings[place];
        return new KeyHolder(person, standing, through, [.. Unfitness(person, standing, roll, fitDays)]);
    }

    /// <summary>Every reason why somebody is no fit key holder; none for who is fit.</summary>
    public static IEnumerable<Unfit> Unfitness(Person person, Standing standing, Roll roll, int fitDays)
    {
        if (person.Kind == PersonKind.Guest)
        {
            yield return Unfit.Outside;
        }

        if (person.Kind == PersonKind.Service)
        {
            yield return Unfit.Service;
        }

        if (standing == Standing.Left)
        {
            yield return Unfit.Left;
        }

        // A leaver without a known day may be gone tomorrow.
        if (standing == Standing.Leaving && !(person.Day > roll.Time.DayOf(roll.Now).AddDays(fitDays)))
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
