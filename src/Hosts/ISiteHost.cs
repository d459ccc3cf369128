using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>A connector to a host. What every host can do is to report its sites; each further capability is an interface of its
/// own, and a connector has those that its host has.
/// </summary>
/// <remarks>
/// <para>The contract of every change, which one suite of tests asks of every connector:</para>
/// <para>Idempotency: a change has an id. A host that <see cref="HostCapabilities.KnowsRepeats"/> gets the id with the request and
/// carries it out once, however often it is sent. For another host the sender reads the site back before it tries again
/// (<see cref="Dispatch"/>), so a change has to state an end state, never a difference.</para>
/// <para>Partial failure: what is asked of a connector in one call may become several requests. It makes those first that let
/// fewer people in, and after a failure it replies with the failure: what is missing is sent again, and what was done is no harm
/// to do again.</para>
/// <para>A change never throws for a fault of the host or of the network: that is a reply. It is refused only if the host
/// understood it and will not do it; whatever may have had an effect is lost.</para>
/// <para>Reading: a site that is not understood costs its own line, which the page names as refused; a list that may be
/// incomplete ends in a <see cref="HostException"/>, never early.</para>
/// </remarks>
public interface ISiteHost
{
    /// <summary>The host's name, as screens show it.</summary>
    string Name { get; }

    HostCapabilities Capabilities { get; }

    /// <summary>As in its last response; null if not reported.</summary>
    HostBudget? Budget => null;

    Task<HostSetting> ReadSetting(CancellationToken stop);

    /// <summary>All sites, including those in the host's bin, page by page. Ending without an exception means a complete
    /// sync.</summary>
    /// <param name="from">The bookmark of an interrupted sync; null for a complete one.</param>
    /// <exception cref="BeginAgainException">The bookmark has expired.</exception>
    /// <exception cref="HostException">The sync failed; the message says why.</exception>
    IAsyncEnumerable<HostPage> ReadSites(string? from, CancellationToken stop);

    /// <summary>One site, in use or in the bin; null if the host has no such site.</summary>
    /// <exception cref="HostException">The host did not report it.</exception>
    Task<HostSite?> ReadSite(string key, CancellationToken stop);
}

/// <summary>A host that reports what has changed since the last sync.</summary>
public interface IReportsChanges : ISiteHost
{
    /// <summary>The changes since a bookmark; without one, only the current bookmark.</summary>
    /// <exception cref="BeginAgainException">The bookmark is too old: a complete sync is needed.</exception>
    Task<HostChanges> ReadChanges(string? mark, CancellationToken stop);
}

/// <summary>A host that keeps earlier states of a site.</summary>
public interface IKeepsStates : ISiteHost
{
    /// <summary>The states of a site that were saved since an instant.</summary>
    /// <exception cref="HostException">The host did not report them.</exception>
    Task<IReadOnlyList<HostState>> ReadStates(string key, DateTimeOffset since, CancellationToken stop);
}

/// <summary>A host where access to a site can be changed.</summary>
public interface ISharesSites : ISiteHost
{
    /// <param name="grants">By key: the wanted grant, or null to remove it. Grants that are not named stay.</param>
    Task<HostReply> Share(ChangeId hostChange, string siteKey, IReadOnlyList<GrantChange> grants, CancellationToken stop);
}

/// <summary>A host where a site can be deleted, and restored while it is kept.</summary>
public interface IDeletesSites : ISiteHost
{
    /// <summary>Into its bin; a host without one shuts the site and keeps it.</summary>
    Task<HostReply> Delete(ChangeId hostChange, string siteKey, CancellationToken stop);

    /// <param name="grants">The access that it has from its first moment on.</param>
    /// <param name="address">A new address, if its own is taken.</param>
    Task<HostReply> Restore(
        ChangeId hostChange,
        string siteKey,
        IReadOnlyList<GrantChange> grants,
        string? address,
        CancellationToken stop
    );
}

/// <summary>A host where name, description or logo of a site can be changed, as its capabilities say.</summary>
public interface IChangesLook : ISiteHost
{
    Task<HostReply> Present(ChangeId hostChange, string siteKey, HostLook look, CancellationToken stop);
}

/// <summary>A host where the address of a site can be changed.</summary>
public interface IChangesAddress : ISiteHost
{
    /// <param name="forwardUntil">Until when the old address forwards to the new one; null if it does not.</param>
    /// <param name="swapWith">The key of the site that has the new address and gets the old one.</param>
    Task<HostReply> Readdress(
        ChangeId hostChange,
        string siteKey,
        string address,
        DateTimeOffset? forwardUntil,
        string? swapWith,
        CancellationToken stop
    );
}

/// <summary>A host whose pages can be read.</summary>
public interface IReadsPages : ISiteHost
{
    /// <summary>The pages of a site in use; null if the host withholds them.</summary>
    /// <exception cref="HostException">The host did not report them.</exception>
    Task<IReadOnlyList<HostPageContent>?> ReadPages(string key, CancellationToken stop);
}

/// <summary>A host where sites can be made.</summary>
public interface IMakesSites : ISiteHost
{
    /// <summary>Makes one step. A step states an end state: made again for the same request, it changes nothing, and the reply to
    /// the first step names the same site.</summary>
    /// <param name="siteKey">The host's key of the site; null for the first step.</param>
    /// <param name="isRepeat">True if an earlier attempt may have had its effect: a host that does not recognise repeats is read
    /// first.</param>
    Task<HostReply> Make(
        RequestId request,
        NewHostSite site,
        MakingStep step,
        string? siteKey,
        bool isRepeat,
        CancellationToken stop
    );
}
