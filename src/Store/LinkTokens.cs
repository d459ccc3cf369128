using System.Buffers.Text;
using System.Security.Cryptography;
using System.Text;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Terms;

namespace AtticLedger.Store;

/// <summary>Tokens of links: 256 random bits in base64url (RFC 4648, section 5), which stand nowhere but in the link; their hash is kept.</summary>
public static class LinkTokens
{
    public static byte[] HashOf(string token) => SHA256.HashData(Encoding.UTF8.GetBytes(token));

    /// <summary>Makes a link and returns its token.</summary>
    public static async Task<string> MakeLink(this Change change, PersonId person, LetterLink link, long? letter)
    {
        var token = Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(32));
        await change.PutLink(HashOf(token), new LinkRow(person, link.Purpose, link.Subject, link.Until, null), letter);
        return token;
    }
}
