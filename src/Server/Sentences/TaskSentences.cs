using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class TaskSentences
{
    public static string Of(TaskRemark remark) =>
        remark switch
        {
            TaskNotDone => "Only a task that is reported done can be checked.",
            TaskDoneByViewer => "You did it yourself. Another person or the next import has to verify it.",
            TaskNotChecked => "Only people who may act on this site can check the result.",
            TaskNotOpen => "The task is no longer open.",
            TaskOfAnother(var person) => $"The task is assigned to {person ?? "somebody else"}. Reassign it to yourself first.",
            PictureNotByViewer => "Only the assignee can add a picture.",
            PictureUnreadable => "This file is not a picture in PNG or JPEG format.",
            TextTooLong(var length, var maximum) => $"The text has {length} characters; the maximum is {maximum}.",
            ReportMissing => "Describe what you did and how it can be checked, or add a picture.",
            ReportMissingSince => "The task was returned. Describe what you did since and how it can be checked.",
            FailureMissing => "Describe why it failed: the person who requested it reads this.",
            FindingMissing => "Describe what you found: the assignee reads this.",
            StaffMissing(var mail) => $"No member of staff has the mail address {mail}.",
            TaskHasAssignee => "They already have the task.",
            TaskNotCancelled => "Only the person who requested it or an administrator can cancel it.",
            _ => throw Missing(remark),
        };
}
