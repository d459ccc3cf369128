using System.Text.Json;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Execution;

/// <summary>The result of an action.</summary>
public abstract record ActionOutcome<TPlan, TDone>
{
    private ActionOutcome() { }

    public sealed record NotSeen(string What) : ActionOutcome<TPlan, TDone>;

    public sealed record Refused(IReadOnlyList<Remark> Reasons) : ActionOutcome<TPlan, TDone>;

    /// <summary>The effect is another than the previewed one: nothing was done.</summary>
    public sealed record Another(TPlan Plan) : ActionOutcome<TPlan, TDone>;

    /// <param name="Place">The place in the feed: a client that sends it back sees the action.</param>
    public sealed record Done(long Place, TDone Result) : ActionOutcome<TPlan, TDone>;

    /// <summary>The link in the mail is not valid.</summary>
    public sealed record BadLink(LinkFault Fault) : ActionOutcome<TPlan, TDone>;

    /// <summary>The key was used before for another request.</summary>
    public sealed record KeyUsed : ActionOutcome<TPlan, TDone>;
}

/// <summary>The one way of every action. A preview decides on a snapshot. Carrying out decides again in the committing transaction:
/// the account has to be unchanged, a repeated key gets the earlier answer, a link has to be valid, another effect than the
/// previewed one is not carried out, and a plan that needs a second person waits for one.
/// </summary>
public sealed class ActionExecutor(Database database)
{
    private sealed record Answer<TDone>(long Place, TDone Done);

    public Task<Decided<TPlan>> Preview<TPlan, TDone>(RequestedAction<TPlan, TDone> action) =>
        database.Read(connection => action.Decide(FactReader.Of(database, connection)));

    /// <param name="fingerprint">The fingerprint of the previewed plan; null for an action without choices, which has no
    /// preview.</param>
    /// <param name="key">The Idempotency-Key: the same request under the same key gets the same answer and is done once.</param>
    public Task<ActionOutcome<TPlan, TDone>> Carry<TPlan, TDone>(
        Viewer viewer,
        RequestedAction<TPlan, TDone> action,
        string? fingerprint,
        string key,
        string requestHash
    ) =>
        database.Change<ActionOutcome<TPlan, TDone>>(async change =>
        {
            await change.AskStill(viewer);
            if (await change.Connection.Answered(viewer.Account, key) is { } before)
            {
                return before.RequestHash != requestHash ? new ActionOutcome<TPlan, TDone>.KeyUsed()
                    : JsonSerializer.Deserialize<Answer<TDone>>(before.Body)! is var (place, done)
                        ? new ActionOutcome<TPlan, TDone>.Done(place, done)
                    : throw new InvalidOperationException("An answer has a place and a result.");
            }

            if (action.Link is { } token && await Links.Fault(change, token, viewer.Person) is { } fault)
            {
                await change.Append([Links.Refused(viewer, fault)]);
                return new ActionOutcome<TPlan, TDone>.BadLink(fault);
            }

            switch (await action.Decide(FactReader.Of(change)))
            {
                case Decided<TPlan>.NotSeen(var what):
                    return new ActionOutcome<TPlan, TDone>.NotSeen(what);
                case Decided<TPlan>.Refused(var reasons, var record):
                    await (record?.Invoke(change) ?? Task.CompletedTask);
                    return new ActionOutcome<TPlan, TDone>.Refused(reasons);
                case Decided<TPlan>.Another(var changed, var record):
                    await (record?.Invoke(change) ?? Task.CompletedTask);
                    return new ActionOutcome<TPlan, TDone>.Another(changed);
                case Decided<TPlan>.Planned(var other, var its) when fingerprint is not null && its != fingerprint:
                    return new ActionOutcome<TPlan, TDone>.Another(other);
                case Decided<TPlan>.Planned(var plan, _):
                    var written = await action.AskSecond(change, plan);
                    if (written is null)
                    {
                        if (action.Link is { } used)
                        {
                            await change.UseLink(LinkTokens.HashOf(used));
                        }

                        written = await action.Write(change, plan);
                    }

                    await change.Answer(
                        viewer.Account,
                        key,
                        requestHash,
                        StatusCodes.Status200OK,
                        JsonSerializer.Serialize(new Answer<TDone>(written.Place, written.Done))
                    );
                    return new ActionOutcome<TPlan, TDone>.Done(written.Place, written.Done);
                default:
                    throw new InvalidOperationException("A decision is a plan, a refusal, or about nothing.");
            }
        });
}
