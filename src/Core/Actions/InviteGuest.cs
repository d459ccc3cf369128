using System.Text.RegularExpressions;
using AtticLedger.Core.Access;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A request to invite somebody from outside to a site.</summary>
/// <param name="Through">The last day of the access.</param>
/// <param name="Sponsor">The mail address of the member of staff who answers for the guest; the actor if null.</param>
public sealed record InviteGuestRequest(string Mail, Power Power, DateOnly Through, string? Sponsor, string? Reason);

/// <summary>Invites somebody from outside. What stops the guest is found before anything is sent; then the invitation waits, and is
/// sent as soon as nothing stops it.</summary>
public static partial class InviteGuest
{
    /// <summary>The longest that a guest has access without being asked about again.</summary>
    public const int MostDays = 366;

    private const int LongestMail = 254;
    private static readonly PersonId Unborn = new(-1);

    public static Decision Decide(ActionFacts facts, InviteGuestRequest request, InvitationId id, Actor actor)
    {
        var mail = request.Mail.Trim();
        var refused = Refusals(facts, request with { Mail = mail }, actor).ToList();
        if (facts.Invitations.Any(one => Key(one.Mail) == Key(mail) && IsUnderWay(one, facts)))
        {
            refused.Add(new InvitedAlready(mail));
        }

        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var sponsor = SponsorOf(request, actor, facts.PeopleDirectory);
        var invitation = new Invitation(
            id,
            facts.Site.Id,
            mail,
            request.Power,
            request.Through,
            sponsor!.Value,
            actor.Person,
            facts.Now,
            request.Reason
        );
        var stops = Stopping(facts, mail, request.Power);
        var (withGuest, guest) = WithGuest(facts, mail);
        var effect =
            stops.Count > 0
                ? Effect.None
                : Predict.Change(
                    facts.Site,
                    [Change(invitation, guest, withGuest)],
                    facts.Organisation,
                    facts.Rules,
                    withGuest.PeopleDirectory
                );
        var critical = effect.Opened.Where(rule => facts.Rules.Find(rule)?.Level == Level.Critical).ToList();
        return new Decision.Plan([], [invitation.Entry(JournalAction.InvitationMade, actor.InJournal, actor.Second)], effect)
        {
            Invitation = invitation,
            Newcomer = guest == Unborn ? withGuest.PeopleDirectory.Find(guest) : null,
            Advice = [.. Advice(facts, mail, stops, request.Power)],
            NeedsSecond = critical.Count > 0 ? new GrantBreaksNeedsSecond([.. critical.Select(rule => rule.Value)]) : null,
            Notifications =
                sponsor == actor.Person
                    ? []
                    :
                    [
                        new Notification(
                            sponsor.Value,
                            $"sponsor:{id}",
                            $"You answer for a guest of {facts.Site.Title}",
                            [
                                $"{facts.PeopleDirectory.Find(actor.Person)?.Name ?? "Somebody"} invites {mail} to {facts.Site.Title} until the end of {request.Through.InWords()} and names you as the sponsor.",
                            ],
                            Urgent: false
                        ),
                    ],
        };
    }

    /// <summary>What stops an invitation now; empty if it can be sent.</summary>
    public static IReadOnlyList<Remark> StoppedBy(ActionFacts facts, Invitation invitation)
    {
        var request = new InviteGuestRequest(
            invitation.Mail,
            invitation.Power,
            invitation.Through,
            facts.PeopleDirectory.Find(invitation.Sponsor)?.Mail ?? "",
            invitation.Reason
        );
        var stopped = Refusals(facts, request, new Actor(invitation.By)).ToList();
        if (stopped.Count == 0 && Stopping(facts, invitation.Mail, invitation.Power) is { Count: > 0 } stops)
        {
            stopped.Add(new InvitationWaits(invitation.Mail, [.. stops.Select(Name)]));
        }

        return stopped;
    }

    /// <summary>Sends an invitation that nothing stops.</summary>
    /// <param name="facts">Their directory has the guest.</param>
    public static Decision.Plan Send(ActionFacts facts, Invitation invitation, ChangeId newHostChange)
    {
        var change = Change(invitation, facts.PeopleDirectory.ByMail[Key(invitation.Mail)], facts);
        var hostChange = HostChanges.New(
            newHostChange,
            facts,
            new WantedState([change]),
            new Actor(invitation.By),
            invitation.Reason
        );
        var sent = invitation with { StoppedBy = [], HostChange = newHostChange };
        return new Decision.Plan(
            [.. HostChanges.Superseded(facts.ChangeQueue, hostChange), hostChange],
            [sent.Entry(JournalAction.InvitationSent, EntryActor.Product)],
            Predict.Change(facts.Site, [change], facts.Organisation, facts.Rules, facts.PeopleDirectory)
        )
        {
            Invitation = sent,
        };
    }

    /// <summary>Ends an invitation: what has not been sent is not sent, and its change at the host is undone.</summary>
    public static Decision End(
        ActionFacts facts,
        Invitation invitation,
        InvitationState state,
        InvitationEnding ending,
        ChangeId newHostChange,
        Actor actor
    )
    {
        if (!state.IsOpen())
        {
            return new Decision.Refusal([new InvitationNotOpen(invitation.Mail, state == InvitationState.Accepted)]);
        }

        var ended = invitation with { Ending = ending, EndedAt = facts.Now };
        var alone = new Decision.Plan(
            [],
            [
                ending == InvitationEnding.Withdrawn
                    ? ended.Entry(JournalAction.InvitationWithdrawn, actor.InJournal)
                    : ended.Entry(JournalAction.InvitationExpired, EntryActor.Product),
            ],
            Effect.None
        )
        {
            Invitation = ended,
        };
        if (facts.ChangeQueue.FirstOrDefault(one => one.Id == invitation.HostChange) is not { } sent)
        {
            return alone;
        }

        return UndoHostChange.Decide(facts, sent, newHostChange, actor, invitation.Reason) switch
        {
            Decision.Plan undo => undo with { Entries = [.. undo.Entries, .. alone.Entries], Invitation = ended },

            // Somebody has changed the access since: it is theirs.
            _ when ending == InvitationEnding.Expired => alone,
            var refusal => refusal,
        };
    }

    private static PersonId? SponsorOf(InviteGuestRequest request, Actor actor, PeopleDirectory directory) =>
        request.Sponsor is { } mail ? directory.MemberOfStaff(mail)
        : directory.IsHere(actor.Person) ? actor.Person
        : null;

    // Once the host has confirmed it, the grant itself is in the way of another.
    private static bool IsUnderWay(Invitation invitation, ActionFacts facts) =>
        invitation.HostChange is not { } id || facts.ChangeQueue.Any(one => one.Id == id && one.State.IsOpen());

    private static IEnumerable<Remark> Refusals(ActionFacts facts, InviteGuestRequest request, Actor actor)
    {
        var (site, directory, host) = (facts.Site, facts.PeopleDirectory, facts.Organisation.CapabilitiesOf(facts.Site.Host));
        foreach (
            var remark in HostChanges
                .TooLong(request.Reason)
                .Concat(HostChanges.NotInUse(facts))
                .Concat(HostChanges.NotReported(site, AccessStep.Grant))
                .Concat(OfAddress(request, site, directory))
        )
        {
            yield return remark;
        }

        if (!host.InvitesGuests)
        {
            yield return new GuestsNotInvitedFromHere(site.Host);
        }

        if (request.Power == Power.Own)
        {
            yield return new OwnershipNotGranted();
        }
        else if (!host.Powers.Contains(request.Power))
        {
            yield return new PowerNotGranted(
                site.Host,
                request.Power,
                [.. host.Powers.Where(power => power != Power.Own).Select(power => power.Word())]
            );
        }

        if (request.Through < directory.Today || request.Through.DayNumber - directory.Today.DayNumber > MostDays)
        {
            yield return new InvitationEndsWrong(
                directory.Today,
                DateOnly.FromDayNumber(Math.Min(directory.Today.DayNumber + MostDays, DateOnly.MaxValue.DayNumber))
            );
        }

        if (SponsorOf(request, actor, directory) is null)
        {
            yield return new SponsorNotStaff();
        }

        if (
            actor.As == Capacity.Owner
            && LayersOver(facts)
                .Where(layer =>
                    layer.For(request.Power) is var of && of.Has(out var limit) && limit.GuestInviter == GuestInviter.Steward
                )
                .Select(layer => layer.Name)
                .ToList()
                is { Count: > 0 } layers
        )
        {
            yield return new InvitingLeftToStewards(layers);
        }
    }

    // Whose address it is decides: staff get access as staff, and nobody is invited who has left or is taken for somebody else.
    private static IEnumerable<Remark> OfAddress(InviteGuestRequest request, SiteFacts site, PeopleDirectory directory)
    {
        var mail = request.Mail;
        if (!Address().IsMatch(mail) || mail.Length > LongestMail)
        {
            yield return new NoMailAddress(mail);
            yield break;
        }

        if (directory.ByMail.TryGetValue(Key(mail), out var person) && directory.PlaceOf(person) is { } place)
        {
            var known = directory.People[place];
            if (directory.Standings[place] == Standing.Left)
            {
                yield return new GuestHasLeft(known.Name);
            }
            else if (!known.IsOutside)
            {
                yield return new GuestIsStaff(known.Name);
            }
            else if (
                site.Expected.Or([]).FirstOrDefault(grant => grant.Subject == new Subject.OnePerson(person)) is { } grant
                && grant.Power >= request.Power
                && !(grant.Through < request.Through)
            )
            {
                yield return new GrantedAlready(known.Name, grant.Power);
            }

            yield break;
        }

        if (MailLikeness.Of(mail, directory) is { } like)
        {
            yield return new GuestLooksLike(mail, like);
        }
    }

    private static IEnumerable<Remark> Advice(ActionFacts facts, string mail, IReadOnlyList<Gate> stops, Power power)
    {
        yield return facts.PeopleDirectory.ByMail.TryGetValue(Key(mail), out var guest)
            ? new InvitesKnownGuest(facts.PeopleDirectory.Find(guest)!.Name, mail)
            : new InvitesNewGuest(mail);
        if (stops.Count > 0)
        {
            yield return new InvitationWaits(mail, [.. stops.Select(Name)]);
        }

        var unsure = GatesFor(facts, mail, power).Where(gate => gate.Lets == Truth.Unknown).Select(Name).Distinct().ToList();
        if (unsure.Count > 0)
        {
            yield return new InvitationMayWait(mail, unsure);
        }
    }

    // What certainly stops the guest.
    private static IReadOnlyList<Gate> Stopping(ActionFacts facts, string mail, Power power) =>
        [.. GatesFor(facts, mail, power).Where(gate => gate.Lets == Truth.No).DistinctBy(Name)];

    private static string Name(Gate gate) =>
        gate.Layer is { } layer ? AccessText.Name(layer)
        : gate.Kind == GateKind.Publication ? "Publication"
        : "Existence";

    // A guest whom the register knows is on the list already; somebody new has to be put on it.
    private static IReadOnlyList<Gate> GatesFor(ActionFacts facts, string mail, Power power)
    {
        var asked = new AccessFacts(facts.Site, facts.Organisation, facts.PeopleDirectory);
        var (change, visitor) = facts.PeopleDirectory.ByMail.TryGetValue(Key(mail), out var guest)
            ? (new AccessChange.GrantPower(GrantTo(guest, power, null, facts)), new Visitor.OnePerson(guest))
            : ((AccessChange)new AccessChange.InviteGuest(power), (Visitor)new Visitor.NewGuest());
        return Why.GatesOf(change, asked, visitor, power);
    }

    private static IEnumerable<Layer> LayersOver(ActionFacts facts) =>
        LayerBook.Of(facts.Organisation, facts.PeopleDirectory).Over(facts.Site).Layers;

    private static GrantChange Change(Invitation invitation, PersonId guest, ActionFacts facts)
    {
        var grant = GrantTo(guest, invitation.Power, invitation.Through, facts);
        return new GrantChange(grant.Key, grant);
    }

    private static Grant GrantTo(PersonId guest, Power power, DateOnly? through, ActionFacts facts)
    {
        var to = new Subject.OnePerson(guest);
        var key = facts.Site.Expected.Or([]).KeyFor(to, facts.PeopleDirectory)!;
        return new Grant(key, power, to, VisitorSignIn.Account, false, through);
    }

    private static (ActionFacts Facts, PersonId Guest) WithGuest(ActionFacts facts, string mail)
    {
        if (facts.PeopleDirectory.ByMail.TryGetValue(Key(mail), out var guest))
        {
            return (facts, guest);
        }

        var unborn = NewGuest(mail) with { Id = Unborn };
        return (facts with { PeopleDirectory = facts.PeopleDirectory.With(unborn) }, unborn.Id);
    }

    /// <summary>The guest as the register first knows them: by the address alone.</summary>
    public static Person NewGuest(string mail) =>
        new(default, PersonKind.Guest, mail, mail, Standing.Current, null, Known<UnitCode>.None);

    private static string Key(string mail) => mail.Trim().ToLowerInvariant();

    // As HTML defines a valid e-mail address, with letters of all scripts and a domain of at least two labels.
    [GeneratedRegex(
        @"^[\p{L}\p{N}.!#$%&'*+/=?^_`{|}~-]+@[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?(?:\.[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?)+$"
    )]
    private static partial Regex Address();
}
