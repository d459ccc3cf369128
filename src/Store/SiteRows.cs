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
        "id, host, host_key, name, address, unit, classification, kind, status, created, edited, visited, visits, own_limit, sharing_at, sharing_source, unknowns, seen_at, no_longer_reported, existence, stands_at, bin_since, bin_by, bin_until, bin_erased, pages, bytes, domains, parent, own_group, editing, optional, purpose, claims, moved_to, tags";

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
            Text("classification", site.Classification),
            Text("kind", site.Kind),
            Fact("status", site.Status, status => (short)status, NpgsqlDbType.Smallint),
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
            Sql.Json(Json.Optional(site.Content)),
            Text("purpose", site.Purpose),
            Sql.Json(Json.Of(site.Claims)),
            Sql.Id(site.MovedTo?.Value),
            Text("tags", site.Tags),
        ];
        return [.. facts, unknowns.ToArray(), site.SeenAt, site.NoLongerReported, .. stands];
    }

    /// <summary>A site from its row; if the row cannot be read, its readable part and the reason.</summary>
    internal static SiteFacts Read(NpgsqlDataReader row, IReadOnlyList<Grant> grants, AttachedRows besides)
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

    private static SiteFacts Whole(NpgsqlDataReader row, IReadOnlyList<Grant> grants, AttachedRows besides)
    {
        var id = row.GetInt64(0);
        var unknowns = row.GetFieldValue<string[]>(16);
        var content = Content(row, unknowns);
        return Plain(row, unknowns) with
        {
            Classification = row.Fact<string>(6, "classification", unknowns),
            Kind = row.Fact<string>(7, "kind", unknowns),
            Status = row.Fact<short>(8, "status", unknowns).Select(status => (Status)status),
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
            UnderWay = besides.UnderWay.TryGetValue(id, out var hostChanges) ? hostChanges : [],
            Exceptions = besides.Exceptions.TryGetValue(id, out var exceptions) ? exceptions : [],
            Bin = row.OrNull<DateTimeOffset>(21) is { } since
                ? new Bin(
                    since,
                    row.OrNull<long>(22) is { } by ? new PersonId(by) : null,
                    row.Fact<DateTimeOffset>(23, "bin_until", unknowns),
                    row.Fact<DateTimeOffset>(24, "bin_erased", unknowns)
                )
                : null,
            Content = row.TextOrNull(31) is { } optional ? content.WithOptional(optional) : content,
            Purpose = row.Fact<string>(32, "purpose", unknowns),
            Tags = row.Fact<string>(35, "tags", unknowns),
            MovedTo = row.OrNull<long>(34) is { } elsewhere ? new SiteId(elsewhere) : null,
            Claims = row.TextOrNull(33) is { } claims ? Json.ClaimsOf(claims) : [],
        };
    }

    // What every row has about a site: its identity, its host and whether it exists.
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
            NoLongerReported = row.GetBoolean(18),
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

    /// <summary>Additional data of sites: changes under way and exceptions, by id. Few sites have any.</summary>
    internal sealed record AttachedRows(
        IReadOnlyDictionary<long, List<UnderWay>> UnderWay,
        IReadOnlyDictionary<long, List<RuleException>> Exceptions
    )
    {
        public static async Task<AttachedRows> Of(NpgsqlConnection connection, IReadOnlyCollection<SiteId>? only = null)
        {
            var hostChanges = await connection.Rows(
                "select site, id, wanted from host_change where state in (0, 1) and ($1::bigint[] is null or site = any($1)) order by place",
                row =>
                    (
                        Site: row.GetInt64(0),
                        HostChange: new UnderWay(new ChangeId(row.GetGuid(1)), Json.WantedState(row.GetString(2)))
                    ),
                Sql.Ids(only)
            );
            return new(
                hostChanges
                    .GroupBy(pair => pair.Site, pair => pair.HostChange)
                    .ToDictionary(group => group.Key, group => group.ToList()),
                await connection.StandingExceptions(only)
            );
        }
    }
}
