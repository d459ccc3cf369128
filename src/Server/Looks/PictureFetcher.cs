using System.Net;
using System.Net.Sockets;

namespace AtticLedger.Server.Looks;

/// <summary>A picture from outside, or why there is none.</summary>
/// <param name="Fault">A sentence; null if it was fetched.</param>
internal sealed record Fetched(byte[] Bytes, Uri? From, string? Fault);

/// <summary>Fetches a picture from an address that somebody typed. Only public machines are asked: the address of each connection is
/// checked when it is made, so neither a redirect nor a name that resolves differently the second time leads inside.
/// </summary>
/// <param name="isAllowed">The addresses of the network that may be asked.</param>
internal sealed class PictureFetcher(Func<IPAddress, bool> isAllowed) : IDisposable
{
    private const int MostRedirects = 3;
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(10);

    private readonly HttpClient http = new(
        new SocketsHttpHandler
        {
            AllowAutoRedirect = false,
            UseCookies = false,
            UseProxy = false,
            PooledConnectionLifetime = TimeSpan.Zero,
            MaxResponseHeadersLength = 16,
            ConnectTimeout = TimeSpan.FromSeconds(5),
            ConnectCallback = async (context, stop) => await Connect(context.DnsEndPoint, isAllowed, stop),
        }
    )
    {
        Timeout = Longest,
    };

    public async Task<Fetched> Fetch(string address, CancellationToken stop)
    {
        if (!Uri.TryCreate(address, UriKind.Absolute, out var next))
        {
            return None("This is no address. Type it with https:// in front.");
        }

        try
        {
            using var time = CancellationTokenSource.CreateLinkedTokenSource(stop);
            time.CancelAfter(Longest);
            for (var redirects = 0; redirects <= MostRedirects; redirects++)
            {
                if ((next.Scheme != Uri.UriSchemeHttps && next.Scheme != Uri.UriSchemeHttp) || next.UserInfo.Length > 0)
                {
                    return None("Only addresses with https:// or http://, without a user name, are asked for a picture.");
                }

                using var answer = await http.GetAsync(next, HttpCompletionOption.ResponseHeadersRead, time.Token);
                if ((int)answer.StatusCode is >= 300 and < 400 && answer.Headers.Location is { } moved)
                {
                    next = new Uri(next, moved);
                    continue;
                }

                return answer.IsSuccessStatusCode
                    ? await Read(answer, next, time.Token)
                    : None($"{next.Host} answers with {(int)answer.StatusCode}, so there is no picture.");
            }

            return None($"{next.Host} redirects too often.");
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            return None($"{next.Host} does not answer in {Longest.TotalSeconds:0} seconds.");
        }
        catch (HttpRequestException fault)
        {
            return None(
                fault.InnerException is NotPublicException
                    ? $"{next.Host} is no machine of the public network, so it is not asked."
                    : $"{next.Host} cannot be reached."
            );
        }
        catch (IOException)
        {
            return None($"{next.Host} broke off.");
        }
    }

    public void Dispose() => http.Dispose();

    private static async Task<Fetched> Read(HttpResponseMessage answer, Uri from, CancellationToken stop)
    {
        if (answer.Content.Headers.ContentLength > PictureCodec.MostBytes)
        {
            return None(PictureCodec.TooLarge);
        }

        await using var body = await answer.Content.ReadAsStreamAsync(stop);
        using var bytes = new MemoryStream();
        var part = new byte[64 * 1024];
        int read;
        while ((read = await body.ReadAsync(part, stop)) > 0)
        {
            bytes.Write(part, 0, read);
            if (bytes.Length > PictureCodec.MostBytes)
            {
                return None(PictureCodec.TooLarge);
            }
        }

        return new Fetched(bytes.ToArray(), from, null);
    }

    private static Fetched None(string fault) => new([], null, fault);

    private static async ValueTask<Stream> Connect(DnsEndPoint to, Func<IPAddress, bool> isAllowed, CancellationToken stop)
    {
        var addresses = IPAddress.TryParse(to.Host, out var literal) ? [literal] : await Dns.GetHostAddressesAsync(to.Host, stop);

        // One address inside is enough to refuse all: a name with both has a purpose.
        if (addresses.Length == 0 || !Array.TrueForAll(addresses, address => isAllowed(address)))
        {
            throw new NotPublicException();
        }

        var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
        try
        {
            await socket.ConnectAsync(addresses, to.Port, stop);
            return new NetworkStream(socket, ownsSocket: true);
        }
        catch
        {
            socket.Dispose();
            throw;
        }
    }

    private sealed class NotPublicException : IOException;
}
