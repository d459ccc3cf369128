using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.FirstWeek;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>What taking in a list would come to, decided line by line. The same intake decides here and when it is taken in.</summary>
internal sealed class ListForesight
{
    private const int First = 20;
    private const int Together = 500;
    private const string GrantField = "grant ";
    private readonly string name;
    private readonly DateTimeOffset asOf;
    private readonly DateTimeOffset now;
    private readonly NpgsqlConnection connection;
    private readonly Resolution resolution;
    private readonly Core.People.Roll roll;
    private readonly House house;
    private readonly ILookup<SiteId, Order> confirmed;
    private readonly Action<ListRowWire> each;
    private readonly IncrementalHash digest = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private readonly HashSet<string> keys = [];
    private readonly int[] counts = new int[Enum.GetValues<ListVerdict>().Length];
    private readonly RuleMoves moves;
    private readonly List<ListOrderWire> orders = [];
    private readonly FirstWords refused = new();
    private readonly FirstWords problems = new();
    private readonly List<string> vanished = [];
    private int sites;
    private int gone;

    private ListForesight(
        string name,
        DateTimeOffset asOf,
        DateTimeOffset now,
        NpgsqlConnection connection,
        Resolution resolution,
        Core.People.Roll roll,
        House house,
        RuleBook rules,
        ILookup<SiteId, Order> confirmed,
        Action<ListRowWire> each
    )
    {
        (this.name, this.asOf, this.now, this.connection, this.resolution) = (name, asOf, now, connection, resolution);
        (this.roll, this.house, this.confirmed, this.each) = (roll, house, confirmed, each);
        moves = new RuleMoves(rules);
    }

    public string Fingerprint { get; private set; } = "";

    /// <param name="each">Told of each line, in their order.</param>
    public static async Task<ListForesight> Of(
        string name,
        ReadList read,
        bool whole,
        DateTimeOffset asOf,
        NpgsqlConnection connection,
        Database database,
        Action<ListRowWire>? each = null
    )
    {
        var (now, time) = (database.Now, await connection.HouseTime());
        var foresight = new ListForesight(
            name,
            asOf,
            now,
            connection,
            await SiteIntake.Resolution(connection, database.Rolls, now),
            await database.Rolls.Of(connection, now, time),
            await connection.House(),
            await connection.Rules(time.DayOf(now)),
            (await connection.OrdersUnderWay()).Where(order => order.State == OrderState.Confirmed).ToLookup(order => order.Site),
            each ?? (_ => { })
        );
        foreach (var few in read.Chunks)
        {
            await foresight.Look(await ReadList.Recognised(connection, name, few));
        }

        if (whole && foresight.refused.All == 0)
        {
            await foresight.LookForGone();
        }

        foresight.Fingerprint = Convert.ToHexStringLower(foresight.digest.GetHashAndReset());
        return foresight;
    }

    public ListPlanWire Wire(ReadList read) =>
        new(
            Fingerprint,
            sites,
            counts[(int)ListVerdict.New],
            counts[(int)ListVerdict.Changed],
            counts[(int)ListVerdict.Same],
            counts[(int)ListVerdict.Refused],
            gone,
            vanished,
            orders,
            moves.Wire,
            refused.All,
            refused.Words,
            problems.All,
            problems.Words,
            ListReadingWire.Of(read.How)
        );

    private async Task Look(ListedLine[] lines)
    {
        var known = (await connection.SitesByKey(name, [.. lines.Select(line => line.Site?.Key).OfType<string>()])).ToDictionary(
            site => site.HostKey
        );
        var hands = await connection.HandOrders([
            .. known.Values.SelectMany(site => confirmed[site.Id]).Select(order => order.Id),
        ]);
        var elsewhere = await connection.SitesNamed([
            .. lines.Select(line => line.Other).OfType<ListedElsewhere>().Select(other => (other.Host, other.Named)),
        ]);
        var (before, after) = (new List<SiteFacts>(), new List<SiteFacts>());
        foreach (var line in lines)
        {
            var row = line switch
            {
                { Site: { } said } => Taken(line, said, known.GetValueOrDefault(said.Key), hands, before, after),
                { Other: { } other } when elsewhere.TryGetValue((other.Host, other.Named), out var site) => Row(
                    line,
                    site,
                    Intake.Hear(site, name, other.Facts, asOf),
                    before,
                    after
                ),
                { Other: { } other } => Refused(
                    line,
                    other.Named,
                    $"{other.Host} has no site, or more than one, at \"{other.Named}\"."
                ),
                _ => Refused(line, "", line.Faults[0].Why),
            };
            counts[(int)row.Verdict]++;
            foreach (var fault in line.Faults)
            {
                (fault.IsRefused ? refused : problems).Add(fault.Words);
            }

            if (row.Verdict is ListVerdict.New or ListVerdict.Changed)
            {
                Sum(Digest(row));
            }

            each(row);
        }

        Count(before, after);
    }

    private ListRowWire Taken(
        ListedLine line,
        HostSite said,
        SiteFacts? was,
        IReadOnlyDictionary<OrderId, HandOrder> hands,
        List<SiteFacts> before,
        List<SiteFacts> after
    )
    {
        keys.Add(said.Key);
        var taken = Intake.Take(was, resolution.Site(name, said, asOf), was is null ? [] : [.. confirmed[was.Id]], asOf, now);
        foreach (var order in taken.Moved)
        {
            var isSo = order.State == OrderState.Seen;
            orders.Add(
                new ListOrderWire(
                    order.Id.Value,
                    was!.Title,
                    hands.GetValueOrDefault(order.Id)?.DoneBy is { } by ? PersonWire.Of(by, roll) : null,
                    isSo,
                    ByHand.Difference(order.Wish, taken.Site, roll)
                )
            );
            Sum(JournalValue.Of($"{order.Id.Value} {isSo}"));
        }

        return Row(line, was, taken, before, after);
    }

    private ListRowWire Row(ListedLine line, SiteFacts? was, TakenIn taken, List<SiteFacts> before, List<SiteFacts> after)
    {
        sites++;
        var verdict =
            was is null ? ListVerdict.New
            : taken.Entry is null ? ListVerdict.Same
            : ListVerdict.Changed;
        if (verdict != ListVerdict.Same)
        {
            before.AddRange(was is null ? [] : [was]);
            after.Add(taken.Site);
        }

        return new ListRowWire(
            line.Line,
            verdict,
            taken.Site.Title,
            was?.Id.Value,
            verdict == ListVerdict.Changed ? Changes(taken.Entry!, roll) : [],
            [.. line.Faults.Select(fault => fault.Why)]
        );
    }

    private ListRowWire Refused(ListedLine line, string title, string why)
    {
        // Of another host, so the list may be whole all the same.
        if (!line.IsRefused)
        {
            problems.Add($"Line {line.Line}: {why}");
        }

        return new ListRowWire(line.Line, ListVerdict.Refused, title, null, [], [why]);
    }

    private async Task LookForGone()
    {
        var missing = (await connection.StandingSince(name, asOf))
            .Where(site => !keys.Contains(site.Key))
            .Select(site => site.Id);
        foreach (var few in missing.Chunk(Together))
        {
            var these = await connection.Sites(new Sight.Everything(), few);
            gone += these.Count;
            vanished.AddRange(these.Select(site => site.Title).Take(First - vanished.Count));
            foreach (var site in these)
            {
                Sum(JournalValue.Of(site.Title));
            }

            Count(these, []);
        }
    }

    private void Count(IReadOnlyList<SiteFacts> before, IReadOnlyList<SiteFacts> after) =>
        moves.Count(Lines(before), Lines(after));

    private SiteLine[] Lines(IReadOnlyList<SiteFacts> sites) => [.. sites.Select(site => new SiteLine(site, house, roll))];

    private void Sum(JournalValue value) => digest.AppendData(Encoding.UTF8.GetBytes($"{value.Canonical()}\n"));

    private static JournalValue Digest(ListRowWire row) =>
        JournalValue.Of([
            JournalValue.Of(row.Id?.ToString(CultureInfo.InvariantCulture) ?? row.Title),
            .. row.Changes.SelectMany(change => new[] { change.Fact, change.Before, change.After }).Select(JournalValue.Of),
        ]);

    private static IReadOnlyList<FactChangeWire> Changes(Draft entry, Core.People.Roll roll)
    {
        var (was, now) = (Fields(entry.Before), Fields(entry.After));
        return
        [
            .. was
                .Keys.Union(now.Keys)
                .Select(field => new FactChangeWire(Words(field), Words(field, was, roll), Words(field, now, roll))),
        ];
    }

    private static Dictionary<string, JournalValue> Fields(JournalValue value) =>
        value is JournalValue.Fields(var fields) ? fields.ToDictionary(field => field.Name, field => field.Value) : [];

    private static string Words(string field) => field.StartsWith(GrantField, StringComparison.Ordinal) ? "who is let in" : field;

    private static string? Words(string field, Dictionary<string, JournalValue> facts, Core.People.Roll roll) =>
        !facts.TryGetValue(field, out var value) || value is JournalValue.Absent ? null
        : value.Canonical() == JournalValue.Unknown.Canonical() ? "not known"
        : field.StartsWith(GrantField, StringComparison.Ordinal) ? GrantWords.InWords(value, roll)
        : value switch
        {
            JournalValue.Text(var text) => text,
            JournalValue.Flag(var flag) => flag ? "yes" : "no",
            _ => value.Canonical(),
        };
}
