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
    private static readonly string[] Others =
    [
        "host",
        "host_key",
        "own_limit",
        "sharing_at",
        "sharing_source",
        "unknowns",
        "seen_at",
        "no_longer_reported",
        "existence",
        "stands_at",
        "bin_since",
        "bin_by",
        "bin_until",
        "bin_erased",
        "optional",
        "claims",
        "moved_to",
    ];

    // Shown of a site whose row cannot be read.
    private static readonly string[] Identity = ["name", "address", "unit"];

    /// <summary>The columns that <see cref="Values"/> fills, in its order: all but the id.</summary>
    internal static readonly IReadOnlyList<string> Written = [.. Others, .. FactColumn.All.Select(column => column.Name)];

    internal static string Select(string which) => $"select id, {string.Join(", ", Written)} from site {which}";

    internal static object?[] Values(SiteFacts site)
    {
        var unknowns = new List<string>();
        object?[] facts = [.. FactColumn.All.Select(column => column.Write(site.Facts, unknowns))];
        object? Instant(string name, Known<DateTimeOffset> fact)
        {
            if (fact.IsUnknown)
            {
                unknowns.Add(name);
            }

            return Sql.Moment(fact.Has(out var instant) ? instant : null);
        }

        var bin = site.Bin;
        var sharing = site.Sharing.Has(out var known) ? known : null;
        object?[] others =
        [
            site.Host,
            site.HostKey,
            Sql.Json(sharing is null ? null : Json.Of(sharing.OwnLimit)),
            Instant("sharing", site.Sharing.Select(one => one.At)),
            new NpgsqlParameter
            {
                Value = sharing is null ? DBNull.Value : (short)sharing.Source,
                NpgsqlDbType = NpgsqlDbType.Smallint,
            },
            null,
            site.SeenAt,
            site.NoLongerReported,
            (short)site.Existence,
            site.StandsAt,
            Sql.Moment(bin?.Since),
            Sql.Id(bin?.By?.Value),
            Instant("bin_until", bin?.RecoverableUntil ?? Known<DateTimeOffset>.None),
            Instant("bin_erased", bin?.ErasedBy ?? Known<DateTimeOffset>.None),
            Sql.Json(RareFacts.Write(site.Facts)),
            Sql.Json(Json.Of(site.Claims)),
            Sql.Id(site.MovedTo?.Value),
        ];
        others[At.Unknowns - 1] = unknowns.ToArray();
        return [.. others, .. facts];
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
            var unknowns = row.GetFieldValue<string[]>(At.Unknowns);
            return (Plain(row) with { Facts = Columns(row, unknowns, column => Identity.Contains(column.Name)).Build() }).Faulty(
                fault.Message
            );
        }
    }

    private static SiteFacts Whole(NpgsqlDataReader row, IReadOnlyList<Grant> grants, AttachedRows besides)
    {
        var id = row.GetInt64(0);
        var unknowns = row.GetFieldValue<string[]>(At.Unknowns);
        var facts = Columns(row, unknowns, _ => true);
        if (row.TextOrNull(At.Optional) is { } rare)
        {
            RareFacts.Read(rare, facts);
        }

        return Plain(row) with
        {
            Facts = facts.Build(),
            Sharing = row.Fact<DateTimeOffset>(At.SharingAt, "sharing", unknowns)
                .Select(at => new Sharing(
                    grants,
                    row.TextOrNull(At.OwnLimit) is { } own ? Json.Limits(own) : null,
                    at,
                    (SharingSource)row.GetInt16(At.SharingSource)
                )),
            UnderWay = besides.UnderWay.TryGetValue(id, out var hostChanges) ? hostChanges : [],
            Exceptions = besides.Exceptions.TryGetValue(id, out var exceptions) ? exceptions : [],
            NearNames = besides.NearNames is null
                ? Known<int>.Unknown
                : Known.Of(besides.NearNames.GetValueOrDefault(new SiteId(id))),
            Bin = row.OrNull<DateTimeOffset>(At.BinSince) is { } since
                ? new Bin(
                    since,
                    row.OrNull<long>(At.BinBy) is { } by ? new PersonId(by) : null,
                    row.Fact<DateTimeOffset>(At.BinUntil, "bin_until", unknowns),
                    row.Fact<DateTimeOffset>(At.BinErased, "bin_erased", unknowns)
                )
                : null,
            MovedTo = row.OrNull<long>(At.MovedTo) is { } elsewhere ? new SiteId(elsewhere) : null,
            Claims = row.TextOrNull(At.Claims) is { } claims ? Json.ClaimsOf(claims) : [],
        };
    }

    // What every row has about a site: its identity, its host and whether it exists.
    private static SiteFacts Plain(NpgsqlDataReader row) =>
        new()
        {
            Id = new SiteId(row.GetInt64(0)),
            Host = row.GetString(At.Host),
            HostKey = row.GetString(At.HostKey),
            SeenAt = row.GetFieldValue<DateTimeOffset>(At.SeenAt),
            NoLongerReported = row.GetBoolean(At.NoLongerReported),
            Existence = (Existence)row.GetInt16(At.Existence),
            StandsAt = row.GetFieldValue<DateTimeOffset>(At.StandsAt),
        };

    private static FactSet.Builder Columns(NpgsqlDataReader row, string[] unknowns, Func<FactColumn, bool> which)
    {
        var facts = new FactSet.Builder();
        for (var i = 0; i < FactColumn.All.Count; i++)
        {
            if (which(FactColumn.All[i]))
            {
                FactColumn.All[i].Read(row, At.Facts + i, unknowns, facts);
            }
        }

        return facts;
    }

    // The places of columns in a row; the id comes first.
    private static class At
    {
        public static readonly int Host = Of("host");
        public static readonly int HostKey = Of("host_key");
        public static readonly int OwnLimit = Of("own_limit");
        public static readonly int SharingAt = Of("sharing_at");
        public static readonly int SharingSource = Of("sharing_source");
        public static readonly int Unknowns = Of("unknowns");
        public static readonly int SeenAt = Of("seen_at");
        public static readonly int NoLongerReported = Of("no_longer_reported");
        public static readonly int Existence = Of("existence");
        public static readonly int StandsAt = Of("stands_at");
        public static readonly int BinSince = Of("bin_since");
        public static readonly int BinBy = Of("bin_by");
        public static readonly int BinUntil = Of("bin_until");
        public static readonly int BinErased = Of("bin_erased");
        public static readonly int Optional = Of("optional");
        public static readonly int Claims = Of("claims");
        public static readonly int MovedTo = Of("moved_to");

        public static int Facts => 1 + Others.Length;

        private static int Of(string column) => 1 + Array.IndexOf(Others, column);
    }

    /// <summary>Additional data of sites: changes under way, exceptions and the number of near names, by id. Few sites have
    /// any.</summary>
    /// <param name="NearNames">Null if names were not counted yet.</param>
    internal sealed record AttachedRows(
        IReadOnlyDictionary<long, List<UnderWay>> UnderWay,
        IReadOnlyDictionary<long, List<RuleException>> Exceptions,
        IReadOnlyDictionary<SiteId, int>? NearNames
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
                await connection.StandingExceptions(only),
                await connection.NearNamesCounted() ? await connection.NearNames(only) : null
            );
        }
    }
}
