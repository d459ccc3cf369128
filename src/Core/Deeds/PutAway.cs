using System.Globalization;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Doors;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <param name="Typed">The name as it was typed; null while only looking.</param>
public sealed record PutAwayWish(string? Reason, string? Typed = null);

/// <summary>
/// Deletes a site recoverably: what blocks it in the order to solve, all that goes with it, and how sure it wants to be.
/// Owners' own deletions of sites that others use can be stopped for a while, and administrators hear of them.
/// </summary>
public static class PutAway
{
    public const string Deed = "site.put-away";

    /// <summary>Up to so many pages a site is small.</summary>
    public const int SmallPages = 5;

    public static Decision Decide(DeedFacts facts, PutAwayWish wish, OrderId newOrder, Doer doer)
    {
        var site = facts.Site;
        var sure = SurenessOf(facts);
        List<string> refused = [.. Orders.TooLong(wish.Reason), .. Blockers(facts)];
        if (
            wish.Typed is { } typed
            && sure != Sureness.UndoAlone
            && !string.Equals(typed.Trim(), site.Title.Trim(), StringComparison.Ordinal)
        )
        {
            refused.Add($"Type the site's name as it stands: {site.Title}");
        }

        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var loss = LossOf(facts);
        var waits = doer.As == Capacity.Owner && sure == Sureness.TypeTheName;
        var order = Orders.New(newOrder, facts, new Wish([], Existence.Attic), doer, wish.Reason) with
        {
            Purpose = OrderPurpose.PutAway,
        };
        var stay = new Stay
        {
            Site = site.Id,
            State = waits ? StayState.Announced : StayState.GoingAway,
            By = doer.Person,
            ByOwner = doer.As == Capacity.Owner,
            Reason = wish.Reason,
            AskedAt = facts.Now,
            StoppableUntil = waits ? facts.Now + facts.House.StopTime : null,
            Went = Snapshot.Of(site),
            Order = waits ? null : newOrder,
        };
        return new Decision.Plan(
            waits ? [] : [order],
            [
                Entry(waits ? "attic.announced" : Deed, facts, stay, doer, loss),
                .. facts
                    .Offers.Where(IsOpen)
                    .SelectMany(offer => HandOver.End(facts, offer, OfferEvent.SitePutAway, facts.Now).Entries),
            ],
            Foresee.PutAway(site, facts.House, facts.Rules, facts.Roll)
        )
        {
            Stay = stay,
            Remains = [.. StayingOpen(facts.Site)],
            Along =
            [
                .. facts
                    .Offers.Where(IsOpen)
                    .Select(offer =>
                        $"The offer of its key to {facts.Roll.Find(offer.To)?.Name ?? "somebody"} comes to nothing."
                    ),
            ],
            Loss = loss,
            Sure = sure,
            NeedsSecond = sure == Sureness.SecondPerson ? Because(facts) : null,
            Offers =
            [
                .. facts
                    .Offers.Where(IsOpen)
                    .SelectMany(offer => HandOver.End(facts, offer, OfferEvent.SitePutAway, facts.Now).Offers),
            ],
            Letters =
            [
                .. Told(facts, stay, doer, loss),
                .. facts
                    .Offers.Where(IsOpen)
                    .SelectMany(offer => HandOver.End(facts, offer, OfferEvent.SitePutAway, facts.Now).Letters),
            ],
        };
    }

    /// <summary>Second thoughts: an owner's deletion that is still stoppable.</summary>
    public static Decision Stop(DeedFacts facts, Doer doer) =>
        facts.Stay is { } stay && StayStates.After(stay.State, StayEvent.Stop) is not null
            ? Stopped(facts, stay, doer.InJournal, null)
            : new Decision.Refusal([
                facts.Stay is { State: StayState.GoingAway }
                    ? $"{facts.Site.Host} has been asked already. Bring the site back once it lies in the attic."
                    : "Nothing is announced that could be stopped.",
            ]);

    /// <summary>The time to stop it is over: it is asked of the host, unless something blocks it by now.</summary>
    public static Decision.Plan Go(DeedFacts facts, Stay stay, OrderId newOrder)
    {
        var blockers = Blockers(facts with { Stay = null }).ToList();
        if (blockers.Count > 0)
        {
            return Stopped(facts, stay, "house", string.Join(" ", blockers));
        }

        var doer = new Doer(stay.By ?? default, Capacity.Owner);
        var order = Orders.New(newOrder, facts, new Wish([], Existence.Attic), doer, stay.Reason) with
        {
            Purpose = OrderPurpose.PutAway,
        };
        var going = stay.Move(StayEvent.Go) with { Order = newOrder, Went = Snapshot.Of(facts.Site) };
        return new Decision.Plan([order], [Entry(Deed, facts, going, doer, LossOf(facts), stay.StoppableUntil)], Effect.None)
        {
            Stay = going,
        };
    }

    /// <summary>What has to be solved first, in the order to solve it.</summary>
    public static IEnumerable<string> Blockers(DeedFacts facts)
    {
        var site = facts.Site;
        foreach (var reason in Orders.NotInUse(facts))
        {
            yield return reason;
        }

        if (facts.Stay is { State: StayState.Announced } announced)
        {
            yield return $"Putting it away is announced already, for {Moment(announced.StoppableUntil!.Value, facts.Roll)}.";
        }

        // Where the attic is ours nothing runs out by itself, so a held site may lie in it.
        foreach (
            var hold in facts.Holds.Where(hold =>
                !facts.House.HabitsOf(site.Host).AtticIsOurs && hold.IsInForce(facts.Now, facts.Roll.Time)
            )
        )
        {
            yield return $"A hold forbids it{(hold.Through is { } through ? $" through {Day(through)}" : "")}: {hold.Reason}. {site.Host} clears its bin by itself, so a held site stays where it is.";
        }

        foreach (var obligation in site.Content.Obligations.Or([]))
        {
            yield return $"{obligation.Words}. Settle that at {site.Host} first: people are owed it.";
        }

        foreach (var domain in site.Content.Domains.Or([]))
        {
            yield return $"The web domain {domain} shows this site. Take it off at {site.Host} first, or it will point at nothing.";
        }

        foreach (var child in facts.Around.Children)
        {
            yield return $"{facts.Around.NameOf(child)} is a child of this site. {(facts.Around.Sight.Sees(child) ? "Move it elsewhere or put it away first." : "An administrator can move it elsewhere.")}";
        }

        if (facts.Lane.Any(order => order.State.IsOpen()))
        {
            yield return $"An order to {site.Host} is under way. Wait until it is answered.";
        }

        foreach (var person in site.Content.Editing.Or([]))
        {
            yield return $"{facts.Roll.Find(person)?.Name ?? "Somebody"} is editing it now.";
        }
    }

    // Shutting the site shuts nothing that has a door of its own.
    private static IEnumerable<string> StayingOpen(SiteFacts site) =>
        site
            .Content.Sections.Or([])
            .Where(section => section.Tie == PartTie.StandingFree && section.Grants.Count > 0)
            .Select(section =>
                $"\"{section.Name}\" stands free and goes on letting in whoever its own door lets in. Shut it at {site.Host}."
            );

    private static bool IsOpen(Offer offer) => offer.State == OfferState.Offered;

    private static Sureness SurenessOf(DeedFacts facts)
    {
        var site = facts.Site;
        if (
            site.Stage.Has(out var stage)
            && stage == Stage.NeverLive
            && site.Content.Pages.Has(out var pages)
            && pages <= SmallPages
            && Because(facts) is null
        )
        {
            return Sureness.UndoAlone;
        }

        return Because(facts) is null ? Sureness.TypeTheName : Sureness.SecondPerson;
    }

    // Where it cannot be told how far a site reaches, it may reach everybody.
    private static string? Because(DeedFacts facts)
    {
        var line = new SiteLine(facts.Site, facts.House, facts.Roll);
        foreach (var power in (Power[])[Power.View, Power.Edit])
        {
            var verb = power == Power.View ? "read" : "edit";
            if (line.Outside(power) is var outside && outside.Has(out var who) && who.AtMost == (int)OutsideLevel.PassersBy)
            {
                return $"{(who.AtLeast == who.AtMost ? "Passers-by can" : "Passers-by may be able to")} {verb} it, so putting it away takes two people.";
            }

            if (line.Inside(power) is var inside && inside.Has(out var level) && level.AtMost == (int)InsideLevel.Staff)
            {
                return $"{(level.AtLeast == level.AtMost ? "All of the staff can" : "All of the staff may be able to")} {verb} it, so putting it away takes two people.";
            }
        }

        return null;
    }

    private static Loss LossOf(DeedFacts facts)
    {
        var site = facts.Site;
        var group = site.Content.Group.Has(out var id) ? facts.Roll.Find(id) : null;
        var people = group is null ? PeopleSet.Empty : facts.Roll.Expand(group.Id).People;
        var habits = facts.House.HabitsOf(site.Host);
        var clock = Clock.Of(
            new ClockFacts(
                site.Host,
                facts.Now,
                [
                    new ClassSince(
                        facts.House.Words.Read(SaidFact.Class, site.Class.Has(out var @class) ? @class : null),
                        facts.Now
                    ),
                ],
                facts.House.Keeping,
                facts.Holds,
                Known<DateTimeOffset>.Unknown
            ),
            facts.Roll.Time,
            facts.Now
        );
        return new Loss(
            site.Content.Pages,
            site.Content.Bytes,
            site.Content.Domains.Or([]),
            group?.Name,
            [
                .. facts
                    .Around.OpenedByGroup.Where(facts.Around.Sight.Sees)
                    .Select(opened => new OpenedSite(opened.Id, opened.Title, Losing(opened, group!, people, facts))),
            ],
            site.Visits,
            [.. facts.Around.OnHost.LookAlikesOf(site.Id, site.Title).Select(other => $"{other.Name} ({other.Address})")],
            clock.LastDay,
            $"the house keeps {clock.Because.Of} {clock.Because.Days} days",
            habits is { AtticIsOurs: false, BinDays: { } days } ? facts.Roll.Time.DayOf(facts.Now).AddDays(days) : null,
            habits.AtticIsOurs,
            site.Content.Plan.Has(out var plan) ? plan : null,
            site.Content.MailAlias.Has(out var alias) ? alias : null,
            site.Content.Records,
            site.Content.Shared.Or([])
        )
        {
            AllOpened = [.. facts.Around.OpenedByGroup.Select(opened => opened.Id)],
        };
    }

    // Who gets into the other site through the group and through nothing else.
    private static int Losing(SiteFacts opened, Group group, PeopleSet people, DeedFacts facts)
    {
        var without = opened.WithGrants([
            .. opened.Expected.Or([]).Where(grant => grant.Subject is not Subject.OneGroup(var other) || other != group.Id),
        ]);
        var left = new SiteLine(without, facts.House, facts.Roll).Passage(Power.Preview).Actual.AtLeast;
        var had = new SiteLine(opened, facts.House, facts.Roll).Passage(Power.Preview).Actual.AtLeast;
        return people
            .Places()
            .Count(place => had.Inside.Union(had.Guests).Contains(place) && !left.Inside.Union(left.Guests).Contains(place));
    }

    private static Decision.Plan Stopped(DeedFacts facts, Stay stay, string actor, string? words)
    {
        var stopped = stay.Move(StayEvent.Stop) with { EndedAt = facts.Now, Words = words };
        return new Decision.Plan(
            [],
            [
                new Draft("attic.stopped", actor, $"site:{facts.Site.Id.Value}")
                {
                    Reason = words,
                    After = JournalValue.Of(("stay", JournalValue.Of(stay.Place))),
                },
            ],
            Effect.None
        )
        {
            Stay = stopped,
            Letters =
                words is null || stay.By is not { } by
                    ? []
                    : [new Letter(by, $"stopped:{stay.Id}", $"{facts.Site.Title} was not put away", [words], Urgent: true)],
        };
    }

    private static IEnumerable<Letter> Told(DeedFacts facts, Stay stay, Doer doer, Loss loss)
    {
        var site = facts.Site;
        var who = facts.Roll.Find(doer.Person)?.Name ?? "Somebody";
        var kept =
            loss.HostKeepsThrough is { } host && host < loss.KeptThrough
                ? $"It can be brought back through {Day(host)}, because {site.Host} clears its bin then."
                : $"It can be brought back through {Day(loss.KeptThrough)}: {loss.KeptBecause}.";
        var key = $"away:{site.Id.Value}:{facts.Now.UtcTicks}";
        if (stay.StoppableUntil is { } until)
        {
            yield return new Letter(
                doer.Person,
                key,
                $"You are putting away {site.Title}",
                [
                    $"You asked to put away {site.Title} ({site.Address.Or("no address")}). It happens at {Moment(until, facts.Roll)} unless you stop it.",
                    kept,
                ],
                Urgent: true,
                new LetterLink(
                    LinkPurpose.Stop,
                    site.Id.Value.ToString(CultureInfo.InvariantCulture),
                    until,
                    "Look at it and stop it"
                )
            );
        }

        var others = KeyHolders
            .Of(site, facts.Roll, facts.House.FitDays)
            .Holders.Select(holder => holder.Person)
            .Where(person => person.Kind == PersonKind.Staff)
            .Select(person => person.Id);
        var told = doer.As == Capacity.Owner ? others.Concat(facts.Administrators) : others;
        foreach (var person in told.Distinct().Where(person => person != doer.Person))
        {
            yield return new Letter(
                person,
                key,
                $"{site.Title} is put away",
                [
                    $"{who} put away {site.Title} ({site.Address.Or("no address")}){(stay.Reason is null ? "" : $": {stay.Reason}")}.",
                    kept,
                ]
            );
        }
    }

    private static Draft Entry(string deed, DeedFacts facts, Stay stay, Doer doer, Loss loss, DateTimeOffset? due = null) =>
        new(deed, doer.InJournal, $"site:{facts.Site.Id.Value}")
        {
            Before = JournalValue.Of(
                ("name", JournalValue.Of(facts.Site.Title)),
                ("address", JournalValue.Of(facts.Site.Address.Or("")))
            ),
            After = JournalValue.Of(
                ("order", JournalValue.Of(stay.Order?.ToString())),
                ("stoppableUntil", stay.StoppableUntil is { } until ? JournalValue.Of(until) : JournalValue.Null),
                ("predicted", Foresee.PutAway(facts.Site, facts.House, facts.Rules, facts.Roll).InJournal),
                ("loss", loss.InJournal),
                ("second", JournalValue.Of(doer.Second is { } second ? $"person:{second.Value}" : null)),
                ("due", due is { } at ? JournalValue.Of(at) : JournalValue.Null)
            ),
            Reason = stay.Reason,
        };

    private static string Moment(DateTimeOffset at, Roll roll) =>
        TimeZoneInfo.ConvertTime(at, roll.Time.Zone).ToString("HH:mm 'on' d MMM", CultureInfo.InvariantCulture);

    private static string Day(DateOnly day) => day.ToString("d MMM yyyy", CultureInfo.InvariantCulture);
}
