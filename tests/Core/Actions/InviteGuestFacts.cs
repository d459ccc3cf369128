using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

public class InviteGuestFacts
{
    private const string Mail = "mara.tove@tideworks.example";
    private const string QuistMail = "renata.quist@merrowby.example";
    private static readonly SiteFacts Own = Site(ToPerson(Power.Own, Vane));
    private readonly Harbour harbour = new();

    public InviteGuestFacts() =>
        harbour.Hosts["Slipway"] = harbour.Hosts.GetValueOrDefault("Slipway", HostCapabilities.Unheard) with
        {
            InvitesGuests = true,
        };

    [Fact]
    public void A_new_guest_is_marked_as_from_outside_before_anything_is_sent()
    {
        var plan = Plan(Own, Asks());

        Assert.Equal(Mail, plan.Invitation!.Mail);
        Assert.Empty(plan.HostChanges);
        Assert.Equal([new InvitesNewGuest(Mail)], plan.Advice);
        Assert.Equal(Power.View, Assert.Single(plan.Effect.Powers, change => change.Gain.Count > 0).Power);
    }

    [Fact]
    public void Exactly_the_layer_that_stops_the_guest_is_named_whoever_enforces_it()
    {
        harbour.Limit(LayerKind.Organisation, "", Enforcer.Policy, Outside(OutsideLevel.Partners));
        harbour.Limit(LayerKind.Host, "Slipway", Enforcer.Host, Outside(OutsideLevel.NamedGuests));
        Assert.Equal([new InvitesNewGuest(Mail)], Plan(Own, Asks()).Advice);

        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.Policy, Outside(OutsideLevel.NoOne));

        Assert.Equal(["Unit Pilotage"], Plan(Own, Asks()).Advice.OfType<InvitationWaits>().Single().Layers);
    }

    [Fact]
    public void An_invitation_waits_while_something_stops_it_and_is_sent_as_one_grant_with_an_end()
    {
        var waiting = Plan(Own, Asks()).Invitation!;
        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.Host, Outside(OutsideLevel.NoOne));
        Assert.IsType<InvitationWaits>(Assert.Single(InviteGuest.StoppedBy(Facts(Own), waiting)));

        harbour.Limits.RemoveAll(limit => limit.Kind == LayerKind.Unit);
        Assert.Empty(InviteGuest.StoppedBy(Facts(Own), waiting));
        harbour.People.Add(InviteGuest.NewGuest(Mail) with { Id = new PersonId(900) });
        var sent = InviteGuest.Send(Facts(Own), waiting, new ChangeId(Guid.NewGuid()));

        var change = Assert.Single(sent.HostChanges);
        var grant = Assert.Single(change.WantedState.Grants).Wanted!;
        Assert.Equal(
            (new Subject.OnePerson(new PersonId(900)), Power.View, waiting.Through),
            ((Subject.OnePerson)grant.Subject, grant.Power, grant.Through!.Value)
        );
        Assert.Equal(change.Id, sent.Invitation!.HostChange);
    }

    [Fact]
    public void Nobody_is_invited_who_is_inside_has_left_or_has_it_already()
    {
        var guest = new PersonId(901);
        harbour.People.Add(InviteGuest.NewGuest(Mail) with { Id = guest, Name = "Mara Tove" });
        var site = Site(ToPerson(Power.Own, Vane), ToPerson(Power.Edit, guest));

        Assert.Equal([new GrantedAlready("Mara Tove", Power.Edit)], Refused(site, Asks()));
        Assert.Equal([new GuestIsStaff("Renata Quist")], Refused(Own, Asks(QuistMail)));
        Assert.Equal([new GuestHasLeft("Petra Lund")], Refused(Own, Asks("petra.lund@merrowby.example")));
    }

    [Theory]
    [InlineData("mara")]
    [InlineData("mara@@tideworks.example")]
    [InlineData("mara tove@tideworks.example")]
    [InlineData("mara@tideworks")]
    [InlineData("mara@tideworks.example, b@tideworks.example")]
    [InlineData("")]
    public void What_is_no_mail_address_is_refused(string mail) =>
        Assert.Equal([new NoMailAddress(mail)], Refused(Own, Asks(mail)));

    [Fact]
    public void A_look_alike_address_is_refused_with_what_it_is_taken_for()
    {
        // Cyrillic letters that look the same, whatever they sound like; a zero for an o; a domain of the staff with rn for m.
        Assert.Equal("cleo@divers.example", Like("\u0441leo@divers.example"));
        Assert.Equal("an address at merrowby.example", Like("somebody@merrowb\u0443.example"));
        Assert.Equal(QuistMail, Like("r\u0435" + QuistMail[2..]));
        Assert.Equal("cleo@divers.example", Like("cle0@divers.example"));
        Assert.Equal("an address at merrowby.example", Like("somebody@rnerrowby.example"));
        Assert.Null(Like(Mail));
        Assert.Null(Like("another.diver@divers.example"));
        Assert.IsType<GuestLooksLike>(Assert.Single(Refused(Own, Asks("r\u0435" + QuistMail[2..]))));

        string? Like(string mail) => MailLikeness.Of(mail, harbour.PeopleDirectory);
    }

    [Fact]
    public void The_last_day_the_sponsor_and_the_host_have_to_allow_it()
    {
        var today = Facts(Own).PeopleDirectory.Today;

        Assert.IsType<InvitationEndsWrong>(Assert.Single(Refused(Own, Asks() with { Through = today.AddDays(-1) })));
        Assert.IsType<InvitationEndsWrong>(Assert.Single(Refused(Own, Asks() with { Through = DateOnly.MaxValue })));
        Assert.IsType<SponsorNotStaff>(Assert.Single(Refused(Own, Asks() with { Sponsor = Mail })));
        harbour.Hosts["Slipway"] = HostCapabilities.Unheard;
        Assert.Equal([new GuestsNotInvitedFromHere("Slipway")], Refused(Own, Asks()));
    }

    [Fact]
    public void Owners_invite_only_where_inviting_is_not_left_to_stewards()
    {
        harbour.Limit(
            LayerKind.Unit,
            "PIL",
            Enforcer.Policy,
            Outside(OutsideLevel.Anonymous, guestInviter: GuestInviter.Steward)
        );

        Assert.Equal(
            ["Pilotage"],
            Assert
                .IsType<InvitingLeftToStewards>(
                    Assert.Single(Assert.IsType<Decision.Refusal>(Decide(Own, Asks(), new Actor(Vane, Capacity.Owner))).Reasons)
                )
                .Layers
        );
        Assert.NotNull(Plan(Own, Asks()).Invitation);
    }

    [Fact]
    public void What_has_become_of_it_follows_from_its_change_its_day_and_the_account()
    {
        var facts = Facts(Own);
        var today = facts.PeopleDirectory.Today;
        var invitation = Plan(Own, Asks()).Invitation!;
        harbour.People.Add(InviteGuest.NewGuest(Mail) with { Id = new PersonId(900) });
        var sent = InviteGuest.Send(Facts(Own), invitation, new ChangeId(Guid.NewGuid()));
        var change = sent.HostChanges[0];
        InvitationState On(ChangeState state, bool hasAccess = true, bool hasJoined = false, int days = 0) =>
            sent.Invitation!.StateOn(today.AddDays(days), change with { State = state }, hasAccess, hasJoined);

        Assert.Equal(InvitationState.Waiting, invitation.StateOn(today, null, false, false));
        Assert.Equal(InvitationState.Sending, On(ChangeState.Queued));
        Assert.Equal(InvitationState.Sent, On(ChangeState.Verified));
        Assert.Equal(InvitationState.Accepted, On(ChangeState.Confirmed, hasJoined: true));
        Assert.Equal(InvitationState.Over, On(ChangeState.Verified, hasAccess: false, hasJoined: true));
        Assert.Equal(InvitationState.NotSent, On(ChangeState.Refused));
        Assert.Equal(InvitationState.Over, On(ChangeState.Verified, hasJoined: true, days: 400));
        Assert.True(
            sent.Invitation!.HasExpired(
                change with
                {
                    ConfirmedAt = facts.Now,
                },
                facts.PeopleDirectory.Time,
                facts.Now.AddDays(Invitation.AcceptWithin + 1)
            )
        );
    }

    [Fact]
    public void Withdrawing_undoes_what_it_gave_and_nothing_else()
    {
        // Cleo could view it before.
        var site = Site(ToPerson(Power.Own, Vane), ToPerson(Power.View, Diver));
        var invitation = Plan(site, Asks("cleo@divers.example") with { Power = Power.Edit }).Invitation!;
        var sent = InviteGuest.Send(Facts(site), invitation, new ChangeId(Guid.NewGuid()));
        var change = Assert.Single(sent.HostChanges) with { State = ChangeState.Verified };
        var after = Facts(site.WithGrants(site.Expected.Or([]).With(change.WantedState.Grants))) with { ChangeQueue = [change] };

        Assert.Empty(Assert.IsType<Decision.Plan>(End(Facts(site), invitation, InvitationState.Waiting)).HostChanges);
        var withdrawn = Assert.IsType<Decision.Plan>(End(after, sent.Invitation!, InvitationState.Sent));
        var back = Assert.Single(withdrawn.HostChanges[^1].WantedState.Grants).Wanted!;
        Assert.Equal((Power.View, null), (back.Power, back.Through));
        Assert.Equal(InvitationEnding.Withdrawn, withdrawn.Invitation!.Ending);
        Assert.Equal(
            [new InvitationNotOpen("cleo@divers.example", true)],
            Assert.IsType<Decision.Refusal>(End(after, sent.Invitation!, InvitationState.Accepted)).Reasons
        );

        static Decision End(ActionFacts facts, Invitation invitation, InvitationState state) =>
            InviteGuest.End(facts, invitation, state, InvitationEnding.Withdrawn, new ChangeId(Guid.NewGuid()), new Actor(Quist));
    }

    [Fact]
    public void A_limit_on_viewing_stops_an_invitation_to_edit()
    {
        var noView = Outside(OutsideLevel.Anonymous) with { View = Outside(OutsideLevel.NoOne).View };
        harbour.Limit(LayerKind.Unit, "PIL", Enforcer.Policy, noView);

        Assert.Single(Plan(Own, Asks() with { Power = Power.Edit }).Advice.OfType<InvitationWaits>());
    }

    private InviteGuestRequest Asks(string mail = Mail) =>
        new(mail, Power.View, Facts(Own).PeopleDirectory.Today.AddDays(180), null, "Survey of the east quay");

    private Decision Decide(SiteFacts site, InviteGuestRequest request, Actor actor) =>
        InviteGuest.Decide(Facts(site), request, new InvitationId(Guid.NewGuid()), actor);

    private Decision.Plan Plan(SiteFacts site, InviteGuestRequest request) =>
        Assert.IsType<Decision.Plan>(Decide(site, request, new Actor(Quist)));

    private IReadOnlyList<Remark> Refused(SiteFacts site, InviteGuestRequest request) =>
        Assert.IsType<Decision.Refusal>(Decide(site, request, new Actor(Quist))).Reasons;

    private ActionFacts Facts(SiteFacts site) => new(site, [], harbour.Organisation, NoRules, harbour.PeopleDirectory);
}
