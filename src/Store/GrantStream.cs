using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>
/// All grants in the order of their sites. What is granted alike at many sites is one grant in memory. Each value of a row
/// costs on both sides and there are millions of rows, so what is small travels in one number.
/// </summary>
internal sealed class GrantStream : IAsyncDisposable
{
    private static readonly string[] Subjects = ["person", "group", "unit", "staff", "partners", "passers-by"];

    private static readonly string Rows =
        $"""
        copy (select site, (case subject {string.Join(' ', Subjects.Index().Select(subject => $"when '{subject.Item}' then {subject.Index}"))} end << 8) | (power << 4) | (proof << 1) | is_link::integer,
            coalesce(person, people_group), unit, through from site_grant order by site) to stdout (format binary)
        """;

    private readonly NpgsqlBinaryExporter rows;
    private readonly Dictionary<(int Kind, long Who), Grant> alike = [];
    private long site = long.MinValue;
    private Grant? next;

    private GrantStream(NpgsqlBinaryExporter rows) => this.rows = rows;

    public static async Task<GrantStream> Open(NpgsqlConnection connection, CancellationToken stop) => new(await connection.BeginBinaryExportAsync(Rows, stop));

    public List<Grant> Of(long wanted)
    {
        var found = new List<Grant>(16);
        while (site <= wanted)
        {
            if (site == wanted && next is not null)
            {
                found.Add(next);
            }

            if (rows.StartRow() < 0)
            {
                site = long.MaxValue;
                break;
            }

            site = rows.Read<long>();
            next = Read();
        }

        return found;
    }

    public ValueTask DisposeAsync() => rows.DisposeAsync();

    private Grant Read()
    {
        var kind = rows.Read<int>();
        long? who = Null() ? null : rows.Read<long>();
        var unit = Null() ? null : rows.Read<string>();
        DateOnly? through = Null() ? null : rows.Read<DateOnly>();
        return unit is not null || through is not null ? Make(kind, who, unit, through)
            : alike.TryGetValue((kind, who ?? 0), out var grant) ? grant
            : alike[(kind, who ?? 0)] = Make(kind, who, unit, through);
    }

    private static Grant Make(int kind, long? who, string? unit, DateOnly? through)
    {
        var subject = Subjects[kind >> 8];
        return new StoredGrant((Power)((kind >> 4) & 15), subject, subject == "person" ? who : null, subject == "group" ? who : null, unit, (Proof)((kind >> 1) & 7), (kind & 1) != 0, through).Grant("");
    }

    private bool Null()
    {
        if (rows.IsNull)
        {
            rows.Skip();
            return true;
        }

        return false;
    }
}
