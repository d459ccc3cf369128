using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class SiteSentences
{
    public static string Of(SiteRemark remark) =>
        remark switch
        {
            ReasonTooLong(var length, var maximum) => $"The reason is {length} characters long; {maximum} is the maximum.",
            SiteUnreadable(var fault) => $"This site cannot be computed, so no action is possible: {fault}",
            SiteNotReported(var host) => $"{host} no longer reports this site.",
            SiteMovesToAttic(var host) => $"The site is being moved to the attic: the change at {host} is under way.",
            SiteIsInAttic => "The site is in the attic. Restore it first.",
            SiteErased(var host) => $"{host} has erased the site.",
            SiteGone => "The site no longer exists, or is no longer in your scope.",
            AccessNotReported(var host, var step) => $"{host} does not report the access to this site, so {Not(step)}",
            UnderWayAlready => "A change under way already does this.",
            WithinAlready => "The access set on the site is already within this.",
            OwnerNotRestricted(var who) => $"{who} is an owner. Hand the site over before you remove the access.",
            GroupNotRestricted(var who, var host) =>
                $"{who} contains people whom the limit excludes. Change the group at {host}.",
            LimitUnknown =>
                "A limit of this site is not known, so what policy allows cannot be told. Restrict it on its own page.",
            AccessNotByName(var who) => $"{who} has no access by name here.",
            AccessThrough(var who, var power, var through, var host) =>
                $"{who} can {power.Word()} through {through}. Change that at {host}; the next sync reports it.",
            AccessOfLastOwner(var who) =>
                $"{who} owns the site, and no active owner would be left. Add an owner or hand it over first.",
            AccessOfOtherOwner(var who) => $"{who} is another owner. Only an administrator or a steward can remove an owner.",
            RemovingOwnerNeedsSecond(var who) => $"{who} is an active owner, so a second person has to agree.",
            GrantedAlready(var who, var power) => $"{who} can {power.Word()} already.",
            GrantToLeaver(var who) => $"{who} has left, and nobody who has left is granted anything.",
            OwnershipNotGranted => "A site is owned by those who accepted it: choose Add an owner.",
            PowerNotGranted(var host, var power, var powers) =>
                $"{host} cannot grant the power to {power.Word()}. It can grant: {string.Join(", ", powers)}.",
            NobodyNamed(var host) => $"{host} grants access to groups only. Grant it to a group with the person in it.",
            GroupElsewhere(var group, var host) => $"{host} does not know the group {group}. Choose one of its own groups.",
            NoMailAddress(var mail) => $"\"{mail}\" is not a mail address. Write it like name@firm.example.",
            GuestIsStaff(var who) => $"{who} is inside: choose Grant access instead of inviting them as a guest.",
            GuestHasLeft(var who) => $"{who} has left, and nobody who has left is invited.",
            GuestLooksLike(var mail, var like) =>
                $"{mail} is easily taken for {like}, and is another address. Check it letter by letter; nobody is invited to a look-alike address.",
            GuestsNotInvitedFromHere(var host) =>
                $"{host} does not invite guests from here. Invite them there; the next sync reports it.",
            InvitationEndsWrong(var from, var through) =>
                $"The last day has to be between {from.InWords()} and {through.InWords()}.",
            SponsorNotStaff => "The sponsor has to be a member of staff who has not left.",
            InvitedAlready(var mail) => $"{mail} is invited to this site already. Withdraw that invitation first.",
            InvitingLeftToStewards(var layers) =>
                $"{Some(layers)} {(layers.Count == 1 ? "leaves" : "leave")} inviting guests to stewards and administrators. Ask one of them.",
            InvitesKnownGuest(var who, var mail) => $"{mail} is the address of {who}, a guest from outside who is known already.",
            InvitesNewGuest(var mail) => $"Nobody in the register has the address {mail}: a new guest from outside.",
            InvitationWaits(var mail, var layers) =>
                $"{mail} cannot get in: {Some(layers)} {(layers.Count == 1 ? "stops" : "stop")} it. Nothing is sent yet; the invitation waits, and goes by itself as soon as nothing stops it.",
            InvitationMayWait(var mail, var layers) => $"Whether {mail} gets in cannot be told: {Some(layers)} may stop it.",
            InvitationNotOpen(var mail, var wasAccepted) => wasAccepted
                ? $"{mail} has accepted the invitation. Remove the access instead."
                : $"The invitation of {mail} has ended already.",
            OpeningNeedsReason => "Write why the site is opened to so many people. The reason is kept with the site.",
            GrantBeyondPolicy(var who, var layers) =>
                $"Policy does not allow it for {who}: limited by {Some(layers)}. Change the limit first, or grant a narrower power.",
            GrantBreaksNeedsSecond(var rules) =>
                $"The site will break {(rules.Count == 1 ? "a critical rule" : "critical rules")} ({string.Join(", ", rules)}), so a second person has to agree.",
            GrantWaits(var who, var layers) =>
                $"{who} does not get in yet, or not all of them: {Some(layers)} stops it at the host. It takes effect when that limit is raised.",
            GrantMayExceed(var who, var layers) =>
                $"Whether policy allows it for {who} cannot be told: {Some(layers)} may limit it.",
            GrantWaitsForPublication(var who) => $"{who} does not get in before the site is published.",
            AccessOfNobody => "The person or group is not in the register.",
            LeaversThrough(var people, var through, var host) =>
                $"{Some(people)} still {(people.Count == 1 ? "has" : "have")} access through {through}. Take them out at {host}; the next sync reports it.",
            GroupHoldsUnit(var group, var host) =>
                $"{group} contains everybody of the unit. Change that at {host}, or an administrator can grant an exception.",
            AnybodyMayJoin(var host) =>
                $"Anybody can join the site. An owner can change that at {host}; the next sync reports it.",
            ChangedAtHost(var host) =>
                $"It is set at {host}: an owner or editor changes it there, and the next sync clears this. An administrator can grant an exception.",
            NoOwnerProposed =>
                "Nobody who edits it by name or is of its unit can own it. Choose a person on its page, under Add an owner.",
            NoRemedyKnown => "No action of this product clears it. An administrator can grant an exception.",
            ChangeUnderWay(var host) => $"A change at {host} is under way. Wait until the host has answered.",
            ChangeUnanswered => "The host has not answered yet. The change can be undone after its answer.",
            ChangeIsTask => "A person has the manual task. Cancel it on its page.",
            ChangeHadNoEffect => "The change had no effect, so there is nothing to undo.",
            ChangeNotSent => "No change was sent to the host for this site, so there is nothing to undo.",
            UndoneAlready => "The site is already as it was before the change.",
            AccessChangedLater => "The same access was changed later. Undoing would overwrite their change.",
            HandoverNotUndone => "An accepted handover cannot be undone. The new owner can offer the site back.",
            AtticNotUndone =>
                "Moving to the attic and restoring are undone in the attic: stop the move, restore the site, or move it to the attic again.",
            StillReported(var host, var title) => $"{host} still reports {title}, so it has not moved.",
            MoveConfirmed => "A move is already confirmed. Undo that first.",
            MoveNotConfirmed => "No move is confirmed for this site.",
            TargetGone(var title) => $"{title} no longer exists.",
            TargetMissing => "The target site does not exist.",
            _ => throw Missing(remark),
        };
}
