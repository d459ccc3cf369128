using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Deeds;

/// <summary>Reads what deeds are decided on, and writes what they come to, in the transaction that is under way.</summary>
internal static class Keeping
{
    /// <summary>At which hour letters that are not urgent go out.</summary>
    private static readonly TimeOnly Morning = new(7, 0);

    /// <summary>The facts of one site, read from the database and never from the sheet; null where it may not be seen.</summary>
    public static async Task<DeedFacts?> Facts(
        this Database database,
        NpgsqlConnection connection,
        Func<Core.People.Roll, Sight> sight,
        SiteId id,
        bool withNeighbours = true
    ) => (await database.Facts(connection, sight, [id], withNeighbours)).SingleOrDefault();

    /// <summary>The same in the transaction that is under way.</summary>
    public static async Task<DeedFacts?> Facts(
        this Change change,
        Func<Core.People.Roll, Sight> sight,
        SiteId id,
        bool withNeighbours = true
    ) => (await change.Facts(sight, [id], withNeighbours)).SingleOrDefault();

    /// <summary>The facts of some sites, in the order of their ids; those that may not be seen are left out.</summary>
    public static Task<IReadOnlyList<DeedFacts>> Facts(
        this Database database,
        NpgsqlConnection connection,
        Func<Core.People.Roll, Sight> sight,
        IReadOnlyCollection<SiteId> ids,
        bool withNeighbours
    ) => Facts(connection, database.Rolls, sight, ids, withNeighbours, database.Now);

    public static Task<IReadOnlyList<DeedFacts>> Facts(
        this Change change,
        Func<Core.People.Roll, Sight> sight,
        IReadOnlyCollection<SiteId> ids,
        bool withNeighbours
    ) => Facts(change.Connection, change.Rolls, sight, ids, withNeighbours, change.Now);

    private static async Task<IReadOnlyList<DeedFacts>> Facts(
        NpgsqlConnection connection,
        Rolls rolls,
        Func<Core.People.Roll, Sight> sight,
        IReadOnlyCollection<SiteId> ids,
        bool withNeighbours,
        DateTimeOffset now
    )
    {
        var time = await connection.HouseTime();
        var roll = await rolls.Of(connection, now, time);
        var sites = await connection.Sites(sight(roll), ids);
        if (sites.Count == 0)
        {
            return [];
        }

        var house = await connection.House();
        var rules = await connection.Rules(time.DayOf(now));
        var (lanes, offers, stays) = (
            await connection.Lanes(ids),
            await connection.OpenOffers(ids),
            await connection.OpenStays(ids)
        );
        var (holds, around, administrators) = (
            await connection.Holds(ids),
            await connection.Around(sites, sight(roll), withNeighbours),
            await connection.Administrators(now)
        );
        return
        [
            .. sites.Select(site => new DeedFacts(site, [.. lanes[site.Id]], house, rules, roll)
            {
                Offers = [.. offers[site.Id]],
                Stay = stays.GetValueOrDefault(site.Id),
                Holds = [.. holds[site.Id]],
                Around = around[site.Id],
                Administrators = administrators,
            }),
        ];
    }

    /// <summary>Writes all that a plan changes, and its entries last.</summary>
    /// <returns>The numbers of its entries.</returns>
    public static async Task<IReadOnlyList<long>> Keep(this Change change, SiteId site, Decision.Plan plan, HouseTime time)
    {
        foreach (var offer in plan.Offers)
        {
            await change.Put(offer);
        }

        if (plan.Hold is { } hold)
        {
            await change.Put(site, hold);
        }

        if (plan.Excuse is { } excuse)
        {
            await change.Put(site, excuse);
        }

        if (plan.Hand is { } hand)
        {
            await change.Put(hand);
        }

        if (plan.Person is { } person)
        {
            await change.UpdatePerson(person);
        }

        await change.Write(plan.Letters, time);
        var numbers = await change.Append(plan.Entries);
        foreach (var order in plan.Orders)
        {
            await change.Put(order.Place == 0 ? order with { Place = numbers[0] } : order);
        }

        if (plan.Stay is { } stay)
        {
            await change.Put(stay.Id == 0 ? stay with { Place = numbers[0] } : stay);
        }

        return numbers;
    }

    /// <summary>Writes what follows from a host's answer or a read, with other entries before its own.</summary>
    public static async Task Keep(this Change change, Aftermath after, HouseTime time, IReadOnlyList<Draft> before) =>
        await change.Append([.. before, .. await change.KeepAllBut(after, time)]);

    /// <summary>Writes what follows, and gives back the entries that are still to be appended.</summary>
    public static async Task<IReadOnlyList<Draft>> KeepAllBut(this Change change, Aftermath after, HouseTime time)
    {
        if (after.Offer is { } offer)
        {
            await change.Put(offer);
        }

        if (after.Stay is { } stay)
        {
            await change.Put(stay);
        }

        await change.Write(after.Letters, time);
        return after.Entries;
    }

    /// <summary>Writes a step of an order by hand.</summary>
    /// <param name="what">What happened, as the journal calls it.</param>
    public static async Task Keep(this Change change, HandStep step, HouseTime time, string what, string actor)
    {
        await change.Append([await change.KeepAllBut(step, time, what, actor)]);
    }

    /// <summary>Writes a step, and gives back the entry that is still to be appended.</summary>
    public static async Task<Draft> KeepAllBut(this Change change, HandStep step, HouseTime time, string what, string actor)
    {
        await change.Put(step.Order);
        await change.Put(step.Hand);
        await change.Write(step.Letters, time);
        var entry = ByHand.Entry(what, actor, step.Order, step.Hand);
        if (step.Site is not { } site)
        {
            return entry;
        }

        var before = (await change.Connection.Sites(new Sight.Everything(), [site.Id])).Single();
        await change.UpdateSite(site);
        return entry.Telling(before, site);
    }

    public static async Task Write(this Change change, IEnumerable<Letter> letters, HouseTime time)
    {
        foreach (var letter in letters)
        {
            await change.Write(letter, letter.Urgent ? change.Now : NextMorning(change.Now, time));
        }
    }

    private static DateTimeOffset NextMorning(DateTimeOffset now, HouseTime time)
    {
        var today = time.At(time.DayOf(now), Morning);
        return now < today ? today : time.At(time.DayOf(now).AddDays(1), Morning);
    }
}
