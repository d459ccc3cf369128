using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class AccountSentences
{
    public static string Of(AccountRemark remark) =>
        remark switch
        {
            PersonMissing(var mail) =>
                $"No person in the register has the address {mail}. Import the person first, from the staff list or a list of people.",
            LastAdministrator(var person) =>
                $"{person} is the last administrator who can sign in. Give another person that role first.",
            AccountMissing(var person) => $"{person} has no account.",
            AccountOfViewer => "Another administrator has to remove your account.",
            AccountHolderLeft(var person) => $"{person} is no longer on the staff list and could not sign in.",
            RoleMissing => "Choose a role.",
            RoleNeedsUnit => "Choose the unit of the steward.",
            RoleHasNoUnit => "Only stewards have a unit.",
            RoleHeldAlready(var person) => $"{person} has this role already.",
            UnitMissing(var unit) => $"There is no unit {unit}.",
            ApprovalOfViewer => "You cannot agree to your own request.",
            ApprovalToWithdraw => "Withdraw your own request instead.",
            ApprovalOfAnother => "Only the person who requested it can withdraw it.",
            ApprovalRequesterMayNot(var person) =>
                $"{person ?? "The person who requested it"} requested it and may no longer do so.",
            ApprovalGiven => "A second person has already agreed.",
            ApprovalDeclined => "A second person did not agree.",
            ApprovalWithdrawn => "It was withdrawn.",
            ApprovalLapsed => "Nobody answered in time, so it lapsed.",
            ApprovalVoid => "The action is no longer possible.",
            ViewNameInvalid(var maximum) => $"A view needs a name of 1 to {maximum} characters.",
            ViewTooLong(var length, var maximum) => $"The filters need {length} characters; the maximum is {maximum}.",
            ViewsTooMany(var maximum) => $"At most {maximum} views can be saved. Delete one first.",
            ClockHoursOutOfRange(var maximum) => $"The clock moves forward by 1 to {maximum} hours at a time.",
            _ => throw Missing(remark),
        };
}
