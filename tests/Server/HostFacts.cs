using System.Text.Json.Nodes;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Feed;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>The adapters against what speaks their protocols, over HTTP.</summary>
public class HostFacts(Installation here)
{
    private static readonly ChangeId HostChange = new(Guid.Parse("00000000-0000-0000-0000-00000000000a"));

    [Fact]
    public async Task What_is_computed_of_a_site_is_what_the_host_does_for_every_person_and_for_anonymous_visitors()
    {
        // The stand-in decides independently of our computation; they have to agree for every site and every person.
        var state = await here.Server.Services.GetRequiredService<LiveRegister>().Refresh();
        var lines = (await here.Database.Read(connection => connection.Sites(new Scope.Everything())))
            .Select(site => state.Judge(site).Line)
            .ToList();
        var checks = 0;
        here.Slipway.Read(records =>
        {
            var byMail = records.People.Values.ToDictionary(person => person.Mail.ToLowerInvariant());
            foreach (var line in lines.Where(line => line.Site.Sharing.Has(out _) && !line.Site.NoLongerReported))
            {
                if (
                    !records.Sites.TryGetValue(line.Site.HostKey, out var site)
                    || site.Published is null
                    || site.Offline
                    || line.Site.Sharing.Or(null!)
                        .Grants.Any(grant =>
                            grant.Subject is Subject.OneGroup(var group) && !state.PeopleDirectory.Expand(group).Complete
                        )
                )
                {
                    continue;
                }

                var effective = line.AccessPath(Power.View).Effective.AtLeast;
                Agree(
                    Doorkeeper.LetsIn(records, site, null, "read", state.PeopleDirectory.Now),
                    effective.Doors.Contains(new Door(OutsideLevel.Anonymous, VisitorSignIn.None)),
                    site,
                    "an anonymous visitor"
                );
                for (var place = 0; place < state.PeopleDirectory.People.Count; place++)
                {
                    if (byMail.TryGetValue(state.PeopleDirectory.People[place].Mail.ToLowerInvariant(), out var visitor))
                    {
                        var computed =
                            effective.Inside.Contains(place)
                            || effective.Guests.Contains(place)
                            || effective.Doors.Widest == OutsideLevel.Anonymous
                            || IsGoneFromWide(line, place, visitor);
                        Agree(
                            Doorkeeper.LetsIn(records, Joined(site, visitor, place), visitor, "read", state.PeopleDirectory.Now),
                            computed,
                            site,
                            visitor.Mail
                        );
                    }
                }
            }

            return 0;
        });
        Assert.True(checks > 50_000, $"Only {checks} were compared.");

        void Agree(bool host, bool computed, SlipwaySite site, string who)
        {
            checks++;
            Assert.True(
                host == computed,
                $"{site.Slug}: the host {(host ? "lets in" : "shuts out")} {who}, the computation does not."
            );
        }

        // Where staff can join without approval, it counts what they get into after joining.
        SlipwaySite Joined(SlipwaySite site, SlipwayPerson visitor, int place) =>
            site.Join == "self" && state.PeopleDirectory.Staff.Contains(place)
                ? site with
                {
                    Entries = [.. site.Entries, new($"p:{visitor.Id}", site.JoinAs)],
                }
                : site;

        // All of the staff, and a unit, are the people on the staff list. The host uses its own accounts, which it removes late.
        bool IsGoneFromWide(ComputedSite line, int place, SlipwayPerson visitor) =>
            (
                state.PeopleDirectory.Standings[place] == Standing.Left
                || state.PeopleDirectory.People[place].Kind == PersonKind.Service
            )
            && line.Site.Sharing.Or(null!) is var sharing
            && sharing.Grants.Any(grant =>
                grant.Subject is Subject.AllStaff || (grant.Subject is Subject.WholeUnit(var unit) && unit.Value == visitor.Team)
            );
    }

    [Fact]
    public async Task Entries_of_every_kind_become_grants_and_go_back_as_they_came()
    {
        var (host, slipway) = await Host(
            new SlipwaySite
            {
                Id = "s",
                Slug = "s",
                Title = "S",
                Limit = "guests",
                Published = DateTimeOffset.UtcNow,
                Entries =
                [
                    new("everyone", "read"),
                    new("g:1", "edit"),
                    new("link:a", "read", "none", "world", "2027-01-31"),
                    new("p:1", "own"),
                    new("partners", "preview", "code"),
                    new("team:PIL", "publish"),
                    new("world", "read", "none"),
                ],
            }
        );
        var sharing = (await host.ReadSite("s", default))!.Sharing.Or(null!);

        Assert.Equal(
            [
                new HostGrant("everyone", Power.View, new HostSubject.Staff(), VisitorSignIn.Account),
                new HostGrant("g:1", Power.Edit, new HostSubject.GroupOf("Slipway", "1"), VisitorSignIn.Account),
                new HostGrant(
                    "link:a",
                    Power.View,
                    new HostSubject.Anonymous(),
                    VisitorSignIn.None,
                    true,
                    new DateOnly(2027, 1, 31)
                ),
                new HostGrant(
                    "person:n.bell@merrowby.example",
                    Power.Own,
                    new HostSubject.ByMail("n.bell@merrowby.example"),
                    VisitorSignIn.Account
                ),
                new HostGrant("partners", Power.Preview, new HostSubject.Partners(), VisitorSignIn.OneTimeCode),
                new HostGrant("unit:PIL", Power.Publish, new HostSubject.Unit("PIL"), VisitorSignIn.Account),
                new HostGrant("world", Power.View, new HostSubject.Anonymous(), VisitorSignIn.None),
            ],
            sharing.Grants
        );
        Assert.Equal(OutsideLevel.NamedGuests, sharing.OwnLimit!.View.Widest);

        // Removed and granted again, the entries are the same as at first.
        var before = slipway.Read(records => records.Sites["s"].Entries);
        var grants = new[]
        {
            new Grant("link:a", Power.View, new Subject.Anonymous(), VisitorSignIn.None, true, new DateOnly(2027, 1, 31)),
            new Grant("partners", Power.Preview, new Subject.Partners(), VisitorSignIn.OneTimeCode),
            new Grant("person:n.bell@merrowby.example", Power.Own, new Subject.OnePerson(new PersonId(1))),
            new Grant("unit:PIL", Power.Publish, new Subject.WholeUnit(new UnitCode("PIL"))),
            new Grant("world", Power.View, new Subject.Anonymous(), VisitorSignIn.None),
        };
        Assert.IsType<HostReply.Done>(
            await host.Carry(
                HostChange,
                "s",
                new WantedState([.. grants.Select(grant => new GrantChange(grant.Key, null))]),
                Dispatch.NoPictures,
                default
            )
        );
        Assert.Equal(2, slipway.Read(records => records.Sites["s"].Entries.Count));
        Assert.IsType<HostReply.Done>(
            await host.Carry(
                new ChangeId(Guid.NewGuid()),
                "s",
                new WantedState([.. grants.Select(grant => new GrantChange(grant.Key, grant))]),
                Dispatch.NoPictures,
                default
            )
        );
        Assert.Equal(before, slipway.Read(records => records.Sites["s"].Entries));
    }

    [Fact]
    public async Task The_same_change_twice_has_one_effect_and_its_key_is_good_for_nothing_else()
    {
        var (host, slipway) = await Host(
            new SlipwaySite
            {
                Id = "s",
                Slug = "s",
                Title = "S",
                Entries = [new("world", "read", "none")],
            }
        );
        var shut = new WantedState([new("world", null)]);

        Assert.IsType<HostReply.Done>(await host.Carry(HostChange, "s", shut, Dispatch.NoPictures, default));
        slipway.SetSharing(
            "s",
            null,
            [
                new JsonObject
                {
                    ["entry"] = "world",
                    ["role"] = "read",
                    ["proof"] = "none",
                },
            ],
            DateTimeOffset.UtcNow
        );
        Assert.IsType<HostReply.Done>(await host.Carry(HostChange, "s", shut, Dispatch.NoPictures, default));

        Assert.Single(slipway.Read(records => records.Effects.ToList()));
        Assert.Single(slipway.Read(records => records.Sites["s"].Entries));
        Assert.IsType<HostReply.Refused>(
            await host.Carry(HostChange, "s", new WantedState([new("everyone", null)]), Dispatch.NoPictures, default)
        );
    }

    [Theory]
    [InlineData(100, 0, 0, 0, typeof(HostReply.Lost), 0)]
    [InlineData(0, 100, 0, 0, typeof(HostReply.Lost), 1)]
    [InlineData(0, 0, 100, 0, typeof(HostReply.Refused), 0)]
    [InlineData(0, 0, 0, 100, typeof(HostReply.Later), 0)]
    public async Task Whatever_a_host_does_is_a_reply(
        int loseBefore,
        int loseAfter,
        int refuse,
        int busy,
        Type reply,
        int effects
    )
    {
        var (host, slipway) = await Host(
            new SlipwaySite
            {
                Id = "s",
                Slug = "s",
                Title = "S",
                Entries = [new("world", "read", "none")],
            }
        );
        slipway.Faults = new Faults(1, loseBefore, loseAfter, refuse, busy, TimeSpan.Zero);
        var given = await host.Carry(HostChange, "s", new WantedState([new("world", null)]), Dispatch.NoPictures, default);

        Assert.IsType(reply, given);
        Assert.Equal(effects, slipway.Read(records => records.Effects.Count));
        if (given is HostReply.Later(var after, _))
        {
            Assert.Equal(TimeSpan.FromSeconds(2), after);
        }
    }

    [Fact]
    public async Task A_site_goes_into_the_bin_and_comes_out_changed_and_the_same_change_twice_does_it_once()
    {
        var (host, slipway) = await Host(
            new SlipwaySite
            {
                Id = "s",
                Slug = "s",
                Title = "S",
                Entries = [new("p:1", "own"), new("world", "read", "none")],
            }
        );
        var away = new ChangeId(Guid.NewGuid());
        var put = new WantedState([], Existence.Attic);
        var gone = Assert.IsType<HostReply.Done>(await host.Carry(away, "s", put, Dispatch.NoPictures, default));

        Assert.Equal(gone.Bin!.Since.AddDays(30), gone.Bin.RecoverableUntil.Or(default));
        Assert.Equal(gone.Bin, (await host.ReadSite("s", default))!.Bin);
        Assert.IsType<HostReply.Done>(await host.Carry(away, "s", put, Dispatch.NoPictures, default));
        Assert.Empty(slipway.Read(records => records.Sites.Keys.ToList()));

        var back = new WantedState([new("world", null)], Existence.InUse, "slipway.example/s-2");
        var came = Assert.IsType<HostReply.Done>(await host.Carry(HostChange, "s", back, Dispatch.NoPictures, default));
        Assert.Equal(("slipway.example/s-2", null), (came.Address, came.Bin));
        Assert.Equal(["person:n.bell@merrowby.example"], came.Sharing!.Grants.Select(grant => grant.Key));
        Assert.Equal(2, slipway.Read(records => records.Effects.Count));
    }

    [Fact]
    public async Task A_sync_lists_the_bin_too_and_the_host_empties_it_when_its_days_are_over()
    {
        var clock = new StandIns.MovableClock(null, TimeSpan.Zero);
        var (host, slipway) = await Host(
            clock,
            new SlipwaySite
            {
                Id = "s",
                Slug = "s",
                Title = "S",
            },
            new SlipwaySite
            {
                Id = "t",
                Slug = "t",
                Title = "T",
            }
        );
        slipway.Delete("t", null, "n.bell@merrowby.example", clock.GetUtcNow());
        async Task<List<(string, string?)>> Sites()
        {
            var sites = new List<(string, string?)>();
            await foreach (var page in host.ReadSites(null, default))
            {
                sites.AddRange(page.Sites.Select(site => (site.Key, site.Bin?.ByMail)));
            }

            return sites;
        }

        Assert.Equal([("s", null), ("t", "n.bell@merrowby.example")], await Sites());
        clock.Ahead(TimeSpan.FromDays(30.01));
        Assert.Equal([("s", null)], await Sites());
        Assert.Null(await host.ReadSite("t", default));
        clock.Ahead(TimeSpan.Zero);
        Assert.True(clock.GetUtcNow() > DateTimeOffset.UtcNow.AddDays(30));
    }

    [Theory]
    [InlineData("self", JoinWay.Open)]
    [InlineData("request", JoinWay.Asked)]
    [InlineData("none", JoinWay.Invited)]
    [InlineData("by-lot", null)]
    public async Task How_people_join_and_who_waits_is_read_and_a_way_that_is_not_known_is_unknown(string way, JoinWay? read)
    {
        var first = new DateTimeOffset(2026, 10, 20, 9, 20, 0, TimeSpan.Zero);
        var (host, _) = await Host(
            new SlipwaySite
            {
                Id = "s",
                Slug = "s",
                Title = "S",
                Join = way,
                JoinRequests = [first.AddDays(9), first],
            }
        );
        var joining = (await host.ReadSite("s", default))!.Joining;
        Assert.Equal(
            read is { } known
                ? Known.Of(new Joining(known, 2, first) { Members = Known.Of(Power.View) })
                : Known<Joining>.Unknown,
            joining
        );
    }

    [Fact]
    public async Task What_a_host_writes_of_a_site_is_read_free_words_as_they_are()
    {
        var (host, _) = await Host(
            new SlipwaySite
            {
                Id = "s",
                Slug = "s",
                Title = "S",
                Topics = ["Ships", "H&S; old"],
                About = "Of ships",
                Language = "cy",
                Header = "S of old",
                Working = [new SlipwayPage("Welcome", "")],
            }
        );
        var site = (await host.ReadSite("s", default))!;
        Assert.Equal(("H&S, Ships, old", "Of ships", "cy"), (site.Tags.Or(""), site.Description.Or(""), site.Language.Or("")));
        Assert.Equal(("S of old", "Welcome"), (site.ShownName.Or(""), site.HomeTitle.Or("")));
    }

    [Fact]
    public async Task A_host_says_how_many_requests_are_left_and_refuses_more_until_its_hour_is_over()
    {
        var clock = new StandIns.MovableClock(null, TimeSpan.Zero);
        var (host, _) = await Host(
            clock,
            new SlipwaySite
            {
                Id = "s",
                Slug = "s",
                Title = "S",
            }
        );
        await host.ReadSite("s", default);
        Assert.Equal(new HostBudget(60_000, 59_999), host.Budget);

        var budget = new StandIns.RequestBudget(1, TimeSpan.FromHours(1), clock);
        var response = new Microsoft.AspNetCore.Http.DefaultHttpContext().Response;
        Assert.Equal((true, false), (budget.Spend(response), budget.Spend(response)));
        Assert.Equal(
            ("1", "0", "3600"),
            (
                response.Headers["RateLimit-Limit"].ToString(),
                response.Headers["RateLimit-Remaining"].ToString(),
                response.Headers.RetryAfter.ToString()
            )
        );
        clock.Ahead(TimeSpan.FromHours(1));
        Assert.True(budget.Spend(response));
    }

    [Fact]
    public async Task A_host_that_is_down_loses_the_change_and_fails_the_sync()
    {
        var host = new SlipwayHost(
            new("Slipway", new HttpClient { BaseAddress = new Uri("http://127.0.0.1:9/api/") }, "slipway.example")
        );

        Assert.IsType<HostReply.Lost>(await host.Carry(HostChange, "s", new WantedState([]), Dispatch.NoPictures, default));
        await Assert.ThrowsAsync<HostException>(() => host.ReadSite("s", default));
    }

    [Theory]
    [InlineData(408)]
    [InlineData(421)]
    [InlineData(423)]
    [InlineData(425)]
    [InlineData(500)]
    [InlineData(502)]
    public async Task A_response_that_does_not_mention_the_change_leaves_it_to_be_tried_again(int status)
    {
        var address = await here.Run(app => app.MapDelete("/api/sites/s", () => Results.StatusCode(status)));

        Assert.IsType<HostReply.Lost>(
            await new SlipwayHost(
                new("Slipway", new HttpClient { BaseAddress = new Uri(address, "/api/") }, "slipway.example")
            ).Carry(HostChange, "s", new WantedState([], Existence.Attic), Dispatch.NoPictures, default)
        );
    }

    [Fact]
    public async Task A_sync_waits_when_a_host_asks_it_to()
    {
        var asked = 0;
        var address = await here.Run(app => app.MapGet("/api/sites/s", (HttpContext http) =>
            {
                if (asked++ == 0)
                {
                    http.Response.Headers.RetryAfter = "0";
                    return Results.StatusCode(429);
                }

                return Results.Text("""{"id":"s","title":"S"}""", "application/json");
            }));
        var site = await new SlipwayHost(
            new("Slipway", new HttpClient { BaseAddress = new Uri(address, "/api/") }, "slipway.example")
        ).ReadSite("s", default);

        Assert.Equal(2, asked);
        Assert.Equal(Known.Of("S"), site!.Name);
        Assert.True(site.Sharing.IsUnknown);
        Assert.True(site.Status.IsUnknown);
    }

    [Fact]
    public async Task The_staff_list_pages_filters_by_change_and_says_what_it_does_not_understand()
    {
        var now = DateTimeOffset.UtcNow;
        var members = Enumerable
            .Range(1, 250)
            .Select(i => new StandIns.People.StaffMember(
                $"e{i}",
                $"Person {i}",
                $"p{i}@merrowby.example",
                i == 3 ? "Service" : "Employee",
                i != 1,
                "PIL",
                i == 2 ? "2027-01-31" : null,
                i == 4 ? "2027-02-01" : null,
                now.AddDays(-i)
            ))
            .ToList();
        var records = new StandIns.People.StaffRecords(
            members,
            [new("d-1", "Pilots", ["e1", "e2"], now), new("d-2", "All", ["d-1"], now)]
        );
        var address = await here.Run(app => StandIns.People.StaffListApi.MapStaffList(app, records, "token"));
        using var http = new HttpClient
        {
            BaseAddress = new Uri(address, "/scim/v2/"),
            DefaultRequestHeaders = { { "Authorization", "Bearer token" } },
        };
        var list = new StaffList(http);

        var people = await list.People(default);
        Assert.Equal(250, people.Count);
        Assert.Equal(
            (Standing.Left, Standing.Leaving, PersonKind.Service, Standing.Absent),
            (people[0].Standing, people[1].Standing, people[2].Kind, people[3].Standing)
        );
        var groups = await list.Groups(people.ToDictionary(person => person.Key, person => person.Mail), default);
        Assert.Equal(new HostMember("p1@merrowby.example", null, null), groups[0].Members[0]);
        Assert.Equal(new HostMember(null, StaffList.SourceName, "d-1"), groups[1].Members[0]);

        var changed = JsonNode.Parse(
            await http.GetStringAsync(
                "Users?filter=" + Uri.EscapeDataString($"meta.lastModified gt \"{now.AddDays(-10.5):yyyy-MM-dd'T'HH:mm:ss'Z'}\"")
            )
        )!;
        Assert.Equal(10, changed["totalResults"]!.GetValue<int>());
        using var refused = await http.GetAsync("Users?filter=" + Uri.EscapeDataString("userName eq \"x\""));
        Assert.Equal("invalidFilter", JsonNode.Parse(await refused.Content.ReadAsStringAsync())!["scimType"]!.GetValue<string>());
        http.DefaultRequestHeaders.Remove("Authorization");
        using var unknown = await http.GetAsync("Users");
        Assert.Equal(401, (int)unknown.StatusCode);
    }

    private Task<(SlipwayHost Host, SlipwayBooks Slipway)> Host(SlipwaySite site) => Host(TimeProvider.System, site);

    private async Task<(SlipwayHost Host, SlipwayBooks Slipway)> Host(TimeProvider clock, params SlipwaySite[] sites)
    {
        var slipway = new SlipwayBooks(
            new SlipwayRecords
            {
                Workspace = new SlipwayWorkspace("Test", "world", false, ""),
                People = { ["1"] = new SlipwayPerson("1", "Nora Bell", "n.bell@merrowby.example", false, true, "PIL") },
            },
            file: null
        );
        slipway.Edit(records => Array.ForEach(sites, site => records.Sites[site.Id] = site));
        var address = await here.Run(app => app.MapSlipway(slipway, "token", clock));
        return (
            new SlipwayHost(
                new HostConnection(
                    "Slipway",
                    new HttpClient
                    {
                        BaseAddress = new Uri(address, "/api/"),
                        DefaultRequestHeaders = { { "Authorization", "Bearer token" } },
                    },
                    "slipway.example"
                )
            ),
            slipway
        );
    }
}
