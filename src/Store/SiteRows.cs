using System.Text.Json;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>A site as a row of its table, and back.</summary>
internal static class SiteRows
{
    internal const string Columns =
        "id, host, host_key, name, address, unit, class, kind, stage, created, edited, visited, visits, own_limit, sharing_at, sharing_source, unknowns, seen_at, vanished, existence, stands_at, bin_since, bin_by, bin_until, bin_erased, pages, bytes, domains, parent, own_group, editing, rarer, purpose, said, moved_to, tags";

    internal static string Select(string which) => $"select {Columns} from site {which}";

    internal static object?[] Values(SiteFacts site)
    {
        var unknowns = new List<string>();
        object? Fact<T>(string name, Known<T> fact, Func<T, object> map, NpgsqlDbType type)
            where T : notnull
        {
            if (fact.IsUnknown)
            {
                unknowns.Add(name);
            }

            return new NpgsqlParameter { Value = fact.Has(out var value) ? map(value) : DBNull.Value, NpgsqlDbType = type };
        }

        object? Text(string name, Known<string> fact) => Fact(name, fact, text => text, NpgsqlDbType.Text);
        object? Instant(string name, Known<DateTimeOffset> fact) =>
            Fact(name, fact, instant => instant.ToUniversalTime(), NpgsqlDbType.TimestampTz);

        object?[] facts =
        [
            site.Host,
            site.HostKey,
            Text("name", site.Name),
            Text("address", site.Address),
            Text("unit", site.Unit.Select(unit => unit.Value)),
            Text("class", site.Class),
            Text("kind", site.Kind),
            Fact("stage", site.Stage, stage => (short)stage, NpgsqlDbType.Smallint),
            Instant("created", site.Created),
            Instant("edited", site.LastEdit),
            Instant("visited", site.LastVisit),
            Fact("visits", site.Visits, visits => visits, NpgsqlDbType.Integer),
            Sql.Json(site.Sharing.Has(out var sharing) ? Json.Of(sharing.OwnLimit) : null),
            Fact("sharing", site.Sharing, known => known.At.ToUniversalTime(), NpgsqlDbType.TimestampTz),
            new NpgsqlParameter
            {
                Value = sharing is null ? DBNull.Value : (short)sharing.Source,
                NpgsqlDbType = NpgsqlDbType.Smallint,
            },
        ];
        var bin = site.Bin;
        object?[] stands =
        [
            (short)site.Existence,
            site.StandsAt,
            Sql.Moment(bin?.Since),
            Sql.Id(bin?.By?.Value),
            Instant("bin_until", bin?.RecoverableUntil ?? Known<DateTimeOffset>.None),
            Instant("bin_erased", bin?.ErasedBy ?? Known<DateTimeOffset>.None),
            Fact("pages", site.Content.Pages, pages => pages, NpgsqlDbType.Integer),
            Fact("bytes", site.Content.Bytes, bytes => bytes, NpgsqlDbType.Bigint),
            Fact("domains", site.Content.Domains, domains => domains.ToArray(), NpgsqlDbType.Array | NpgsqlDbType.Text),
            Text("parent", site.Content.Parent),
            Fact("own_group", site.Content.Group, group => group.Value, NpgsqlDbType.Bigint),
            Fact(
                "editing",
                site.Content.Editing,
                people => people.Select(person => person.Value).ToArray(),
                NpgsqlDbType.Array | NpgsqlDbType.Bigint
            ),
            Sql.Json(Json.Rarer(site.Content)),
            Text("purpose", site.Purpose),
            Sql.Json(Json.Of(site.Said)),
            Sql.Id(site.MovedTo?.Value),
            Text("tags", site.Tags),
        ];
        return [.. facts, unknowns.ToArray(), site.SeenAt, site.Vanished, .. stands];
    }

    /// <summary>A site as it stands; where its row cannot be read, what can be read of it, and why the rest cannot.</summary>
    internal static SiteFacts Read(NpgsqlDataReader row, IReadOnlyList<Grant> grants, Besides besides)
    {
        try
        {
            return Whole(row, grants, besides);
        }
        catch (Exception fault)
            when (fault
                    is FormatException
                        or JsonException
                        or ArgumentException
                        or InvalidCastException
                        or OverflowException
                        or KeyNotFoundException
                        or InvalidOperationException
            )
        {
            return Plain(row, row.GetFieldValue<string[]>(16)).Faulty(fault.Message);
        }
    }

    private static SiteFacts Whole(NpgsqlDataReader row, IReadOnlyList<Grant> grants, Besides besides)
    {
        var id = row.GetInt64(0);
        var unknowns = row.GetFieldValue<string[]>(16);
        var content = Content(row, unknowns);
        return Plain(row, unknowns) with
        {
            Class = row.Fact<string>(6, "class", unknowns),
            Kind = row.Fact<string>(7, "kind", unknowns),
            Stage = row.Fact<short>(8, "stage", unknowns).Select(stage => (Stage)stage),
            Created = row.Fact<DateTimeOffset>(9, "created", unknowns),
            LastEdit = row.Fact<DateTimeOffset>(10, "edited", unknowns),
            LastVisit = row.Fact<DateTimeOffset>(11, "visited", unknowns),
            Visits = row.Fact<int>(12, "visits", unknowns),
            Sharing = row.Fact<DateTimeOffset>(14, "sharing", unknowns)
                .Select(at => new Sharing(
                    grants,
                    row.TextOrNull(13) is { } own ? Json.Limits(own) : null,
                    at,
                    (SharingSource)row.GetInt16(15)
                )),
            UnderWay = besides.UnderWay.TryGetValue(id, out var orders) ? orders : [],
            Excuses = besides.Excuses.TryGetValue(id, out var excuses) ? excuses : [],
            Bin = row.OrNull<DateTimeOffset>(21) is { } since
                ? new Bin(
                    since,
                    row.OrNull<long>(22) is { } by ? new PersonId(by) : null,
                    row.Fact<DateTimeOffset>(23, "bin_until", unknowns),
                    row.Fact<DateTimeOffset>(24, "bin_erased", unknowns)
                )
                : null,
            Content = row.TextOrNull(31) is { } rarer ? content.WithRarer(rarer) : content,
            Purpose = row.Fact<string>(32, "purpose", unknowns),
            Tags = row.Fact<string>(35, "tags", unknowns),
            MovedTo = row.OrNull<long>(34) is { } elsewhere ? new SiteId(elsewhere) : null,
            Said = row.TextOrNull(33) is { } said ? Json.Said(said) : [],
        };
    }

    // What a row that is there at all says of a site: which it is, whose, and whether it stands.
    private static SiteFacts Plain(NpgsqlDataReader row, string[] unknowns) =>
        new()
        {
            Id = new SiteId(row.GetInt64(0)),
            Host = row.GetString(1),
            HostKey = row.GetString(2),
            Name = row.Fact<string>(3, "name", unknowns),
            Address = row.Fact<string>(4, "address", unknowns),
            Unit = row.Fact<string>(5, "unit", unknowns).Select(code => new UnitCode(code)),
            SeenAt = row.GetFieldValue<DateTimeOffset>(17),
            Vanished = row.GetBoolean(18),
            Existence = (Existence)row.GetInt16(19),
            StandsAt = row.GetFieldValue<DateTimeOffset>(20),
        };

    private static Content Content(NpgsqlDataReader row, string[] unknowns) =>
        new()
        {
            Pages = row.Fact<int>(25, "pages", unknowns),
            Bytes = row.Fact<long>(26, "bytes", unknowns),
            Domains = row.Fact<string[]>(27, "domains", unknowns).Select(domains => (IReadOnlyList<string>)domains),
            Parent = row.Fact<string>(28, "parent", unknowns),
            Group = row.Fact<long>(29, "own_group", unknowns).Select(group => new GroupId(group)),
            Editing = row.Fact<long[]>(30, "editing", unknowns)
                .Select(people => (IReadOnlyList<PersonId>)[.. people.Select(person => new PersonId(person))]),
        };

    /// <summary>What stands of sites beside their rows: orders under way and excuses, by their ids. Few have any.</summary>
    internal sealed record Besides(
        IReadOnlyDictionary<long, List<UnderWay>> UnderWay,
        IReadOnlyDictionary<long, List<Excuse>> Excuses
    )
    {
        public static async Task<Besides> Of(NpgsqlConnection connection, IReadOnlyCollection<SiteId>? only = null)
        {
            var orders = await connection.Rows(
                "select site, id, wish from host_order where state in (0, 1) and ($1::bigint[] is null or site = any($1)) order by place",
                row => (Site: row.GetInt64(0), Order: new UnderWay(new OrderId(row.GetGuid(1)), Json.Wish(row.GetString(2)))),
                Sql.Ids(only)
            );
            return new(
                orders.GroupBy(pair => pair.Site, pair => pair.Order).ToDictionary(group => group.Key, group => group.ToList()),
                await connection.StandingExcuses(only)
            );
        }
    }
}
