using AtticLedger.Core.Actions;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;

namespace AtticLedger.Server.Batches;

/// <param name="Action">site.restrict (to what policy allows), site.move-to-attic, owner.asked, owner.offer (one more owner),
/// access.remove, offer.accept or exception.grant.</param>
/// <param name="Sites">Up to 5,000 ids; null for all on which the person or group is granted something by name.</param>
/// <param name="Person">Who becomes an owner, or whose access is removed; <paramref name="Group"/>: the group whose access is
/// removed.</param>
/// <param name="Host">Without sites: only those of this host.</param>
/// <param name="WithBelow">For site.move-to-attic: also the sites below each, which are moved first.</param>
/// <param name="Rule">For exception.grant: the rule's id; <paramref name="Through"/>: the last day.</param>
public sealed record BatchPlanRequest(
    string Action,
    IReadOnlyList<long>? Sites,
    long? Person = null,
    long? Group = null,
    string? Host = null,
    string? Reason = null,
    bool? WithBelow = null,
    string? Rule = null,
    DateOnly? Through = null
);

/// <param name="Number">The number of sites as it was typed, if the batch requires it.</param>
/// <param name="Password">The password, entered again to confirm, if the batch requires it.</param>
public sealed record BatchStartRequest(int? Number = null, string? Reason = null, string? Password = null);

/// <param name="Cause">The name of a cause that the desk shows.</param>
public sealed record RemediesRequest(string Cause);

/// <param name="Sites">Some sites of the plan; null for all.</param>
/// <param name="Action">What is done there instead, where it is one of the choices; the batch's own for what is proposed; null to
/// leave them out.</param>
/// <param name="Person">For owner.offer: who is asked; null for who is proposed.</param>
/// <param name="Through">For exception.grant: the last day; null for the one that is proposed.</param>
/// <param name="Name">For site.look: the new name; null for the one that is planned.</param>
public sealed record BatchAdjustRequest(
    IReadOnlyList<long>? Sites,
    ActionName? Action,
    long? Person = null,
    DateOnly? Through = null,
    string? Name = null
);

public enum RenamingWay
{
    /// <summary>Other words in the place of some.</summary>
    Replace,

    /// <summary>Words before the name.</summary>
    Begin,

    /// <summary>Without filler words and versions.</summary>
    Tidy,

    /// <summary>As a list says.</summary>
    List,
}

/// <param name="Way">replace, begin, tidy or list.</param>
/// <param name="Sites">Up to 5,000 ids; null for a list, which names its sites itself.</param>
/// <param name="Find">For replace: the words that are replaced wherever they stand as whole words, without regard to
/// case.</param>
/// <param name="Words">For replace: what takes their place, which can be nothing. For begin: what every name begins with; in it
/// {unit} stands for the code of the site's unit.</param>
/// <param name="List">For list: a table as text, separated by tabs, commas or semicolons. Its first line names the columns "site"
/// (the address or the name that the site has) and "new name".</param>
/// <param name="Reason">The comment, which the owners read.</param>
public sealed record RenamingRequest(
    RenamingWay Way,
    IReadOnlyList<long>? Sites = null,
    string? Find = null,
    string? Words = null,
    string? List = null,
    string? Reason = null
);

public sealed record BatchIdResponse(Guid Id);

public sealed record NamedAtHost(string Host, int Sites);

/// <summary>A person or a group with what is granted to them by name on sites in use.</summary>
/// <param name="HasLeft">True if it is a person who has left.</param>
/// <param name="Title">The name of the site that was asked for; null if there is none.</param>
public sealed record NamedAccessResponse(string Name, bool HasLeft, IReadOnlyList<NamedAtHost> Hosts, string? Title);

public sealed record OutcomeCount(BatchOutcome Outcome, int Count);

public sealed record RuleCount(RuleResponse Rule, int Count);

/// <summary>The effect of the action over all sites for which it is planned or was done.</summary>
/// <param name="Gain">The number of different people who gain a power on any of the sites; <paramref name="Lose"/>
/// likewise.</param>
/// <param name="DoorsShut">The number of sites on which access from outside is closed; <paramref name="DoorsOpened"/>:
/// opened.</param>
/// <param name="Seconds">The number of sites that need a second person's approval.</param>
/// <param name="Unaffected">The number of sites on which the action leaves some access in place.</param>
public sealed record BatchEffect(
    int Gain,
    int Lose,
    int DoorsShut,
    int DoorsOpened,
    IReadOnlyList<RuleCount> Cleared,
    IReadOnlyList<RuleCount> Opened,
    int Seconds,
    int Unaffected
);

/// <summary>A batch, as lists show it.</summary>
/// <param name="About">The name of the person, group or cause that it is about; null if it is about none.</param>
public sealed record BatchSummary(
    Guid Id,
    ActionName Action,
    string? About,
    BatchState State,
    PersonResponse By,
    string? Reason,
    DateTimeOffset PlannedAt,
    DateTimeOffset? StartedAt,
    int Sites,
    IReadOnlyList<OutcomeCount> Counts
)
{
    public static BatchSummary Of(Batch batch, IReadOnlyList<(BatchOutcome Outcome, int Count)> counts, LedgerState state) =>
        new(
            batch.Id.Value,
            batch.Action,
            NameOf(batch, state),
            batch.State,
            PersonResponse.Of(batch.By, state.PeopleDirectory),
            batch.Reason,
            batch.PlannedAt,
            batch.StartedAt,
            counts.Sum(one => one.Count),
            [.. counts.OrderBy(one => one.Outcome).Select(one => new OutcomeCount(one.Outcome, one.Count))]
        );

    /// <summary>The name of the person, group or cause that a batch is about; null if it is about none.</summary>
    internal static string? NameOf(Batch batch, LedgerState state) =>
        batch.Cause is { } cause
            ? Cause.Title(cause, state.Rules, state.PeopleDirectory)
            : NameOf(batch.Person, batch.Group, state);

    internal static string? NameOf(PersonId? person, GroupId? group, LedgerState state) =>
        person is { } one ? state.PeopleDirectory.Find(one)?.Name ?? "somebody"
        : group is { } of ? state.PeopleDirectory.Find(of)?.Name ?? "a group"
        : null;
}

/// <summary>One action on many sites.</summary>
/// <param name="MaySteer">True if the viewer planned it.</param>
/// <param name="WantsNumber">True if the number of sites has to be typed to start it.</param>
/// <param name="WantsPassword">True if the password has to be entered to start it.</param>
/// <param name="WantsReason">True if it does not start without a reason.</param>
/// <param name="MayAdjust">True if the viewer can choose another action for its sites; leaving sites out is possible for every
/// plan.</param>
/// <param name="MayRename">True if the viewer can choose another name for each of its sites.</param>
/// <param name="Words">Why the server stopped it; null if a person did.</param>
/// <param name="Counts">The number of rows per outcome; outcomes without rows are omitted.</param>
/// <param name="MayUndo">True if the viewer can plan to undo it.</param>
/// <param name="Undoes">The batch that this one undoes.</param>
/// <param name="UndoneBy">The batch that undid or is undoing this one; null if there is none in the viewer's sight.</param>
public sealed record BatchResponse(
    Guid Id,
    ActionName Action,
    string? About,
    BatchState State,
    PersonResponse By,
    bool MaySteer,
    string? Reason,
    DateTimeOffset PlannedAt,
    DateTimeOffset? StartedAt,
    DateTimeOffset? EndedAt,
    string? Words,
    int Sites,
    bool WantsNumber,
    bool WantsPassword,
    bool WantsReason,
    bool MayAdjust,
    bool MayRename,
    IReadOnlyList<OutcomeCount> Counts,
    BatchEffect Effect,
    bool MayUndo,
    Guid? Undoes,
    Guid? UndoneBy
)
{
    public static BatchResponse Of(
        Batch batch,
        IReadOnlyList<BatchLineRow> lines,
        (BatchId Id, bool MayLook)? undoneBy,
        LedgerState state,
        Viewer viewer
    )
    {
        var seen = BatchLineResponse.Seen(batch, lines, state, viewer).ToList();
        var waiting = batch.Actions(lines.Select(row => row.Line).Where(line => line.State == BatchLineState.Waiting));
        return new BatchResponse(
            batch.Id.Value,
            batch.Action,
            BatchSummary.NameOf(batch, state),
            batch.State,
            PersonResponse.Of(batch.By, state.PeopleDirectory),
            batch.By == viewer.Person,
            batch.Reason,
            batch.PlannedAt,
            batch.StartedAt,
            batch.EndedAt,
            batch.Words,
            seen.Count,
            waiting.Any(BulkActions.WantsNumber),
            waiting.Any(BulkActions.WantsPassword),
            viewer.MayAct && waiting.Any(action => BulkActions.WantsReason(action, viewer.Actor())),
            batch is { State: BatchState.Planned, Cause: not null, Undoes: null } && batch.By == viewer.Person,
            batch is { State: BatchState.Planned, Action: ActionName.SiteLook, Undoes: null } && batch.By == viewer.Person,
            [
                .. seen.CountBy(one => one.Row.Outcome)
                    .OrderBy(pair => pair.Key)
                    .Select(pair => new OutcomeCount(pair.Key, pair.Value)),
            ],
            EffectOf(batch, [.. seen.Select(one => one.Row.Line)], state),
            undoneBy is null
                && viewer.MayAct
                && batch.State is BatchState.Stopped or BatchState.Ended
                && seen.Any(one =>
                    one.Row.WasDone && BulkActions.UndoOf(batch.RequestFor(one.Row.Line.Target).Action) is not null
                ),
            batch.Undoes?.Value,
            undoneBy is { MayLook: true } by ? by.Id.Value : null
        );
    }

    private static BatchEffect EffectOf(Batch batch, IReadOnlyList<BatchLine> all, LedgerState state)
    {
        // A line that was refused at its turn has its planned effect, one that was never possible has none.
        var lines = all.Where(line => line.State is not (BatchLineState.Changed or BatchLineState.LeftOut))
            .Select(line => line.Effect)
            .ToList();
        IReadOnlyList<RuleCount> Rules(Func<LineEffect, IEnumerable<RuleId>> of) =>
            [
                .. lines
                    .SelectMany(of)
                    .CountBy(rule => rule)
                    .OrderByDescending(pair => pair.Value)
                    .ThenBy(pair => pair.Key.Value, StringComparer.Ordinal)
                    .Select(pair => new RuleCount(RuleResponse.Of(pair.Key, state.Rules), pair.Value)),
            ];
        return new BatchEffect(
            batch.Gain,
            batch.Lose,
            lines.Count(line => line.ShutsDoors),
            lines.Count(line => line.OpensDoors),
            Rules(line => line.Cleared),
            Rules(line => line.Opened),
            lines.Count(line => line.NeedsSecond is not null),
            lines.Count(line => line.Unaffected.Count > 0)
        );
    }
}

/// <summary>One site of a batch with its outcome, or one of the choices for it.</summary>
/// <param name="Action">What is done on this site.</param>
/// <param name="About">The name of the person or group that this is about; null if it is about none.</param>
/// <param name="Rule">The rule from which an exception is granted, through the end of <paramref name="Through"/>.</param>
/// <param name="NameBefore">The name that the site has before it is renamed to <paramref name="Name"/>; null if it is not.</param>
/// <param name="Advice">What else to know, in sentences.</param>
/// <param name="Refused">Why the action is refused; <paramref name="HostMessage"/>: what the host answered.</param>
/// <param name="Unaffected">What the action leaves in place, in sentences.</param>
public sealed record BatchLineResponse(
    long Site,
    string Title,
    string? Address,
    ActionName Action,
    string? About,
    RuleResponse? Rule,
    DateOnly? Through,
    string? Name,
    string? NameBefore,
    BatchOutcome Outcome,
    int Gain,
    int Lose,
    bool ShutsDoors,
    bool OpensDoors,
    IReadOnlyList<RuleResponse> Cleared,
    IReadOnlyList<RuleResponse> Opened,
    string? NeedsSecond,
    IReadOnlyList<string> Unaffected,
    IReadOnlyList<string> Advice,
    IReadOnlyList<RemarkResponse> Refused,
    string? HostMessage,
    Guid? HostChange,
    Guid? Approval
)
{
    /// <summary>The rows whose sites are in the viewer's scope; of offers that the viewer accepts, all.</summary>
    public static IEnumerable<(BatchLineRow Row, RegisterRow Site)> Seen(
        Batch batch,
        IReadOnlyList<BatchLineRow> lines,
        LedgerState state,
        Viewer viewer
    )
    {
        var seen = state.Seen(
            batch.Action == ActionName.OfferAccept && batch.By == viewer.Person
                ? new Scope.Everything()
                : viewer.ScopeOn(state.PeopleDirectory)
        );
        foreach (var row in lines)
        {
            if (seen.Find(row.Line.Site) is { } site)
            {
                yield return (row, site);
            }
        }
    }

    public static BatchLineResponse Of(Batch batch, BatchLineRow row, RegisterRow site, LedgerState state)
    {
        var line = row.Line;
        var request = batch.RequestFor(line.Target);
        return new BatchLineResponse(
            line.Site.Value,
            site.Title,
            site.Address.Has(out var address) ? address : null,
            request.Action,
            BatchSummary.NameOf(request.Person, request.Group, state),
            request.Rule is { } rule ? RuleResponse.Of(rule, state.Rules) : null,
            request.Through,
            request.Name,
            line.Effect.NameBefore,
            row.Outcome,
            line.Effect.Gain,
            line.Effect.Lose,
            line.Effect.ShutsDoors,
            line.Effect.OpensDoors,
            [.. line.Effect.Cleared.Select(cleared => RuleResponse.Of(cleared, state.Rules))],
            [.. line.Effect.Opened.Select(opened => RuleResponse.Of(opened, state.Rules))],
            line.Effect.NeedsSecond is { } second ? RemarkSentence.Of(second) : null,
            RemarkSentence.Of(line.Effect.Unaffected),
            RemarkSentence.Of(line.Effect.Advice),
            RemarkResponse.Of(line.Refused),
            row.HostWords,
            line.HostChange?.Value,
            line.Approval?.Value
        );
    }
}

public sealed record BatchLines(int Total, IReadOnlyList<BatchLineResponse> Lines);
