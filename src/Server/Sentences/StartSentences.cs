using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class StartSentences
{
    public static string Of(StartRemark remark) =>
        remark switch
        {
            KindNotStarted(var kinds) => kinds.Count == 0
                ? "No kind of site can be started here yet."
                : $"Choose a kind: {Or(kinds)}.",
            KindByAdministrators(var kind) =>
                $"Only administrators start sites of the kind {kind}. Ask one of them, or choose another kind.",
            KindByRequest(var kind) => $"An administrator grants each site of the kind {kind}.",
            KindAlwaysAllStaff(var kind, var others) =>
                $"All of the staff can always view a site of the kind {kind}.{(others.Count == 0 ? "" : $" For fewer people choose {Or(others)}.")}",
            StarterNotStaff => "Only current members of staff start sites.",
            NameMissing => "Give the site a name.",
            NameTooLong(var length, var maximum) => $"The name has {length} characters; {maximum} is the maximum.",
            NameIsLong(var length) => $"The name has {length} characters. Lists cut long names.",
            AddressMissing => "Give the site an address.",
            AddressMalformed(var fault) => $"This cannot be an address: {fault}.",
            AddressHeld(var address, var holder, var by, var until) =>
                $"{address} is taken: {Holder(holder, by)}{(until is { } day ? by == HeldAs.Forwarding ? $" until {Day(day)}" : $", which can be restored until {Day(day)}" : "")}.",
            AddressReserved(var word) => $"\"{word}\" is reserved. Choose another address.",
            AddressLikeReserved(var word) => $"It can be mistaken for the reserved word \"{word}\".",
            AddressLike(var address, var holder) =>
                $"It can be mistaken for {address}{(holder is null ? "" : $", the address of {holder}")}.",
            AddressIsLong(var length) => $"It has {length} characters. A shorter address is easier to pass on.",
            AddressHardToSay(var part) => $"\"{part}\" is hard to say on the telephone.",
            AliasMalformed(var fault) => $"This cannot be a mail address: {fault}.",
            AliasHeld(var alias) => $"{alias} is taken.",
            NewSiteWithoutUnit => "Choose the unit that the site belongs to.",
            UnitUnknown(var unit) => $"There is no unit {unit}.",
            PurposeMissing => "Say what the site is for.",
            WordNotApproved(var word) => $"\"{word}\" is not in the vocabulary.",
            LanguageMalformed(var language) => $"\"{language}\" is no language tag. Examples are en, cy and pt-BR (BCP 47).",
            FieldTooLong(var length, var maximum) => $"The text has {length} characters; {maximum} is the maximum.",
            EndIsPast(var ends) => $"{Day(ends)} is past.",
            NewSiteWithoutOwner => "Name at least one owner.",
            PeopleTooMany(var count, var maximum) => $"These are {count} people; {maximum} is the maximum. Use a group later.",
            EditorIneligible(var person, var because) => $"{person} {Ineligible(because, null)}.",
            PersonNotInRegister => "Somebody named here is not in the register. Check the mail address.",
            StartsForOthers => "You are not among the owners: an administrator confirms sites for others.",
            ReachNarrowed(var limits) => $"Fewer people get in than asked for: limited by {Some(limits)}.",
            ReachLimitUnknown => "A limit is not known, so an administrator decides who gets in.",
            ReachBeyondPurpose(var purpose) => $"More people than is usual for the purpose {purpose}: an administrator decides.",
            WouldBreak(var rule, var title, var isCritical) =>
                $"It would break the rule \"{title}\" ({rule}){(isCritical ? ", so an administrator decides" : "")}.",
            WouldNotTell(var rule, var title) => $"The rule \"{title}\" ({rule}) cannot tell.",
            MadeByHand(var host) => $"{host} has no connector that makes sites, so a person makes it there by hand.",
            RequestAnswered => "The request is answered already, or it is not yours to answer.",
            RequestNotStopped => "Making the site has not stopped.",
            RequestNotByHand => "This is not a site that a person makes by hand now.",
            RefusalNeedsReason => "Give a reason, which the requester reads.",
            OnlyRequesterWithdraws => "Only the person who made the request can withdraw it.",
            MessageMissing(var maximum) => $"Write a message of at most {maximum} characters.",
            MessageSentToday => "You have sent a message about this address today. Wait for the answer.",
            _ => throw Missing(remark),
        };

    private static string Holder(string? name, HeldAs by) =>
        by switch
        {
            HeldAs.Requested => "somebody has asked for it",
            HeldAs.NoLongerReported => $"{name ?? Hidden} had it when it was last reported",
            HeldAs.Forwarding => $"it forwards to {name ?? Hidden}",
            HeldAs.InUse => $"{name ?? Hidden} has it",
            _ => $"{name ?? Hidden} has it, {Labels.Of(by)}",
        };

    private static string Or(IReadOnlyList<string> names) =>
        names.Count < 2 ? string.Concat(names) : $"{string.Join(", ", names.SkipLast(1))} or {names[^1]}";
}
