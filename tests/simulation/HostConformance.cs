using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.StandIns;

namespace AtticLedger.Simulation.Tests;

/// <summary>What every connector has to do, asked of each against its host: the contract in <see cref="ISiteHost"/>. A new
/// connector passes these before anything else.
/// </summary>
public sealed class HostConformance
{
    private static readonly Faults NoAnswerBefore = new(1, 100, 0, 0, 0, TimeSpan.Zero);
    private static readonly Faults NoAnswerAfter = new(1, 0, 100, 0, 0, TimeSpan.Zero);
    private static readonly Faults Refusing = new(1, 0, 0, 100, 0, TimeSpan.Zero);
    private static readonly Faults Busy = new(1, 0, 0, 0, 100, TimeSpan.Zero);

    public static TheoryData<string> Kinds => [.. HostKind.All.Select(kind => kind.Name)];

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task It_declares_what_it_can_do_as_its_interfaces_say(string kind)
    {
        await using var there = await Start(kind);
        var can = there.Host.Capabilities;
        Assert.Equal(there.Host is IReportsChanges, can.TellsChanges);
        Assert.True(there.Host is IKeepsStates || can.StateDays is null or 0);
        Assert.Equal(there.Host is IMakesSites, can.MakesSites);
        Assert.Equal(there.Host is IChangesAddress, can.Changes.Contains(LookField.Address));
        Assert.Equal(there.Host is IChangesLook, can.Changes.Any(field => field != LookField.Address));
        Assert.Equal(can.Logos.Count > 0, can.Changes.Contains(LookField.Logo));
        Assert.Contains(Power.View, can.Powers);
        Assert.Contains(Power.Own, can.Powers);
        Assert.Equal(kind, there.Host.Name, ignoreCase: true);
        Assert.NotNull((await there.Host.ReadSetting(default)).People);
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task It_lists_every_site_once_and_continues_from_each_bookmark(string kind)
    {
        // Bookmarks expire with time, which stands here.
        await using var there = kind == "quay" ? await SimulatedQuay.Start(new SimulatedHost.StandingClock()) : await Start(kind);
        List<string> keys = [.. Enumerable.Range(0, 250).Select(number => $"s{number:000}")];
        keys.ForEach(there.Add);
        var pages = new List<HostPage>();
        await foreach (var page in there.Host.ReadSites(null, default))
        {
            pages.Add(page);
        }

        Assert.True(pages.Count > 1);
        Assert.Empty(pages.SelectMany(page => page.Withheld.Concat(page.NotUnderstood)));
        Assert.Equal(keys, pages.SelectMany(page => page.Sites).Select(site => site.Key).Order(StringComparer.Ordinal));
        Assert.Null(pages[^1].Next);
        foreach (var (place, page) in pages.Index().Where(page => page.Item.Next is not null))
        {
            var rest = new List<string>();
            await foreach (var later in there.Host.ReadSites(page.Next, default))
            {
                rest.AddRange(later.Sites.Select(site => site.Key));
            }

            Assert.Equal(pages.Skip(place + 1).SelectMany(later => later.Sites).Select(site => site.Key), rest);
        }
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task It_reads_one_site_as_it_lists_it_and_none_that_does_not_exist(string kind)
    {
        await using var there = await Start(kind, "s");
        var listed = new List<HostSite>();
        await foreach (var page in there.Host.ReadSites(null, default))
        {
            listed.AddRange(page.Sites);
        }

        var one = await there.Host.ReadSite("s", default);
        Assert.Equal(Assert.Single(listed).Facts, one!.Facts);
        Assert.True(one.Sharing.Has(out var sharing) && sharing.Grants.Count > 1);
        Assert.Equal(sharing.Grants.Count, sharing.Grants.Select(grant => grant.Key).Distinct().Count());
        Assert.False(one.Address.IsUnknown);
        Assert.Null(await there.Host.ReadSite("nothing", default));
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task Access_is_taken_and_given_again_and_a_change_sent_twice_is_done_once(string kind)
    {
        await using var there = await Start(kind, "s");
        var before = await Grants(there);
        var (id, taken) = (NewId(), before.Last(grant => grant.Power != Power.Own));
        Task<HostReply> Take() =>
            there.Host.Carry(id, "s", new WantedState([new(taken.Key, null)]), Dispatch.NoPictures, default);

        Assert.IsType<HostReply.Done>(await Take());
        Assert.DoesNotContain(await Grants(there), grant => grant.Key == taken.Key);
        Assert.IsType<HostReply.Done>(await Take());
        Assert.Equal(before.Count - 1, (await Grants(there)).Count);

        Assert.IsType<HostReply.Done>(
            await there.Host.Carry(NewId(), "s", new WantedState([new(taken.Key, taken)]), Dispatch.NoPictures, default)
        );
        Assert.Equal(before, await Grants(there));
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task A_site_is_put_away_keeps_its_access_and_comes_back_with_what_is_wanted(string kind)
    {
        await using var there = await Start(kind, "s");
        var before = await Grants(there);
        var away = Assert.IsType<HostReply.Done>(
            await there.Host.Carry(NewId(), "s", new WantedState([], Existence.Attic), Dispatch.NoPictures, default)
        );
        Assert.NotNull(away.Bin);
        Assert.NotNull((await there.Host.ReadSite("s", default))!.Bin);

        var less = before.Last(grant => grant.Power != Power.Own);
        var back = Assert.IsType<HostReply.Done>(
            await there.Host.Carry(
                NewId(),
                "s",
                new WantedState([new(less.Key, null)], Existence.InUse),
                Dispatch.NoPictures,
                default
            )
        );
        Assert.Null(back.Bin);
        Assert.Null((await there.Host.ReadSite("s", default))!.Bin);
        Assert.Equal(before.Where(grant => grant.Key != less.Key), await Grants(there));
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task A_lost_answer_is_lost_and_the_next_attempt_ends_in_the_wanted_state_once(string kind)
    {
        foreach (var (faults, hadEffect) in new[] { (NoAnswerBefore, false), (NoAnswerAfter, true) })
        {
            await using var there = await Start(kind, "s");
            var before = await Grants(there);
            var taken = before.Last(grant => grant.Power != Power.Own);
            var change = Change(new WantedState([new(taken.Key, null)]));
            there.Faults = faults;
            Assert.IsType<HostReply.Lost>(await Bring(there, change));
            Assert.Equal(hadEffect ? before.Count - 1 : before.Count, (await Grants(there)).Count);

            there.Faults = Faults.None;
            Assert.IsType<HostReply.Done>(await Bring(there, change with { Attempts = 2 }));
            Assert.Equal(before.Where(grant => grant.Key != taken.Key), await Grants(there));
        }
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task A_name_and_an_address_whose_answer_is_lost_are_changed_once(string kind)
    {
        foreach (var (faults, hadEffect) in new[] { (NoAnswerBefore, false), (NoAnswerAfter, true) })
        {
            await using var there = await Start(kind, "s", "t");
            var can = there.Host.Capabilities;
            List<WantedState> wanted =
            [
                .. can.Changes.Contains(LookField.Name)
                    ? [new WantedState([]) { Look = new WantedLook("Another name") }]
                    : Array.Empty<WantedState>(),
                .. can.Changes.Contains(LookField.Address)
                    ?
                    [
                        new WantedState([], Address: "slipway.example/elsewhere")
                        {
                            ForwardUntil = SmallOrganisation.Start.AddDays(30),
                        },
                        new WantedState([], Address: "slipway.example/t") { SwapWith = "t" },
                    ]
                    : Array.Empty<WantedState>(),
            ];
            Assert.Equal(there.Host is IChangesLook || there.Host is IChangesAddress, wanted.Count > 0);
            foreach (var state in wanted)
            {
                var change = Change(state);
                there.Faults = faults;
                Assert.IsType<HostReply.Lost>(await Bring(there, change));
                Assert.Equal(hadEffect ? Truth.Yes : Truth.No, state.IsSoIn(await there.Read("s", SmallOrganisation.Start)));
                there.Faults = Faults.None;
                Assert.IsType<HostReply.Done>(await Bring(there, change with { Attempts = 2 }));
                Assert.Equal(Truth.Yes, state.IsSoIn(await there.Read("s", SmallOrganisation.Start)));
            }

            // Exchanged once, and not back again by the second attempt.
            if (can.SwapsAddresses)
            {
                Assert.Equal("slipway.example/elsewhere", (await there.Host.ReadSite("t", default))!.Address.Or(""));
            }
        }
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task A_refusal_is_one_with_the_hosts_words_and_a_busy_host_says_when(string kind)
    {
        await using var there = await Start(kind, "s");
        var before = await Grants(there);
        var wanted = new WantedState([new(before.Last(grant => grant.Power != Power.Own).Key, null)]);
        there.Faults = Refusing;
        Assert.Contains(
            "freeze",
            Assert.IsType<HostReply.Refused>(await there.Host.Carry(NewId(), "s", wanted, Dispatch.NoPictures, default)).Words,
            StringComparison.Ordinal
        );
        there.Faults = Busy;
        Assert.Equal(
            TimeSpan.FromSeconds(2),
            Assert.IsType<HostReply.Later>(await there.Host.Carry(NewId(), "s", wanted, Dispatch.NoPictures, default)).After
        );
        Assert.Equal(before, await Grants(there));
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task What_it_cannot_do_it_refuses_by_its_name_and_never_throws(string kind)
    {
        await using var there = await Start(kind, "s");
        Assert.IsType<HostReply.Done>(
            await there.Host.Carry(NewId(), "s", new WantedState([], Existence.Attic), Dispatch.NoPictures, default)
        );
        var elsewhere = new WantedState([], Existence.InUse, "elsewhere.example/s");
        Assert.Contains(
            there.Host.Name,
            Assert.IsType<HostReply.Refused>(await there.Host.Carry(NewId(), "s", elsewhere, Dispatch.NoPictures, default)).Words,
            StringComparison.Ordinal
        );
        Assert.Contains(
            there.Host.Name,
            Assert
                .IsType<HostReply.Refused>(
                    await there.Host.Carry(
                        NewId(),
                        "s",
                        new WantedState([], null, "elsewhere.example/s"),
                        Dispatch.NoPictures,
                        default
                    )
                )
                .Words,
            StringComparison.Ordinal
        );
        Assert.IsNotType<HostReply.Done>(
            await there.Host.Carry(NewId(), "nothing", new WantedState([], Existence.Attic), Dispatch.NoPictures, default)
        );
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task Without_valid_credentials_reading_fails_by_its_name_and_changing_has_no_effect(string kind)
    {
        await using var there = await Start(kind, "s");
        var before = await Grants(there);
        there.Credentials = "wrong";
        Assert.Contains(
            there.Host.Name,
            (await Assert.ThrowsAsync<HostException>(() => there.Host.ReadSite("s", default))).Message,
            StringComparison.Ordinal
        );
        await Assert.ThrowsAsync<HostException>(() => there.Host.ReadSetting(default));
        Assert.IsNotType<HostReply.Done>(
            await there.Host.Carry(NewId(), "s", new WantedState([new(before[0].Key, null)]), Dispatch.NoPictures, default)
        );
        there.Credentials = "token";
        Assert.Equal(before, await Grants(there));
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task A_host_that_reports_changes_names_what_changed_since_a_bookmark(string kind)
    {
        await using var there = await Start(kind, "s", "t");
        if (there.Host is not IReportsChanges host)
        {
            return;
        }

        var mark = (await host.ReadChanges(null, default)).Mark;
        Assert.Empty((await host.ReadChanges(mark, default)).Sites);
        there.ChangeThere("t", new Random(1));
        var changes = await host.ReadChanges(mark, default);
        Assert.Equal("t", Assert.Single(changes.Sites).Key);
        Assert.Empty((await host.ReadChanges(changes.Mark, default)).Sites);
        await Assert.ThrowsAnyAsync<HostException>(() => host.ReadChanges("no such bookmark", default));
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public async Task A_host_that_keeps_states_reports_those_since_an_instant(string kind)
    {
        await using var there = await Start(kind, "s");
        if (there.Host is not IKeepsStates host)
        {
            return;
        }

        Assert.All(await host.ReadStates("s", SmallOrganisation.Start.AddDays(-1), default), state =>
            Assert.True(state.At >= SmallOrganisation.Start.AddDays(-1))
        );
        Assert.Empty(await host.ReadStates("s", SmallOrganisation.Start.AddYears(10), default));
    }

    private static async Task<SimulatedHost> Start(string kind, params string[] sites)
    {
        SimulatedHost there = kind switch
        {
            "slipway" => await SimulatedSlipway.Start(),
            "lantern" => await SimulatedLantern.Start(),
            "quay" => await SimulatedQuay.Start(),
            _ => throw new InvalidOperationException($"Nothing simulates a host of the kind {kind}: a connector needs that."),
        };
        foreach (var site in sites)
        {
            there.Add(site);
        }

        return there;
    }

    private static ChangeId NewId() => new(Guid.NewGuid());

    private static async Task<IReadOnlyList<Grant>> Grants(SimulatedHost there) =>
        (await there.Read("s", SmallOrganisation.Start)).Sharing.Has(out var sharing)
            ? sharing.Grants
            : throw new InvalidOperationException("The access of the site is not known.");

    private static Task<HostReply> Bring(SimulatedHost there, HostChange change) =>
        there.Host.Bring(
            change,
            "s",
            () => Task.FromResult(SmallOrganisation.Known),
            Dispatch.NoPictures,
            SmallOrganisation.Start,
            default
        );

    private static HostChange Change(WantedState wanted) =>
        new()
        {
            Id = NewId(),
            Site = new SiteId(1),
            WantedState = wanted,
            Before = [],
            By = SmallOrganisation.Bell,
            RequestedAt = SmallOrganisation.Start,
            DueAt = SmallOrganisation.Start,
            NextTry = SmallOrganisation.Start,
            Attempts = 1,
        };
}
