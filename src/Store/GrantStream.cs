using System.Buffers.Binary;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>All grants in the sequence of their sites. Equal grants on many sites are one object in memory. There are millions,
/// and each value of a row has a cost on both sides: so the grants of a site travel together, each as one number, except the few
/// that name a unit or have an end, which are read first.
/// </summary>
internal sealed class GrantStream : IAsyncDisposable
{
    // Above the bits of a person's or a group's id.
    private const int KindShift = 44;

    private static readonly string[] Subjects = ["person", "group", "unit", "staff", "partners", "anonymous"];

    // Millions of rows are read, and nearly all name a person or a group: a null check costs less than comparing words.
    private static readonly string Kind = $"""
        (case when person is not null then 0 when people_group is not null then 1
            else case subject {string.Join(
            ' ',
            Subjects.Index().Select(subject => $"when '{subject.Item}' then {subject.Index}")
        )} end end << 8) | (power << 4) | (visitor_sign_in << 1) | is_link::integer
        """;

    private static readonly string Longer =
        $"select site, {Kind}, coalesce(person, people_group, 0), unit, through from site_grant where unit is not null or through is not null order by site, key";

    private static readonly string Rows = $"""
        copy (select site, string_agg(int8send((({Kind})::bigint << {KindShift}) | coalesce(person, people_group, 0)), '')
            from site_grant where unit is null and through is null group by site order by site) to stdout (format binary)
        """;

    private readonly NpgsqlBinaryExporter rows;
    private readonly ILookup<long, Grant> longer;
    private readonly Dictionary<long, Grant> alike = [];
    private long site = long.MinValue;
    private byte[] next = [];

    private GrantStream(NpgsqlBinaryExporter rows, ILookup<long, Grant> longer) => (this.rows, this.longer) = (rows, longer);

    public static async Task<GrantStream> Open(NpgsqlConnection connection, CancellationToken stop)
    {
        var longer = await connection.Rows(Longer, row =>
            (Site: row.GetInt64(0), Grant: Make(row.GetInt32(1), row.GetInt64(2), row.TextOrNull(3), row.OrNull<DateOnly>(4)))
        );
        return new(await connection.BeginBinaryExportAsync(Rows, stop), longer.ToLookup(pair => pair.Site, pair => pair.Grant));
    }

    /// <summary>The grants of a site; each call has to be for a later site.</summary>
    public List<Grant> Of(long wanted)
    {
        while (site < wanted)
        {
            (site, next) = rows.StartRow() < 0 ? (long.MaxValue, []) : (rows.Read<long>(), rows.Read<byte[]>());
        }

        List<Grant> found = [.. longer[wanted]];
        if (site == wanted)
        {
            found.EnsureCapacity(found.Count + (next.Length / sizeof(long)));
            for (var at = 0; at < next.Length; at += sizeof(long))
            {
                var grant = BinaryPrimitives.ReadInt64BigEndian(next.AsSpan(at));
                found.Add(
                    alike.TryGetValue(grant, out var known)
                        ? known
                        : alike[grant] = Make((int)(grant >> KindShift), grant & ((1L << KindShift) - 1), null, null)
                );
            }
        }

        return found;
    }

    public ValueTask DisposeAsync() => rows.DisposeAsync();

    private static Grant Make(int kind, long who, string? unit, DateOnly? through)
    {
        var subject = Subjects[kind >> 8];
        return new StoredGrant(
            (Power)((kind >> 4) & 15),
            subject,
            subject == "person" ? who : null,
            subject == "group" ? who : null,
            unit,
            (VisitorSignIn)((kind >> 1) & 7),
            (kind & 1) != 0,
            through
        ).Grant("");
    }
}
