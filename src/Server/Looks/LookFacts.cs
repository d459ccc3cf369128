using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Store;

namespace AtticLedger.Server.Looks;

/// <summary>Reads what a change of look or address has to know beside the facts of every action.</summary>
internal static class LookFacts
{
    public static async Task<ActionFacts> WithLogo(
        this FactReader reader,
        ActionFacts facts,
        WantedLogoRequest? logo,
        Func<PeopleDirectory, Scope> scope
    ) =>
        facts with
        {
            Around = facts.Around with
            {
                Other = logo is { Source: LogoSource.Borrowed, Site: { } lender }
                    ? await reader.Site(new SiteId(lender), scope(facts.PeopleDirectory))
                    : null,
                HasPicture =
                    logo is { Source: LogoSource.KeptWithSite, Picture: { } hash } && await reader.Connection.HasPicture(hash),
            },
        };

    /// <param name="own">The chosen part of the wanted address.</param>
    public static async Task<ActionFacts> WithAddress(
        this FactReader reader,
        ActionFacts facts,
        string own,
        bool swap,
        Func<PeopleDirectory, Scope> scope
    )
    {
        var (site, seen) = (facts.Site, scope(facts.PeopleDirectory));
        if (ChangeAddress.FormOf(site, facts.Organisation) is not { } form)
        {
            return facts;
        }

        var holders = await reader.Connection.HoldersOf(site.Host, form.Whole(own));
        var visible = (
            await reader.Connection.Sites(seen, [.. holders.Select(holder => holder.Site).OfType<SiteId>()])
        ).ToDictionary(one => one.Id);
        return facts with
        {
            Around = facts.Around with
            {
                Other = swap
                    ? holders
                        .Where(holder => holder.As == HeldAs.InUse && holder.Site is { } its && its != site.Id)
                        .Select(holder => visible.GetValueOrDefault(holder.Site!.Value))
                        .FirstOrDefault()
                    : null,
                Address = new AroundAddress(
                    new AddressBook(facts.Organisation.ReservedAddresses).With(StartSite.Own(form, holders)),
                    visible.ContainsKey,
                    await reader.LinksTo(site, seen)
                ),
            },
        };
    }

    /// <summary>The pages that link to a site: to its address, to one that forwards to it, or to a web domain of it.</summary>
    public static async Task<LinksHere> LinksTo(this FactReader reader, SiteFacts site, Scope seen)
    {
        List<string> addresses =
        [
            .. site.Address.Has(out var address) ? [address] : Array.Empty<string>(),
            .. site.Forwards.Or([]).Select(forward => forward.Address),
            .. site.Domains.Or([]),
        ];
        var links = await reader.Connection.LinksTo(addresses, site.Id);
        var visible = (await reader.Connection.Sites(seen, [.. links.Sites.Select(link => link.Site)]))
            .Select(one => one.Id)
            .ToHashSet();
        return links with { Sites = [.. links.Sites.Select(link => link with { IsSeen = visible.Contains(link.Site) })] };
    }
}
