using System.Buffers.Text;
using System.Security.Cryptography;
using System.Text;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Terms;

namespace AtticLedger.Store;

/// <summary>Tokens of links: 256 random bits in base64url (RFC 4648, section 5) that exist only in the link; only their hash is
/// stored.</summary>
public static class LinkTokens
{
    public static byte[] HashOf(string token) => SHA256.HashData(Encoding.UTF8.GetBytes(token));

    /// <summary>Makes a link and returns its token.</summary>
    public static async Task<string> MakeLink(this Change change, PersonId person, NotificationLink link, long? notification)
    {
        var token = Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(32));
        await change.PutLink(HashOf(token), new LinkRow(person, link.Purpose, link.Subject, link.Until, null), notification);
        return token;
    }
}
