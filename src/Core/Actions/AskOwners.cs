using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>Asks leaving owners who can still act to hand over their site: only they can offer it.</summary>
public static class AskOwners
{
    private const int LinkDays = 14;

    public static Decision Decide(ActionFacts facts, string? reason, Actor actor)
    {
        var directory = facts.PeopleDirectory;
        var leaving = Leaving(facts).ToList();
        List<Remark> refused = [.. HostChanges.TooLong(reason), .. HostChanges.NotInUse(facts)];
        if (actor.As == Capacity.Owner)
        {
            refused.Add(new OwnersAskNobody());
        }

        if (leaving.Count == 0)
        {
            refused.Add(new NobodyLeaves());
        }

        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var who = directory.Find(actor.Person)?.Name ?? "An administrator";
        var until = directory.Time.EndOf(directory.Time.DayOf(facts.Now).AddDays(LinkDays));
        return new Decision.Plan(
            [],
            [
                new Draft(JournalAction.OwnerAsked, actor.InJournal, EntrySubject.Of(facts.Site.Id))
                {
                    After = JournalValue.Of(
                        ("asked", JournalValue.Of(leaving.Select(person => JournalValue.Of(EntryActor.Of(person.Id)))))
                    ),
                    Reason = reason,
                },
            ],
            Effect.None
        )
        {
            SideEffects = [.. leaving.Select(person => $"{person.Name} gets a mail that asks to choose a new owner.")],
            Notifications =
            [
                .. leaving.Select(person => new Notification(
                    person.Id,
                    $"ask:{facts.Site.Id.Value}:{facts.Now.UtcTicks}",
                    $"Who will own {facts.Site.Title}?",
                    [
                        $"{who} asks you to hand over {facts.Site.Title} ({facts.Site.Address.Or("no address")}) before you leave{(person.Day is { } day ? $" on {day.InWords()}" : "")}.",
                        .. reason is null ? Array.Empty<string>() : [$"Reason: {reason}"],
                        "The page Your sites shows who knows the site best. Offer it to one of them.",
                    ],
                    Urgent: true,
                    new NotificationLink(
                        LinkPurpose.Yours,
                        facts.Site.Id.Value.ToString(System.Globalization.CultureInfo.InvariantCulture),
                        until,
                        "Open your sites"
                    )
                )),
            ],
        };
    }

    /// <summary>Owners by name who are leaving and can still act.</summary>
    public static IEnumerable<Person> Leaving(ActionFacts facts) =>
        SiteOwners
            .Of(facts.Site, facts.PeopleDirectory, facts.Organisation.ActiveDays)
            .Holders.Where(holder =>
                holder.Through is null && holder.Standing == Standing.Leaving && holder.Person.Kind == PersonKind.Staff
            )
            .Select(holder => holder.Person);
}
