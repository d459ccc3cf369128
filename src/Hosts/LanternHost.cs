using System.Net.Http.Json;
using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>The rented web space Lantern: JSON over HTTP in numbered pages, with paid plans. It deletes irrevocably and does not
/// recognise repeated requests, so moving to the attic only suspends a site there.
/// </summary>
public sealed partial class LanternHost(HostConnection connection) : ISharesSites, IDeletesSites, IMakesSites
{
    public static readonly HostKind Kind = new("lantern", "/v1/", connection => new LanternHost(connection));

    private const string Open = "open";
    private static readonly (string Word, Power Power)[] Roles =
    [
        ("reader", Power.View),
        ("reviewer", Power.Preview),
        ("writer", Power.Edit),
        ("builder", Power.Publish),
        ("holder", Power.Own),
    ];
    private readonly JsonHttp json = new(connection.Http, connection.Name);

    public string Name => connection.Name;

    public HostCapabilities Capabilities { get; } =
        new()
        {
            Deletes = Deletion.ForGood,
            KnowsRepeats = false,
            StateDays = 0,
            MakesSites = true,
            Powers = [.. Roles.Select(role => role.Power)],
            Notes =
            [
                "Has no bin. A site in the attic is suspended there, and its plan continues.",
                "Does not recognise repeated requests, so a site is read again before a change is retried.",
                "Reports no units and no classifications.",
            ],
        };

    public async Task<HostSetting> ReadSetting(CancellationToken stop)
    {
        var people = new List<HostPerson>();
        await foreach (var seat in Items("seats", stop))
        {
            if (seat.Text("mail") is { Length: > 0 } mail)
            {
                people.Add(new HostPerson(seat.Text("name") ?? mail, mail, true));
            }
        }

        return new HostSetting(people, [], Known.Of(PowerLimits.Same(Limit.Open)), Capabilities);
    }

    public async IAsyncEnumerable<HostPage> ReadSites(string? from, [EnumeratorCancellation] CancellationToken stop)
    {
        var plans = await Plans(stop);
        await foreach (
            var page in SiteLists.Read(
                [Path("sites", 1)],
                path => json.Pages(path, page => Next("sites", page), stop),
                from,
                "data",
                "count",
                (id, site, refused) => Site(id, site, plans, refused),
                stop: stop
            )
        )
        {
            yield return page;
        }
    }

    public async Task<HostSite?> ReadSite(string key, CancellationToken stop) =>
        await json.Get($"sites/{Uri.EscapeDataString(key)}", stop) is { } site ? Site(key, site, await Plans(stop), []) : null;

    public async Task<HostReply> Share(
        ChangeId hostChange,
        string siteKey,
        IReadOnlyList<GrantChange> grants,
        CancellationToken stop
    ) => NoRole(grants) ?? await SetMembers(siteKey, grants, stop);

    public Task<HostReply> Delete(ChangeId hostChange, string siteKey, CancellationToken stop) =>
        Suspend(siteKey, true, new WantedState([], Existence.Attic), stop);

    public async Task<HostReply> Restore(
        ChangeId hostChange,
        string siteKey,
        IReadOnlyList<GrantChange> grants,
        string? address,
        CancellationToken stop
    )
    {
        if (address is not null)
        {
            return new HostReply.Refused("Lantern never changes the address of a site.");
        }

        // Access is set first, so that a restored site is never too open.
        var set = NoRole(grants) ?? (grants.Count == 0 ? null : await SetMembers(siteKey, grants, stop));
        return set is null or HostReply.Done
            ? await Suspend(siteKey, false, new WantedState(grants, Existence.InUse), stop)
            : set;
    }

    private static HostReply.Refused? NoRole(IReadOnlyList<GrantChange> grants)
    {
        foreach (var change in grants)
        {
            if (
                change.Wanted is { } grant
                && (
                    change.Key == Open
                        ? grant is not { Power: Power.View, Subject: Subject.Anonymous }
                        : Word(grant.Power) is null
                )
            )
            {
                return new HostReply.Refused(
                    $"Lantern has no role that lets {change.Key} {grant.Power.ToString().ToLowerInvariant()} and no more."
                );
            }
        }

        return null;
    }

    private Task<HostReply> SetMembers(string siteKey, IReadOnlyList<GrantChange> grants, CancellationToken stop) =>
        Ask(
            HttpMethod.Put,
            $"sites/{Uri.EscapeDataString(siteKey)}/members",
            Members(grants.Select(change => (change.Key, change.Wanted?.Power))),
            new WantedState(grants),
            stop
        );

    private Task<HostReply> Suspend(string siteKey, bool isSuspended, WantedState wanted, CancellationToken stop) =>
        Ask(
            HttpMethod.Put,
            $"sites/{Uri.EscapeDataString(siteKey)}/suspension",
            new JsonObject { ["suspended"] = isSuspended },
            wanted,
            stop
        );

    private async Task<HostReply> Ask(HttpMethod method, string path, JsonObject body, WantedState wanted, CancellationToken stop)
    {
        using var request = new HttpRequestMessage(method, path) { Content = JsonContent.Create(body) };
        return await json.Change(
            request,
            "message",
            answer => SiteLists.Confirms(Site("", answer, new Dictionary<string, JsonElement>(), []), wanted, Name),
            stop
        );
    }

    private static JsonObject Members(IEnumerable<(string Key, Power? Power)> wanted)
    {
        var members = new JsonObject();
        var body = new JsonObject { ["members"] = members };
        foreach (var (key, power) in wanted)
        {
            if (key == Open)
            {
                body["open"] = power is not null;
            }
            else
            {
                members[key["person:".Length..]] = power is { } given ? Word(given) : null;
            }
        }

        return body;
    }

    private async Task<Dictionary<string, JsonElement>> Plans(CancellationToken stop)
    {
        var plans = new Dictionary<string, JsonElement>();
        await foreach (var plan in Items("plans", stop))
        {
            if (plan.Text("id") is { } id)
            {
                plans[id] = plan;
            }
        }

        return plans;
    }

    private async IAsyncEnumerable<JsonElement> Items(string what, [EnumeratorCancellation] CancellationToken stop)
    {
        await foreach (var page in json.Pages(Path(what, 1), page => Next(what, page), stop))
        {
            foreach (var item in page.Json.List("data", page.Path))
            {
                yield return item;
            }
        }
    }

    private static string Path(string what, int page) => $"{what}?page={page}&per=50";

    // Every page has the total, so a truncated list is not mistaken for a complete one.
    private static string? Next(string what, JsonElement page) =>
        (page.Number("page"), page.Number("pages")) switch
        {
            ({ } at, { } last) => at < last ? Path(what, at + 1) : null,
            _ => throw new HostException($"Lantern returned a page of {what} without the total."),
        };

    private static HostSite Site(
        string id,
        JsonElement site,
        IReadOnlyDictionary<string, JsonElement> plans,
        List<string> refused
    ) =>
        new(id)
        {
            Name = site.Fact("name"),
            Address = site.Fact("host"),
            Kind = site.Fact("theme"),
            Description = site.Fact("teaser"),
            Language = site.Fact("language"),
            HiddenFromSearch = site.Truth("findable").Select(findable => !findable),
            Logo = site.Word("mark", ("file", LogoSource.KeptWithSite), ("url", LogoSource.Linked)),
            Status =
                site.Flag("online") is not { } online || site.Instant("firstOnline") is not { IsUnknown: false } first
                    ? Known<Status>.Unknown
                    : Known.Of(
                        first.IsNone ? Status.NeverPublished
                        : online ? Status.Published
                        : Status.Offline
                    ),
            Created = site.Instant("created"),
            LastEdit = site.Instant("changed"),
            LastVisit = site.Instant("lastVisit"),
            Visits = Count(site, "visits7"),
            Pages = Count(site, "pages"),
            Bytes = site.Number("megabytes") is { } megabytes and >= 0 ? Known.Of(megabytes * 1_000_000L) : Known<long>.Unknown,
            Domains = site.Texts("domains"),
            Joining = Known<Joining>.None,
            Parent = Known<string>.None,
            Group = Known<string>.None,
            Plan =
                site.Fact("plan") is var on && on.Has(out var key)
                    ? plans.TryGetValue(key, out var plan)
                        ? Plan(key, plan)
                        : Known<SitePlan>.Unknown
                    : on.IsNone
                        ? Known<SitePlan>.None
                        : Known<SitePlan>.Unknown,
            MailAlias = site.Fact("mailbox"),
            Obligations = Obligations(site),
            Records = site.Number("ordersDone") is { } done and >= 0
                ? done == 0
                    ? Known<int>.None
                    : Known.Of(done)
                : Known<int>.Unknown,
            Signals = Signals(site),
            Bin =
                site.TryGetProperty("suspended", out var suspended) && suspended.Instant("at").Has(out var since)
                    ? new HostBin(since, suspended.Text("by"), Known<DateTimeOffset>.None, Known<DateTimeOffset>.None)
                    : null,
            Sharing = Sharing(id, site, refused),
        };

    private static Known<int> Count(JsonElement site, string field) =>
        site.Number(field) is { } count and >= 0 ? Known.Of(count) : Known<int>.Unknown;

    private static Known<SitePlan> Plan(string key, JsonElement plan) =>
        plan.Number("cents") is { } cents and >= 0
        && plan.Number("months") is { } months and > 0
        && DateOnly.TryParseExact(plan.Text("paidThrough"), "yyyy-MM-dd", out var through)
        && plan.Flag("renews") is { } renews
            ? Known.Of(
                new SitePlan(
                    key,
                    plan.Text("name") ?? key,
                    cents,
                    plan.Text("currency") ?? "",
                    months,
                    through,
                    renews,
                    plan.Number("graceDays") ?? 0,
                    plan.Items("sites").Count()
                )
            )
            : Known<SitePlan>.Unknown;

    // An order is owed until it is delivered, a voucher until its last day; a delivered order is a record.
    private static Known<IReadOnlyList<Obligation>> Obligations(JsonElement site)
    {
        if (site.Number("ordersOpen") is not { } undelivered || !site.TryGetProperty("vouchers", out var vouchers))
        {
            return Known<IReadOnlyList<Obligation>>.Unknown;
        }

        var owed = new List<Obligation>();
        if (undelivered > 0)
        {
            owed.Add(new Obligation(undelivered, undelivered == 1 ? "order is not delivered" : "orders are not delivered"));
        }

        if (vouchers.Number("left") is { } left and > 0)
        {
            owed.Add(
                new Obligation(
                    left,
                    left == 1 ? "voucher is not used" : "vouchers are not used",
                    DateOnly.TryParseExact(vouchers.Text("lastDay"), "yyyy-MM-dd", out var day) ? day : null
                )
            );
        }

        return owed.Count == 0 ? Known<IReadOnlyList<Obligation>>.None : Known<IReadOnlyList<Obligation>>.Of(owed);
    }

    private static Known<IReadOnlyList<Signal>> Signals(JsonElement site)
    {
        var (trackers, forms) = (site.Texts("trackers"), site.Texts("forms"));
        if (trackers.IsUnknown || forms.IsUnknown)
        {
            return Known<IReadOnlyList<Signal>>.Unknown;
        }

        List<Signal> signals =
        [
            .. trackers.Or([]).Select(where => new Signal("tracker", where)),
            .. forms.Or([]).Select(where => new Signal("form", where)),
        ];
        return signals.Count == 0 ? Known<IReadOnlyList<Signal>>.None : Known<IReadOnlyList<Signal>>.Of(signals);
    }

    private static Known<HostSharing> Sharing(string id, JsonElement site, List<string> refused)
    {
        if (
            site.Flag("open") is not { } open
            || !site.TryGetProperty("members", out var members)
            || members.ValueKind != JsonValueKind.Object
        )
        {
            return Known<HostSharing>.Unknown;
        }

        var grants = new List<HostGrant>();
        if (open)
        {
            grants.Add(new HostGrant(Open, Power.View, new HostSubject.Anonymous(), VisitorSignIn.None));
        }

        foreach (var member in members.EnumerateObject())
        {
            var place = Array.FindIndex(Roles, role =>
                role.Word == (member.Value.ValueKind == JsonValueKind.String ? member.Value.GetString() : null)
            );
            if (place < 0)
            {
                refused.Add($"{id}: Lantern reported an unknown role of {member.Name}: {member.Value}.");
                return Known<HostSharing>.Unknown;
            }

            grants.Add(
                new HostGrant(
                    $"person:{member.Name.ToLowerInvariant()}",
                    Roles[place].Power,
                    new HostSubject.ByMail(member.Name),
                    VisitorSignIn.Account
                )
            );
        }

        return Known.Of(new HostSharing(grants, null));
    }

    private static string? Word(Power power) => Array.Find(Roles, role => role.Power == power).Word;
}
