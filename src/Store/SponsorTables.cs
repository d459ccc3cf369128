using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>A source's claim about the sponsor of a guest.</summary>
public sealed record Sponsorship(PersonId Guest, string Source, PersonId Sponsor);

public static class SponsorTables
{
    /// <summary>The sponsors of guests, and the guests of sponsors.</summary>
    public static Task<List<Sponsorship>> SponsorshipsWith(this NpgsqlConnection connection, PersonId person) =>
        connection.Rows(
            "select guest, source, sponsor from person_sponsor where guest = $1 or sponsor = $1 order by guest, source",
            Read,
            person.Value
        );

    public static Task<List<Sponsorship>> Sponsorships(this NpgsqlConnection connection) =>
        connection.Rows("select guest, source, sponsor from person_sponsor order by guest, source collate \"C\"", Read);

    /// <summary>Replaces all sponsorships of a source; those it no longer reports are deleted.</summary>
    /// <returns>The number of changes.</returns>
    public static async Task<int> SetSponsors(
        this Change change,
        string source,
        IReadOnlyCollection<(PersonId Guest, PersonId Sponsor)> said
    )
    {
        var (guests, sponsors) = (
            said.Select(pair => pair.Guest.Value).ToArray(),
            said.Select(pair => pair.Sponsor.Value).ToArray()
        );
        return await change.Connection.Run("delete from person_sponsor where source = $1 and not guest = any($2)", source, guests)
            + await change.Connection.Run(
                """
                insert into person_sponsor (guest, source, sponsor) select guest, $1, sponsor from unnest($2::bigint[], $3::bigint[]) as claims(guest, sponsor)
                on conflict (guest, source) do update set sponsor = excluded.sponsor where person_sponsor.sponsor <> excluded.sponsor
                """,
                source,
                guests,
                sponsors
            );
    }

    private static Sponsorship Read(NpgsqlDataReader row) =>
        new(new PersonId(row.GetInt64(0)), row.GetString(1), new PersonId(row.GetInt64(2)));
}
