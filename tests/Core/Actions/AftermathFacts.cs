using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class AftermathFacts
{
    private static readonly SiteFacts InUse = Site(ToPerson(Power.Own, Vane)) with
    {
        StandsAt = Now.AddHours(-1),
        Classification = Known.Of("Open"),
    };
    private static readonly SiteFacts InBin = InUse with
    {
        Existence = Existence.Attic,
        StandsAt = Now,
        Bin = new Bin(Now.AddMinutes(-5), Quist, Known.Of(Now.AddDays(30)), Known<DateTimeOffset>.Unknown),
    };

    [Fact]
    public void A_site_deleted_at_the_host_itself_is_found_with_the_hosts_instant_and_administrators_and_owners_hear_of_it()
    {
        var found = Aftermath.Seen(InBin, null, [Aske], isFirst: false, Now);

        Assert.Equal(
            (AtticState.InAttic, true, Quist, Now.AddMinutes(-5)),
            (found.AtticEntry!.State, found.AtticEntry.AtHost, found.AtticEntry.By!.Value, found.AtticEntry.MovedToAtticAt!.Value)
        );
        Assert.Equal(JournalAction.AtticFound, Assert.Single(found.Entries).Action);
        Assert.Equal([Aske, Vane], found.Notifications.Select(notification => notification.To));
        Assert.All(found.Notifications, notification =>
            Assert.Equal(("Pilot boarding notes was deleted at Slipway", true), (notification.Title, notification.Urgent))
        );

        // If the host has no end date, it was only shut.
        var shut = Aftermath.Seen(
            InBin with
            {
                Bin = InBin.Bin! with { RecoverableUntil = Known<DateTimeOffset>.None },
            },
            null,
            [Aske],
            isFirst: false,
            Now
        );
        Assert.Equal("Pilot boarding notes was shut at Slipway", shut.Notifications[0].Title);
        var first = Aftermath.Seen(InBin, null, [Aske], isFirst: true, Now);
        Assert.Empty(first.Entries);
        Assert.Empty(first.Notifications);
    }

    [Fact]
    public void The_same_sync_twice_changes_nothing_and_another_classification_is_kept()
    {
        var atticEntry = Aftermath.Seen(InBin, null, [], false, Now).AtticEntry! with { Id = 1 };

        Assert.Equal(Aftermath.Nothing, Aftermath.Seen(InBin, atticEntry, [], false, Now));
        var guarded = Aftermath.Seen(InBin with { Classification = Known.Of("Guarded") }, atticEntry, [], false, Now.AddDays(2));
        Assert.Equal(
            [new ClassificationSince("Open", Now.AddMinutes(-5)), new ClassificationSince("Guarded", Now.AddDays(2))],
            guarded.AtticEntry!.Classifications
        );
        Assert.Equal(
            Aftermath.Nothing,
            Aftermath.Seen(InBin with { Classification = Known<string>.Unknown }, atticEntry, [], false, Now)
        );
    }

    [Fact]
    public void Restored_at_the_host_it_is_back_as_it_came_and_gone_from_the_bin_it_is_erased()
    {
        var atticEntry = Aftermath.Seen(InBin, null, [], false, Now).AtticEntry! with { Id = 1 };

        var back = Aftermath.Seen(InUse, atticEntry, [], false, Now.AddDays(1)).AtticEntry!;
        Assert.Equal((AtticState.Restored, Now.AddDays(1)), (back.State, back.EndedAt!.Value));
        Assert.Empty(Comparison.Of(back.ContentBefore, back.ContentAfter!, new WantedState([]), grant => grant.Key));

        var gone = Intake.MarkMissing(InBin, Now.AddDays(31)).Site;
        Assert.Equal((Existence.Erased, false, null), (gone.Existence, gone.NoLongerReported, gone.Bin));
        var cleared = Aftermath.Seen(gone, atticEntry, [], false, Now.AddDays(31));
        Assert.Equal((AtticState.Erased, JournalAction.AtticErased), (cleared.AtticEntry!.State, cleared.Entries[0].Action));
        Assert.True(Intake.MarkMissing(InUse, Now).Site.NoLongerReported);
    }

    [Fact]
    public void A_sync_that_began_before_the_host_confirmed_does_not_take_the_site_out_of_the_attic_again()
    {
        var read = InUse with { StandsAt = Now.AddSeconds(-10) };

        Assert.Equal(Existence.Attic, Intake.Take(InBin, read, [], Now.AddSeconds(-10), Now).Site.Existence);
        Assert.Equal(
            Existence.InUse,
            Intake
                .Take(InBin, read with { StandsAt = Now.AddSeconds(1) }, [], Now.AddSeconds(1), Now.AddSeconds(2))
                .Site.Existence
        );
    }

    [Fact]
    public void A_refusal_of_the_host_is_shown_to_the_requester_and_the_site_stays_where_it_was()
    {
        var hostChange = HostChange(ChangePurpose.MoveToAttic, new WantedState([], Existence.Attic)) with
        {
            State = ChangeState.Refused,
            Words = "frozen",
        };
        var going = AtticEntry(AtticState.MovingToAttic, hostChange);
        var refused = Aftermath.Answered(hostChange, InUse, null, going, new Harbour().PeopleDirectory, Now);
        Assert.Equal(
            (AtticState.NotDone, "frozen", JournalAction.AtticNotDone),
            (refused.AtticEntry!.State, refused.AtticEntry.Words, refused.Entries[0].Action)
        );
        Assert.Equal(Vane, Assert.Single(refused.Notifications).To);

        var back = HostChange(ChangePurpose.Restore, new WantedState([], Existence.InUse)) with
        {
            State = ChangeState.Refused,
            Words = "no",
        };
        Assert.Equal(
            AtticState.InAttic,
            Aftermath
                .Answered(back, InBin, null, AtticEntry(AtticState.Restoring, back), new Harbour().PeopleDirectory, Now)
                .AtticEntry!.State
        );
        Assert.Equal(
            Aftermath.Nothing,
            Aftermath.Answered(
                back,
                InBin,
                null,
                AtticEntry(AtticState.Restoring, hostChange),
                new Harbour().PeopleDirectory,
                Now
            )
        );
    }

    [Fact]
    public void A_request_is_verified_where_all_it_names_is_so_and_cannot_be_told_where_the_host_did_not_report_it()
    {
        Assert.Equal(Truth.Yes, new WantedState([], Existence.Attic).IsSoIn(InBin));
        Assert.Equal(Truth.No, new WantedState([], Existence.InUse).IsSoIn(InBin));
        Assert.Equal(
            Truth.Yes,
            new WantedState([new("world", null)], Existence.InUse, "slipway.example/pilot-boarding").IsSoIn(InUse)
        );
        Assert.Equal(Truth.No, new WantedState([], null, "slipway.example/other").IsSoIn(InUse));
        Assert.Equal(
            Truth.Unknown,
            new WantedState([new("world", null)]).IsSoIn(InUse with { Sharing = Known<Sharing>.Unknown })
        );
        Assert.Equal(
            Truth.No,
            new WantedState([new("world", null)], Existence.Attic).IsSoIn(InUse with { Sharing = Known<Sharing>.Unknown })
        );
    }

    private static HostChange HostChange(ChangePurpose purpose, WantedState wanted) =>
        new()
        {
            Id = new ChangeId(Guid.NewGuid()),
            Site = new SiteId(1),
            WantedState = wanted,
            Before = [],
            By = Vane,
            RequestedAt = Now,
            DueAt = Now,
            Purpose = purpose,
        };

    private static AtticEntry AtticEntry(AtticState state, HostChange hostChange) =>
        new()
        {
            Id = 1,
            Site = new SiteId(1),
            State = state,
            By = Vane,
            RequestedAt = Now,
            ContentBefore = Snapshot.Of(InUse),
            HostChange = hostChange.Id,
        };
}
