using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

public enum BatchState : byte
{
    /// <summary>Planned for each site; nothing is done yet.</summary>
    Planned,
    Running,

    /// <summary>Stopped by a person; what was done stays, and the rest can be resumed.</summary>
    Stopped,
    Ended,
}

public enum BatchEvent : byte
{
    Start,
    Stop,
    Resume,

    /// <summary>No row is waiting any more.</summary>
    Finish,
}

/// <summary>The states of a batch, as a table.</summary>
public static class BatchStates
{
    public static readonly StateTable<BatchState, BatchEvent> Table = new(
        "a batch",
        new()
        {
            [(BatchState.Planned, BatchEvent.Start)] = BatchState.Running,
            [(BatchState.Running, BatchEvent.Stop)] = BatchState.Stopped,
            [(BatchState.Running, BatchEvent.Finish)] = BatchState.Ended,
            [(BatchState.Stopped, BatchEvent.Resume)] = BatchState.Running,
        }
    );
}

/// <summary>One action on many sites, or the remedies of a cause: planned for each, then carried out row by row. A row is decided, written and marked in one
/// transaction, so whatever stops the work, each row is done once or still waits.
/// </summary>
public sealed record Batch
{
    /// <summary>The maximum number of sites.</summary>
    public const int MostSites = 5000;

    /// <summary>A plan that nobody starts is deleted after this.</summary>
    public static readonly TimeSpan PlanKept = TimeSpan.FromDays(1);

    public required BatchId Id { get; init; }

    public required ActionName Action { get; init; }

    /// <summary>The person it is about; null for most actions. <see cref="Group"/>: the group.</summary>
    public PersonId? Person { get; init; }

    public GroupId? Group { get; init; }

    /// <summary>The name of the cause whose findings it ends; null if it is one action for all its sites. Where the cause is a person,
    /// it is about that person.</summary>
    public string? Cause { get; init; }

    public BatchState State { get; init; }

    public required PersonId By { get; init; }

    public string? Reason { get; init; }

    /// <summary>The batch that it undoes.</summary>
    public BatchId? Undoes { get; init; }

    /// <summary>The number of different people to whom the plan gives access somewhere; <see cref="Lose"/>: from whom it removes
    /// some.</summary>
    public int Gain { get; init; }

    public int Lose { get; init; }

    public required DateTimeOffset PlannedAt { get; init; }

    public DateTimeOffset? StartedAt { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    /// <summary>Why the server stopped it; null if a person did.</summary>
    public string? Words { get; init; }

    /// <summary>What is decided for each site that has no request of its own.</summary>
    public BulkRequest Request => new(Action, Person, Group, Reason, Cause: Cause);

    /// <summary>What is decided for one site.</summary>
    public BulkRequest RequestFor(BatchTarget target) => (target.Own ?? Request) with { Reason = Reason };

    /// <summary>The actions of some of its rows, each once.</summary>
    public IReadOnlyList<ActionName> Actions(IEnumerable<BatchLine> lines) =>
        [.. lines.Select(line => RequestFor(line.Target).Action).Distinct()];

    /// <exception cref="InvalidOperationException">The state table has no such transition.</exception>
    public Batch Move(BatchEvent happened) => this with { State = BatchStates.Table.Next(State, happened) };

    public Draft Entry(JournalAction what, EntryActor actor, int sites) =>
        new(what, actor, new EntrySubject.Batch(Id.Value))
        {
            Before = Undoes is { } undone ? JournalValue.Of(("batch", JournalValue.Of(undone.ToString()))) : JournalValue.Null,
            After = JournalValue.Of([
                ("action", JournalValue.Of(Action.Text())),
                .. Person is { } person
                    ? [("person", JournalValue.Of(EntryActor.Of(person)))]
                    : Array.Empty<(string, JournalValue)>(),
                .. Group is { } group ? [("group", JournalValue.Of(group.Value))] : Array.Empty<(string, JournalValue)>(),
                .. Cause is { } rule && Person is null
                    ? [("rule", JournalValue.Of(rule))]
                    : Array.Empty<(string, JournalValue)>(),
                ("sites", JournalValue.Of(sites)),
            ]),
            Reason = what == JournalAction.BatchStarted ? Reason : Words,
        };
}

public enum BatchLineState : byte
{
    /// <summary>Planned, and waiting for its turn.</summary>
    Waiting,

    /// <summary>Carried out; the change has its own state.</summary>
    Carried,
    AsksSecond,

    /// <summary>The effect differs from the planned one, so nothing was done.</summary>
    Changed,
    Refused,

    /// <summary>Left out by the person who planned it.</summary>
    LeftOut,
}

/// <summary>The effect on one site, in a few numbers.</summary>
/// <param name="Gain">The number of people who gain some power; <paramref name="Lose"/>: who lose some.</param>
/// <param name="Cleared">Rules that the site no longer breaks afterwards.</param>
/// <param name="Unaffected">What the action leaves in place.</param>
public sealed record LineEffect(
    int Gain,
    int Lose,
    bool ShutsDoors,
    IReadOnlyList<RuleId> Cleared,
    IReadOnlyList<RuleId> Opened,
    Remark? NeedsSecond,
    IReadOnlyList<Remark> Unaffected,
    bool OpensDoors = false
)
{
    /// <summary>What else to know.</summary>
    public IReadOnlyList<Remark> Advice { get; init; } = [];

    /// <summary>The name that the site has before it is renamed; null if it is not.</summary>
    public string? NameBefore { get; init; }

    public static LineEffect None { get; } = new(0, 0, false, [], [], null, []);

    public static LineEffect Of(Decision.Plan plan) =>
        new(
            plan.Effect.Powers.SelectMany(power => power.Gain).Distinct().Count(),
            plan.Effect.Powers.SelectMany(power => power.Lose).Distinct().Count(),
            plan.Effect.Powers.Any(power => power.Shut.Count > 0),
            plan.Effect.Cleared,
            plan.Effect.Opened,
            plan.NeedsSecond,
            plan.Unaffected,
            plan.Effect.Powers.Any(power => power.Opened.Count > 0)
        )
        {
            Advice = [.. plan.Advice.Where(advice => advice is not AddressStays)],
            NameBefore = plan.Fields.FirstOrDefault(field => field.Field == LookField.Name)?.Before.Or(""),
        };
}

/// <summary>A site for which a batch is planned.</summary>
/// <param name="Undoes">The change to undo on this site, if that is the action.</param>
/// <param name="Own">What is done on this site, if it is not the same on all; its reason is the batch's.</param>
public sealed record BatchTarget(SiteId Site, ChangeId? Undoes = null, BulkRequest? Own = null);

/// <summary>One site of a batch.</summary>
/// <param name="Fingerprint">The fingerprint of the previewed plan; null if there was none.</param>
/// <param name="Refused">Why it was refused.</param>
public sealed record BatchLine(
    BatchId Batch,
    int Place,
    BatchTarget Target,
    BatchLineState State,
    string? Fingerprint,
    LineEffect Effect,
    IReadOnlyList<Remark> Refused,
    ChangeId? HostChange = null,
    ApprovalId? Approval = null
)
{
    public SiteId Site => Target.Site;

    public static BatchLine Planned(BatchId batch, int place, BatchTarget target, Decision decision) =>
        decision switch
        {
            Decision.Plan plan => new BatchLine(
                batch,
                place,
                target,
                BatchLineState.Waiting,
                plan.Fingerprint,
                LineEffect.Of(plan),
                []
            ),
            Decision.Refusal(var reasons) => new BatchLine(
                batch,
                place,
                target,
                BatchLineState.Refused,
                null,
                LineEffect.None,
                reasons
            ),
            _ => throw new InvalidOperationException("A decision is a plan or a refusal."),
        };

    /// <summary>The row after it is decided again on the facts of its turn.</summary>
    public BatchLine Decided(Decision today) =>
        today switch
        {
            Decision.Refusal(var reasons) => this with { State = BatchLineState.Refused, Refused = reasons },
            Decision.Plan plan when plan.Fingerprint != Fingerprint => this with
            {
                State = BatchLineState.Changed,
                Effect = LineEffect.Of(plan),
            },
            Decision.Plan { NeedsSecond: not null } => this with { State = BatchLineState.AsksSecond },
            Decision.Plan plan => this with
            {
                State = BatchLineState.Carried,
                HostChange = plan.HostChanges is [.., { State: not ChangeState.Withdrawn } hostChange] ? hostChange.Id : null,
            },
            _ => throw new InvalidOperationException("A decision is a plan or a refusal."),
        };
}

/// <summary>The outcome of a row, including the state of its change at the host or of its approval.</summary>
public enum BatchOutcome : byte
{
    Waiting,
    UnderWay,
    Done,
    AsksSecond,
    Changed,
    Refused,
    HostRefused,

    /// <summary>The host had confirmed it, and a later sync shows something different.</summary>
    Contradicted,

    /// <summary>Undone, or replaced by another change.</summary>
    Withdrawn,
    LeftOut,
}

public static class BatchOutcomes
{
    /// <param name="hostChange">The state of the row's change; null if it has none.</param>
    /// <param name="second">The state of the request for approval; null if there is none.</param>
    public static BatchOutcome Of(BatchLineState line, ChangeState? hostChange, ApprovalState? second) =>
        line switch
        {
            BatchLineState.Waiting => BatchOutcome.Waiting,
            BatchLineState.Changed => BatchOutcome.Changed,
            BatchLineState.Refused => BatchOutcome.Refused,
            BatchLineState.LeftOut => BatchOutcome.LeftOut,
            BatchLineState.AsksSecond => second switch
            {
                ApprovalState.Requested or null => BatchOutcome.AsksSecond,
                ApprovalState.Approved => BatchOutcome.Done,
                _ => BatchOutcome.Withdrawn,
            },
            _ => hostChange switch
            {
                null or ChangeState.Confirmed or ChangeState.Verified => BatchOutcome.Done,
                ChangeState.Queued or ChangeState.Sent => BatchOutcome.UnderWay,
                ChangeState.Refused or ChangeState.GivenUp => BatchOutcome.HostRefused,
                ChangeState.Contradicted => BatchOutcome.Contradicted,
                _ => BatchOutcome.Withdrawn,
            },
        };
}
