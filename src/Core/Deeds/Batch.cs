using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Deeds;

public enum BatchState : byte
{
    /// <summary>Planned for each site; nothing is done yet.</summary>
    Planned,
    Running,

    /// <summary>Somebody stopped it; what was done stays, the rest can go on.</summary>
    Stopped,
    Ended,
}

public enum BatchEvent : byte
{
    Start,
    Stop,
    Resume,

    /// <summary>No line waits any more.</summary>
    Finish,
}

/// <summary>Which events a batch's state allows and where they lead. The screen's buttons come from this table too.</summary>
public static class BatchStates
{
    private static readonly Dictionary<(BatchState, BatchEvent), BatchState> Moves = new()
    {
        [(BatchState.Planned, BatchEvent.Start)] = BatchState.Running,
        [(BatchState.Running, BatchEvent.Stop)] = BatchState.Stopped,
        [(BatchState.Running, BatchEvent.Finish)] = BatchState.Ended,
        [(BatchState.Stopped, BatchEvent.Resume)] = BatchState.Running,
    };

    public static BatchState? After(BatchState state, BatchEvent happened) =>
        Moves.TryGetValue((state, happened), out var next) ? next : null;
}

/// <summary>
/// One deed on many sites: planned for each of them, then carried out line by line. A line is decided, written and
/// marked in one transaction, so that whatever stops the work, each line is done once or still waits.
/// </summary>
public sealed record Batch
{
    /// <summary>So many sites at the most.</summary>
    public const int MostSites = 5000;

    /// <summary>A plan that nobody carries out is forgotten after this.</summary>
    public static readonly TimeSpan PlanKept = TimeSpan.FromDays(1);

    public required BatchId Id { get; init; }

    public required string Deed { get; init; }

    public BatchState State { get; init; }

    public required PersonId By { get; init; }

    public string? Reason { get; init; }

    /// <summary>The batch that it takes back.</summary>
    public BatchId? Undoes { get; init; }

    /// <summary>How many different people by name the plan lets in somewhere; <see cref="Lose"/> whom it takes something from.</summary>
    public int Gain { get; init; }

    public int Lose { get; init; }

    public required DateTimeOffset PlannedAt { get; init; }

    public DateTimeOffset? StartedAt { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    /// <summary>Why it was stopped, where it was not by hand.</summary>
    public string? Words { get; init; }

    /// <exception cref="InvalidOperationException">The state table has no such move.</exception>
    public Batch Move(BatchEvent happened) =>
        BatchStates.After(State, happened) is { } next
            ? this with
            {
                State = next,
            }
            : throw new InvalidOperationException($"A batch that is {State} cannot {happened}.");

    public Draft Entry(string what, string actor, int sites) =>
        new($"batch.{what}", actor, $"batch:{Id}")
        {
            Before = Undoes is { } undone ? JournalValue.Of(("batch", JournalValue.Of(undone.ToString()))) : JournalValue.Null,
            After = JournalValue.Of(("deed", JournalValue.Of(Deed)), ("sites", JournalValue.Of(sites))),
            Reason = what == "started" ? Reason : Words,
        };
}

public enum BatchLineState : byte
{
    /// <summary>Planned, and to be carried out when its turn comes.</summary>
    Waiting,

    /// <summary>Carried out; what became of the order says the order.</summary>
    Carried,
    AsksSecond,

    /// <summary>The effect is another than the one that was planned, so nothing was done.</summary>
    Changed,
    Refused,
}

/// <summary>What a line would come to, in a few numbers.</summary>
/// <param name="Gain">How many people by name gain some power; <paramref name="Lose"/> likewise.</param>
/// <param name="Cleared">Rules that the site keeps afterwards.</param>
/// <param name="Remains">What the deed cannot reach, in sentences.</param>
public sealed record LineEffect(
    int Gain,
    int Lose,
    bool ShutsDoors,
    IReadOnlyList<RuleId> Cleared,
    IReadOnlyList<RuleId> Opened,
    string? NeedsSecond,
    IReadOnlyList<string> Remains,
    bool OpensDoors = false
)
{
    public static LineEffect None { get; } = new(0, 0, false, [], [], null, []);

    public static LineEffect Of(Decision.Plan plan) =>
        new(
            plan.Effect.Powers.SelectMany(power => power.Gain).Distinct().Count(),
            plan.Effect.Powers.SelectMany(power => power.Lose).Distinct().Count(),
            plan.Effect.Powers.Any(power => power.Shut.Count > 0),
            plan.Effect.Cleared,
            plan.Effect.Opened,
            plan.NeedsSecond,
            plan.Remains,
            plan.Effect.Powers.Any(power => power.Opened.Count > 0)
        );
}

/// <summary>A site that a batch is planned for.</summary>
/// <param name="Undoes">The order that is to be taken back there, where that is the deed.</param>
public sealed record BatchTarget(SiteId Site, OrderId? Undoes = null);

/// <summary>One site of a batch.</summary>
/// <param name="Fingerprint">Of the plan that was shown; null where there was none.</param>
/// <param name="Words">Why it was refused, in sentences.</param>
public sealed record BatchLine(
    BatchId Batch,
    int Place,
    BatchTarget Target,
    BatchLineState State,
    string? Fingerprint,
    LineEffect Effect,
    IReadOnlyList<string> Words,
    OrderId? Order = null,
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

    /// <summary>What becomes of the line when it is decided again on the facts of its turn.</summary>
    public BatchLine Decided(Decision today) =>
        today switch
        {
            Decision.Refusal(var reasons) => this with { State = BatchLineState.Refused, Words = reasons },
            Decision.Plan plan when plan.Fingerprint != Fingerprint => this with
            {
                State = BatchLineState.Changed,
                Effect = LineEffect.Of(plan),
            },
            Decision.Plan { NeedsSecond: not null } => this with { State = BatchLineState.AsksSecond },
            Decision.Plan plan => this with
            {
                State = BatchLineState.Carried,
                Order = plan.Orders is [.., { State: not OrderState.Withdrawn } order] ? order.Id : null,
            },
            _ => throw new InvalidOperationException("A decision is a plan or a refusal."),
        };
}

/// <summary>Where a line stands, as screens show it: with what became of its order or of the question to a second person.</summary>
public enum BatchOutcome : byte
{
    Waiting,
    UnderWay,
    Done,
    AsksSecond,
    Changed,
    Refused,
    HostRefused,

    /// <summary>The host had confirmed it, and a later read shows something else.</summary>
    Contradicted,

    /// <summary>Taken back, or another order took its place.</summary>
    Withdrawn,
}

public static class BatchOutcomes
{
    /// <param name="order">The state of the line's order; null where it has none.</param>
    /// <param name="second">The state of what waits for a second person; null where nothing does.</param>
    public static BatchOutcome Of(BatchLineState line, OrderState? order, ApprovalState? second) =>
        line switch
        {
            BatchLineState.Waiting => BatchOutcome.Waiting,
            BatchLineState.Changed => BatchOutcome.Changed,
            BatchLineState.Refused => BatchOutcome.Refused,
            BatchLineState.AsksSecond => second switch
            {
                ApprovalState.Asked or null => BatchOutcome.AsksSecond,
                ApprovalState.Given => BatchOutcome.Done,
                _ => BatchOutcome.Withdrawn,
            },
            _ => order switch
            {
                null or OrderState.Confirmed or OrderState.Seen => BatchOutcome.Done,
                OrderState.Asked or OrderState.Sent => BatchOutcome.UnderWay,
                OrderState.Refused or OrderState.GivenUp => BatchOutcome.HostRefused,
                OrderState.Contradicted => BatchOutcome.Contradicted,
                _ => BatchOutcome.Withdrawn,
            },
        };
}
