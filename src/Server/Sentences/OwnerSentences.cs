using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class OwnerSentences
{
    public static string Of(OwnerRemark remark) =>
        remark switch
        {
            HandoverByGroup(var host, var group) =>
                $"{host} has access by groups only, so a site cannot be handed over from here. {ChangeTheGroup(host, group)}",
            NewOwnerByGroup(var host, var group) =>
                $"{host} has access by groups only, so a new owner cannot be chosen here. {ChangeTheGroup(host, group)}",
            OwnersMeetDemand =>
                "Its owners decide it: add an owner, hand it over, or remove an owner's access. An administrator can grant an exception.",
            OfferOpen(var to, var through) =>
                $"This site is already offered to {to} until the end of {Day(through)}. Withdraw that offer first.",
            OwnerIsActive => "The site has an active owner. Only an owner can offer it.",
            OwnerByGroup(var person, var host) =>
                $"{person} does not own the site by name. To change an owner in a group, change the group at {host}.",
            OwnerOffersOnlyTheirs => "You can offer your own sites only.",
            OwnerCanOffer(var person) => $"{person} is still active and has to offer it. Ask them by mail instead.",
            AssigningNeedsReason => "Offering the ownership of another person's site needs a reason.",
            NewOwnerUnknown => "The new owner is not in the register.",
            NewOwnerIneligible(var person, var because, var day) => $"{person} {Ineligible(because, day)}.",
            NoLongerOwner(var person) => $"{person} is no longer an owner of this site and cannot offer it.",
            CurrentOwnerKeeps(var person, var power, var who) => $"{person} can still {power.Word()} through {who}.",
            OfferOfAnother => "This offer is for another person.",
            OfferNotTheirs => "Only the person who made the offer or an administrator can withdraw it.",
            OfferLapsed(var through) => $"The offer lapsed at the end of {Day(through)}.",
            OfferWithdrawn => "The offer was withdrawn.",
            OfferDeclined => "The offer was declined.",
            OfferVoid => "The offer is void: the site was moved to the attic, or can no longer be handed over.",
            OfferAccepted => "The offer is accepted already; the change of owner is under way.",
            OfferAnswered => "The offer is answered already.",
            OwnersAskNobody => "Owners can offer their own sites. Only administrators and stewards can ask owners.",
            NobodyLeaves => "No current owner of this site is leaving.",
            OwnersWanted(var count) => $"{count.Counted("more active owner")} {(count == 1 ? "is" : "are")} needed.",
            FormerOwnerLeft(var person) => $"{person} has left and cannot stay as an editor. Choose that they keep no access.",
            AssigningNeedsSecond =>
                "Assigning an owner to a site without an active one, or becoming an owner yourself, needs a second person.",
            QuestionOver(var rule) =>
                $"There is nothing to answer any more: the site no longer breaks {(rule.Length == 0 ? "the rule" : rule)}, or the rule asks nobody.",
            QuestionForOwners => "Only an owner of the site can answer.",
            QuestionNeedsWords => "Write a few words, so that an administrator can decide.",
            NobodyToAsk => "No owner of the site is active. Add an owner first.",
            QuestionStillOpen(var through) => $"The owners have been asked and can answer until the end of {Day(through)}.",
            QuestionRestricted => "Restricting access was requested after the last day, and the change is under way.",
            PasswordWrong => "The password is wrong. Enter the password of your account.",
            _ => throw Missing(remark),
        };
}
