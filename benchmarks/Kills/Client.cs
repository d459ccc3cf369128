using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace AtticLedger.Bench.Kills;

/// <summary>A response and its JSON.</summary>
internal readonly record struct Answer(HttpStatusCode Status, JsonElement Body)
{
    public bool IsDone => Status is HttpStatusCode.OK or HttpStatusCode.Accepted or HttpStatusCode.NoContent;
}

/// <summary>A client of one server, which repeats a request until it is answered.</summary>
internal sealed class Client : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromMinutes(3);
    private readonly HttpClient http;
    private int lost;
    private int bare;

    private Client(Uri server)
    {
        http = new HttpClient(new SocketsHttpHandler { CookieContainer = new CookieContainer() })
        {
            BaseAddress = server,
            Timeout = TimeSpan.FromSeconds(30),
        };
        http.DefaultRequestHeaders.Add("X-Attic-Ledger", "1");
    }

    /// <summary>How many answers were lost.</summary>
    public int Lost => lost;

    /// <summary>How many answers were errors without an explanation (500).</summary>
    public int Bare => bare;

    public static async Task<Client> SignIn(Uri server, string mail, string password)
    {
        var client = new Client(server);
        var answer = await client.Send(HttpMethod.Post, "/api/session", new { mail, password });
        return answer.IsDone
            ? client
            : throw new InvalidOperationException($"{mail} could not sign in: {answer.Status} {answer.Body}");
    }

    public Task<Answer> Get(string path) => Send(HttpMethod.Get, path);

    /// <summary>Sends the request with the same key until it is answered.</summary>
    /// <exception cref="TimeoutException">It was never answered.</exception>
    public async Task<Answer> Send(HttpMethod method, string path, object? body = null)
    {
        var key = Guid.NewGuid().ToString();
        for (var until = DateTime.UtcNow + Patience; DateTime.UtcNow < until; await Task.Delay(300))
        {
            try
            {
                if (await Ask(method, path, body, key) is var answer && (int)answer.Status < 500)
                {
                    return answer;
                }
            }
            catch (Exception fault) when (fault is HttpRequestException or IOException or TaskCanceledException or JsonException)
            {
                Interlocked.Increment(ref lost);
            }
        }

        throw new TimeoutException($"{method} {path} was never answered.");
    }

    /// <summary>Sends the request once.</summary>
    public Task<Answer> SendOnce(HttpMethod method, string path, object? body = null) =>
        Ask(method, path, body, Guid.NewGuid().ToString());

    /// <summary>Downloads a file.</summary>
    public async Task<string> Text(string path)
    {
        using var answer = await http.GetAsync(path);
        var text = await answer.Content.ReadAsStringAsync();
        return answer.IsSuccessStatusCode
            ? text
            : throw new InvalidOperationException($"{path} answered {answer.StatusCode}: {text}");
    }

    public void Dispose() => http.Dispose();

    private async Task<Answer> Ask(HttpMethod method, string path, object? body, string key)
    {
        using var request = new HttpRequestMessage(method, path) { Content = body is null ? null : JsonContent.Create(body) };
        request.Headers.Add("Idempotency-Key", key);
        using var answer = await http.SendAsync(request);
        var text = await answer.Content.ReadAsStringAsync();
        if (answer.StatusCode == HttpStatusCode.InternalServerError)
        {
            Interlocked.Increment(ref bare);
            Report.Line($"A bare 500 at {path}: {text}");
        }

        return new Answer(answer.StatusCode, text is ['{' or '[', ..] ? JsonDocument.Parse(text).RootElement : default);
    }
}
