using System.Net;
using System.Text.Json;

namespace AtticLedger.Hosts;

/// <summary>Reads JSON from an untrusted host, with limits on size, depth, pages and time, and errors that name the fault and
/// its place.
/// </summary>
internal sealed class JsonHttp(HttpClient http, string name)
{
    /// <summary>For a response: headers and body together.</summary>
    private TimeSpan Patience => http.Timeout == Timeout.InfiniteTimeSpan ? TimeSpan.FromSeconds(20) : http.Timeout;

    private const int LargestAnswer = 64 * 1024 * 1024;
    private const int MostPages = 100_000;
    private const int MostWaits = 5;
    private static readonly JsonDocumentOptions Strict = new() { MaxDepth = 64 };

    /// <summary>The fields RateLimit-Limit and RateLimit-Remaining of the last response (the IETF's draft of RateLimit
    /// fields).</summary>
    public HostBudget? Budget { get; private set; }

    public async Task<JsonElement?> Get(string path, CancellationToken stop)
    {
        for (var wait = 0; ; wait++)
        {
            using var patience = CancellationTokenSource.CreateLinkedTokenSource(stop);
            patience.CancelAfter(Patience);
            try
            {
                using var response = await http.GetAsync(path, HttpCompletionOption.ResponseHeadersRead, patience.Token);
                Budget =
                    Whole(response, "RateLimit-Limit") is { } allowed && Whole(response, "RateLimit-Remaining") is { } left
                        ? new HostBudget(allowed, left)
                        : Budget;
                if (response.StatusCode == HttpStatusCode.NotFound)
                {
                    return null;
                }

                if (response.StatusCode == HttpStatusCode.TooManyRequests && wait < MostWaits)
                {
                    await Task.Delay(RetryAfter(response), stop);
                    continue;
                }

                if (response.StatusCode == HttpStatusCode.Gone)
                {
                    throw new BeginAgainException($"{name} can no longer continue {path}.");
                }

                if (!response.IsSuccessStatusCode)
                {
                    throw new HostException($"{name} answered {(int)response.StatusCode} to {path}.");
                }

                return await Body(response, path, patience.Token);
            }
            catch (Exception fault)
                when (fault is HttpRequestException or IOException
                    || (fault is OperationCanceledException && !stop.IsCancellationRequested)
                )
            {
                throw new HostException(
                    fault is OperationCanceledException
                        ? $"{name} did not complete its answer to {path} within {Patience.TotalSeconds:0} seconds."
                        : $"{name} did not answer {path}: {fault.Message}",
                    fault
                );
            }
        }
    }

    /// <summary>Follows <paramref name="next"/> from page to page, each with the path of the next one; a cycle or an endless
    /// list is stopped.</summary>
    public async IAsyncEnumerable<JsonPage> Pages(
        string first,
        Func<JsonElement, string?> next,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken stop
    )
    {
        var seen = new HashSet<string>();
        for (string? path = first; path is not null; )
        {
            if (!seen.Add(path))
            {
                throw new HostException($"{name} returned the page {path} twice: its pages form a circle.");
            }

            if (seen.Count > MostPages)
            {
                throw new HostException($"{name} returned more than {MostPages} pages of {first}.");
            }

            var page = await Get(path, stop) ?? throw new HostException($"{name} has no page {path}.");
            var at = path;
            path = next(page);
            yield return new JsonPage(page, path, at);
        }
    }

    public async Task<JsonElement> Body(HttpResponseMessage response, string path, CancellationToken stop)
    {
        await using var stream = await response.Content.ReadAsStreamAsync(stop);
        using var bytes = new MemoryStream();
        var buffer = new byte[81_920];
        for (int read; (read = await stream.ReadAsync(buffer, stop)) > 0; )
        {
            bytes.Write(buffer, 0, read);
            if (bytes.Length > LargestAnswer)
            {
                throw new HostException($"{name} answered {path} with more than {LargestAnswer / 1024 / 1024} MB.");
            }
        }

        bytes.Position = 0;
        try
        {
            using var json = await JsonDocument.ParseAsync(bytes, Strict, stop);
            return json.RootElement.Clone();
        }
        catch (JsonException fault)
        {
            throw new HostException(
                $"{name} answered {path} with something that is not JSON, at line {fault.LineNumber + 1}, byte {fault.BytePositionInLine + 1}.",
                fault
            );
        }
    }

    /// <summary>Sends a change and turns any response, or none, into a reply.</summary>
    /// <param name="words">The field with the host's error message.</param>
    public async Task<HostReply> Change(
        HttpRequestMessage request,
        string words,
        Func<JsonElement, HostReply.Done> done,
        CancellationToken stop
    )
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(stop);
        patience.CancelAfter(Patience);
        try
        {
            var path = request.RequestUri!.ToString();
            using var response = await http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, patience.Token);
            var answer =
                response.Content.Headers.ContentType?.MediaType == "application/json"
                    ? await Body(response, path, patience.Token)
                    : default;
            var said = answer.Text(words) ?? $"{(int)response.StatusCode} {response.ReasonPhrase}";
            return response.StatusCode switch
            {
                HttpStatusCode.OK when answer.ValueKind == JsonValueKind.Object => done(answer),
                HttpStatusCode.TooManyRequests => new HostReply.Later(RetryAfter(response), said),
                HttpStatusCode.ServiceUnavailable when response.Headers.RetryAfter is not null => new HostReply.Later(
                    RetryAfter(response),
                    said
                ),

                // None of these means refused: the request was too slow or too early, or the site was busy.
                HttpStatusCode.RequestTimeout
                or (HttpStatusCode)425
                or HttpStatusCode.Locked
                or HttpStatusCode.MisdirectedRequest => new HostReply.Lost(said),
                >= HttpStatusCode.InternalServerError or HttpStatusCode.OK => new HostReply.Lost(said),
                _ => new HostReply.Refused(said),
            };
        }
        catch (Exception fault)
            when (fault is HttpRequestException or HostException or IOException
                || (fault is OperationCanceledException && !stop.IsCancellationRequested)
            )
        {
            return new HostReply.Lost(fault.Message);
        }
    }

    private static int? Whole(HttpResponseMessage response, string field) =>
        response.Headers.TryGetValues(field, out var values)
        && int.TryParse(
            values.First(),
            System.Globalization.NumberStyles.None,
            System.Globalization.CultureInfo.InvariantCulture,
            out var number
        )
            ? number
            : null;

    private static TimeSpan RetryAfter(HttpResponseMessage response) =>
        response.Headers.RetryAfter switch
        {
            { Delta: { } delta } when delta >= TimeSpan.Zero && delta < TimeSpan.FromHours(1) => delta,
            { Date: { } date }
                when date - DateTimeOffset.UtcNow is var wait && wait > TimeSpan.Zero && wait < TimeSpan.FromHours(1) => wait,
            _ => TimeSpan.FromSeconds(1),
        };
}

/// <summary>A page of a list, and the path of the next one; null at the end.</summary>
/// <param name="Path">The path from which it was read.</param>
internal readonly record struct JsonPage(JsonElement Json, string? Next, string Path);

/// <summary>Reads fields from a host's JSON: a missing field or another type is unknown; null or empty is none.</summary>
internal static class JsonFields
{
    public const int LongestText = 2000;
    private const int MostTexts = 200;

    public static string? Text(this JsonElement json, string field) =>
        json.ValueKind == JsonValueKind.Object
        && json.TryGetProperty(field, out var value)
        && value.ValueKind == JsonValueKind.String
            ? Clean(value)
            : null;

    public static bool? Flag(this JsonElement json, string field) =>
        json.ValueKind == JsonValueKind.Object
        && json.TryGetProperty(field, out var value)
        && value.ValueKind is JsonValueKind.True or JsonValueKind.False
            ? value.GetBoolean()
            : null;

    public static Core.Terms.Known<string> Fact(this JsonElement json, string field) =>
        json.ValueKind == JsonValueKind.Object && json.TryGetProperty(field, out var value)
            ? value.ValueKind switch
            {
                JsonValueKind.String => Core.Terms.Known.Text(Clean(value)),
                JsonValueKind.Null => Core.Terms.Known<string>.None,
                _ => Core.Terms.Known<string>.Unknown,
            }
            : Core.Terms.Known<string>.Unknown;

    public static Core.Terms.Known<DateTimeOffset> Instant(this JsonElement json, string field) =>
        json.Fact(field) is var said && said.Has(out var text)
            ? DateTimeOffset.TryParse(
                text,
                System.Globalization.CultureInfo.InvariantCulture,
                System.Globalization.DateTimeStyles.AssumeUniversal,
                out var instant
            )
                ? Core.Terms.Known.Of(Core.Terms.OrganisationTime.Microsecond(instant.ToUniversalTime()))
                : Core.Terms.Known<DateTimeOffset>.Unknown
            : said.IsNone
                ? Core.Terms.Known<DateTimeOffset>.None
                : Core.Terms.Known<DateTimeOffset>.Unknown;

    public static int? Number(this JsonElement json, string field) =>
        json.ValueKind == JsonValueKind.Object
        && json.TryGetProperty(field, out var value)
        && value.ValueKind == JsonValueKind.Number
        && value.TryGetInt32(out var number)
            ? number
            : null;

    public static long? Long(this JsonElement json, string field) =>
        json.ValueKind == JsonValueKind.Object
        && json.TryGetProperty(field, out var value)
        && value.ValueKind == JsonValueKind.Number
        && value.TryGetInt64(out var number)
            ? number
            : null;

    public static Core.Terms.Known<bool> Truth(this JsonElement json, string field) =>
        json.Flag(field) is { } flag ? Core.Terms.Known.Of(flag) : Core.Terms.Known<bool>.Unknown;

    /// <summary>A word of a host as one of the product's; a word that the host's connector does not know is unknown.</summary>
    public static Core.Terms.Known<T> Word<T>(this JsonElement json, string field, params (string Word, T Value)[] words)
        where T : notnull =>
        json.Fact(field) is var said && said.Has(out var text)
            ? words.Where(pair => pair.Word == text).Select(pair => Core.Terms.Known.Of(pair.Value)).FirstOrDefault()
            : said.Select(_ => words[0].Value);

    /// <summary>A list of texts; the empty list is none.</summary>
    public static Core.Terms.Known<IReadOnlyList<string>> Texts(this JsonElement json, string field) =>
        json.ValueKind == JsonValueKind.Object
        && json.TryGetProperty(field, out var value)
        && value.ValueKind == JsonValueKind.Array
            ? value.EnumerateArray().Where(item => item.ValueKind == JsonValueKind.String).Take(MostTexts).Select(Clean).ToList()
                is { Count: > 0 } texts
                ? Core.Terms.Known<IReadOnlyList<string>>.Of(texts)
                : Core.Terms.Known<IReadOnlyList<string>>.None
            : Core.Terms.Known<IReadOnlyList<string>>.Unknown;

    /// <summary>The items of a required list.</summary>
    /// <exception cref="HostException">It is missing, or not a list.</exception>
    public static IEnumerable<JsonElement> List(this JsonElement json, string field, string what) =>
        json.ValueKind == JsonValueKind.Object
        && json.TryGetProperty(field, out var value)
        && value.ValueKind == JsonValueKind.Array
            ? value.EnumerateArray()
            : throw new HostException($"The answer to {what} has no list \"{field}\", so it is not valid.");

    public static IEnumerable<JsonElement> Items(this JsonElement json, string field) =>
        json.ValueKind == JsonValueKind.Object
        && json.TryGetProperty(field, out var value)
        && value.ValueKind == JsonValueKind.Array
            ? value.EnumerateArray()
            : [];

    // The database cannot store NUL, and UTF-8 no lone surrogate; a very long text is cut.
    private static string Clean(JsonElement value)
    {
        string text;
        try
        {
            text = value.GetString()!;
        }
        catch (InvalidOperationException)
        {
            return "\uFFFD";
        }

        if (text.Contains('\0', StringComparison.Ordinal))
        {
            text = text.Replace('\0', '\uFFFD');
        }

        return text.Length <= LongestText
            ? text
            : string.Concat(text.EnumerateRunes().Take(LongestText / 2).Select(rune => rune.ToString())) + "…";
    }
}
