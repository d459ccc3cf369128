using AtticLedger.Core.Attic;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The facts on which an action is decided.</summary>
/// <param name="ChangeQueue">The site's changes.</param>
public sealed record ActionFacts(
    SiteFacts Site,
    IReadOnlyList<HostChange> ChangeQueue,
    Organisation Organisation,
    Rules.RuleBook Rules,
    People.PeopleDirectory PeopleDirectory
)
{
    public DateTimeOffset Now => PeopleDirectory.Now;

    /// <summary>Open offers of ownership of this site.</summary>
    public IReadOnlyList<Offer> Offers { get; init; } = [];

    /// <summary>The open attic entry, or null.</summary>
    public AtticEntry? AtticEntry { get; init; }

    /// <summary>Holds on this site, including ended ones.</summary>
    public IReadOnlyList<Hold> Holds { get; init; } = [];

    /// <summary>Questions to its owners that have not ended.</summary>
    public IReadOnlyList<OwnerQuestion> Questions { get; init; } = [];

    /// <summary>Invitations to this site that have not been ended.</summary>
    public IReadOnlyList<Invitation> Invitations { get; init; } = [];

    public Surroundings Around { get; init; } = new();

    /// <summary>The administrators to notify.</summary>
    public IReadOnlyList<PersonId> Administrators { get; init; } = [];

    public Clock? Clock =>
        AtticEntry is { State: AtticState.InAttic or AtticState.Due or AtticState.Restoring } atticEntry
            ? Attic.Clock.Of(atticEntry.ClockFacts(Site, Organisation, Holds), PeopleDirectory.Time, Now)
            : null;
}

/// <summary>The related sites in the register that an action on a site affects.</summary>
public sealed record Surroundings
{
    /// <summary>Sites in use that are children of this one.</summary>
    public IReadOnlyList<SiteFacts> Children { get; init; } = [];

    /// <summary>Other sites in use to which the removed group gives access.</summary>
    public IReadOnlyList<SiteFacts> OpenedByGroup { get; init; } = [];

    /// <summary>The sites in use on the same host.</summary>
    public Neighbours OnHost { get; init; } = new([]);

    /// <summary>What matters for a change of its address; null for all other actions.</summary>
    public AroundAddress? Address { get; init; }

    /// <summary>True if the picture of the wanted logo is kept here, so that it can be sent to the host.</summary>
    public bool HasPicture { get; init; }

    /// <summary>Other sites in use that show the logo of this one.</summary>
    public IReadOnlyList<SiteFacts> Borrowers { get; init; } = [];

    /// <summary>The other site that an action names: whose logo is borrowed, or with which addresses are exchanged.</summary>
    public SiteFacts? Other { get; init; }

    /// <summary>The sites in the actor's scope: others are counted and never named.</summary>
    public Scope Scope { get; init; } = new Scope.Everything();
}

/// <summary>The capacity in which a person acts.</summary>
public enum Capacity : byte
{
    Owner,
    Steward,
    Administrator,
}

/// <summary>The requester, and the second person who has agreed.</summary>
public sealed record Actor(PersonId Person, Capacity As = Capacity.Administrator, PersonId? Second = null)
{
    public EntryActor InJournal => EntryActor.Of(Person);

    /// <summary>True if they decide about other people's leaving and absence, and may see the days.</summary>
    public bool KnowsDays => As != Capacity.Owner;

    /// <summary>The product itself, when an earlier decision falls due.</summary>
    public static Actor Product { get; } = new(default(PersonId));
}

/// <summary>The decision on an action: a plan, or a refusal with every reason. A preview returns it; carrying out decides again
/// and commits it.</summary>
public abstract record Decision
{
    private Decision() { }

    /// <param name="HostChanges">New and updated changes, in this sequence.</param>
    /// <param name="Effect">What is predicted, once all changes are confirmed.</param>
    public sealed record Plan(IReadOnlyList<HostChange> HostChanges, IReadOnlyList<Draft> Entries, Effect Effect) : Decision
    {
        /// <summary>What the action leaves in place, and what to do instead.</summary>
        public IReadOnlyList<Remark> Unaffected { get; init; } = [];

        /// <summary>Side effects, in sentences.</summary>
        public IReadOnlyList<string> SideEffects { get; init; } = [];

        /// <summary>New and updated offers.</summary>
        public IReadOnlyList<Offer> Offers { get; init; } = [];

        /// <summary>The new or updated attic entry.</summary>
        public AtticEntry? AtticEntry { get; init; }

        /// <summary>The hold that is placed (with id 0) or released.</summary>
        public Hold? Hold { get; init; }

        /// <summary>The exception that is granted (with id 0) or ended.</summary>
        public RuleException? Exception { get; init; }

        /// <summary>The new or updated question to owners.</summary>
        public OwnerQuestion? Question { get; init; }

        /// <summary>The new or updated invitation.</summary>
        public Invitation? Invitation { get; init; }

        /// <summary>A person in the effect who is not in the register yet.</summary>
        public People.Person? Newcomer { get; init; }

        /// <summary>The updated manual task.</summary>
        public ManualTask? ManualTask { get; init; }

        /// <summary>The person whose standing has changed by the passing of days.</summary>
        public People.Person? Person { get; init; }

        public IReadOnlyList<Notification> Notifications { get; init; } = [];

        public Loss? Loss { get; init; }

        /// <summary>What becomes different of how the site presents itself.</summary>
        public IReadOnlyList<FieldChange> Fields { get; init; } = [];

        /// <summary>What a changed address means for others; null where none changes.</summary>
        public AddressImpact? AddressImpact { get; init; }

        /// <summary>What else is to know before it is carried out.</summary>
        public IReadOnlyList<Remark> Advice { get; init; } = [];

        /// <summary>The number of sites outside the viewer's scope that show the logo that changes or vanishes.</summary>
        public int HiddenBorrowers { get; init; }

        /// <summary>The confirmation that the action requires.</summary>
        public ConfirmationLevel Confirmation { get; init; }

        /// <summary>Why a second person has to agree; null if none has to.</summary>
        public Remark? NeedsSecond { get; init; }

        /// <summary>The fingerprint of a plan without a visible effect.</summary>
        public static string NothingPredicted => new Plan([], [], Effect.None).Fingerprint;

        /// <summary>Equal for equal effects: a preview returns it, and carrying out compares it.</summary>
        public string Fingerprint =>
            Head.HashOf(
                JournalValue
                    .Of(
                        ("effect", Effect.InJournal),
                        ("loss", Loss is { } loss ? loss.InJournal : JournalValue.Null),
                        (
                            "exception",
                            Exception is { } exception
                                ? JournalValue.Of(exception.Distance.Select(step => JournalValue.Of(step)))
                                : JournalValue.Null
                        ),
                        ("along", JournalValue.Of(SideEffects.Select(sentence => JournalValue.Of(sentence)))),
                        ("second", JournalValue.Of(NeedsSecond?.ToString())),
                        ("fields", JournalValue.Of(Fields.Select(one => one.InJournal))),
                        ("address", AddressImpact?.InJournal ?? JournalValue.Null)
                    )
                    .Canonical()
            );
    }

    public sealed record Refusal(IReadOnlyList<Remark> Reasons) : Decision;
}
