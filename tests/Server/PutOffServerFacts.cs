using System.Net;
using System.Text.Json;
using AtticLedger.StandIns.Slipway;

namespace AtticLedger.Server.Tests;

/// <summary>A decision of the desk waits until a day, or until it concerns another site.</summary>
public class PutOffServerFacts(Installation here)
{
    private const string Decision = "causes:is:R-02";
    private static readonly SlipwayEntry Vane = new("p:1", "own");
    private static readonly SlipwayEntry Everyone = new("everyone", "edit");

    [Fact]
    public async Task It_is_off_the_desk_with_its_findings_and_comes_back_by_hand_with_another_site_and_after_its_day()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("one", [Vane, Everyone]));
        await using var server = await organisation.Start();
        var bell = await here.SignIn("n.bell", server.Address);
        await server.Read(bell, 1);
        var before = (await bell.Get("/api/desk")).GetProperty("findings").GetInt32();
        var request = new
        {
            decisions = new[] { Decision },
            through = (await bell.Today()).AddDays(3),
            reason = "After the move",
        };

        await bell.Post("/api/desk/put-off", request);
        Assert.Equal((false, true), await Stands(bell));
        var desk = await bell.Get("/api/desk");
        Assert.Equal(before - 1, desk.GetProperty("findings").GetInt32());
        var waiting = desk.GetProperty("putOff")[0];
        Assert.Equal(
            ("After the move", "Nora Bell"),
            (waiting.GetProperty("reason").GetString(), waiting.GetProperty("by").GetProperty("name").GetString())
        );

        // It waits for those who see the whole register; an owner's own desk is as before.
        var vane = await here.SignIn("i.vane", server.Address);
        var own = await vane.Get("/api/desk");
        Assert.Equal(0, own.GetProperty("putOff").GetArrayLength());
        Assert.Contains(own.GetProperty("groups").EnumerateArray(), group => group.GetProperty("clause").GetString() == Decision);

        await bell.Post("/api/desk/take-up", new { decision = Decision });
        Assert.Equal((true, false), await Stands(bell));
        await bell.Post("/api/desk/take-up", new { decision = Decision }, HttpStatusCode.NotFound);
        await bell.Post("/api/desk/put-off", request with { decisions = [Decision, "causes:is:R-77"] }, HttpStatusCode.NotFound);
        await bell.Post("/api/desk/put-off", request with { decisions = [] }, HttpStatusCode.NotFound);
        Assert.Equal((true, false), await Stands(bell));
        Assert.Equal(
            "Putting a decision off needs a reason.",
            Caller.Why(await bell.Post("/api/desk/put-off", request with { reason = " " }, HttpStatusCode.UnprocessableEntity))
        );

        // Another site that breaks the rule brings it back.
        await bell.Post("/api/desk/put-off", request);
        organisation.Slipway.Edit(records =>
            records.Sites["two"] = records.Sites["one"] with { Id = "two", Slug = "two", Title = "two" }
        );
        await bell.Post("/api/sources/Slipway/sync", new { });
        await Installation.Until(async () => (await Stands(bell)).IsOnDesk, "the decision is back on the desk");

        // Put off again, until its day has passed.
        await bell.Post("/api/desk/put-off", request);
        Assert.Equal((false, true), await Stands(bell));
        await bell.Post("/api/clock", new { hours = 24 * 4 });
        await Installation.Until(async () => (await Stands(bell)).IsOnDesk, "the day has passed");
        var actions = (await bell.Get("/api/journal?limit=200"))
            .GetProperty("entries")
            .EnumerateArray()
            .Select(entry => entry.GetProperty("action").GetString());
        Assert.Equal(
            (3, 1),
            (actions.Count(action => action == "decision.put-off"), actions.Count(action => action == "decision.taken-up"))
        );
    }

    private static async Task<(bool IsOnDesk, bool IsPutOff)> Stands(Caller bell)
    {
        var desk = await bell.Get("/api/desk");
        return (
            desk.GetProperty("groups").EnumerateArray().Any(IsIt),
            desk.GetProperty("putOff").EnumerateArray().Any(one => IsIt(one.GetProperty("group")))
        );

        static bool IsIt(JsonElement group) => group.GetProperty("clause").GetString() == Decision;
    }
}
