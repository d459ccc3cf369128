using System.Globalization;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>The state of a request to start a site, from the request until it is in use.</summary>
public enum SiteRequestState : byte
{
    /// <summary>It waits for an administrator or steward.</summary>
    Requested,

    /// <summary>It was granted, and is made step by step.</summary>
    BeingMade,

    /// <summary>The host refused a step, or it was tried too often: a person decides how it goes on.</summary>
    Stopped,

    InUse,
    Refused,

    /// <summary>It was withdrawn, has lapsed, or nobody goes on with it.</summary>
    GivenUp,
}

public enum SiteRequestEvent : byte
{
    Grant,
    Refuse,
    Withdraw,
    Lapse,

    /// <summary>A step is done, and others are left.</summary>
    StepDone,

    /// <summary>A step has to be tried again.</summary>
    Wait,
    Stop,
    Resume,
    GiveUp,

    /// <summary>The last step is done.</summary>
    Finish,
}

/// <summary>The states of a request to start a site, as a table.</summary>
public static class SiteRequestStates
{
    public static readonly StateTable<SiteRequestState, SiteRequestEvent> Table = new(
        "a request to start a site",
        new()
        {
            [(SiteRequestState.Requested, SiteRequestEvent.Grant)] = SiteRequestState.BeingMade,
            [(SiteRequestState.Requested, SiteRequestEvent.Refuse)] = SiteRequestState.Refused,
            [(SiteRequestState.Requested, SiteRequestEvent.Withdraw)] = SiteRequestState.GivenUp,
            [(SiteRequestState.Requested, SiteRequestEvent.Lapse)] = SiteRequestState.GivenUp,
            [(SiteRequestState.BeingMade, SiteRequestEvent.StepDone)] = SiteRequestState.BeingMade,
            [(SiteRequestState.BeingMade, SiteRequestEvent.Wait)] = SiteRequestState.BeingMade,
            [(SiteRequestState.BeingMade, SiteRequestEvent.Stop)] = SiteRequestState.Stopped,
            [(SiteRequestState.BeingMade, SiteRequestEvent.Finish)] = SiteRequestState.InUse,
            [(SiteRequestState.Stopped, SiteRequestEvent.Resume)] = SiteRequestState.BeingMade,
            [(SiteRequestState.Stopped, SiteRequestEvent.GiveUp)] = SiteRequestState.GivenUp,
        }
    );

    /// <summary>While it is open, its address is held for it.</summary>
    public static bool IsOpen(this SiteRequestState state) =>
        state is SiteRequestState.Requested or SiteRequestState.BeingMade or SiteRequestState.Stopped;
}

/// <summary>One step of making a site at its host. Each names an end state, so doing it again changes nothing.</summary>
public enum MakingStep : byte
{
    /// <summary>The site itself, at its address.</summary>
    Site,

    /// <summary>The group of its editors, with its mail alias.</summary>
    Group,
    People,
    Tags,
    StarterPages,

    /// <summary>The settings at the host are read and compared with what was granted.</summary>
    ReadBack,
}

/// <summary>A request to start a site, and how far it is made.</summary>
public sealed record SiteRequest
{
    public required RequestId Id { get; init; }

    public SiteRequestState State { get; init; }

    public required NewSite Wanted { get; init; }

    public required string Host { get; init; }

    /// <summary>The whole address, which is held for it while it is open.</summary>
    public required string Address { get; init; }

    /// <summary>The whole mail alias, held likewise; null if it gets none.</summary>
    public string? MailAlias { get; init; }

    public required PersonId By { get; init; }

    public required DateTimeOffset RequestedAt { get; init; }

    /// <summary>The last day on which it can be answered.</summary>
    public required DateOnly Through { get; init; }

    public PersonId? AnsweredBy { get; init; }

    public DateTimeOffset? AnsweredAt { get; init; }

    /// <summary>The reason for the answer.</summary>
    public string? Answer { get; init; }

    public ValueList<MakingStep> Steps { get; init; } = [];

    /// <summary>The number of steps that are done.</summary>
    public int Done { get; init; }

    /// <summary>True if a person makes it, at a host without a connector that makes sites.</summary>
    public bool IsByHand => !Steps.Contains(MakingStep.People);

    /// <summary>How often the current step was tried.</summary>
    public int Attempts { get; init; }

    public DateTimeOffset NextTry { get; init; }

    public string? Lease { get; init; }

    public DateTimeOffset? LeaseUntil { get; init; }

    /// <summary>The latest message of the host, verbatim.</summary>
    public string? Words { get; init; }

    /// <summary>The host's key of the site, once it has one.</summary>
    public string? HostKey { get; init; }

    /// <summary>The site in the register, once it was read back.</summary>
    public SiteId? Site { get; init; }

    /// <summary>The change that restricts what the host had set wider than granted.</summary>
    public ChangeId? Restriction { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    public MakingStep? Step => State is SiteRequestState.BeingMade or SiteRequestState.Stopped ? Steps[Done] : null;

    /// <exception cref="InvalidOperationException">The state table has no such transition.</exception>
    public SiteRequest Move(SiteRequestEvent happened) => this with { State = SiteRequestStates.Table.Next(State, happened) };

    public Draft Entry(JournalAction what, EntryActor actor) =>
        new(what, actor, new EntrySubject.Request(Id.Value))
        {
            OnBehalf = actor == EntryActor.Of(By) ? null : EntryActor.Of(By),
            After = JournalValue.Of(
                ("name", JournalValue.Of(Wanted.Name)),
                ("address", JournalValue.Of(Address)),
                ("kind", JournalValue.Of(Wanted.Kind)),
                ("owners", JournalValue.Of(Wanted.Owners.Select(person => JournalValue.Of(EntryActor.Of(person))))),
                ("through", JournalValue.Of(Through.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture))),
                ("message", JournalValue.Of(Words))
            ),
            Reason = what == JournalAction.RequestGranted || what == JournalAction.RequestRefused ? Answer : null,
        };
}
