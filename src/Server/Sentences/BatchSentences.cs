using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class BatchSentences
{
    public static string Of(BatchRemark remark) =>
        remark switch
        {
            BatchSitesMissing(var sites) => sites == 1
                ? "One of these sites does not exist."
                : $"{sites} of these sites do not exist.",
            BatchDone => "It is already done on all sites.",
            BatchNotUndone =>
                "This batch cannot be undone: mails are already sent, and restored sites are moved to the attic one by one.",
            BatchToStop => "It is still running. Stop it first.",
            BatchDidNothing => "Nothing was done, so there is nothing to undo.",
            BatchNotStarted => "It has not been started.",
            BatchRunning => "It is already running.",
            BatchStopped => "It is stopped already.",
            BatchEnded => "It has ended.",
            BatchImpossible => "It is not possible on any of these sites.",
            BatchNumberTypedWrong(var sites) => $"Type the number of sites: {sites}.",
            BatchNeedsReason => "Give a reason: an exception, and asking somebody to own a site, need one.",
            AsRecorded(var sentence) => sentence,
            RecordedByNewerVersion(var recorded) =>
                $"A newer version of Attic Ledger recorded the reason as \"{recorded}\". This server cannot say it in words before it is updated.",
            _ => throw Missing(remark),
        };
}
