using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>What a deed is decided on.</summary>
/// <param name="Lane">The site's orders that are open, and for an undo the order it is about.</param>
public sealed record DeedFacts(SiteFacts Site, IReadOnlyList<Order> Lane, House House, Rules.RuleBook Rules, People.Roll Roll)
{
    public DateTimeOffset Now => Roll.Now;
}

/// <summary>Who wishes it.</summary>
public sealed record Doer(PersonId Person)
{
    public string InJournal => $"person:{Person.Value}";
}

/// <summary>What a deed comes to: a plan, or a refusal with every reason. A preview returns it; carrying out decides again and commits it.</summary>
public abstract record Decision
{
    private Decision()
    {
    }

    /// <param name="Orders">Orders that are new or have moved, in this order.</param>
    /// <param name="Effect">What is predicted, once all orders are confirmed.</param>
    /// <param name="Remains">What the deed cannot reach, in sentences that say what to do instead.</param>
    public sealed record Plan(
        IReadOnlyList<Order> Orders, IReadOnlyList<Draft> Entries, Effect Effect, IReadOnlyList<string> Remains) : Decision
    {
        /// <summary>The same for the same effect: what a preview hands out and carrying out compares.</summary>
        public string Fingerprint => Head.HashOf(Effect.InJournal.Canonical());
    }

    public sealed record Refusal(IReadOnlyList<string> Reasons) : Decision;
}
