using AtticLedger.Core.Journal;
using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>Asks the owners who are leaving, and can still act, to hand their key over: only they can offer it.</summary>
public static class AskOwners
{
    public const string Deed = "key.ask";
    private const int LinkDays = 14;

    public static Decision Decide(DeedFacts facts, string? reason, Doer doer)
    {
        var roll = facts.Roll;
        var leaving = Leaving(facts).ToList();
        List<string> refused = [.. Orders.TooLong(reason), .. Orders.NotInUse(facts)];
        if (doer.As == Capacity.Owner)
        {
            refused.Add("Owners offer their own keys; asking is for administrators and stewards.");
        }

        if (leaving.Count == 0)
        {
            refused.Add("No owner of this site is leaving and still here.");
        }

        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var who = roll.Find(doer.Person)?.Name ?? "An administrator";
        var until = roll.Time.EndOf(roll.Time.DayOf(facts.Now).AddDays(LinkDays));
        return new Decision.Plan(
            [],
            [
                new Draft(Deed, doer.InJournal, $"site:{facts.Site.Id.Value}")
                {
                    After = JournalValue.Of(
                        ("asked", JournalValue.Of(leaving.Select(person => JournalValue.Of($"person:{person.Id.Value}"))))
                    ),
                    Reason = reason,
                },
            ],
            Effect.None
        )
        {
            Along = [.. leaving.Select(person => $"{person.Name} is asked by mail to choose who takes the key.")],
            Letters =
            [
                .. leaving.Select(person => new Letter(
                    person.Id,
                    $"ask:{facts.Site.Id.Value}:{facts.Now.UtcTicks}",
                    $"Who takes the key of {facts.Site.Title}?",
                    [
                        $"{who} asks you to hand over the key of {facts.Site.Title} ({facts.Site.Address.Or("no address")}) before you leave{(person.Day is { } day ? $" on {day.ToString("d MMM yyyy", System.Globalization.CultureInfo.InvariantCulture)}" : "")}.",
                        .. reason is null ? Array.Empty<string>() : [$"The reason given: {reason}"],
                        "On your sites you see who knows the site best, and offer it to one of them.",
                    ],
                    Urgent: true,
                    new LetterLink(
                        LinkPurpose.Yours,
                        facts.Site.Id.Value.ToString(System.Globalization.CultureInfo.InvariantCulture),
                        until,
                        "Look at your sites"
                    )
                )),
            ],
        };
    }

    /// <summary>Owners by name who are leaving and can still act.</summary>
    public static IEnumerable<Person> Leaving(DeedFacts facts) =>
        KeyHolders
            .Of(facts.Site, facts.Roll, facts.House.FitDays)
            .Holders.Where(holder =>
                holder.Through is null && holder.Standing == Standing.Leaving && holder.Person.Kind == PersonKind.Staff
            )
            .Select(holder => holder.Person);
}
