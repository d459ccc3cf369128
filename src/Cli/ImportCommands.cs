using System.CommandLine;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;

namespace AtticLedger.Cli;

/// <summary>Imports lists from a script, through the server's API, as the person who signs in.</summary>
internal static class ImportCommands
{
    private static readonly Option<string> Server = new("--server")
    {
        Description = "The address of the server.",
        DefaultValueFactory = _ => Environment.GetEnvironmentVariable("ATTIC_ADDRESS") ?? "http://127.0.0.1:7420",
    };
    private static readonly Option<string> As = new("--as")
    {
        Required = true,
        Description = "The mail address to sign in with. The password is read from ATTIC_PASSWORD.",
    };
    private static readonly Option<string> Host = new("--host")
    {
        Required = true,
        Description = "The host whose sites the list names.",
    };

    private static readonly Argument<FileInfo> List = new("file") { Description = "The list, as CSV or as a workbook." };
    private static readonly Option<bool> Preview = new("--preview") { Description = "Print the plan and change nothing." };

    public static Command SiteCommands() => new("sites", "Lists of sites.") { ImportSites() };

    public static Command PeopleCommands() => new("people", "Lists of people.") { ImportPeople() };

    public static Command HostCommands() => new("host", "Hosts without a connector.") { SetProcedure() };

    private static Command ImportSites()
    {
        var partial = new Option<bool>("--partial")
        {
            Description = "The list names only some of the sites. The others stay as they are.",
        };
        var command = new Command("import", "Imports a list of sites, and prints the plan first.")
        {
            Server,
            As,
            Host,
            partial,
            Preview,
            List,
        };
        command.SetAction(
            (parsed, stop) =>
                Import(
                    parsed,
                    $"/api/sources/{Uri.EscapeDataString(parsed.GetRequiredValue(Host))}/imports",
                    $"whole={(parsed.GetValue(partial) ? "false" : "true")}",
                    plan =>
                        new(
                            $"{plan.GetProperty("sites")} sites: {plan.GetProperty("new")} new, {plan.GetProperty("changed")} changed, {plan.GetProperty("gone")} no longer reported.",
                            [.. plan.GetProperty("refused").EnumerateArray(), .. plan.GetProperty("problems").EnumerateArray()],
                            plan.GetProperty("notSites").GetInt32() + plan.GetProperty("notUnderstood").GetInt32()
                        ),
                    stop
                )
        );
        return command;
    }

    private static Command ImportPeople()
    {
        var command = new Command("import", "Imports a list of people, and prints the plan first.") { Server, As, Preview, List };
        command.SetAction(
            (parsed, stop) =>
                Import(
                    parsed,
                    "/api/people/imports",
                    "",
                    plan =>
                        new(
                            $"{plan.GetProperty("people")} people: {plan.GetProperty("new")} new, {plan.GetProperty("changed")} changed; {plan.GetProperty("sites")} sites affected.",
                            [.. plan.GetProperty("problems").EnumerateArray()],
                            plan.GetProperty("refusals").GetInt32() + plan.GetProperty("notUnderstood").GetInt32()
                        ),
                    stop
                )
        );
        return command;
    }

    private static async Task<int> Import(
        ParseResult parsed,
        string list,
        string query,
        Func<JsonElement, PlannedImport> read,
        CancellationToken stop
    )
    {
        using var http = await SignIn(parsed, stop);
        var from = parsed.GetRequiredValue(List);
        if (await Answer(await http.PostAsync($"{list}/plan?{query}", Body(from), stop), stop) is not { } plan)
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
            parsed.GetValue(Preview)
            || await Answer(
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

    private static Command SetProcedure()
    {
        var file = new Argument<FileInfo>("file")
        {
            Description = "The procedure as JSON, as the API has it: who does the tasks, with which account, in which steps.",
        };
        var command = new Command("procedure", "Sets the manual procedure of a host without a connector.")
        {
            Server,
            As,
            Host,
            file,
        };
        command.SetAction(
            async (parsed, stop) =>
            {
                using var http = await SignIn(parsed, stop);
                using var json = new StringContent(
                    await File.ReadAllTextAsync(parsed.GetRequiredValue(file).FullName, stop),
                    new MediaTypeHeaderValue("application/json")
                );
                return
                    await Answer(
                        await http.PutAsync(
                            $"/api/sources/{Uri.EscapeDataString(parsed.GetRequiredValue(Host))}/manual-procedure",
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
            // A command carries out one action, so one key serves its requests.
            DefaultRequestHeaders = { { "X-Attic-Ledger", "1" }, { "Idempotency-Key", Guid.NewGuid().ToString() } },
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

    // The server detects the format from the bytes, not from the name.
    private static StreamContent Body(FileInfo list) =>
        new(list.OpenRead()) { Headers = { ContentType = new MediaTypeHeaderValue("text/csv") } };

    /// <returns>The response; null if refused: then the reasons have been printed.</returns>
    private static async Task<JsonElement?> Answer(HttpResponseMessage answer, CancellationToken stop)
    {
        var text = await answer.Content.ReadAsStringAsync(stop);
        var json = text.StartsWith('{') ? JsonDocument.Parse(text).RootElement : JsonDocument.Parse("{}").RootElement;
        if (answer.IsSuccessStatusCode)
        {
            return json;
        }

        await Console.Error.WriteLineAsync(
            json.TryGetProperty("reasons", out var reasons)
                ? string.Join(" ", reasons.EnumerateArray().Select(reason => reason.GetString()))
            : json.TryGetProperty("title", out var title) ? title.GetString()
            : $"The server answered {(int)answer.StatusCode}."
        );
        return null;
    }

    /// <param name="Wrong">The first faults, in words.</param>
    /// <param name="All">The number of faults.</param>
    private sealed record PlannedImport(string Words, IReadOnlyList<JsonElement> Wrong, int All);
}
