using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>
/// Orders to hosts without a writer: given to a person, done with proof, seen by the next list or by a second person. One
/// that was said to be done and is not so goes back to the person with the difference.
/// </summary>
public static class ByHand
{
    /// <summary>The order never comes up by itself again: a person has it.</summary>
    public static readonly DateTimeOffset Never = new(9999, 1, 1, 0, 0, 0, TimeSpan.Zero);

    /// <summary>What a preview says of an order to a host without a writer; null for other hosts.</summary>
    public static string? Foretold(SiteFacts site, House house, PersonId asks, Roll roll) =>
        house.HabitsOf(site.Host).ByHand is { } how
            ? $"{site.Host} has no writer: {(To(how, asks, roll) is var to && to == asks ? "you get this to do" : $"{roll.Find(to)?.Name} gets this to do")} by hand, by the end of {Day(roll.Time.DayOf(roll.Now).Plus(how.Days))}."
            : null;

    /// <summary>Gives an order to whoever does what is asked of its host; where they have left or nobody is named, to whoever asked.</summary>
    public static HandStep Give(Order order, SiteFacts site, HandKept how, Roll roll)
    {
        var to = To(how, order.By, roll);
        var through = roll.Time.DayOf(roll.Now).Plus(how.Days);
        var hand = new HandOrder
        {
            Order = order.Id,
            To = to,
            GivenAt = roll.Now,
            Through = through,
            Steps = HandKept.For(
                site,
                order.Purpose switch
                {
                    OrderPurpose.Key => how.Key,
                    OrderPurpose.PutAway => how.PutAway,
                    OrderPurpose.BringBack => how.BringBack,
                    _ => how.Reach,
                }
            ),
            Account = how.Account,
            Support = how.Support,
        };
        var given = order.Move(OrderEvent.Send) with
        {
            Attempts = order.Attempts + 1,
            SentAt = roll.Now,
            NextTry = Never,
            DueAt = roll.Time.EndOf(through),
            Words = null,
        };
        return new HandStep(given, hand, null, [Given(given, hand, site, roll.Find(order.By)?.Name ?? "The register")]);
    }

    /// <summary>Hands it on to somebody else, who gets as many days as the first had.</summary>
    public static HandStep HandOn(Order order, HandOrder hand, SiteFacts site, PersonId to, PersonId by, Roll roll)
    {
        var today = roll.Time.DayOf(roll.Now);
        var through = today.Plus(Math.Max(1, hand.Through.DayNumber - roll.Time.DayOf(hand.GivenAt).DayNumber));
        var moved = hand with { To = to, GivenAt = roll.Now, Through = through };
        return new HandStep(
            order with
            {
                DueAt = roll.Time.EndOf(through),
            },
            moved,
            null,
            [
                Given(order, moved, site, roll.Find(by)?.Name ?? "The register"),
                .. hand.To == by
                    ? Array.Empty<Letter>()
                    :
                    [
                        Plain(
                            hand.To,
                            order,
                            "over",
                            roll.Now,
                            $"No longer yours to do: {site.Title}",
                            $"{roll.Find(by)?.Name} has handed it on to {roll.Find(to)?.Name}."
                        ),
                    ],
            ]
        );
    }

    /// <summary>The person says that it is done: what was wished counts as confirmed from now on, until something shows otherwise.</summary>
    public static HandStep Done(Order order, HandOrder hand, SiteFacts site, PersonId by, string? proof, DateTimeOffset now)
    {
        var confirmed = order.Move(OrderEvent.Confirm) with { ConfirmedAt = now, Words = null };
        var said = site.Sharing.Has(out var sharing) ? sharing : null;
        var done = new HostAnswer.Done(
            said is null ? [] : said.Grants.With(order.Wish.Grants),
            said?.OwnLimit,
            order.Wish.Existence == Existence.Attic
                ? new Bin(now, by, Known<DateTimeOffset>.None, Known<DateTimeOffset>.None)
                : null,
            order.Wish.Address
        );
        var after = Intake.Confirm(site, order.Wish, done, now);

        // Where it is not known who is let in, being done does not make the rest of it known.
        return new HandStep(
            confirmed,
            hand with
            {
                DoneBy = by,
                Proof = proof,
                CheckedBy = null,
            },
            said is null ? after with { Sharing = site.Sharing } : after,
            []
        );
    }

    /// <summary>The person says that it cannot be done; whoever asked hears why.</summary>
    public static HandStep Cannot(Order order, HandOrder hand, SiteFacts site, PersonId by, string words, Roll roll) =>
        new(
            order.Move(OrderEvent.Refuse) with
            {
                Words = words,
            },
            hand with
            {
                DoneBy = by,
                Proof = words,
            },
            null,
            order.By == by
                ? []
                :
                [
                    To(
                        order.By,
                        order,
                        hand,
                        $"by-hand:{order.Id}:cannot:{roll.Now.UtcTicks}",
                        $"Cannot be done: {site.Title}",
                        $"{roll.Find(by)?.Name} says of what you asked for at {site.Host}: \"{words}\" Nothing has changed there.",
                        urgent: true
                    ),
                ]
        );

    /// <summary>Whoever asked, or an administrator, wants it no longer.</summary>
    public static HandStep CallBack(Order order, HandOrder hand, SiteFacts site, PersonId by, string? reason, Roll roll) =>
        new(
            order.Move(OrderEvent.CallBack) with
            {
                Words = reason,
            },
            hand,
            null,
            hand.To == by
                ? []
                :
                [
                    Plain(
                        hand.To,
                        order,
                        "called-back",
                        roll.Now,
                        $"No longer to be done: {site.Title}",
                        $"{roll.Find(by)?.Name} has called it back.{(reason is null ? "" : $" \"{reason}\"")}",
                        "What you may have done of it already, please undo, or say so."
                    ),
                ]
        );

    /// <summary>Why somebody cannot be the second person who looks whether it is so; null where they can.</summary>
    public static string? NoCheck(Order order, HandOrder hand, PersonId by) =>
        order.State != OrderState.Confirmed ? "Only what is said to be done can be looked at."
        : hand.DoneBy == by ? "You did it yourself: somebody else has to look, or the next list shows it."
        : null;

    /// <summary>A second person looked and it is so.</summary>
    public static HandStep Checked(Order order, HandOrder hand, PersonId by, DateTimeOffset now) =>
        new(order.Move(OrderEvent.SeenSo) with { SeenAt = now }, hand with { CheckedBy = by }, null, []);

    /// <summary>A second person looked and it is not so: what was before is so still, and the order goes back.</summary>
    public static HandStep NotSo(Order order, HandOrder hand, SiteFacts site, PersonId by, string words, Roll roll)
    {
        var now = roll.Now;
        var before = site with
        {
            Sharing = site.Sharing.Select(sharing =>
                sharing with
                {
                    Grants = sharing.Grants.With(order.Before),
                    At = now,
                    Source = SharingSource.Confirmed,
                }
            ),
        };
        if (order.Wish.Existence is { } wished)
        {
            before = before with
            {
                Existence = wished == Existence.Attic ? Existence.Here : Existence.Attic,
                Bin =
                    wished == Existence.Attic ? null : new Bin(now, null, Known<DateTimeOffset>.None, Known<DateTimeOffset>.None),
                StandsAt = now,
            };
        }

        return Returned(
            order.Move(OrderEvent.SeenOtherwise),
            hand with
            {
                CheckedBy = by,
            },
            site,
            $"{roll.Find(by)?.Name ?? "Somebody"} looked: {words}",
            roll
        ) with
        {
            Site = before,
        };
    }

    /// <summary>A list shows that it is not so.</summary>
    /// <param name="contradicted">The order as the intake left it.</param>
    /// <param name="seen">The site as the list says.</param>
    public static HandStep Disagrees(Order contradicted, HandOrder hand, SiteFacts seen, Roll roll) =>
        Returned(
            contradicted,
            hand,
            seen,
            $"The list as of {Day(seen.SeenAt, roll)} says otherwise: {Difference(contradicted.Wish, seen, roll)}.",
            roll
        );

    /// <summary>When whoever has it leaves, when its last day begins, and when that is over.</summary>
    public static IEnumerable<Due> DueOf(Order order, HandOrder hand, Roll roll, IReadOnlySet<(PersonId, string)> written)
    {
        if (order.State != OrderState.Sent)
        {
            yield break;
        }

        if (hand.To != order.By && !roll.IsHere(hand.To) && roll.IsHere(order.By))
        {
            yield return new Due.HandLeft(roll.Now, order, hand);
            yield break;
        }

        var near = roll.Time.StartOf(hand.Through);
        if (
            near > hand.GivenAt
            && roll.Now < order.DueAt
            && roll.IsHere(hand.To)
            && !written.Contains((hand.To, NearKey(order, hand)))
        )
        {
            yield return new Due.HandNear(near, order, hand);
        }

        if (!written.Any(letter => letter.Item2 == OverdueKey(order, hand)))
        {
            yield return new Due.HandOverdue(order.DueAt, order, hand);
        }
    }

    /// <summary>Whoever had it has left: whoever asked has it now.</summary>
    public static Decision.Plan Left(Order order, HandOrder hand, SiteFacts site, Roll roll)
    {
        var step = HandOn(order, hand, site, order.By, hand.To, roll);
        return new Decision.Plan([step.Order], [Entry("handed-on", "house", step.Order, step.Hand)], Effect.None)
        {
            Hand = step.Hand,
            Letters = [.. step.Letters.Where(letter => letter.To == order.By)],
        };
    }

    public static Decision.Plan Near(Order order, HandOrder hand, SiteFacts site) =>
        Told([
            To(
                hand.To,
                order,
                hand,
                NearKey(order, hand),
                $"To be done by today: {site.Title}",
                $"What you were given to do at {site.Host} for {site.Title} is to be done by the end of today."
            ),
        ]);

    /// <summary>Whoever has it, whoever asked for it and the administrators hear of it.</summary>
    public static Decision.Plan Overdue(
        Order order,
        HandOrder hand,
        SiteFacts site,
        IReadOnlyList<PersonId> administrators,
        Roll roll
    ) =>
        Told([
            .. administrators
                .Append(order.By)
                .Append(hand.To)
                .Distinct()
                .Select(person =>
                    To(
                        person,
                        order,
                        hand,
                        OverdueKey(order, hand),
                        $"Overdue: {site.Title}",
                        $"What {(person == hand.To ? "you were" : $"{roll.Find(hand.To)?.Name} was")} given to do at {site.Host} for {site.Title} was to be done by {Day(hand.Through)}. It is neither done nor refused."
                    )
                ),
        ]) with
        {
            Entries = [Entry("overdue", "house", order, hand)],
        };

    public static Draft Entry(string what, string actor, Order order, HandOrder hand) =>
        new($"by-hand.{what}", actor, $"site:{order.Site.Value.ToString(CultureInfo.InvariantCulture)}")
        {
            OnBehalf = $"person:{order.By.Value.ToString(CultureInfo.InvariantCulture)}",
            After = JournalValue.Of(
                ("order", JournalValue.Of(order.Id.ToString())),
                ("to", JournalValue.Of($"person:{hand.To.Value.ToString(CultureInfo.InvariantCulture)}")),
                ("through", JournalValue.Of(hand.Through.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))),
                ("proof", JournalValue.Of(hand.Proof)),
                ("words", JournalValue.Of(order.Words))
            ),
        };

    /// <summary>What is to be so in the end, a sentence each.</summary>
    public static IReadOnlyList<string> Wanted(Order order, Roll roll)
    {
        var before = order.Before.ToDictionary(change => change.Key, change => change.Wanted);
        var sentences = order
            .Wish.Grants.Select(change =>
                change.Wanted is { } grant ? $"{GrantWords.Who(grant, roll)} can {grant.Power.Word()}, and no more than that."
                : before.GetValueOrDefault(change.Key) is { } was
                    ? $"{GrantWords.Who(was, roll)} can no longer {was.Power.Word()}."
                : $"Nobody gets in by {change.Key}."
            )
            .ToList();
        if (order.Wish.Existence is { } existence)
        {
            sentences.Add(
                existence == Existence.Attic
                    ? "The site is shut to visitors; nothing of it is deleted."
                    : "The site is open again to whoever may get in."
            );
        }

        if (order.Wish.Address is { } address)
        {
            sentences.Add($"The site stands at {address}.");
        }

        return sentences;
    }

    /// <summary>What of a wish is not so, in words; "it" is the site.</summary>
    public static string Difference(Wish wish, SiteFacts seen, Roll roll)
    {
        if (wish.LeftIn(seen) is not { } left)
        {
            return "";
        }

        var grants = seen.Sharing.Has(out var sharing) ? sharing.Grants.ToDictionary(grant => grant.Key) : [];
        var words = left
            .Grants.Select(change =>
                (change.Wanted, Now: grants.GetValueOrDefault(change.Key)) switch
                {
                    (null, { } now) => $"{GrantWords.Who(now, roll)} can still {now.Power.Word()}",
                    ({ } wanted, { } now) =>
                        $"{GrantWords.Who(now, roll)} can {now.Power.Word()}, and is to be able to {wanted.Power.Word()}",
                    ({ } wanted, null) => $"{GrantWords.Who(wanted, roll)} cannot {wanted.Power.Word()}",
                    _ => "",
                }
            )
            .Where(sentence => sentence.Length > 0)
            .ToList();
        if (left.Existence is { } existence)
        {
            words.Add(existence == Existence.Attic ? "it is still in use" : "it is still shut");
        }

        if (left.Address is { } address)
        {
            words.Add($"its address is not {address}");
        }

        return string.Join("; ", words);
    }

    // It comes back with as many days as it had at first.
    private static HandStep Returned(Order contradicted, HandOrder hand, SiteFacts site, string words, Roll roll)
    {
        var days = Math.Max(1, hand.Through.DayNumber - roll.Time.DayOf(hand.GivenAt).DayNumber);
        var through = roll.Time.DayOf(roll.Now).Plus(days);
        var back = hand with { GivenAt = roll.Now, Through = through, Returned = hand.Returned + 1 };
        var order = contradicted.Move(OrderEvent.GiveBack) with
        {
            ConfirmedAt = null,
            SeenAt = null,
            NextTry = Never,
            DueAt = roll.Time.EndOf(through),
            Words = words,
        };
        return new HandStep(
            order,
            back,
            null,
            [
                To(
                    hand.To,
                    order,
                    back,
                    $"by-hand:{order.Id}:back:{back.Returned}",
                    $"Not so yet: {site.Title}",
                    $"You said that it is done. {words}",
                    urgent: true
                ),
            ]
        );
    }

    private static PersonId To(HandKept how, PersonId asks, Roll roll) => how.Doer is { } doer && roll.IsHere(doer) ? doer : asks;

    private static Letter Given(Order order, HandOrder hand, SiteFacts site, string by) =>
        To(
            hand.To,
            order,
            hand,
            $"by-hand:{order.Id}:to:{hand.To.Value}:{hand.GivenAt.UtcTicks}",
            $"To do at {site.Host}: {site.Title}",
            $"{by} asks for something that only a person can do at {site.Host}. It is to be done by {Day(hand.Through)}.",
            urgent: true
        );

    private static Letter To(
        PersonId to,
        Order order,
        HandOrder hand,
        string key,
        string title,
        string sentence,
        bool urgent = false
    ) =>
        new(
            to,
            key,
            title,
            [sentence],
            urgent,
            new LetterLink(
                LinkPurpose.ByHand,
                order.Id.ToString(),
                order.DueAt.AddDays(HandKept.MostDays),
                hand.To == to ? "Look at what is to be done" : "Look at it"
            )
        );

    private static Letter Plain(
        PersonId to,
        Order order,
        string what,
        DateTimeOffset now,
        string title,
        params string[] sentences
    ) => new(to, $"by-hand:{order.Id}:{what}:{now.UtcTicks}", title, sentences, Urgent: true);

    private static Decision.Plan Told(IReadOnlyList<Letter> letters) => new([], [], Effect.None) { Letters = letters };

    private static string NearKey(Order order, HandOrder hand) => $"by-hand:{order.Id}:near:{hand.Through.DayNumber}";

    private static string OverdueKey(Order order, HandOrder hand) => $"by-hand:{order.Id}:overdue:{hand.Through.DayNumber}";

    private static string Day(DateOnly day) => day.ToString("d MMM yyyy", CultureInfo.InvariantCulture);

    private static string Day(DateTimeOffset instant, Roll roll) => Day(roll.Time.DayOf(instant));
}
