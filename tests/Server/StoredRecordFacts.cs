using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Tests.Sites;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>The JSON records in columns: every version that was ever written is read, and the newest is written as it stands here.
/// A fixture is never changed; a new shape is a new version with a fixture of its own.
/// </summary>
public class StoredRecordFacts
{
    private static readonly Dictionary<string, Func<string, string?>> Shapes = new()
    {
        ["limits"] = text => Json.Of(Json.Limits(text)),
        ["changes"] = text => Json.Of(Json.Changes(text)),
        ["wanted state"] = text => Json.Of(Json.WantedState(text)),
        ["capabilities"] = text => Json.Of(Json.Capabilities(text)),
        ["terms"] = text => Json.Of(Json.Terms(text)),
        ["kinds to start"] = text => Json.Of(Json.KindsToStart(text)),
        ["expected reaches"] = text => Json.Of(Json.ExpectedReaches(text)),
        ["new site"] = text => Json.Of(Json.NewSite(text)),
        ["claims"] = text => Json.Of(Json.ClaimsOf(text)),
        ["effect"] = text => Json.Of(Json.LineEffect(text)),
        ["remarks"] = text => Json.Of(Json.Remarks(text)),
        ["snapshot"] = text => Json.Of(Json.Snapshot(text)),
        ["classifications"] = text => Json.Of(Json.Classifications(text)),
        ["link"] = text => Json.Of(Json.Link(text)),
        ["rare facts"] = text => RareFacts.Write(Rare(text)),
    };

    /// <summary>The shape, its version, and a record.</summary>
    public static TheoryData<string, int, string> Fixtures =>
        new()
        {
            {
                "limits",
                1,
                """
                    {"view":{"inside":3,"widest":"Anonymous","visitorSignIn":"None","guestInviter":"AnyOwner"},
                    "preview":{"inside":3,"widest":"NamedGuests","visitorSignIn":"OneTimeCode","guestInviter":"AnyOwner"},
                    "edit":{"inside":1,"widest":"NoOne","visitorSignIn":"Account","guestInviter":"AnyOwner"}}
                    """
            },
            {
                "changes",
                1,
                """
                    [{"key":"person:7","wanted":{"power":"Own","subject":"person","person":7,"group":null,"unit":null,"visitorSignIn":"Account","isLink":false,"through":null}},
                    {"key":"link:a","wanted":{"power":"View","subject":"anonymous","person":null,"group":null,"unit":null,"visitorSignIn":"None","isLink":true,"through":"9999-12-31"}},
                    {"key":"team:MAR","wanted":null}]
                    """
            },
            {
                "wanted state",
                1,
                """
                    {"grants":[{"key":"g:4","wanted":{"power":"Edit","subject":"group","person":null,"group":4,"unit":null,"visitorSignIn":"Account","isLink":false,"through":null}}],
                    "existence":"InUse","address":"slipway.example/tides"}
                    """
            },
            {
                "wanted state",
                2,
                """
                    {"version":2,"grants":[],"existence":null,"address":"slipway.example/tides","look":{"name":"Tides","description":"","logo":{"source":"Linked","from":"https://pictures.example/t.png"}},
                    "forwardUntil":"2027-03-01T23:00:00+00:00","swapWith":"w0007"}
                    """
            },
            {
                "capabilities",
                1,
                """
                    {"deletes":"ForGood","binDays":null,"stateDays":60,"knowsRepeats":true,"tellsChanges":false,"namesPeople":false,"powers":["View","Own"],"listLag":"00:05:00",
                    "manualProcedure":{"assignee":{"value":3},"account":"shared","support":"desk","days":5,"reach":"a","owners":"b","moveToAttic":"c","restore":"d"},"notes":["Has two bins."]}
                    """
            },
            {
                "capabilities",
                4,
                """
                    {"version":4,"deletes":"ToBin","binDays":30,"stateDays":60,"knowsRepeats":true,"tellsChanges":true,"namesPeople":true,"powers":["View","Own"],"listLag":"00:00:00",
                    "manualProcedure":{"assignee":null,"account":"","support":"","days":5,"reach":"a","owners":"b","moveToAttic":"c","restore":"d","look":"e"},"notes":[],"makesSites":true,
                    "changes":["Name","Address"],"logos":["Borrowed"],"forwardDays":90,"swapsAddresses":true,"invitesGuests":true}
                    """
            },
            {
                "capabilities",
                3,
                """
                    {"version":3,"deletes":"ToBin","binDays":30,"stateDays":60,"knowsRepeats":true,"tellsChanges":true,"namesPeople":true,"powers":["View","Own"],"listLag":"00:00:00",
                    "manualProcedure":{"assignee":null,"account":"","support":"","days":5,"reach":"a","owners":"b","moveToAttic":"c","restore":"d","look":"e"},"notes":[],"makesSites":true,
                    "changes":["Name","Address"],"logos":["Borrowed"],"forwardDays":90,"swapsAddresses":true}
                    """
            },
            {
                "capabilities",
                2,
                """
                    {"version":2,"deletes":"ToBin","binDays":30,"stateDays":60,"knowsRepeats":true,"tellsChanges":true,"namesPeople":true,"powers":["View","Own"],"listLag":"00:00:00",
                    "manualProcedure":null,"notes":[],"makesSites":true}
                    """
            },
            {
                "kinds to start",
                1,
                """
                    [{"kind":"project","host":"Slipway","describes":"Work of a group.","addressBefore":"slipway.example/","addressAfter":"","startedBy":"Request","makesGroup":true,"aliasDomain":"projects.example","starterPages":["Plan"]},
                    {"kind":"leaflet","host":"Lantern","describes":"","addressBefore":"","addressAfter":".lantern.example","startedBy":"Staff","makesGroup":false,"aliasDomain":null,"starterPages":[]}]
                    """
            },
            {
                "expected reaches",
                1,
                """[{"purpose":"notices","reach":{"inside":"Staff","outside":"NoOne","signIn":"Account"}}]"""
            },
            {
                "new site",
                1,
                """
                    {"kind":"project","name":"Ferry","address":"ferry","alias":"","unit":"MAR","purpose":"event","classification":"Open","tags":["ships"],"language":"en","description":"Boats",
                    "contentNotice":"For adults","ends":"2027-03-31","owners":[3],"editors":[4,5],"reach":{"inside":"Unit","outside":"Anonymous","signIn":"None"}}
                    """
            },
            { "terms", 1, """[{"fact":"Purpose","code":"public","name":"For the public","words":["open","citizens"]}]""" },
            {
                "claims",
                1,
                """
                    [{"fact":"Unit","source":"organisation","value":"MAR","since":"2026-11-24T07:02:03+00:00","by":5},
                    {"fact":"Unit","source":"Foreshore","value":null,"since":"2026-11-23T07:02:03+00:00","by":null}]
                    """
            },
            {
                "effect",
                2,
                """
                    {"version":2,"gain":0,"lose":12,"shutsDoors":true,"cleared":[{"value":"R-01"}],"opened":[],"opensDoors":false,
                    "second":{"code":"staff-need-second","parameters":{"power":"View","certain":true}},
                    "leaves":[{"code":"section-stays-open","parameters":{"section":"Minutes","host":"Slipway"}}]}
                    """
            },
            {
                "remarks",
                1,
                """[{"code":"offer-open","parameters":{"to":"Ada Lund","through":"2026-12-01"}},{"code":"as-recorded","parameters":{"sentence":"It was full."}}]"""
            },
            {
                "effect",
                1,
                """{"gain":0,"lose":12,"shutsDoors":true,"cleared":[{"value":"R-01"}],"opened":[],"needsSecond":"All of the staff can read it.","unaffected":["Sections"],"opensDoors":false}"""
            },
            {
                "snapshot",
                1,
                """
                    {"name":{"unknown":false,"value":["Tides"]},"address":{"unknown":true,"value":[]},"unit":{"unknown":false,"value":[]},"classification":{"unknown":false,"value":["Open"]},
                    "status":{"unknown":false,"value":["Published"]},"pages":{"unknown":false,"value":[9]},
                    "grants":{"unknown":false,"value":[[{"key":"everyone","wanted":{"power":"View","subject":"staff","person":null,"group":null,"unit":null,"visitorSignIn":"Account","isLink":false,"through":null}}]]}}
                    """
            },
            {
                "classifications",
                1,
                """[{"classification":null,"from":"2026-01-01T00:00:00+00:00"},{"classification":"Sealed","from":"2026-02-01T00:00:00+00:00"}]"""
            },
            {
                "link",
                1,
                """{"purpose":"Password","subject":"","until":"2026-12-01T00:00:00+00:00","label":"Choose a password"}"""
            },
            {
                "rare facts",
                1,
                """
                    {"shownName":"Tides","homeTitle":null,"description":"About tides","language":"cy",
                    "plan":{"key":"p1","name":"Beacon","price":9600,"currency":"EUR","months":12,"through":"2027-03-01","renews":true,"graceDays":30,"sites":2},
                    "mailAlias":"tides@merrowby.example","obligations":[{"count":2,"what":"orders are not delivered","through":null}],"records":41,
                    "signals":[{"kind":"tracker","evidence":"/start"}],"joining":{"way":"Asked","waiting":3,"since":"2026-11-24T07:02:03+00:00","members":"Edit"},
                    "shared":[{"what":"Tides","in":["Harbour"]}],
                    "sections":[{"key":"s","name":"Minutes","tie":"StandingFree","grants":[{"key":"unit:MAR","wanted":{"power":"View","subject":"unit","person":null,"group":null,"unit":"MAR","visitorSignIn":"Account","isLink":false,"through":null}}]}],
                    "hiddenFromSearch":true,"logo":"Borrowed","logoFrom":"w0007","forwards":[{"address":"slipway.example/old","until":"2027-03-01T23:00:00+00:00"}],"contentNotice":"For adults","ends":"2027-04-01T00:00:00+00:00"}
                    """
            },
        };

    [Theory]
    [MemberData(nameof(Fixtures))]
    public void Every_version_is_read_and_the_newest_is_written(string shape, int version, string stored)
    {
        var written = Shapes[shape](stored);
        if (version == Fixtures.Where(row => row.Data.Item1 == shape).Max(row => row.Data.Item2))
        {
            Assert.True(
                JsonNode.DeepEquals(JsonNode.Parse(stored), JsonNode.Parse(written!)),
                $"{written} was written for {stored}"
            );
        }
        else
        {
            Assert.Equal(written, Shapes[shape](written!));
        }
    }

    [Fact]
    public void Every_shape_has_a_fixture_and_every_rare_fact_is_in_one()
    {
        Assert.Equal(Shapes.Keys.Order(), Fixtures.Select(row => row.Data.Item1).Distinct().Order());
        var stored = JsonNode.Parse(Fixtures.Single(row => row.Data.Item1 == "rare facts").Data.Item3)!.AsObject();
        Assert.Equal(
            DeclaredFacts.All.Where(fact => fact.Spread == FactSpread.Rare).Select(fact => fact.Name).Order(),
            stored.Select(field => field.Key).Order()
        );
    }

    [Theory]
    [InlineData("limits")]
    [InlineData("wanted state")]
    [InlineData("capabilities")]
    [InlineData("new site")]
    [InlineData("effect")]
    [InlineData("snapshot")]
    [InlineData("link")]
    public void A_record_of_a_newer_program_is_refused_with_both_versions(string shape)
    {
        var newer = JsonNode.Parse(Fixtures.First(row => row.Data.Item1 == shape).Data.Item3)!.AsObject();
        newer["version"] = 99;
        Assert.Contains("version 99", Assert.Throws<JsonException>(() => Shapes[shape](newer.ToJsonString())).Message);
    }

    private static FactSet Rare(string text)
    {
        var facts = new FactSet.Builder();
        RareFacts.Read(text, facts);
        return facts.Build();
    }
}
