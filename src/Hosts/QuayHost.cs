using System.Net.Http.Json;
using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>The intranet Quay: JSON over HTTP, lists with bookmarks. People get in through Quay's own circles; a removed site is
/// in two bins, one after the other, and appears in its lists only after minutes.
/// </summary>
public sealed partial class QuayHost(HostConnection connection)
    : IKeepsStates,
        ISharesSites,
        IDeletesSites,
        IMakesSites,
        IChangesLook
{
    public static readonly HostKind Kind = new("quay", "/quay/", connection => new QuayHost(connection));
    private const string Everybody = "everyone";
    private const int MostRestarts = 3;
    private static readonly (string Word, Power Power)[] Mays =
    [
        ("read", Power.View),
        ("contribute", Power.Edit),
        ("run", Power.Manage),
        ("answer for", Power.Own),
    ];
    private readonly JsonHttp json = new(connection.Http, connection.Name);

    public string Name => connection.Name;

    public HostCapabilities Capabilities { get; } =
        new()
        {
            Deletes = Deletion.ToBin,
            BinDays = 30,
            StateDays = 60,
            KnowsRepeats = true,
            NamesPeople = false,
            MakesSites = true,
            Changes = [LookField.Name],
            Powers = [.. Mays.Select(one => one.Power)],
            ListLag = TimeSpan.FromMinutes(5),
            Notes =
            [
                "Has two bins: 20 days in the first, which owners see, then 10 days in the second, which only administrators of Quay see.",
                "Its lists show deletions some minutes late, so a site counts as no longer reported 5 minutes after it was last listed.",
                "Gives access through circles only: change the owners of a site in its circle, at Quay.",
                "Measures storage at night, so the number is up to a day old.",
                "Assigns the address of a site and never changes it.",
                "Has no drafts: saved changes are published at once.",
                "Sections of a site can have their own access: shown here, changed at Quay.",
            ],
        };

    public async Task<HostSetting> ReadSetting(CancellationToken stop)
    {
        var people = new List<HostPerson>();
        await foreach (var person in Entries("people", stop))
        {
            if (person.Text("mail") is { Length: > 0 } mail)
            {
                people.Add(new HostPerson(person.Text("name") ?? mail, mail, person.Flag("visitor") ?? true));
            }
        }

        var circles = new List<HostGroup>();
        await foreach (var circle in Entries("circles", stop))
        {
            if (circle.Text("id") is { } id)
            {
                var (mails, inner) = (circle.Texts("people"), circle.Texts("circles"));
                circles.Add(
                    new HostGroup(
                        id,
                        circle.Text("name") ?? id,
                        [
                            .. mails.Or([]).Select(mail => new HostMember(mail, null, null)),
                            .. inner.Or([]).Select(key => new HostMember(null, Name, key)),
                        ],
                        !mails.IsUnknown && !inner.IsUnknown
                    )
                );
            }
        }

        return new HostSetting(
            people,
            circles,
            Known.Of(
                PowerLimits.Same(Limit.Open with { Widest = OutsideLevel.NamedGuests, LeastSignIn = VisitorSignIn.Account })
            ),
            Capabilities
        );
    }

    public IAsyncEnumerable<HostPage> ReadSites(string? from, CancellationToken stop) =>
        SiteLists.Read(["sites", "removed"], path => Pages(path, stop), from, "entries", "all", Site, stop: stop);

    public async Task<HostSite?> ReadSite(string key, CancellationToken stop) =>
        await json.Get($"sites/{Uri.EscapeDataString(key)}", stop) is { } site ? Site(key, site, []) : null;

    public async Task<IReadOnlyList<HostState>> ReadStates(string key, DateTimeOffset since, CancellationToken stop) =>
        await json.Get($"sites/{Uri.EscapeDataString(key)}/states", stop) is { } answer
            ?
            [
                .. answer
                    .Items("states")
                    .Select(state => state.Instant("at").Has(out var at) ? new HostState(at, state.Text("by")) : null)
                    .OfType<HostState>()
                    .Where(state => state.At >= since),
            ]
            : throw new HostException($"Quay has no states of {key}.");

    public Task<HostReply> Share(
        ChangeId hostChange,
        string siteKey,
        IReadOnlyList<GrantChange> grants,
        CancellationToken stop
    ) =>
        Send(
            hostChange,
            HttpMethod.Patch,
            $"sites/{Uri.EscapeDataString(siteKey)}/rights",
            grants,
            new WantedState(grants),
            stop
        );

    public Task<HostReply> Present(ChangeId hostChange, string siteKey, HostLook look, CancellationToken stop) =>
        look is { Name: { } name, Description: null, Logo: null }
            ? Send(
                hostChange,
                HttpMethod.Put,
                $"sites/{Uri.EscapeDataString(siteKey)}/name",
                new JsonObject { ["name"] = name },
                new WantedState([]) { Look = new WantedLook(name) },
                stop
            )
            : Task.FromResult<HostReply>(new HostReply.Refused("Quay changes nothing but the name of a site."));

    public Task<HostReply> Delete(ChangeId hostChange, string siteKey, CancellationToken stop) =>
        Send(
            hostChange,
            HttpMethod.Post,
            $"sites/{Uri.EscapeDataString(siteKey)}/remove",
            (JsonObject?)null,
            new WantedState([], Existence.Attic),
            stop
        );

    public async Task<HostReply> Restore(
        ChangeId hostChange,
        string siteKey,
        IReadOnlyList<GrantChange> grants,
        string? address,
        CancellationToken stop
    ) =>
        address is not null
            ? new HostReply.Refused("Quay assigns the address of a site and never changes it.")
            : await Send(
                hostChange,
                HttpMethod.Post,
                $"sites/{Uri.EscapeDataString(siteKey)}/put-back",
                grants,
                new WantedState(grants, Existence.InUse),
                stop
            );

    private async Task<HostReply> Send(
        ChangeId hostChange,
        HttpMethod method,
        string path,
        IReadOnlyList<GrantChange>? grants,
        WantedState wanted,
        CancellationToken stop
    )
    {
        var rights = new JsonObject();
        foreach (var change in grants ?? [])
        {
            if (Who(change.Key) is not { } who)
            {
                return new HostReply.Refused("Quay gives access through circles only. Change the circle there.");
            }

            if (change.Wanted is { } grant && Word(grant.Power) is null)
            {
                return new HostReply.Refused(
                    $"Quay has no right that lets {who} {grant.Power.ToString().ToLowerInvariant()} and no more."
                );
            }

            rights[who] = change.Wanted is { } given ? Word(given.Power) : null;
        }

        return await Send(hostChange, method, path, grants is null ? null : new JsonObject { ["rights"] = rights }, wanted, stop);
    }

    private async Task<HostReply> Send(
        ChangeId hostChange,
        HttpMethod method,
        string path,
        JsonObject? content,
        WantedState wanted,
        CancellationToken stop
    )
    {
        using var request = new HttpRequestMessage(method, path)
        {
            Content = content is null ? null : JsonContent.Create(content),
        };
        request.Headers.Add("Request-Key", hostChange.ToString());
        return await json.Change(request, "reason", answer => SiteLists.Confirms(Site("", answer, []), wanted, Name), stop);
    }

    private async IAsyncEnumerable<JsonElement> Entries(string what, [EnumeratorCancellation] CancellationToken stop)
    {
        await foreach (var page in Pages(what, stop))
        {
            foreach (var entry in page.Json.List("entries", page.Path))
            {
                yield return entry;
            }
        }
    }

    // An expired bookmark restarts the list; the sites are then stored again, which changes nothing.
    private async IAsyncEnumerable<JsonPage> Pages(string first, [EnumeratorCancellation] CancellationToken stop)
    {
        for (var restarts = 0; ; restarts++)
        {
            var what = first.Split('?')[0];
            await using var pages = json.Pages(
                    restarts == 0 ? first : what,
                    page =>
                        page.Text("bookmark") is { Length: > 0 } bookmark
                            ? $"{what}?bookmark={Uri.EscapeDataString(bookmark)}"
                            : null,
                    stop
                )
                .GetAsyncEnumerator(stop);
            while (true)
            {
                bool isThere;
                try
                {
                    isThere = await pages.MoveNextAsync();
                }
                catch (BeginAgainException) when (restarts < MostRestarts)
                {
                    break;
                }

                if (!isThere)
                {
                    yield break;
                }

                yield return pages.Current;
            }
        }
    }

    private HostSite Site(string id, JsonElement site, List<string> refused) =>
        new(id)
        {
            Name = site.Fact("name"),
            Address = site.Fact("path").Select(path => connection.Address(path)),
            Unit = site.Fact("department"),
            Classification = site.Fact("label"),
            Kind = site.Fact("kind"),
            Tags = site.Fact("keywords") is var keywords && keywords.Has(out var words) ? TagWords.Of([words]) : keywords,
            HiddenFromSearch = site.Truth("outOfSearch"),
            Logo = site.Word("emblem", ("here", LogoSource.KeptWithSite), ("there", LogoSource.Borrowed)),
            Status = Known.Of(Status.Published),
            Created = site.Instant("made"),
            LastEdit = site.Instant("saved"),
            Pages = site.Number("pages") is { } pages and >= 0 ? Known.Of(pages) : Known<int>.Unknown,
            Bytes = site.Long("stored") is { } bytes and >= 0 ? Known.Of(bytes) : Known<long>.Unknown,
            Domains = Known<IReadOnlyList<string>>.None,
            Joining = Known<Joining>.None,
            Parent = site.Fact("under"),
            Group = site.Fact("circle"),
            Bin =
                site.TryGetProperty("removed", out var removed) && removed.Instant("at").Has(out var at)
                    ? new HostBin(at, removed.Text("by"), removed.Instant("farUntil"), removed.Instant("farUntil"))
                    : null,
            Sharing = Sharing(id, site, refused),
            Shared = Shared(site),
            Sections = Sections(id, site, refused),
        };

    private static Known<IReadOnlyList<Shared>> Shared(JsonElement site) =>
        !site.TryGetProperty("alsoShown", out var said) || said.ValueKind != JsonValueKind.Array
            ? Known<IReadOnlyList<Shared>>.Unknown
        : said.GetArrayLength() == 0 ? Known<IReadOnlyList<Shared>>.None
        : Known<IReadOnlyList<Shared>>.Of([
            .. said.EnumerateArray()
                .Select(page => new Shared(page.Text("page") ?? "a page", [.. page.Texts("in").Or([])]))
                .Where(page => page.In.Count > 0),
        ]);

    private Known<IReadOnlyList<HostSection>> Sections(string id, JsonElement site, List<string> refused)
    {
        if (!site.TryGetProperty("sections", out var said) || said.ValueKind != JsonValueKind.Array)
        {
            return Known<IReadOnlyList<HostSection>>.Unknown;
        }

        var sections = new List<HostSection>();
        foreach (var section in said.EnumerateArray())
        {
            if (
                section.Text("id") is not { } key
                || section.Flag("ownDoor") is not { } ownDoor
                || !Sharing($"{id}, section {section.Text("name") ?? key}", section, refused).Has(out var sharing)
            )
            {
                return Known<IReadOnlyList<HostSection>>.Unknown;
            }

            sections.Add(
                new HostSection(key, section.Text("name") ?? key, ownDoor ? SectionTie.StandingFree : SectionTie.Nested, sharing)
            );
        }

        return sections.Count == 0 ? Known<IReadOnlyList<HostSection>>.None : Known<IReadOnlyList<HostSection>>.Of(sections);
    }

    private Known<HostSharing> Sharing(string id, JsonElement site, List<string> refused)
    {
        if (!site.TryGetProperty("rights", out var rights) || rights.ValueKind != JsonValueKind.Array)
        {
            return Known<HostSharing>.Unknown;
        }

        var grants = new List<HostGrant>();
        foreach (var right in rights.EnumerateArray())
        {
            var (who, may) = (right.Text("who") ?? "", right.Text("may"));
            var place = Array.FindIndex(Mays, one => one.Word == may);
            var subject = who.Split(':', 2) switch
            {
                ["house"] => new HostSubject.Staff(),
                ["department", var code] => new HostSubject.Unit(code),
                ["circle", var circle] => new HostSubject.GroupOf(Name, circle),
                _ => (HostSubject?)null,
            };
            if (place < 0 || subject is null)
            {
                refused.Add($"{id}: Quay reported an unknown right: {who} may \"{may}\".");
                return Known<HostSharing>.Unknown;
            }

            grants.Add(new HostGrant(Key(who), Mays[place].Power, subject, VisitorSignIn.Account));
        }

        return Known.Of(new HostSharing(grants, null));
    }

    // The register's own keys, as for every host, so that a grant can be requested again.
    private static string Key(string who) =>
        who.Split(':', 2) switch
        {
            ["house"] => Everybody,
            ["department", var code] => $"unit:{code}",
            [_, var circle] => $"g:{circle}",
            _ => who,
        };

    private static string? Who(string key) =>
        key.Split(':', 2) switch
        {
            [Everybody] => "house",
            ["unit", var code] => $"department:{code}",
            ["g", var circle] => $"circle:{circle}",
            _ => null,
        };

    private static string? Word(Power power) => Array.Find(Mays, one => one.Power == power).Word;
}
