using System.Globalization;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.FirstWeek;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Tables;
using AtticLedger.Hosts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.FirstWeek;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>A list with how it was understood.</summary>
internal sealed record ReadList(HandList List, ListTable Table, IReadOnlyList<ColumnChoice> Columns, DayChoice Days);

/// <summary>What taking in a list would come to, line by line. The same intake decides here and when it is taken in.</summary>
/// <param name="Sites">How many sites it names that there are or will be.</param>
/// <param name="Vanished">The sites that it no longer names.</param>
internal sealed record ListForesight(int Sites, IReadOnlyList<ListRowWire> Rows, IReadOnlyList<string> Vanished, IReadOnlyList<ListOrderWire> Orders, IReadOnlyList<RuleMoveWire> Rules, IReadOnlyList<string> Nowhere)
{
    private const int First = 20;
    private const string GrantField = "grant ";

    public string Fingerprint =>
        Head.HashOf(JournalValue.Of(
            ("rows", JournalValue.Of(Rows.Where(row => row.Verdict is ListVerdict.New or ListVerdict.Changed).Select(Digest))),
            ("gone", JournalValue.Of(Vanished.Select(title => JournalValue.Of(title)))),
            ("orders", JournalValue.Of(Orders.Select(order => JournalValue.Of($"{order.Order} {order.IsSo}"))))).Canonical());

    public static async Task<ListForesight> Of(string name, ReadList read, bool whole, DateTimeOffset asOf, NpgsqlConnection connection, Database database)
    {
        var (now, list) = (database.Now, read.List);
        var time = await connection.HouseTime();
        var resolution = await SiteIntake.Resolution(connection, database.Rolls, now);
        var (roll, house, rules) = (await database.Rolls.Of(connection, now, time), await connection.House(), await connection.Rules(time.DayOf(now)));
        var known = (await connection.SitesByKey(name, [.. list.Sites.Select(site => site.Key)])).ToDictionary(site => site.HostKey);
        var confirmed = (await connection.OrdersUnderWay()).Where(order => order.State == OrderState.Confirmed).ToLookup(order => order.Site);
        var hands = await connection.HandOrders([.. known.Values.SelectMany(site => confirmed[site.Id]).Select(order => order.Id)]);
        var wrong = list.Faults.ToLookup(fault => fault.Line);
        var (rows, orders, nowhere) = (new List<ListRowWire>(), new List<ListOrderWire>(), new List<string>());
        var (before, after) = (new List<SiteFacts>(), new List<SiteFacts>());
        ListRowWire Row(int line, SiteFacts? was, TakenIn taken)
        {
            var verdict = was is null ? ListVerdict.New : taken.Entry is null ? ListVerdict.Same : ListVerdict.Changed;
            if (verdict != ListVerdict.Same)
            {
                before.AddRange(was is null ? [] : [was]);
                after.Add(taken.Site);
            }

            return new ListRowWire(line, verdict, taken.Site.Title, was?.Id.Value, verdict == ListVerdict.Changed ? Changes(taken.Entry!, roll) : [], [.. wrong[line].Select(fault => fault.Why)]);
        }

        foreach (var (said, line) in list.Sites.Zip(list.Lines))
        {
            var was = known.GetValueOrDefault(said.Key);
            var taken = Intake.Take(was, resolution.Site(name, said, asOf), was is null ? [] : [.. confirmed[was.Id]], asOf, now);
            rows.Add(Row(line, was, taken));
            orders.AddRange(taken.Moved.Select(order => new ListOrderWire(
                order.Id.Value, was!.Title, hands.GetValueOrDefault(order.Id)?.DoneBy is { } by ? PersonWire.Of(by, roll) : null, order.State == OrderState.Seen, ByHand.Difference(order.Wish, taken.Site, roll))));
        }

        var elsewhere = await connection.SitesNamed([.. list.Others.Select(other => (other.Host, other.Named))]);
        foreach (var other in list.Others)
        {
            if (elsewhere.TryGetValue((other.Host, other.Named), out var site))
            {
                rows.Add(Row(other.Line, site, Intake.Hear(site, name, other.Facts, asOf)));
                continue;
            }

            var why = $"{other.Host} has no site, or more than one, at \"{other.Named}\".";
            nowhere.Add($"Line {other.Line}: {why}");
            rows.Add(new ListRowWire(other.Line, ListVerdict.Refused, other.Named, null, [], [why]));
        }

        rows.AddRange(list.Faults.Where(fault => fault.IsRefused).Select(fault => new ListRowWire(fault.Line, ListVerdict.Refused, "", null, [], [fault.Why])));
        var keys = list.Sites.Select(site => site.Key).ToHashSet();
        var gone = whole && list.Refused.Count == 0 ? (await connection.StandingSince(name, asOf)).Where(site => !keys.Contains(site.Key)).ToList() : [];
        var vanished = await connection.Sites(new Sight.Everything(), [.. gone.Select(site => site.Id)]);
        before.AddRange(vanished);
        IReadOnlyList<JudgedLine> Judged(List<SiteFacts> sites) => rules.Judge(sites.ConvertAll(site => new SiteLine(site, house, roll)));
        return new ListForesight(
            list.Sites.Count + elsewhere.Count,
            [.. rows.OrderBy(row => row.Line)],
            [.. vanished.Select(site => site.Title)],
            orders,
            [.. Say.Effect(Judged(before), Judged(after)).Rules.Select(move => new RuleMoveWire(RuleWire.Of(move.Rule.Id, rules), move.Before, move.After))],
            nowhere);
    }

    public ListPlanWire Wire(ReadList read)
    {
        int Count(ListVerdict verdict) => Rows.Count(row => row.Verdict == verdict);
        return new ListPlanWire(
            Fingerprint,
            Sites,
            Count(ListVerdict.New),
            Count(ListVerdict.Changed),
            Count(ListVerdict.Same),
            Count(ListVerdict.Refused),
            Vanished.Count,
            [.. Vanished.Take(First)],
            Orders,
            Rules,
            read.List.Refused,
            [.. read.List.Problems, .. Nowhere],
            [.. read.Columns.Where(choice => choice.Column is null).Select(choice => choice.Head)],
            read.Table.ReadAs,
            [.. read.Columns.Select(choice => new ColumnChoiceWire(choice.Head, choice.Column, choice.Because))],
            HandList.Columns,
            read.Days.Example is null ? null : read.Days.Order,
            read.Days.IsSure,
            read.Days.Example);
    }

    private static JournalValue Digest(ListRowWire row) =>
        JournalValue.Of([
            JournalValue.Of(row.Site?.ToString(CultureInfo.InvariantCulture) ?? row.Title),
            .. row.Changes.SelectMany(change => new[] { change.Fact, change.Before, change.After }).Select(JournalValue.Of),
        ]);

    private static IReadOnlyList<FactChangeWire> Changes(Draft entry, Core.People.Roll roll)
    {
        var (was, now) = (Fields(entry.Before), Fields(entry.After));
        return [.. was.Keys.Union(now.Keys).Select(field => new FactChangeWire(Words(field), Words(field, was, roll), Words(field, now, roll)))];
    }

    private static Dictionary<string, JournalValue> Fields(JournalValue value) => value is JournalValue.Fields(var fields) ? fields.ToDictionary(field => field.Name, field => field.Value) : [];

    private static string Words(string field) => field.StartsWith(GrantField, StringComparison.Ordinal) ? "who is let in" : field;

    private static string? Words(string field, Dictionary<string, JournalValue> facts, Core.People.Roll roll) =>
        !facts.TryGetValue(field, out var value) || value is JournalValue.Absent ? null
        : value.Canonical() == JournalValue.Unknown.Canonical() ? "not known"
        : field.StartsWith(GrantField, StringComparison.Ordinal) ? GrantWords.InWords(value, roll)
        : value switch { JournalValue.Text(var text) => text, JournalValue.Flag(var flag) => flag ? "yes" : "no", _ => value.Canonical() };
}
