using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class ExceptionSentences
{
    public static string Of(ExceptionRemark remark) =>
        remark switch
        {
            ExceptionNotByOwners => "Only administrators and stewards grant and end exceptions.",
            ExceptionNeedsReason => "An exception needs a reason.",
            ExceptionEndNeedsReason => "Ending an exception needs a reason.",
            ExceptionEnded => "This exception has ended.",
            ExceptionTooLong(var days) => $"An exception lasts at most {days} days. Grant a new one then if it is still needed.",
            ExceptionStillInForce(var rule, var through) =>
                $"The site has an exception from {rule} until the end of {Day(through)}. End that exception first.",
            RuleNotBroken(var rule) => $"The site does not break {rule}, so it needs no exception.",
            LastDayPassed(var last) => $"{Day(last)} has passed. Choose a later last day.",
            PutOffNeedsReason => "Putting a decision off needs a reason.",
            PutOffTooLong(var days) =>
                $"A decision can wait for at most {days} days. Grant an exception for what may stay as it is for longer.",
            _ => throw Missing(remark),
        };
}
