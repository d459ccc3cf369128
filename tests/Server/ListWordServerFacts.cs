using System.Net;
using System.Text.Json;

namespace AtticLedger.Server.Tests;

/// <summary>The words of lists over HTTP: their meaning is chosen once for a whole list, remembered, and can be a new unit.</summary>
public sealed class ListWordServerFacts(Installation installation) : ManualHost(installation)
{
    private const string People = "/api/people/imports";
    private const string Office =
        Head
        + "w1,Tide room,foreshore.example/w1,Tide Room,i.vane@merrowby.example,-,Everybody inside\n"
        + "w2,Mole,foreshore.example/w2,tide room,i.vane@merrowby.example,-,everybody inside\n"
        + "w3,Crane,foreshore.example/w3,Crane Yard,i.vane@merrowby.example,-,-\n";

    [Fact]
    public async Task Words_are_counted_get_a_meaning_for_all_lines_and_keep_it_for_the_next_list()
    {
        var plan = await Plan(Office);
        Assert.Equal(
            [
                ("people", "Everybody inside", 2, false, null),
                ("unit", "Tide Room", 2, false, "TID"),
                ("unit", "Crane Yard", 1, false, "CRA"),
            ],
            Words(plan)
        );
        Assert.Equal(5, plan.GetProperty("notUnderstood").GetInt32());
        Assert.Contains(plan.GetProperty("reading").GetProperty("meanings").GetProperty("unit").EnumerateArray(), meaning =>
            meaning.GetProperty("meaning").GetString() == "PIL"
        );

        const string chosen = "&words=people:Everybody inside=staff&words=unit:Tide Room=new:TIDE&words=unit:Crane Yard=-";
        plan = await Plan(Office, chosen);
        Assert.Equal(0, plan.GetProperty("notUnderstood").GetInt32());
        Assert.All(Words(plan), word => Assert.True(word.IsUnderstood));
        Assert.Equal(
            """[{"code":"TIDE","name":"Tide Room"}]""",
            plan.GetProperty("reading").GetProperty("newUnits").GetRawText()
        );
        Assert.Empty(await Titles("unit eq \"TIDE\" and host eq \"Foreshore\""));

        await Take(Office, chosen);
        Assert.Equal(["Mole", "Tide room"], await Titles("unit eq \"TIDE\" and host eq \"Foreshore\""));
        var added = (await bell.Get("/api/journal?action=unit.added")).GetProperty("entries").EnumerateArray().ToList();
        Assert.Contains("TIDE", Assert.Single(added).GetRawText());

        // The next list of the office needs no choice, and a choice can be taken back.
        plan = await Plan(Office);
        Assert.Equal((3, 3), (plan.GetProperty("same").GetInt32(), Words(plan).Count(word => word.IsUnderstood)));
        Assert.Equal("[]", plan.GetProperty("reading").GetProperty("newUnits").GetRawText());
        Assert.Equal(2, (await Plan(Office, "&words=people:everybody inside=")).GetProperty("notUnderstood").GetInt32());
    }

    [Fact]
    public async Task What_cannot_be_chosen_is_refused_with_the_remedy()
    {
        await Refused(
            "words=unit:Tide Room=new:tide",
            "\"tide\" cannot be the code of a unit: use 1 to 12 capital letters and digits, beginning with a letter."
        );
        await Refused("words=unit:Tide Room=new:PIL", "PIL is the code of Pilotage. Choose another code for Tide Room.");
        await Refused(
            "words=people:Crew=new:CRW",
            "\"Crew\" is in a column that does not name units, so no unit can be added for it."
        );
        await Refused("words=Crew", "\"Crew\" does not name a word: write column:word=meaning.");
        var many = string.Join('&', Enumerable.Range(0, 41).Select(number => $"words=unit:w{number}=PIL"));
        await Refused(
            many,
            "The meaning of 41 words was chosen; at most 40 can be chosen for a list. Correct the others in the list."
        );

        async Task Refused(string how, string why)
        {
            foreach (var list in new[] { $"{List}/plan", $"{People}/plan" })
            {
                var content = Csv(list.StartsWith(People, StringComparison.Ordinal) ? "mail,unit\na@b.example,x\n" : Office);
                var answer = await bell.Post($"{list}?{how}", content, HttpStatusCode.UnprocessableEntity);
                Assert.Equal(why, answer.GetProperty("title").GetString());
            }
        }
    }

    [Fact]
    public async Task A_list_of_people_brings_its_own_units_and_words()
    {
        const string list =
            "mail,name,type,dept\nboat.one@merrowby.example,Boat One,permanent,Boat Shed\nboat.two@merrowby.example,Boat Two,agency,boat shed\n";
        const string how = "words=kind:permanent=staff&words=kind:agency=guest&words=unit:Boat Shed=new:BOAT";
        var plan = await bell.Post($"{People}/plan", Csv(list));
        Assert.Equal((0, 2), (plan.GetProperty("new").GetInt32(), plan.GetProperty("refusals").GetInt32()));
        Assert.Equal(["Boat Shed", "agency", "permanent"], Words(plan).Select(word => word.Word).Order(StringComparer.Ordinal));

        plan = await bell.Post($"{People}/plan?{how}", Csv(list));
        Assert.Equal((2, 0), (plan.GetProperty("new").GetInt32(), plan.GetProperty("refusals").GetInt32()));
        await bell.Post($"{People}?{how}&fingerprint={plan.GetProperty("fingerprint").GetString()}", Csv(list));
        var found = await bell.Get("/api/find?text=boat.one@merrowby.example");
        Assert.Contains("Boat One", found.GetRawText());
        Assert.Equal(2, (await bell.Post($"{People}/plan", Csv(list))).GetProperty("same").GetInt32());
        Assert.True((await bell.Get("/api/journal/check")).GetProperty("isUnbroken").GetBoolean());
    }

    private static List<(string? Of, string? Word, int Lines, bool IsUnderstood, string? NewUnit)> Words(JsonElement plan) =>
        [
            .. plan.GetProperty("reading")
                .GetProperty("words")
                .EnumerateArray()
                .Select(word =>
                    (
                        word.GetProperty("of").GetString(),
                        word.GetProperty("word").GetString(),
                        word.GetProperty("lines").GetInt32(),
                        word.GetProperty("isUnderstood").GetBoolean(),
                        word.GetProperty("newUnit").GetString()
                    )
                ),
        ];
}
