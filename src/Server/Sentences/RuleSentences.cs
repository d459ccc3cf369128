using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class RuleSentences
{
    public static string Of(RuleRemark remark) =>
        remark switch
        {
            RuleMissing(var rule) => $"There is no rule {rule}.",
            RuleTextMissing(var field) => field switch
            {
                RuleField.Title => "Write a title: what the rule demands, in a few words.",
                RuleField.Short => "Write a short name for its findings, such as \"no purpose\".",
                RuleField.Demand => "Write what a site must satisfy, such as: purpose pr.",
                _ => "Write a reason: people whose sites the rule judges can read it.",
            },
            RuleTextTooLong(var field, var maximum) => $"{Name(field)} has at most {maximum} characters. Shorten it.",
            RuleTextUnprintable(var field) => $"{Name(field)} has line breaks or other control characters. Remove them.",
            RuleUnreadable(var part, var place, var fault) => $"The {part} cannot be read, column {place}: {fault}.",
            RuleBeginsBefore(var today) =>
                $"The first day is over. Choose today, {today.InWords()}, or a later day: what was found until now stays as it was.",
            RuleUnchanged(var rule) => $"{rule} says this already.",
            RuleIsOff(var rule) => $"{rule} is switched off already.",
            RuleIdInvalid(var id) =>
                $"\"{id}\" is not an id of a rule. Use letters, digits and hyphens, at most 31, such as R-41.",
            RuleBookFull(var maximum) => $"A rule book has at most {maximum} rules. Change one that you no longer need.",
            RuleDaysToAnswer(var fewest, var most) =>
                $"Owners have {fewest} to {most} days to answer. Change the number of days.",
            RuleNotByRestricting =>
                "Restricting access cannot meet this demand. Choose to ask the owners, or only to report what is found.",
            RuleTouchesMost(var added, var sites) =>
                $"{added} of {sites} sites in use would newly break the rule. Look at it again, then confirm that you mean it.",
            RuleChangedSince(var rule) => $"{rule} has changed since. Undo the later change first.",
            _ => throw Missing(remark),
        };

    private static string Name(RuleField field) =>
        field switch
        {
            RuleField.Title => "The title",
            RuleField.Short => "The short name",
            RuleField.Demand => "The demand",
            _ => "The reason",
        };
}
