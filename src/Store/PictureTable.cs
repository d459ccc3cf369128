using AtticLedger.Core.Terms;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>A picture as it was encoded again here.</summary>
/// <param name="Hash">SHA-256 of the bytes, in lower case.</param>
/// <param name="Png">The bytes.</param>
public sealed record LogoPicture(string Hash, byte[] Png, int Width, int Height);

/// <summary>The pictures of logos that are kept here.</summary>
public static class PictureTable
{
    public static async Task<byte[]?> LogoPicture(this NpgsqlConnection connection, string hash) =>
        (await connection.Rows("select png from picture where hash = $1", row => row.GetFieldValue<byte[]>(0), hash)) is [var png]
            ? png
            : null;

    public static Task<bool> HasPicture(this NpgsqlConnection connection, string hash) =>
        connection.One<bool>("select exists (select from picture where hash = $1)", hash);

    public static Task Put(this Change change, LogoPicture picture, PersonId by) =>
        change.Connection.Run(
            "insert into picture (hash, png, width, height, by_person, kept_at) values ($1, $2, $3, $4, $5, $6) on conflict (hash) do nothing",
            picture.Hash,
            picture.Png,
            picture.Width,
            picture.Height,
            by.Value,
            change.Now
        );
}
