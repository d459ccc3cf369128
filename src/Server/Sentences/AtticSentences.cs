using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class AtticSentences
{
    public static string Of(AtticRemark remark) =>
        remark switch
        {
            NameTypedWrong(var name) => $"Type the site's name exactly: {name}",
            OwnersMoveSingly => "Owners move their sites to the attic one by one, so that each move can be stopped.",
            MoveSent(var host) => $"{host} has the change already. Restore the site once it is in the attic.",
            NothingToStop => "No move to the attic is announced, so there is nothing to stop.",
            MoveAnnounced(var at) => $"The move to the attic is already announced for {MomentOfYear(at)}.",
            HeldFromAttic(var through, var reason, var host) =>
                $"A hold blocks it{(through is { } day ? $" until the end of {Day(day)}" : "")}: {reason}. {host} empties its bin by itself, so a held site cannot be moved to the attic.",
            ObligationOpen(var count, var what, var through, var host) =>
                $"{Obligation(count, what, through)}. Settle them at {host} first.",
            DomainShowsSite(var domain, var host) =>
                $"The web domain {domain} shows this site. Remove the domain at {host} first, or it will show an error.",
            SiteBelow(var name) => $"{name} is below this site. Move it elsewhere or move it to the attic first.",
            HiddenSiteBelow => "A site that you may not see is below this site. An administrator can move it elsewhere.",
            BeingEdited(var person) => $"{person ?? "Somebody"} is editing it now.",
            AnonymousNeedSecond(var power, var certain) =>
                $"Anonymous visitors {(certain ? "can" : "may be able to")} {ReadOrEdit(power)} it, so a second person has to agree.",
            StaffNeedSecond(var power, var certain) =>
                $"All of the staff {(certain ? "can" : "may be able to")} {ReadOrEdit(power)} it, so a second person has to agree.",
            ManyUseNeedSecond(var owners, var editors, var members, var visits) =>
                $"{owners.Counted("owner")}, {editors.Counted("other editor")} and {members.Counted("other member")} use it{(visits is { } seen ? $", with {seen.Counted("visit")} in the last seven days" : "")}, so a second person has to agree.",
            SectionStaysOpen(var section, var host) => $"\"{section}\" has its own access and stays open. Shut it at {host}.",
            OnlyFromCopy(var host) => $"{host} has erased the site; only an archive copy could bring its content back.",
            RestoringAlready => "It is being restored already.",
            NotInAttic => "The site is not in the attic.",
            RecoveryPassed(var host, var until) => $"{host} could restore it until {Moment(until)}, which has passed.",
            RestoredAccessUnknown(var host) =>
                $"{host} does not report who had access, so the effect of restoring it cannot be told.",
            OwnerNoLongerActive(var person) => $"Its owner {person} is no longer active. Choose a new owner.",
            OwnerMissing => "It has no owner. Choose one.",
            AddressTakenNow(var address, var holder) =>
                $"Its address {address} is used by {holder ?? Hidden} now. Choose another.",
            AddressTaken(var address, var holder) => $"The address {address} is used by {holder ?? Hidden}.",
            AddressPrefix(var prefix) => $"The address has to begin with {prefix}.",
            AddressCharacter(var character) =>
                $"The character \"{character}\" is not allowed in an address. Use a to z, 0 to 9 and single hyphens.",
            AddressHyphens => "A hyphen has to be single and between other characters.",
            HoldNotByOwners => "Only administrators and stewards place and release holds.",
            HoldNeedsReason => "A hold needs a reason.",
            HoldReleaseNeedsReason => "Releasing a hold needs a reason.",
            HoldEnded => "This hold has ended.",
            ErasedNotHeld(var host) => $"{host} has erased the site, so it cannot be held.",
            BinEmptiesFirst(var host, var on) =>
                $"{host} empties its bin on {Day(on)}, even for a held site. Restore the site first: a held site cannot be moved to the attic.",
            _ => throw Missing(remark),
        };
}
