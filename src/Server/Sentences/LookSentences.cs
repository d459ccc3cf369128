using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class LookSentences
{
    public static string Of(LookRemark remark) =>
        remark switch
        {
            LookFixed(var host, var field) => $"{host} does not let the {Labels.Of(field)} of a site be changed from here.",
            LogoSourceFixed(var host, LogoSource.KeptWithSite) => $"{host} does not take a picture from here.",
            LogoSourceFixed(var host, LogoSource.Borrowed) => $"{host} does not show the logo of another site.",
            LogoSourceFixed(var host, _) => $"{host} does not show a logo from another server.",
            LookIsSo => "Nothing is different. Change something first.",
            NameStaysElsewhere(var name, var isHome, var host) =>
                $"{(isHome ? "Its home page goes on being called" : "Its pages go on showing the name")} \"{name}\". An editor changes that at {host}.",
            NameUsedToo(var sites) => sites.Count > 1 && sites.Distinct().Count() == 1
                ? $"{sites.Count} other sites are named {sites[0]}."
                : $"{Some(sites)} {(sites.Count == 1 ? "has" : "have")} the same name, or nearly so.",
            AddressStays(var address) => $"The address stays {address}, so links and bookmarks go on working.",
            LenderMissing(var host) => $"Choose another site at {host} that is in use and in your scope.",
            LenderWithoutLogo(var title) => $"{title} keeps no logo of its own, so it has none to lend.",
            LogoDependsOnSite(var title) =>
                $"The logo stays with {title}: it vanishes when that site is moved to the attic, and changes with it.",
            LogoDependsOnLink(var server) =>
                $"The logo stays at {server}: it vanishes or changes when somebody changes it there, and {server} sees every visit. Keeping a copy with the site lasts.",
            LogoLinkMalformed => "A linked logo needs an address that begins with https://, without a user name.",
            PictureGone => "The picture is no longer kept here. Choose it again.",
            PictureRefused(var fault) => $"{fault}",
            FormerLogoNotKept =>
                "The logo before was kept with the site, and there is no copy of it here. Choose a picture instead.",
            LookChangedLater => "It was changed again later. Undoing would overwrite that change.",
            FormerLookUnknown(var host) => $"{host} did not report what it was before, so it cannot be brought back from here.",
            LogoBorrowedBy(var sites) => $"{Some(sites)} {(sites.Count == 1 ? "shows" : "show")} its logo.",
            NameMeetsDemand =>
                "Another name can meet it. No name is proposed; while you type one, the preview says whether it does.",
            NearNamesDecide =>
                "One of the two sites gets another name or moves to the attic, or somebody says that both are right. Near names shows the pairs; they are counted again within a minute.",
            NoNameProposed => "None of the sites gets another name this way. Choose other words.",
            AddressIsSo(var address) => $"The address is {address} already.",
            AddressFormUnknown(var host) => $"Which addresses {host} gives is not known, so none can be given from here.",
            ForwardNotOffered(var host) => $"{host} does not forward former addresses. Choose not to forward.",
            ForwardDaysOutOfRange(var host, var maximum) => $"{host} forwards a former address for 0 to {maximum} days.",
            SwapNotOffered(var host) =>
                $"{host} cannot exchange two addresses at once. Give the other site another address first.",
            SwapPartnerMissing(var address) => $"No site in use in your scope has the address {address}.",
            SwapForwardsNothing => "In an exchange the old address goes to the other site, so it cannot forward.",
            DomainsStay(var domains) => $"{Some(domains)} {(domains.Count == 1 ? "goes" : "go")} on showing the site.",
            AddressNotForwarded(var address) => $"{address} leads nowhere from then on: links and bookmarks to it break.",
            _ => throw Missing(remark),
        };
}
