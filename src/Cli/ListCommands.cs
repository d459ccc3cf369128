using System.CommandLine;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;

namespace AtticLedger.Cli;

/// <summary>Lists kept by hand, taken in by a script: through the server's API, as whoever signs in.</summary>
internal static class ListCommands
{
    private static readonly Option<string> Server = new("--server")
    {
        Description = "Where the server is.",
        DefaultValueFactory = _ => Environment.GetEnvironmentVariable("ATTIC_ADDRESS") ?? "http://127.0.0.1:7420",
    };
    private static readonly Option<string> As = new("--as")
    {
        Required = true,
        Description = "The mail address to sign in with; the password stands in ATTIC_PASSWORD.",
    };
    private static readonly Option<string> Host = new("--host")
    {
        Required = true,
        Description = "The host that the list tells of.",
    };

    private static readonly Argument<FileInfo> List = new("file") { Description = "The list, as CSV or as a workbook." };
    private static readonly Option<bool> Look = new("--look") { Description = "Say what it would come to, and change nothing." };

    public static Command Commands() => new("list", "Lists kept by hand, for hosts without a reader.") { Take(), How() };

    public static Command PeopleCommands() => new("people", "Lists of people kept by hand.") { TakePeople() };

    private static Command Take()
    {
        var part = new Option<bool>("--part")
        {
            Description = "It names only a part of the sites: what it leaves out does not vanish.",
        };
        var command = new Command("take", "Says what a list would come to, and takes it in.")
        {
            Server,
            As,
            Host,
            part,
            Look,
            List,
        };
        command.SetAction(
            (parsed, stop) =>
                Take(
                    parsed,
                    $"/api/sources/{Uri.EscapeDataString(parsed.GetRequiredValue(Host))}/list",
                    $"whole={(parsed.GetValue(part) ? "false" : "true")}",
                    plan =>
                        new(
                            $"{plan.GetProperty("sites")} sites: {plan.GetProperty("new")} new, {plan.GetProperty("changed")} changed, {plan.GetProperty("gone")} vanished.",
                            [.. plan.GetProperty("refused").EnumerateArray(), .. plan.GetProperty("problems").EnumerateArray()],
                            plan.GetProperty("notSites").GetInt32() + plan.GetProperty("notUnderstood").GetInt32()
                        ),
                    stop
                )
        );
        return command;
    }

    private static Command TakePeople()
    {
        var command = new Command("take", "Says what a list of people would come to, and takes it in.")
        {
            Server,
            As,
            Look,
            List,
        };
        command.SetAction(
            (parsed, stop) =>
                Take(
                    parsed,
                    "/api/people/list",
                    "",
                    plan =>
                        new(
                            $"{plan.GetProperty("people")} people: {plan.GetProperty("new")} new, {plan.GetProperty("changed")} changed; {plan.GetProperty("sites")} sites may feel it.",
                            [.. plan.GetProperty("problems").EnumerateArray()],
                            plan.GetProperty("refusals").GetInt32() + plan.GetProperty("notUnderstood").GetInt32()
                        ),
                    stop
                )
        );
        return command;
    }

    private static async Task<int> Take(
        ParseResult parsed,
        string list,
        string query,
        Func<JsonElement, Foreseen> read,
        CancellationToken stop
    )
    {
        using var http = await SignIn(parsed, stop);
        var from = parsed.GetRequiredValue(List);
        if (await Said(await http.PostAsync($"{list}/plan?{query}", Body(from), stop), stop) is not { } plan)
        {
            return 1;
        }

        var (words, wrong, all) = read(plan);
        Console.WriteLine(words);
        foreach (var one in wrong)
        {
            await Console.Error.WriteLineAsync(one.GetString());
        }

        if (all > wrong.Count)
        {
            await Console.Error.WriteLineAsync($"{all - wrong.Count} more like these.");
        }

        return
            parsed.GetValue(Look)
            || await Said(
                await http.PostAsync(
                    $"{list}?{query}&fingerprint={plan.GetProperty("fingerprint").GetString()}",
                    Body(from),
                    stop
                ),
                stop
            )
                is not null
            ? 0
            : 1;
    }

    private static Command How()
    {
        var file = new Argument<FileInfo>("file")
        {
            Description = "Who does what is asked, with which account, in which steps: JSON as the API has it.",
        };
        var command = new Command("how", "Sets how a host without reader and writer is worked.") { Server, As, Host, file };
        command.SetAction(
            async (parsed, stop) =>
            {
                using var http = await SignIn(parsed, stop);
                using var json = new StringContent(
                    await File.ReadAllTextAsync(parsed.GetRequiredValue(file).FullName, stop),
                    new MediaTypeHeaderValue("application/json")
                );
                return
                    await Said(
                        await http.PutAsync(
                            $"/api/sources/{Uri.EscapeDataString(parsed.GetRequiredValue(Host))}/hand",
                            json,
                            stop
                        ),
                        stop
                    )
                        is not null
                    ? 0
                    : 1;
            }
        );
        return command;
    }

    private static async Task<HttpClient> SignIn(ParseResult parsed, CancellationToken stop)
    {
        var http = new HttpClient
        {
            BaseAddress = new Uri(parsed.GetRequiredValue(Server)),
            Timeout = TimeSpan.FromMinutes(10),
            DefaultRequestHeaders = { { "X-Attic-Ledger", "1" } },
        };
        var answer = await http.PostAsJsonAsync(
            "/api/session",
            new { mail = parsed.GetRequiredValue(As), password = Program.Setting("ATTIC_PASSWORD") },
            stop
        );
        return answer.IsSuccessStatusCode
            ? http
            : throw new InvalidOperationException(
                $"{parsed.GetRequiredValue(As)} could not be signed in: {(int)answer.StatusCode} {answer.ReasonPhrase}."
            );
    }

    // The server looks at the bytes, not at what they are called.
    private static StreamContent Body(FileInfo list) =>
        new(list.OpenRead()) { Headers = { ContentType = new MediaTypeHeaderValue("text/csv") } };

    /// <returns>What was said; null, with the words written out, where it was refused.</returns>
    private static async Task<JsonElement?> Said(HttpResponseMessage answer, CancellationToken stop)
    {
        var text = await answer.Content.ReadAsStringAsync(stop);
        var json = text.StartsWith('{') ? JsonDocument.Parse(text).RootElement : JsonDocument.Parse("{}").RootElement;
        if (answer.IsSuccessStatusCode)
        {
            return json;
        }

        await Console.Error.WriteLineAsync(
            json.TryGetProperty("title", out var title) ? title.GetString() : $"The server answered {(int)answer.StatusCode}."
        );
        return null;
    }

    /// <param name="Wrong">The first of what is wrong with it, in words.</param>
    /// <param name="All">How much is wrong in all.</param>
    private sealed record Foreseen(string Words, IReadOnlyList<JsonElement> Wrong, int All);
}
