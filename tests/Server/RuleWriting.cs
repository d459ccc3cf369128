using System.Globalization;
using System.Text.Json;

namespace AtticLedger.Server.Tests;

/// <summary>Rules that a test writes, as their users do: planned, then put in force as planned.</summary>
internal static class RuleWriting
{
    public static async Task<JsonElement> WriteRule(this Caller caller, object request)
    {
        var plan = await caller.Post("/api/rules/plan", request);
        return await caller.Post(
            "/api/rules",
            new
            {
                request,
                looked = plan.GetProperty("look").ValueKind != JsonValueKind.Null,
                fingerprint = plan.GetProperty("fingerprint").GetString(),
            }
        );
    }

    public static async Task<DateOnly> Today(this Caller caller) =>
        DateOnly.Parse((await caller.Get("/api/rules")).GetProperty("today").GetString()!, CultureInfo.InvariantCulture);
}
