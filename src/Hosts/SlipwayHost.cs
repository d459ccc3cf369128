using System.Net.Http.Json;
using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>The page builder Slipway: JSON over HTTP, paged by cursor, with idempotency keys.</summary>
public sealed partial class SlipwayHost(HostConnection connection)
    : IReportsChanges,
        IKeepsStates,
        ISharesSites,
        IDeletesSites,
        IMakesSites,
        IChangesLook,
        IChangesAddress,
        IReadsPages
{
    public static readonly HostKind Kind = new("slipway", "/api/", connection => new SlipwayHost(connection));
    private const string Staff = "everyone";
    private const string World = "world";
    private const int MostMembers = 200_000;
    private static readonly string[] RoleLabels = ["read", "preview", "edit", "publish", "invite", "run", "own"];
    private readonly JsonHttp json = new(connection.Http, connection.Name);

    public string Name => connection.Name;

    public HostBudget? Budget => json.Budget;

    public HostCapabilities Capabilities { get; } =
        new()
        {
            Deletes = Deletion.ToBin,
            KnowsRepeats = true,
            TellsChanges = true,
            MakesSites = true,
            InvitesGuests = true,
            Changes = [.. Enum.GetValues<LookField>()],
            Logos = [.. Enum.GetValues<LogoSource>()],
            ForwardDays = 365,
            SwapsAddresses = true,
        };

    public async Task<HostSetting> ReadSetting(CancellationToken stop)
    {
        var (people, invitedBy) = (new List<HostPerson>(), new Dictionary<string, string>());
        var mailOf = new Dictionary<string, string>();
        await foreach (var person in Items("people", stop))
        {
            if (person.Text("id") is { } id && person.Text("mail") is { Length: > 0 } mail)
            {
                mailOf[id] = mail;
                people.Add(
                    new HostPerson(person.Text("name") ?? mail, mail, person.Flag("guest") ?? true)
                    {
                        Joined = person.Instant("joined"),
                        LastSeen = person.Instant("lastSeen"),
                    }
                );
                if (person.Text("invitedBy") is { } sponsor)
                {
                    invitedBy[mail] = sponsor;
                }
            }
        }

        var groups = new List<HostGroup>();
        await foreach (var group in Items("groups", stop))
        {
            if (group.Text("id") is { } id)
            {
                groups.Add(Group(id, group, mailOf));
            }
        }

        var workspace = await json.Get("workspace", stop) ?? throw new HostException("Slipway has no workspace settings.");
        string? Sponsor(string mail) =>
            invitedBy.TryGetValue(mail, out var by) && mailOf.TryGetValue(by, out var sponsor) ? sponsor : null;
        return new HostSetting(
            [.. people.Select(person => person with { SponsorMail = Sponsor(person.Mail) })],
            groups,
            WorkspaceLimit(workspace),
            Capabilities with
            {
                BinDays = workspace.Number("binDays"),
                StateDays = workspace.Number("stateDays"),
            }
        );
    }

    public IAsyncEnumerable<HostPage> ReadSites(string? from, CancellationToken stop) =>
        SiteLists.Read(
            ["sites?limit=100", "bin?limit=100"],
            path => json.Pages(path, page => Next(path.Split('?')[0], page), stop),
            from,
            "items",
            "total",
            Site,
            Withheld,
            stop
        );

    public async Task<HostChanges> ReadChanges(string? mark, CancellationToken stop)
    {
        var (sites, gone, refused) = (new List<HostSite>(), new List<string>(), new List<string>());
        var path = mark is null ? "changes" : $"changes?since={Uri.EscapeDataString(mark)}";
        var changes = await json.Get(path, stop) ?? throw new BeginAgainException("Slipway does not report changes.");
        foreach (var item in changes.List("items", path))
        {
            if (item.Text("id") is { Length: > 0 } id)
            {
                sites.Add(Site(id, item, refused));
            }
        }

        refused.AddRange(Withheld(changes));
        gone.AddRange(changes.List("gone", path).Select(key => key.GetString()).OfType<string>());
        return new HostChanges(
            sites,
            gone,
            refused,
            changes.Text("mark") ?? throw new HostException("Slipway reported changes without a mark to continue from.")
        );
    }

    public async Task<HostSite?> ReadSite(string key, CancellationToken stop)
    {
        foreach (var list in (string[])["sites", "bin"])
        {
            if (await json.Get($"{list}/{Uri.EscapeDataString(key)}", stop) is { } site)
            {
                return Site(key, site, []);
            }
        }

        return null;
    }

    public async Task<IReadOnlyList<HostState>> ReadStates(string key, DateTimeOffset since, CancellationToken stop)
    {
        var path = $"sites/{Uri.EscapeDataString(key)}/states";
        var states = new List<HostState>();
        await foreach (var page in json.Pages($"{path}?limit=200", page => Next(path, page), stop))
        {
            states.AddRange(
                page.Json.List("items", page.Path)
                    .Select(state => state.Instant("at").Has(out var at) ? new HostState(at, state.Text("by")) : null)
                    .OfType<HostState>()
                    .Where(state => state.At >= since)
            );
        }

        return states;
    }

    public Task<HostReply> Share(
        ChangeId hostChange,
        string siteKey,
        IReadOnlyList<GrantChange> grants,
        CancellationToken stop
    ) =>
        Send(
            hostChange,
            HttpMethod.Patch,
            $"sites/{Uri.EscapeDataString(siteKey)}/sharing",
            new JsonObject { ["changes"] = Changes(grants) },
            body => new HostReply.Done(Sharing(body)),
            stop
        );

    public Task<HostReply> Delete(ChangeId hostChange, string siteKey, CancellationToken stop) =>
        Send(
            hostChange,
            HttpMethod.Delete,
            $"sites/{Uri.EscapeDataString(siteKey)}",
            null,
            body => SiteLists.Confirms(Site("", body, []), new WantedState([], Existence.Attic), Name),
            stop
        );

    public async Task<HostReply> Restore(
        ChangeId hostChange,
        string siteKey,
        IReadOnlyList<GrantChange> grants,
        string? address,
        CancellationToken stop
    )
    {
        var slug = address is null ? null : connection.Rest(address);
        if (address is not null && slug is null)
        {
            return new HostReply.Refused($"{Name} gives no address like {address}.");
        }

        return await Send(
            hostChange,
            HttpMethod.Post,
            $"bin/{Uri.EscapeDataString(siteKey)}/restore",
            new JsonObject { ["slug"] = slug, ["changes"] = Changes(grants) },
            body => SiteLists.Confirms(Site("", body, []), new WantedState(grants, Existence.InUse, address), Name),
            stop
        );
    }

    private Task<HostReply> Send(
        ChangeId hostChange,
        HttpMethod method,
        string path,
        JsonObject? content,
        Func<JsonElement, HostReply.Done> done,
        CancellationToken stop
    ) => Send(hostChange.ToString(), method, path, content, done, stop);

    private async Task<HostReply> Send(
        string key,
        HttpMethod method,
        string path,
        JsonObject? content,
        Func<JsonElement, HostReply.Done> done,
        CancellationToken stop
    )
    {
        using var request = new HttpRequestMessage(method, path)
        {
            Content = content is null ? null : JsonContent.Create(content),
        };
        request.Headers.Add("Idempotency-Key", key);
        return await json.Change(request, "problem", done, stop);
    }

    private static JsonArray Changes(IReadOnlyList<GrantChange> grants) => [.. grants.Select(Change)];

    private async IAsyncEnumerable<JsonElement> Items(string what, [EnumeratorCancellation] CancellationToken stop)
    {
        await foreach (var page in json.Pages($"{what}?limit=200", page => Next(what, page), stop))
        {
            foreach (var item in page.Json.List("items", page.Path))
            {
                yield return item;
            }
        }
    }

    private static Known<Joining> Joining(JsonElement site, List<string> refused)
    {
        if (!site.TryGetProperty("joining", out var said) || said.ValueKind != JsonValueKind.Object)
        {
            return Known<Joining>.Unknown;
        }

        JoinWay? way = said.Text("way") switch
        {
            "self" => JoinWay.Open,
            "request" => JoinWay.Asked,
            "none" => JoinWay.Invited,
            _ => null,
        };
        if (way is not { } known)
        {
            refused.Add($"{site.Text("id")}: Slipway reports an unknown way to join: \"{said.Text("way")}\".");
            return Known<Joining>.Unknown;
        }

        var members = Array.IndexOf(RoleLabels, said.Text("as")) is var role and >= 0
            ? Known.Of((Power)role)
            : Known<Power>.Unknown;
        return Known.Of(
            new Joining(
                known,
                Math.Max(0, said.Number("requests") ?? 0),
                said.Instant("oldest").Has(out var since) ? since : null,
                members
            )
        );
    }

    private static IEnumerable<string> Withheld(JsonElement page) =>
        page.Items("withheld").Select(site => $"{site.Text("id")}: {site.Text("why")}");

    private static string? Next(string what, JsonElement page) =>
        page.Text("next") is { Length: > 0 } cursor ? $"{what}?cursor={Uri.EscapeDataString(cursor)}" : null;

    private HostGroup Group(string id, JsonElement group, Dictionary<string, string> mailOf)
    {
        var members = new List<HostMember>();
        var complete = group.Flag("truncated") == false;
        foreach (var member in group.Items("members"))
        {
            if (members.Count == MostMembers)
            {
                complete = false;
                break;
            }

            if (member.Text("person") is { } person && mailOf.TryGetValue(person, out var mail))
            {
                members.Add(new HostMember(mail, null, null));
            }
            else if (member.Text("group") is { } inner)
            {
                members.Add(new HostMember(null, Name, inner));
            }
            else if (member.Text("directory") is { } listed)
            {
                members.Add(new HostMember(null, StaffList.SourceName, listed));
            }
            else
            {
                complete = false;
            }
        }

        return new HostGroup(id, group.Text("name") ?? id, members, complete);
    }

    // "outside" is the widest group of visitors, "signIn" whether everybody has to sign in.
    private static Known<PowerLimits> WorkspaceLimit(JsonElement workspace) =>
        Outside(workspace.Text("outside")) is { } widest
            ? Known.Of(
                PowerLimits.Same(
                    Limit.Open with
                    {
                        Widest = widest,
                        LeastSignIn = workspace.Flag("signIn") == true ? VisitorSignIn.Account : VisitorSignIn.None,
                    }
                )
            )
            : Known<PowerLimits>.Unknown;

    private static OutsideLevel? Outside(string? word) =>
        word switch
        {
            World => OutsideLevel.Anonymous,
            "partners" => OutsideLevel.Partners,
            "guests" => OutsideLevel.NamedGuests,
            "none" => OutsideLevel.NoOne,
            _ => null,
        };

    // A part of a site that is not understood is refused with its text, without effect on the rest of the sync.
    private HostSite Site(string id, JsonElement site, List<string> refused) =>
        new(id)
        {
            Name = site.Fact("title"),
            Address = site.Fact("slug").Select(slug => connection.Address(slug)),
            Unit = site.Fact("team"),
            Classification = site.Fact("label"),
            Purpose = site.Fact("usedFor"),
            Kind = site.Fact("template"),
            Tags =
                site.Texts("topics") is var topics && topics.Has(out var words) ? TagWords.Of(words)
                : topics.IsNone ? Known<string>.None
                : Known<string>.Unknown,
            Joining = Joining(site, refused),
            ShownName = site.Fact("header"),
            HomeTitle = site.Fact("homeTitle"),
            Description = site.Fact("about"),
            Language = site.Fact("language"),
            ContentNotice = site.Fact("notice"),
            Ends = site.Instant("ends"),
            MailAlias = site.Fact("mailbox"),
            HiddenFromSearch = site.Truth("noindex"),
            Logo = site.Word(
                "logo",
                ("own", LogoSource.KeptWithSite),
                ("site", LogoSource.Borrowed),
                ("link", LogoSource.Linked)
            ),
            LogoFrom = site.Fact("logoFrom"),
            Forwards = Formerly(site),
            Status = StatusOf(site),
            Created = site.Instant("created"),
            LastEdit = site.Instant("edited"),
            LastVisit = site.Instant("lastVisit"),
            Visits = site.Number("visits7") is { } visits and >= 0 ? Known.Of(visits) : Known<int>.Unknown,
            Pages = site.Number("pages") is { } pages and >= 0 ? Known.Of(pages) : Known<int>.Unknown,
            Bytes = site.Long("bytes") is { } bytes and >= 0 ? Known.Of(bytes) : Known<long>.Unknown,
            Domains = site.Texts("domains"),
            Parent = site.Fact("parent"),
            Group = site.Fact("ownGroup"),
            Editing = site.Texts("editing"),
            Bin = site.Instant("deleted").Has(out var deleted)
                ? new HostBin(deleted, site.Text("deletedBy"), site.Instant("recoverableUntil"), site.Instant("erased"))
                : null,
            Sharing =
                site.TryGetProperty("sharing", out var sharing) && sharing.ValueKind == JsonValueKind.Object
                    ? Understood(id, sharing, refused)
                    : Known<HostSharing>.Unknown,
        };

    private Known<HostSharing> Understood(string id, JsonElement sharing, List<string> refused)
    {
        try
        {
            return Known.Of(Sharing(sharing));
        }
        catch (HostException fault)
        {
            refused.Add($"{id}: {fault.Message}");
            return Known<HostSharing>.Unknown;
        }
    }

    private static Known<Status> StatusOf(JsonElement site)
    {
        var published = site.Instant("published");
        return published.IsUnknown || site.Flag("offline") is not { } offline || site.Number("unpublished") is not { } changes
            ? Known<Status>.Unknown
            : Known.Of(
                published.IsNone ? Status.NeverPublished
                : offline ? Status.Offline
                : changes > 0 ? Status.UnpublishedChanges
                : Status.Published
            );
    }
}
