using System.Net;
using System.Text.Json;
using AtticLedger.Core.Terms;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>A rule that restricts access by itself: owners are asked and reminded, answer, and what nobody answered is carried out
/// on the day, once, also if no server ran on it.</summary>
public class QuestionServerFacts(Installation here)
{
    private static readonly SlipwayEntry Vane = new("p:1", "own");
    private static readonly SlipwayEntry Quist = new("p:2", "own");
    private static readonly SlipwayEntry Everyone = new("everyone", "edit");

    [Fact]
    public async Task What_was_announced_is_carried_out_where_nobody_answered_otherwise_and_only_there()
    {
        await using var organisation = await SmallOrganisation.Found(
            here,
            ("nobody", [Vane, Everyone]),
            ("fixed", [Vane, Everyone]),
            ("mine-no-more", [Vane, Quist, Everyone]),
            ("narrow", [Vane])
        );
        var ids = new Dictionary<string, long>();
        await using (var first = await organisation.Start())
        {
            var bell = await here.SignIn("n.bell", first.Address);
            await first.Read(bell, 4);
            foreach (var title in new[] { "nobody", "fixed", "mine-no-more" })
            {
                ids[title] = await first.Site(bell, title);
            }

            await bell.WriteRule(await Restricting(bell, days: 3));
            await bell.Post("/api/clock", new { hours = 1 });
            await Installation.Until(async () => await Actions(bell, "question.asked") == 3, "the owners are asked");

            // Everybody who owns one is told with the next mail of the day, and nothing is restricted yet.
            Assert.Equal(3, (await Told(organisation, organisation.Vane, "question:")).Count);
            Assert.Single(await Told(organisation, organisation.Quist, "question:"));
            Assert.Empty(Effects(organisation));

            var vane = await here.SignIn("i.vane", first.Address);
            var questions = await Questions(vane);
            Assert.Equal(3, questions.Count);
            await vane.Post(
                $"/api/questions/{questions[ids["mine-no-more"]]}/answer",
                new { answer = "not-mine", words = "" },
                HttpStatusCode.UnprocessableEntity
            );
            await vane.Post(
                $"/api/questions/{questions[ids["mine-no-more"]]}/answer",
                new { answer = "not-mine", words = "Renata looks after it." }
            );
            await vane.Post($"/api/questions/{questions[ids["fixed"]]}/answer", new { answer = "fixed", words = (string?)null });

            // Who does not own a site does not learn that there is a question about it.
            var quist = await here.SignIn("r.quist", first.Address);
            await quist.Post(
                $"/api/questions/{questions[ids["nobody"]]}/answer",
                new { answer = "fixed", words = (string?)null },
                HttpStatusCode.NotFound
            );
            var decide = (await bell.Get("/api/desk")).GetProperty("questions").EnumerateArray().Single();
            Assert.Equal(
                (ids["mine-no-more"], "not-mine", "Renata looks after it."),
                (
                    decide.GetProperty("site").GetInt64(),
                    decide.GetProperty("question").GetProperty("answer").GetString(),
                    decide.GetProperty("question").GetProperty("words").GetString()
                )
            );

            await bell.Post("/api/clock", new { hours = 24 });
            await Installation.Until(
                async () => (await Told(organisation, organisation.Vane, "remind:question:")).Count == 1,
                "who has not answered is reminded"
            );
            Assert.Empty(Effects(organisation));
        }

        // The last day passes while no server runs.
        await organisation.Database.Change(change => change.Set(Core.Sites.Setting.DemoClock, $"{5 * 86_400}"));
        await using (var second = await organisation.Start())
        {
            var bell = await here.SignIn("n.bell", second.Address);
            await Installation.Until(() => Task.FromResult(Effects(organisation).Count == 2), "access is restricted");
            Assert.Equal(["fixed", "nobody"], Effects(organisation).Order());
            Assert.Contains(organisation.Slipway.Read(records => records.Sites["mine-no-more"].Entries), entry =>
                entry.Entry == "everyone"
            );

            // The findings end with the confirmation, and so do the questions; what an owner answered stays on the desk.
            await Installation.Until(async () => await Actions(bell, "question.ended") == 2, "both questions have ended");
            await bell.Post("/api/clock", new { hours = 24 });
            Assert.Equal((2, 2), (await Actions(bell, "site.restrict"), Effects(organisation).Count));
            var left = (await bell.Get("/api/desk")).GetProperty("questions").EnumerateArray().Single();
            Assert.Equal(ids["mine-no-more"], left.GetProperty("site").GetInt64());

            // Asked again, with the days of the rule from then on.
            await bell.Post(
                $"/api/questions/{left.GetProperty("question").GetProperty("id").GetString()}/ask-again",
                new { reason = "Renata, please look." }
            );
            Assert.Empty((await bell.Get("/api/desk")).GetProperty("questions").EnumerateArray());
            Assert.Equal(2, (await Told(organisation, organisation.Quist, "question:")).Count);
            Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
        }
    }

    [Fact]
    public async Task Only_access_can_be_restricted_and_owners_have_some_days()
    {
        await using var organisation = await SmallOrganisation.Found(here, ("one", [Vane]));
        await using var server = await organisation.Start();
        var bell = await here.SignIn("n.bell", server.Address);
        var plan = await bell.Post(
            "/api/rules/plan",
            new
            {
                rule = (string?)null,
                text = Text("purpose pr", "restrict", 2),
                from = await bell.Today(),
                reason = (string?)null,
            }
        );
        Assert.Equal(
            ["rule-days-to-answer", "rule-not-by-restricting"],
            plan.GetProperty("refused").EnumerateArray().Select(one => one.GetProperty("code").GetString())
        );
    }

    private static async Task<object> Restricting(Caller bell, int days) =>
        new
        {
            rule = (string?)null,
            text = Text("edit.inside le \"named\" and edit.outside le \"named-guests\"", "restrict", days),
            from = await bell.Today(),
            reason = (string?)null,
        };

    private static object Text(string demand, string kind, int days) =>
        new
        {
            title = "Named people edit",
            @short = "many edit",
            level = "warning",
            scope = "",
            demand,
            enforcement = new { kind, days },
        };

    private static async Task<Dictionary<long, string>> Questions(Caller caller) =>
        (await caller.Get("/api/your-sites"))
            .GetProperty("sites")
            .EnumerateArray()
            .SelectMany(site =>
                site.GetProperty("questions")
                    .EnumerateArray()
                    .Select(question => (site.GetProperty("id").GetInt64(), question.GetProperty("id").GetString()!))
            )
            .ToDictionary();

    // The sites whose access the host has changed, one for each change.
    private static List<string> Effects(SmallOrganisation organisation) =>
        organisation.Slipway.Read(records => records.Effects.Select(effect => effect.Site).ToList());

    private static async Task<int> Actions(Caller bell, string action) =>
        (await bell.Get($"/api/journal?limit=200&action={action}")).GetProperty("entries").GetArrayLength();

    private static Task<List<string>> Told(SmallOrganisation organisation, PersonId person, string key) =>
        organisation.Database.Read(connection =>
            connection.Rows(
                "select key from notification where person = $1 and key like $2",
                row => row.GetString(0),
                person.Value,
                key + "%"
            )
        );
}
