using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>Sends a change to any host so that it has its effect exactly once.</summary>
public static class Dispatch
{
    /// <summary>Where no pictures are kept.</summary>
    public static readonly Func<string, Task<byte[]?>> NoPictures = _ => Task.FromResult<byte[]?>(null);

    /// <summary>Sends a change from its queue. If the host does not recognise repeated changes, an earlier
    /// attempt may have had its effect, or half of it, although the response was lost: the site is read first, and only the
    /// missing part is sent.
    /// </summary>
    /// <param name="known">The register's people and groups; loaded only if the site is read back.</param>
    /// <param name="picture">The picture with a hash that is kept here; null if there is none.</param>
    public static async Task<HostReply> Bring(
        this ISiteHost host,
        HostChange hostChange,
        string siteKey,
        Func<Task<Resolution>> known,
        Func<string, Task<byte[]?>> picture,
        DateTimeOffset now,
        CancellationToken stop
    )
    {
        if (host.Capabilities.KnowsRepeats || hostChange.Attempts == 1)
        {
            return await host.Carry(hostChange.Id, siteKey, hostChange.WantedState, picture, stop);
        }

        try
        {
            if (await host.ReadSite(siteKey, stop) is { } said && said.Sharing.Has(out var sharing))
            {
                return hostChange.WantedState.LeftIn((await known()).Site(host.Name, said, now)) is { } left
                    ? await host.Carry(hostChange.Id, siteKey, left, picture, stop)
                    : new HostReply.Done(sharing, said.Bin, said.Address.Has(out var address) ? address : null);
            }
        }
        catch (HostException fault)
        {
            return new HostReply.Lost(fault.Message);
        }

        return await host.Carry(hostChange.Id, siteKey, hostChange.WantedState, picture, stop);
    }

    /// <summary>Sends a wanted state to the capability that it needs.</summary>
    public static async Task<HostReply> Carry(
        this ISiteHost host,
        ChangeId hostChange,
        string siteKey,
        WantedState wanted,
        Func<string, Task<byte[]?>> picture,
        CancellationToken stop
    )
    {
        try
        {
            return (wanted.Existence, host) switch
            {
                (null, IChangesLook looks) when wanted.Look is { } look => await looks.Present(
                    hostChange,
                    siteKey,
                    await Look(look, picture),
                    stop
                ),
                (null, IChangesAddress moves) when wanted.Address is { } address => await moves.Readdress(
                    hostChange,
                    siteKey,
                    address,
                    wanted.ForwardUntil,
                    wanted.SwapWith,
                    stop
                ),
                (null, ISharesSites shares) when wanted is { Address: null, Look: null } => await shares.Share(
                    hostChange,
                    siteKey,
                    wanted.Grants,
                    stop
                ),
                (Existence.Attic, IDeletesSites deletes) => await deletes.Delete(hostChange, siteKey, stop),
                (Existence.InUse, IDeletesSites deletes) => await deletes.Restore(
                    hostChange,
                    siteKey,
                    wanted.Grants,
                    wanted.Address,
                    stop
                ),
                _ => new HostReply.Refused($"{host.Name} cannot do this."),
            };
        }
        catch (HostException fault)
        {
            // Whether it had an effect is not known.
            return new HostReply.Lost(fault.Message);
        }
    }

    private static async Task<HostLook> Look(WantedLook look, Func<string, Task<byte[]?>> picture) =>
        new(
            look.Name,
            look.Description,
            look.Logo is not { } logo ? null
                : logo is { Source: LogoSource.KeptWithSite, From: { } hash }
                    ? new HostLogo(
                        logo.Source,
                        null,
                        await picture(hash) ?? throw new HostException("The picture of the logo is no longer kept here.")
                    )
                : new HostLogo(logo.Source, logo.From, null)
        );
}
