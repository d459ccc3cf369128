using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Work;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Execution;

/// <summary>Reads the facts of an action: from a snapshot for a preview, from the committing transaction when it is carried
/// out. Never from the index.</summary>
public sealed record FactReader(NpgsqlConnection Connection, PeopleDirectories Directories, DateTimeOffset Now)
{
    public static FactReader Of(Database database, NpgsqlConnection connection) =>
        new(connection, database.PeopleDirectories, database.Now);

    public static FactReader Of(Change change) => new(change.Connection, change.PeopleDirectories, change.Now);

    public Task<OrganisationTime> Time() => Connection.OrganisationTime();

    public async Task<Core.People.PeopleDirectory> PeopleDirectory() => await Directories.Of(Connection, Now, await Time());

    /// <summary>The site if the scope sees it.</summary>
    public async Task<SiteFacts?> Site(SiteId id, Scope scope) => (await Connection.Sites(scope, [id])).SingleOrDefault();
}

/// <summary>What an action comes to on the facts: a plan with the fingerprint of its effect, a refusal with every reason, or
/// nothing to act on that the viewer may see.</summary>
public abstract record Decided<TPlan>
{
    private Decided() { }

    /// <param name="What">What there is none of, for the message: "site".</param>
    public sealed record NotSeen(string What) : Decided<TPlan>;

    /// <param name="Record">What is written nevertheless, such as that a request has become void.</param>
    public sealed record Refused(IReadOnlyList<Remark> Reasons, Func<Change, Task>? Record = null) : Decided<TPlan>;

    /// <summary>The effect is another than the one that was agreed to.</summary>
    /// <param name="Record">What is written nevertheless, such as that a second person is asked again.</param>
    public sealed record Another(TPlan Plan, Func<Change, Task>? Record = null) : Decided<TPlan>;

    /// <param name="Fingerprint">Equal for equal effects.</param>
    public sealed record Planned(TPlan Plan, string Fingerprint) : Decided<TPlan>;

    public static Decided<TPlan> Refuse(params IReadOnlyList<Remark> reasons) => new Refused(reasons);
}

/// <summary>What was written: the place in the feed from which on it can be seen, and what the answer says.</summary>
public sealed record Written<TDone>(long Place, TDone Done);

/// <summary>An action as somebody requests it: what it reads and decides, and what it writes. The executor does the rest, the same
/// for every action: see <see cref="ActionExecutor"/>.</summary>
/// <typeparam name="TPlan">What is decided; what a preview shows follows from it.</typeparam>
/// <typeparam name="TDone">What the answer says; stored, so that a repeated request gets the same.</typeparam>
public abstract class RequestedAction<TPlan, TDone>
{
    public abstract ActionName Name { get; }

    /// <summary>The token of the link in a mail, which the action uses up.</summary>
    public virtual string? Link => null;

    /// <summary>Reads the facts and decides on them.</summary>
    public abstract Task<Decided<TPlan>> Decide(FactReader facts);

    /// <summary>Writes what was decided, in the transaction in which it was decided.</summary>
    public abstract Task<Written<TDone>> Write(Change change, TPlan plan);

    /// <summary>Stores the request for a second person instead, if the plan needs one; null if it needs none.</summary>
    public virtual Task<Written<TDone>?> AskSecond(Change change, TPlan plan) => Task.FromResult<Written<TDone>?>(null);

    /// <summary>What has work to do once it is committed.</summary>
    public virtual IReadOnlyList<WorkKind> Wakes => [];
}
