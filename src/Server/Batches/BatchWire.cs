using AtticLedger.Core.Deeds;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Store;

namespace AtticLedger.Server.Batches;

/// <param name="Deed">site.narrow (to what the house permits), site.put-away or key.ask.</param>
/// <param name="Sites">Up to 5,000 ids.</param>
public sealed record BatchPlanWire(string Deed, IReadOnlyList<long> Sites);

/// <param name="Number">The number of sites as it was typed, where the batch wants it.</param>
public sealed record BatchStartWire(int? Number = null, string? Reason = null);

public sealed record BatchIdWire(Guid Id);

public sealed record OutcomeCountWire(BatchOutcome Outcome, int Count);

public sealed record RuleCountWire(RuleWire Rule, int Count);

/// <summary>What the deed comes to over all sites for which it is planned or was done.</summary>
/// <param name="Gain">Different people by name who were planned to gain some power on some site; <paramref name="Lose"/> likewise.</param>
/// <param name="DoorsShut">On how many sites a door to the outside is shut, and <paramref name="DoorsOpened"/> on how many one is opened.</param>
/// <param name="Seconds">On how many a second person has to agree.</param>
/// <param name="Remains">On how many something is left that the deed cannot reach.</param>
public sealed record BatchEffectWire(
    int Gain,
    int Lose,
    int DoorsShut,
    int DoorsOpened,
    IReadOnlyList<RuleCountWire> Cleared,
    IReadOnlyList<RuleCountWire> Opened,
    int Seconds,
    int Remains
);

/// <summary>A batch in a list.</summary>
public sealed record BatchSummaryWire(
    Guid Id,
    string Deed,
    BatchState State,
    PersonWire By,
    string? Reason,
    DateTimeOffset PlannedAt,
    DateTimeOffset? StartedAt,
    int Sites,
    IReadOnlyList<OutcomeCountWire> Counts
)
{
    public static BatchSummaryWire Of(Batch batch, IReadOnlyList<(BatchOutcome Outcome, int Count)> counts, LedgerState state) =>
        new(
            batch.Id.Value,
            batch.Deed,
            batch.State,
            PersonWire.Of(batch.By, state.Roll),
            batch.Reason,
            batch.PlannedAt,
            batch.StartedAt,
            counts.Sum(one => one.Count),
            [.. counts.OrderBy(one => one.Outcome).Select(one => new OutcomeCountWire(one.Outcome, one.Count))]
        );
}

/// <summary>One deed on many sites.</summary>
/// <param name="MaySteer">Whether the viewer planned it.</param>
/// <param name="WantsNumber">Whether the number of sites has to be typed to start it.</param>
/// <param name="Words">Why it was stopped, where it was not by hand.</param>
/// <param name="Counts">How many lines stand where; outcomes that none has are left out.</param>
/// <param name="MayUndo">Whether the viewer can plan to take back what was done.</param>
/// <param name="Undoes">The batch that this one takes back.</param>
/// <param name="UndoneBy">The batch that took this one back, or is doing so; null where there is none that the viewer may look at.</param>
public sealed record BatchWire(
    Guid Id,
    string Deed,
    BatchState State,
    PersonWire By,
    bool MaySteer,
    string? Reason,
    DateTimeOffset PlannedAt,
    DateTimeOffset? StartedAt,
    DateTimeOffset? EndedAt,
    string? Words,
    int Sites,
    bool WantsNumber,
    IReadOnlyList<OutcomeCountWire> Counts,
    BatchEffectWire Effect,
    bool MayUndo,
    Guid? Undoes,
    Guid? UndoneBy
)
{
    public static BatchWire Of(
        Batch batch,
        IReadOnlyList<BatchLineRow> lines,
        (BatchId Id, bool MayLook)? undoneBy,
        LedgerState state,
        Viewer viewer
    )
    {
        var seen = BatchLineWire.Seen(lines, state, viewer).ToList();
        return new BatchWire(
            batch.Id.Value,
            batch.Deed,
            batch.State,
            PersonWire.Of(batch.By, state.Roll),
            batch.By == viewer.Person,
            batch.Reason,
            batch.PlannedAt,
            batch.StartedAt,
            batch.EndedAt,
            batch.Words,
            seen.Count,
            BulkDeeds.WantsNumber(batch.Deed),
            [
                .. seen.CountBy(one => one.Row.Outcome)
                    .OrderBy(pair => pair.Key)
                    .Select(pair => new OutcomeCountWire(pair.Key, pair.Value)),
            ],
            EffectOf(batch, [.. seen.Select(one => one.Row.Line)], state),
            undoneBy is null
                && viewer.MayAct
                && batch.State is BatchState.Stopped or BatchState.Ended
                && BulkDeeds.UndoOf(batch.Deed) is not null
                && seen.Any(one => one.Row.WasDone),
            batch.Undoes?.Value,
            undoneBy is { MayLook: true } by ? by.Id.Value : null
        );
    }

    private static BatchEffectWire EffectOf(Batch batch, IReadOnlyList<BatchLine> all, LedgerState state)
    {
        var lines = all.Where(line => line.State is not (BatchLineState.Refused or BatchLineState.Changed))
            .Select(line => line.Effect)
            .ToList();
        IReadOnlyList<RuleCountWire> Rules(Func<LineEffect, IEnumerable<RuleId>> of) =>
            [
                .. lines
                    .SelectMany(of)
                    .CountBy(rule => rule)
                    .OrderByDescending(pair => pair.Value)
                    .ThenBy(pair => pair.Key.Value, StringComparer.Ordinal)
                    .Select(pair => new RuleCountWire(RuleWire.Of(pair.Key, state.Rules), pair.Value)),
            ];
        return new BatchEffectWire(
            batch.Gain,
            batch.Lose,
            lines.Count(line => line.ShutsDoors),
            lines.Count(line => line.OpensDoors),
            Rules(line => line.Cleared),
            Rules(line => line.Opened),
            lines.Count(line => line.NeedsSecond is not null),
            lines.Count(line => line.Remains.Count > 0)
        );
    }
}

/// <summary>One site of a batch, and where it stands.</summary>
/// <param name="Words">Why it was refused, by the rules of the deed or by the host, in sentences.</param>
/// <param name="Remains">What the deed cannot reach, in sentences.</param>
public sealed record BatchLineWire(
    long Site,
    string Title,
    string? Address,
    BatchOutcome Outcome,
    int Gain,
    int Lose,
    bool ShutsDoors,
    bool OpensDoors,
    IReadOnlyList<RuleWire> Cleared,
    IReadOnlyList<RuleWire> Opened,
    string? NeedsSecond,
    IReadOnlyList<string> Remains,
    IReadOnlyList<string> Words,
    Guid? Order,
    Guid? Approval
)
{
    /// <summary>The lines whose sites the viewer may see.</summary>
    public static IEnumerable<(BatchLineRow Row, SheetLine Site)> Seen(
        IReadOnlyList<BatchLineRow> lines,
        LedgerState state,
        Viewer viewer
    )
    {
        var seen = state.Seen(viewer.SightOn(state.Roll));
        foreach (var row in lines)
        {
            if (seen.Find(row.Line.Site) is { } site)
            {
                yield return (row, site);
            }
        }
    }

    public static BatchLineWire Of(BatchLineRow row, SheetLine site, LedgerState state)
    {
        var line = row.Line;
        return new BatchLineWire(
            line.Site.Value,
            site.Title,
            site.Address.Has(out var address) ? address : null,
            row.Outcome,
            line.Effect.Gain,
            line.Effect.Lose,
            line.Effect.ShutsDoors,
            line.Effect.OpensDoors,
            [.. line.Effect.Cleared.Select(rule => RuleWire.Of(rule, state.Rules))],
            [.. line.Effect.Opened.Select(rule => RuleWire.Of(rule, state.Rules))],
            line.Effect.NeedsSecond,
            line.Effect.Remains,
            row.HostWords is { } words ? [.. line.Words, words] : line.Words,
            line.Order?.Value,
            line.Approval?.Value
        );
    }
}

public sealed record BatchLinesWire(int Total, IReadOnlyList<BatchLineWire> Lines);
