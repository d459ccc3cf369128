using System.Net;
using System.Text.Json;
using System.Text.RegularExpressions;

namespace AtticLedger.Server.Tests;

/// <summary>Who may do what, walked over the API document; and what a part hides.</summary>
public partial class ScopeFacts(Installation here)
{
    private const string All = "administrator steward owner auditor";

    /// <summary>Which roles each endpoint admits. One that is not named here fails the walk.</summary>
    private static readonly Dictionary<string, string> Admitted = new()
    {
        ["signIn"] = "anonymous " + All,
        ["me"] = All,
        ["signOut"] = All,
        ["sessions"] = All,
        ["revokeSession"] = All,
        ["register"] = All,
        ["place"] = All,
        ["range"] = All,
        ["exportRegister"] = All,
        ["views"] = All,
        ["saveView"] = All,
        ["countView"] = All,
        ["deleteView"] = All,
        ["choices"] = All,
        ["completion"] = All,
        ["attributes"] = All,
        ["find"] = All,
        ["person"] = All,
        ["group"] = All,
        ["tree"] = All,
        ["twins"] = All,
        ["sayBothRight"] = "administrator steward owner",
        ["openTwinsAgain"] = "administrator steward owner",
        ["siteLook"] = All,
        ["planLook"] = "administrator steward owner",
        ["changeLook"] = "administrator steward owner",
        ["checkAddress"] = "administrator steward owner",
        ["planAddress"] = "administrator steward owner",
        ["changeAddress"] = "administrator steward owner",
        ["picture"] = All,
        ["sendPicture"] = "administrator steward owner",
        ["fetchPicture"] = "administrator steward owner",
        ["start"] = All,
        ["findStartPeople"] = "administrator steward owner",
        ["checkStart"] = "administrator steward owner",
        ["askHolder"] = "administrator steward owner",
        ["startSite"] = "administrator steward owner",
        ["siteRequests"] = All,
        ["siteRequest"] = All,
        ["grantSiteRequest"] = "administrator steward owner",
        ["refuseSiteRequest"] = "administrator steward owner",
        ["withdrawSiteRequest"] = "administrator steward owner",
        ["resumeMaking"] = "administrator steward owner",
        ["giveUpMaking"] = "administrator steward owner",
        ["reportMade"] = "administrator steward owner",
        ["rules"] = All,
        ["tryRule"] = All,
        ["ruleSentence"] = All,
        ["ruleHistory"] = All,
        ["planRule"] = "administrator",
        ["writeRule"] = "administrator",
        ["undoRule"] = "administrator",
        ["exportRules"] = All,
        ["planRuleImport"] = "administrator",
        ["importRules"] = "administrator",
        ["leftOut"] = All,
        ["candidates"] = "administrator steward owner",
        ["namedAccess"] = "administrator steward owner",
        ["planRemoveAccess"] = "administrator steward owner",
        ["removeAccess"] = "administrator steward owner",
        ["invitations"] = All,
        ["planInvitation"] = "administrator steward owner",
        ["inviteGuest"] = "administrator steward owner",
        ["planWithdrawInvitation"] = "administrator steward owner",
        ["withdrawInvitation"] = "administrator steward owner",
        ["guests"] = All,
        ["keepGuest"] = "administrator",
        ["planGrantAccess"] = "administrator steward owner",
        ["grantAccess"] = "administrator steward owner",
        ["why"] = All,
        ["limits"] = All,
        ["accessMatrix"] = All,
        ["tryLimit"] = "administrator auditor",
        ["setLimit"] = "administrator",
        ["choicesOfFacts"] = "administrator",
        ["sitePage"] = All,
        ["planRestrict"] = "administrator steward owner",
        ["restrict"] = "administrator steward owner",
        ["planUndo"] = "administrator steward owner",
        ["undo"] = "administrator steward owner",
        ["desk"] = All,
        ["owners"] = All,
        ["yourSites"] = All,
        ["usedSites"] = All,
        ["attic"] = All,
        ["atticEntry"] = All,
        ["successors"] = All,
        ["planOffer"] = "administrator steward owner",
        ["offerSite"] = "administrator steward owner",
        ["planAskOwners"] = "administrator steward owner",
        ["askOwners"] = "administrator steward owner",
        ["offer"] = All,
        ["acceptOffer"] = "administrator steward owner",
        ["declineOffer"] = "administrator steward owner",
        ["withdrawOffer"] = "administrator steward owner",
        ["approval"] = All,
        ["approve"] = "administrator",
        ["turnDownApproval"] = "administrator",
        ["withdrawApproval"] = "administrator steward owner",
        ["planBatch"] = "administrator steward owner",
        ["planRemedies"] = "administrator steward owner",
        ["planRenaming"] = "administrator steward owner",
        ["batchChoices"] = "administrator steward owner",
        ["adjustBatch"] = "administrator steward owner",
        ["batches"] = All,
        ["batch"] = All,
        ["batchLines"] = All,
        ["startBatch"] = "administrator steward owner",
        ["stopBatch"] = "administrator steward owner",
        ["resumeBatch"] = "administrator steward owner",
        ["planBatchAgain"] = "administrator steward owner",
        ["reports"] = "administrator auditor",
        ["report"] = "administrator auditor",
        ["exportReport"] = "administrator auditor",
        ["planBatchUndo"] = "administrator steward owner",
        ["planMoveToAttic"] = "administrator steward owner",
        ["moveToAttic"] = "administrator steward owner",
        ["stopMoveToAttic"] = "administrator steward owner",
        ["planRestore"] = "administrator steward owner",
        ["restore"] = "administrator steward owner",
        ["putOffDecisions"] = "administrator",
        ["takeUpDecision"] = "administrator",
        ["answerQuestion"] = "administrator steward owner",
        ["askOwnersAgain"] = "administrator steward owner",
        ["planException"] = "administrator steward owner",
        ["grantException"] = "administrator steward owner",
        ["endException"] = "administrator steward owner",
        ["planHold"] = "administrator steward owner",
        ["placeHold"] = "administrator steward owner",
        ["releaseHold"] = "administrator steward owner",
        ["previewLink"] = "anonymous " + All,
        ["openLink"] = All,
        ["choosePassword"] = "anonymous " + All,
        ["mailPassword"] = "anonymous " + All,
        ["clock"] = "administrator",
        ["moveClock"] = "administrator",
        ["journal"] = All,
        ["checkJournal"] = "administrator auditor",
        ["exportJournal"] = "administrator auditor",
        ["sources"] = All,
        ["whyNot"] = All,
        ["syncSource"] = "administrator",
        ["setManualProcedure"] = "administrator",
        ["planSiteImport"] = "administrator",
        ["importSites"] = "administrator",
        ["siteImportRows"] = "administrator",
        ["siteImports"] = "administrator",
        ["planUndoSiteImport"] = "administrator",
        ["undoSiteImport"] = "administrator",
        ["siteImportFaults"] = "administrator",
        ["planPeopleImport"] = "administrator",
        ["peopleImportRows"] = "administrator",
        ["peopleImportFaults"] = "administrator",
        ["importPeople"] = "administrator",
        ["peopleImports"] = "administrator",
        ["planUndoPeopleImport"] = "administrator",
        ["undoPeopleImport"] = "administrator",
        ["manualTasks"] = All,
        ["manualTask"] = All,
        ["manualTaskPicture"] = All,
        ["setManualTaskPicture"] = "administrator steward owner",
        ["manualTaskDone"] = "administrator steward owner",
        ["manualTaskFailed"] = "administrator steward owner",
        ["manualTaskCheck"] = "administrator steward owner",
        ["reassignManualTask"] = "administrator steward owner",
        ["cancelManualTask"] = "administrator steward owner",
        ["classification"] = "administrator auditor",
        ["planFacts"] = "administrator",
        ["setFacts"] = "administrator",
        ["undoFacts"] = "administrator",
        ["vocabulary"] = All,
        ["planVocabulary"] = "administrator",
        ["changeVocabulary"] = "administrator",
        ["undoVocabulary"] = "administrator",
        ["deadlines"] = All,
        ["siteDates"] = All,
        ["makeCalendarLink"] = All,
        ["revokeCalendarLink"] = All,
        ["readCalendar"] = "anonymous " + All,
        ["moves"] = All,
        ["siteMoved"] = "administrator",
        ["siteNotMoved"] = "administrator",
        ["events"] = All,
        ["accounts"] = "administrator",
        ["planAccountChange"] = "administrator",
        ["changeAccount"] = "administrator",
        ["confirmGone"] = "administrator",
        ["changePassword"] = All,
    };

    private static readonly (string Role, string Who)[] People =
    [
        ("administrator", "t.aske"),
        ("steward", "h.nair"),
        ("owner", "i.vane"),
        ("auditor", "g.sollis"),
    ];

    [Fact]
    public async Task Every_endpoint_answers_each_role_as_its_policy_says_inside_and_outside_their_part()
    {
        var document = JsonDocument
            .Parse(await File.ReadAllTextAsync(Path.Combine(Repository.Root, "docs/openapi.json")))
            .RootElement;
        var (inside, outside) = (await here.SiteId("pilot-exam"), await here.SiteId("inquiry-9"));
        var callers = new Dictionary<string, Caller>();
        foreach (var (role, who) in People)
        {
            callers[role] = await here.SignIn(who);
        }

        foreach (var path in document.GetProperty("paths").EnumerateObject())
        {
            foreach (var operation in path.Value.EnumerateObject())
            {
                var name = operation.Value.GetProperty("operationId").GetString()!;
                foreach (var (role, who) in People)
                {
                    // Anyone who signs out is out.
                    var caller = name == "signOut" ? await here.SignIn(who) : callers[role];
                    foreach (var site in new[] { inside, outside })
                    {
                        var status = await Status(caller, operation.Name, path.Name, site);
                        var admits = Admitted[name].Contains(role, StringComparison.Ordinal);
                        Assert.True(
                            admits == (status != HttpStatusCode.Forbidden),
                            $"{role}: {operation.Name} {path.Name} answered {status}."
                        );
                        Assert.NotEqual(HttpStatusCode.InternalServerError, status);
                        var sees = role is "administrator" or "auditor" || site == inside;
                        if (admits && path.Name.Contains("/sites/{site}", StringComparison.Ordinal))
                        {
                            Assert.True(
                                sees == (status != HttpStatusCode.NotFound),
                                $"{role}: {operation.Name} {path.Name} answered {status} for a site {(site == inside ? "inside" : "outside")}."
                            );
                        }
                    }
                }

                var nobody = await Status(new Caller(here.Address), operation.Name, path.Name, inside);
                Assert.True(
                    Admitted[name].Contains("anonymous", StringComparison.Ordinal) || nobody == HttpStatusCode.Unauthorized,
                    $"Anonymous: {operation.Name} {path.Name} answered {nobody}."
                );
            }
        }
    }

    [Fact]
    public async Task A_steward_cannot_tell_a_site_outside_the_scope_from_one_that_does_not_exist()
    {
        var nair = await here.SignIn("h.nair");
        var outside = await here.SiteId("inquiry-9");
        foreach (var path in new[] { "/api/sites/{0}", "/api/journal?site={0}", "/api/register/places/{0}" })
        {
            var one = await nair.Send(HttpMethod.Get, string.Format(null, path, outside));
            var other = await nair.Send(HttpMethod.Get, string.Format(null, path, 999_999));
            Assert.Equal(other.Status, one.Status);
            Assert.Equal(WithoutTrace(other.Body), WithoutTrace(one.Body));
        }
    }

    [Fact]
    public async Task A_steward_counts_finds_and_reads_the_scope_and_nothing_else()
    {
        await here.Quiet();
        var (bell, nair) = (await here.SignIn("n.bell"), await here.SignIn("h.nair"));
        var whole = await bell.Get("/api/register?unit=MAR&limit=500");
        var part = await nair.Get("/api/register?limit=500");

        Assert.Equal(whole.GetProperty("total").GetInt32(), part.GetProperty("whole").GetInt32());
        Assert.All(part.GetProperty("units").EnumerateArray(), unit =>
            Assert.Contains(unit.GetProperty("key").GetString(), new[] { "MAR", "PIL", "VTS", "TUG", "DRE" })
        );
        Assert.Equal(
            0,
            (await nair.Get("/api/register?filter=" + Uri.EscapeDataString("name eq \"Collision inquiry\"")))
                .GetProperty("total")
                .GetInt32()
        );
        Assert.All(part.GetProperty("rules").EnumerateArray(), rule =>
            Assert.InRange(rule.GetProperty("count").GetInt32(), 0, part.GetProperty("whole").GetInt32())
        );
        var attic = (await nair.Get("/api/register?status=attic&limit=500")).GetProperty("lines").EnumerateArray();
        var sites = part.GetProperty("lines")
            .EnumerateArray()
            .Concat(attic)
            .Select(line => line.GetProperty("id").GetInt64())
            .ToHashSet();
        var journal = (await nair.Get("/api/journal?limit=200"))
            .GetProperty("entries")
            .EnumerateArray()
            .Select(entry => entry.GetProperty("site"));
        Assert.All(journal.Where(site => site.ValueKind == JsonValueKind.Number), site =>
            Assert.Contains(site.GetInt64(), sites)
        );
    }

    [Fact]
    public async Task An_owner_sees_the_sites_they_own()
    {
        var vane = await here.SignIn("i.vane");
        var lines = (await vane.Get("/api/register?limit=500")).GetProperty("lines").EnumerateArray().ToList();

        Assert.NotEmpty(lines);
        foreach (var line in lines)
        {
            var holders = (await vane.Get($"/api/sites/{line.GetProperty("id").GetInt64()}"))
                .GetProperty("siteOwners")
                .EnumerateArray();
            Assert.Contains(holders, holder =>
                holder.GetProperty("person").GetProperty("mail").GetString() == "i.vane@merrowby.example"
            );
        }
    }

    private static bool IsPicture(string path) => path == "/api/pictures" || path.EndsWith("/picture", StringComparison.Ordinal);

    private static string WithoutTrace(JsonElement body) => TraceId().Replace(body.ToString(), "");

    private static async Task<HttpStatusCode> Status(Caller caller, string method, string path, long site)
    {
        var address = path.Replace("{site}", $"{site}", StringComparison.Ordinal)
            .Replace("{hostChange}", Guid.Empty.ToString(), StringComparison.Ordinal)
            .Replace("{invitation}", Guid.Empty.ToString(), StringComparison.Ordinal)
            .Replace("{request}", Guid.Empty.ToString(), StringComparison.Ordinal)
            .Replace("{offer}", Guid.Empty.ToString(), StringComparison.Ordinal)
            .Replace("{question}", Guid.Empty.ToString(), StringComparison.Ordinal)
            .Replace("{approval}", Guid.Empty.ToString(), StringComparison.Ordinal)
            .Replace("{token}", "nothing", StringComparison.Ordinal)
            .Replace("{hold}", "0", StringComparison.Ordinal)
            .Replace("{exception}", "0", StringComparison.Ordinal)
            .Replace("{session}", Guid.Empty.ToString(), StringComparison.Ordinal)
            .Replace("{name}", "Nowhere", StringComparison.Ordinal)
            .Replace("{person}", "1", StringComparison.Ordinal)
            .Replace("{group}", "1", StringComparison.Ordinal)
            .Replace("{view}", "0", StringComparison.Ordinal)
            .Replace("{report}", "owners", StringComparison.Ordinal)
            .Replace("{siteImport}", "0", StringComparison.Ordinal)
            .Replace("{peopleImport}", "0", StringComparison.Ordinal)
            .Replace("{task}", Guid.Empty.ToString(), StringComparison.Ordinal)
            .Replace("{hash}", "0", StringComparison.Ordinal)
            .Replace("{batch}", Guid.Empty.ToString(), StringComparison.Ordinal);
        var limit = new
        {
            inside = "staff",
            outside = "no-one",
            visitorSignIn = "none",
        };
        using var request = new HttpRequestMessage(new HttpMethod(method), address);
        if (
            IsPicture(path)
            || (path.Contains("/imports", StringComparison.Ordinal) && !path.Contains("/undo", StringComparison.Ordinal))
        )
        {
            request.Content =
                method == "get"
                    ? null
                    : new StringContent("key,name\n", System.Text.Encoding.UTF8, IsPicture(path) ? "image/png" : "text/csv");
        }
        else if (method is "post" or "put")
        {
            request.Content = System.Net.Http.Json.JsonContent.Create(
                path == "/api/session"
                    ? new { mail = "nobody@merrowby.example", password = "x" }
                    : (object)
                        new
                        {
                            target = new
                            {
                                view = limit,
                                preview = limit,
                                edit = limit,
                            },
                            fingerprint = "x",
                            to = 1,
                            after = "leaves",
                            password = "not the password",
                            typed = "",
                            reason = "x",
                            cause = "R-02",
                            rule = "R-07",
                            through = "2030-01-31",
                            mail = "nobody@merrowby.example",
                            hours = 0,
                            action = "site.restrict",
                            power = "view",
                            name = "",
                            isShared = false,
                            view = new { sentence = new { } },
                            sites = new[] { site },
                            way = "tidy",
                            account = "",
                            support = "",
                            days = 0,
                            reach = "",
                            key = "",
                            moveToAttic = "",
                            restore = "",
                            isSo = true,
                            description = (string?)null,
                            logo = (string?)null,
                            own = "x",
                            forwardDays = 0,
                            swap = false,
                            address = "x",
                            fact = "classification",
                            request = new { fact = "classification", sites = Array.Empty<long>() },
                        }
            );
            request.Headers.Add("Idempotency-Key", Guid.NewGuid().ToString());
        }

        // The event stream never ends by itself: its first line is enough.
        using var answer = await caller.Http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead);
        return answer.StatusCode;
    }

    [GeneratedRegex("\"traceId\":\"[^\"]*\"")]
    private static partial Regex TraceId();
}
