using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class DueTable
{
    private static readonly OrganisationTime London = new(TimeZoneInfo.FindSystemTimeZoneById("Europe/London"));
    private readonly Harbour harbour = new();

    [Theory]
    [InlineData("2026-12-05T23:59:59", "")]
    [InlineData("2026-12-06T00:00:00", "reminder")]
    [InlineData("2026-12-08T23:59:59", "reminder")]
    [InlineData("2026-12-09T00:00:00", "lapse")]
    [InlineData("2027-03-01T12:00:00", "lapse")]
    public void An_offer_is_reminded_of_two_days_before_its_end_and_lapses_at_the_first_instant_after_its_last_day(
        string now,
        string due
    ) =>
        Assert.Equal(
            due.Length == 0 ? [] : [due],
            Of(now, offers: [Offered(Quist)]).Where(one => one is not Due.PersonLeft).Select(Word)
        );

    [Fact]
    public void A_reminder_that_was_written_is_not_due_again()
    {
        var offer = Offered(Quist);

        Assert.DoesNotContain(Of("2026-12-07T12:00", offers: [offer], written: [(Quist, $"remind:{offer.Id}")]), due =>
            due is Due.OfferReminder
        );
    }

    [Fact]
    public void An_offer_to_somebody_who_leaves_ends_with_their_last_day_after_their_leaving_is_written_down()
    {
        Assert.Equal(["left Ottoline Farrow", "unfit"], Of("2026-12-01T00:00", offers: [Offered(Farrow)]).Select(Word));
        Assert.DoesNotContain(Of("2026-11-30T23:59", offers: [Offered(Farrow)]), due => due is not Due.OfferReminder);
    }

    [Fact]
    public void A_leaver_leaves_once_and_who_is_away_does_not()
    {
        var due = Assert.Single(Of("2027-01-15T12:00"));
        var left = Assert.IsType<Due.PersonLeft>(due);
        var plan = DueNow.Leave(left.Person, left.At);

        Assert.Equal(new DateTimeOffset(2026, 12, 1, 0, 0, 0, TimeSpan.Zero), left.At);
        Assert.Equal(Standing.Left, plan.Person!.Standing);
        harbour.People[2] = plan.Person;
        Assert.Empty(Of("2027-01-15T12:00"));
    }

    [Theory]
    [InlineData("2026-11-24T07:59:59", "")]
    [InlineData("2026-11-24T08:00:00", "go")]
    public void An_announced_deletion_goes_when_its_hour_is_over(string now, string due)
    {
        var atticEntry = Kept() with { State = AtticState.Announced, StoppableUntil = Now.AddHours(1), MovedToAtticAt = null };

        Assert.Equal(due.Length == 0 ? [] : [due], Of(now, atticEntry: atticEntry).Select(Word));
    }

    [Theory]
    [InlineData("2027-01-22T23:59:59", "near")]
    [InlineData("2027-01-23T23:59:59", "near")]
    [InlineData("2027-01-24T00:00:00", "end")]
    [InlineData("2027-01-16T00:00:00", "near")]
    [InlineData("2027-01-15T23:59:59", "")]
    public void The_end_of_the_time_in_the_attic_is_due_and_a_week_before_it_a_reminder(string now, string due) =>
        Assert.Equal(
            due.Length == 0 ? [] : [due],
            Of(now, atticEntry: Kept()).Where(one => one is not Due.PersonLeft).Select(Word)
        );

    [Fact]
    public void A_hold_makes_a_due_site_not_due_again()
    {
        var hold = new Hold(1, "Inquiry", Aske, Now, null);

        Assert.Equal(
            ["moved"],
            Of("2027-02-01T00:00", atticEntry: Kept() with { State = AtticState.Due }, holds: [hold])
                .Where(one => one is not Due.PersonLeft)
                .Select(Word)
        );
        Assert.DoesNotContain(Of("2027-02-01T00:00", atticEntry: Kept() with { State = AtticState.Due }), one =>
            one is not Due.PersonLeft
        );
    }

    [Fact]
    public void An_approval_lapses_after_its_last_day()
    {
        var approval = new Approval
        {
            Id = new ApprovalId(Guid.Empty),
            Site = new SiteId(1),
            Action = ActionName.SiteMoveToAttic,
            Request = "{}",
            By = Aske,
            As = Capacity.Administrator,
            Because = new AssigningNeedsSecond(),
            RequestedAt = Now,
            Through = new DateOnly(2026, 12, 1),
            Fingerprint = "f",
        };

        Assert.Equal(
            ["approval"],
            Of("2026-12-02T00:00", approvals: [approval]).Where(one => one is not Due.PersonLeft).Select(Word)
        );
        Assert.DoesNotContain(Of("2026-12-01T23:59", approvals: [approval]), one => one is not Due.PersonLeft);
        Assert.DoesNotContain(Of("2026-12-02T00:00", approvals: [approval.Move(ApprovalEvent.Withdraw)]), one =>
            one is not Due.PersonLeft
        );
    }

    [Fact]
    public void An_offer_of_a_site_that_was_deleted_at_its_host_ends_at_that_instant()
    {
        var due = Of("2026-11-24T08:00", offers: [Offered(Quist)], atticEntry: Kept())[0];

        Assert.Equal((Now, OfferEvent.SiteMovedToAttic), (due.At, Assert.IsType<Due.OfferEnds>(due).Why));
    }

    [Fact]
    public void Everything_that_fell_due_meanwhile_is_carried_out_in_the_order_in_which_it_fell_due()
    {
        var due = Of(
            "2027-06-01T00:00",
            offers: [Offered(Quist) with { Site = new SiteId(2) }, Offered(Farrow) with { Site = new SiteId(2) }],
            atticEntry: Kept()
        );

        Assert.Equal(due.Select(one => one.At).Order(), due.Select(one => one.At));
        Assert.Equal(["left Ottoline Farrow", "unfit", "lapse", "lapse", "end"], due.Select(Word));
    }

    private static string Word(Due due) =>
        due switch
        {
            Due.OfferEnds { Why: OfferEvent.Lapse } => "lapse",
            Due.OfferEnds => "unfit",
            Due.OfferReminder => "reminder",
            Due.ApprovalEnds => "approval",
            Due.StopTimeOver => "go",
            Due.ClockTurned { How: AtticEvent.EndPassed } => "end",
            Due.ClockTurned => "moved",
            Due.LossNear => "near",
            Due.PersonLeft(_, var person) => $"left {person.Name}",
            _ => "?",
        };

    private static Offer Offered(PersonId to) =>
        new()
        {
            Id = new OfferId(Guid.NewGuid()),
            Site = new SiteId(1),
            To = to,
            CurrentOwner = Vane,
            By = Vane,
            OfferedAt = Now,
            Through = new DateOnly(2026, 12, 8),
        };

    private static AtticEntry Kept() =>
        new()
        {
            Id = 1,
            Site = new SiteId(1),
            State = AtticState.InAttic,
            By = Vane,
            RequestedAt = Now,
            MovedToAtticAt = Now,
            ContentBefore = Snapshot.Of(Site()),
        };

    private IReadOnlyList<Due> Of(
        string now,
        IReadOnlyList<Offer>? offers = null,
        IReadOnlyList<Approval>? approvals = null,
        AtticEntry? atticEntry = null,
        IReadOnlyList<Hold>? holds = null,
        IReadOnlyList<(PersonId, string)>? written = null
    )
    {
        var at = DateTimeOffset.Parse(
            now,
            System.Globalization.CultureInfo.InvariantCulture,
            System.Globalization.DateTimeStyles.AssumeUniversal
        );
        var organisation = new Organisation { RetentionRules = [new RetentionRule(null, null, 60, DateTimeOffset.MinValue)] };
        return DueNow.Of(
            new DueFacts(
                offers ?? [],
                approvals ?? [],
                atticEntry is null
                    ? []
                    :
                    [
                        (
                            atticEntry,
                            atticEntry.State.IsInAttic()
                                ? Clock.Of(atticEntry.ClockFacts(Site(), organisation, holds ?? []), London, at)
                                : null
                        ),
                    ],
                new PeopleDirectory(harbour.People, Units, harbour.Groups, at, London),
                (written ?? []).ToHashSet()
            )
        );
    }
}
