using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

/// <summary>What a deed is decided on.</summary>
/// <param name="Lane">The site's orders.</param>
public sealed record DeedFacts(SiteFacts Site, IReadOnlyList<Order> Lane, House House, Rules.RuleBook Rules, People.Roll Roll)
{
    public DateTimeOffset Now => Roll.Now;

    /// <summary>Offers of this site's keys that are open.</summary>
    public IReadOnlyList<Offer> Offers { get; init; } = [];

    /// <summary>The stay in the attic that is open, or null.</summary>
    public Stay? Stay { get; init; }

    /// <summary>Holds on this site, those that have ended too.</summary>
    public IReadOnlyList<Hold> Holds { get; init; } = [];

    public Surroundings Around { get; init; } = new();

    /// <summary>Who is told what administrators have to hear of.</summary>
    public IReadOnlyList<PersonId> Administrators { get; init; } = [];

    public Clock? Clock =>
        Stay is { State: StayState.Kept or StayState.Due or StayState.Returning } stay
            ? Attic.Clock.Of(stay.ClockFacts(Site, House, Holds), Roll.Time, Now)
            : null;
}

/// <summary>What stands around a site in the register, as far as deeds on it touch it.</summary>
public sealed record Surroundings
{
    /// <summary>Sites in use that are children of this one.</summary>
    public IReadOnlyList<SiteFacts> Children { get; init; } = [];

    /// <summary>Other sites in use that the group which goes with this one opens.</summary>
    public IReadOnlyList<SiteFacts> OpenedByGroup { get; init; } = [];

    /// <summary>The sites in use on the same host.</summary>
    public Neighbours OnHost { get; init; } = new([]);

    /// <summary>What whoever acts may see: others of these sites are counted, and never named.</summary>
    public Sight Sight { get; init; } = new Sight.Everything();

    /// <summary>How a site is called to whoever acts.</summary>
    public string NameOf(SiteFacts site) => Sight.Sees(site) ? site.Title : "A site that you may not see";
}

/// <summary>In which capacity somebody acts.</summary>
public enum Capacity : byte
{
    Owner,
    Steward,
    Administrator,
}

/// <summary>Who wishes it, and who has agreed as the second person.</summary>
public sealed record Doer(PersonId Person, Capacity As = Capacity.Administrator, PersonId? Second = null)
{
    public string InJournal => $"person:{Person.Value}";

    /// <summary>Whether they decide on other people's leaving and absence, and so hear of the days.</summary>
    public bool KnowsDays => As != Capacity.Owner;

    /// <summary>The product itself, for what was decided earlier and falls due.</summary>
    public static Doer House { get; } = new(default(PersonId));
}

/// <summary>What a deed comes to: a plan, or a refusal with every reason. A preview returns it; carrying out decides again and commits it.</summary>
public abstract record Decision
{
    private Decision() { }

    /// <param name="Orders">Orders that are new or have moved, in this order.</param>
    /// <param name="Effect">What is predicted, once all orders are confirmed.</param>
    public sealed record Plan(IReadOnlyList<Order> Orders, IReadOnlyList<Draft> Entries, Effect Effect) : Decision
    {
        /// <summary>What the deed cannot reach, in sentences that say what to do instead.</summary>
        public IReadOnlyList<string> Remains { get; init; } = [];

        /// <summary>What goes along without a deed of its own, in sentences.</summary>
        public IReadOnlyList<string> Along { get; init; } = [];

        /// <summary>Offers that are new or have moved.</summary>
        public IReadOnlyList<Offer> Offers { get; init; } = [];

        /// <summary>The stay in the attic that begins or has moved.</summary>
        public Stay? Stay { get; init; }

        /// <summary>The hold that is placed, with id 0, or released.</summary>
        public Hold? Hold { get; init; }

        /// <summary>The excuse that is given, with id 0, or ended.</summary>
        public Excuse? Excuse { get; init; }

        /// <summary>The order by hand that has moved.</summary>
        public HandOrder? Hand { get; init; }

        /// <summary>The person whose standing has changed with the days.</summary>
        public People.Person? Person { get; init; }

        public IReadOnlyList<Letter> Letters { get; init; } = [];

        public Loss? Loss { get; init; }

        /// <summary>How sure the deed wants to be.</summary>
        public Sureness Sure { get; init; }

        /// <summary>Why a second person has to agree, in a sentence; null where none has to.</summary>
        public string? NeedsSecond { get; init; }

        /// <summary>The fingerprint of a plan that changes nothing anybody could have been shown.</summary>
        public static string NothingPredicted => new Plan([], [], Effect.None).Fingerprint;

        /// <summary>The same for the same effect: what a preview hands out and carrying out compares.</summary>
        public string Fingerprint =>
            Head.HashOf(
                JournalValue
                    .Of(
                        ("effect", Effect.InJournal),
                        ("loss", Loss is { } loss ? loss.InJournal : JournalValue.Null),
                        (
                            "excuse",
                            Excuse is { } excuse
                                ? JournalValue.Of(excuse.Distance.Select(step => JournalValue.Of(step)))
                                : JournalValue.Null
                        ),
                        ("along", JournalValue.Of(Along.Select(sentence => JournalValue.Of(sentence)))),
                        ("second", JournalValue.Of(NeedsSecond))
                    )
                    .Canonical()
            );
    }

    public sealed record Refusal(IReadOnlyList<string> Reasons) : Decision;
}
