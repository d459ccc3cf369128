using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class SourceSentences
{
    public static string Of(SourceRemark remark) =>
        remark switch
        {
            ImportUndone => "It is already undone.",
            ImportUnfinished => "The import did not finish. Import the list again; then it can be undone.",
            ImportChangedNothing => "It changed nothing, so there is nothing to undo.",
            ImportIsNotLast => "A later list was imported. Undo that import first.",
            UnitCodeTaken(var code, var name) => $"{code} is the code of the unit {name}. Choose another code for the new unit.",
            ImportRunning(var source) => $"A list of {source} is being imported now. Try again when it is done.",
            NothingHeldBack(var source) =>
                $"Nothing waits for a confirmation: {source} was synced again in the meantime, or reports its sites.",
            SourceMissing(var source, var sources) =>
                $"There is no source \"{source}\" that can be synced. There are: {string.Join(", ", sources)}.",
            HostNameInvalid(var maximum) => $"A host's name is 1 to {maximum} characters long, without spaces around it.",
            HostNameReserved(var name) => $"\"{name}\" is reserved. Choose another name for the host.",
            HostConnected(var host) => $"{host} has a connector, so it needs no manual procedure.",
            TaskDaysOutOfRange(var maximum) => $"The days to do a manual task have to be 1 to {maximum}.",
            ProcedureTextTooLong(var text, var length, var maximum) =>
                $"The {text.Word()} {(text is ProcedureText.Account or ProcedureText.Support ? "has" : "have")} {length} characters; {maximum} is the maximum.",
            ProcedureTextMissing(var text) => $"Describe the {text.Word()}.",
            _ => throw Missing(remark),
        };
}
