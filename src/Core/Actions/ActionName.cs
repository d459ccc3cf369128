using System.Reflection;
using System.Text.Json.Serialization;

namespace AtticLedger.Core.Actions;

/// <summary>Everything that a person can do that changes something. A closed list: each has one decision and goes one way, through
/// the executor. Sign-in and the like are outside. The names are stored with batches and requests for a second person, so a
/// released one never changes.
/// </summary>
public enum ActionName : byte
{
    [JsonStringEnumMemberName("site.restrict")]
    SiteRestrict,

    [JsonStringEnumMemberName("access.remove")]
    AccessRemove,

    [JsonStringEnumMemberName("access.grant")]
    AccessGrant,

    [JsonStringEnumMemberName("guest.invite")]
    GuestInvite,

    [JsonStringEnumMemberName("invitation.withdraw")]
    InvitationWithdraw,

    /// <summary>The answer that a guest is still needed.</summary>
    [JsonStringEnumMemberName("guest.keep")]
    GuestKeep,

    [JsonStringEnumMemberName("limit.set")]
    LimitSet,

    /// <summary>Name, description or logo.</summary>
    [JsonStringEnumMemberName("site.look")]
    SiteLook,

    [JsonStringEnumMemberName("site.address")]
    SiteAddress,

    /// <summary>A picture for a logo is kept here.</summary>
    [JsonStringEnumMemberName("picture.keep")]
    PictureKeep,

    /// <summary>A picture for a logo is fetched from an address and kept here.</summary>
    [JsonStringEnumMemberName("picture.fetch")]
    PictureFetch,

    [JsonStringEnumMemberName("change.undo")]
    ChangeUndo,

    [JsonStringEnumMemberName("owner.offer")]
    OwnerOffer,

    [JsonStringEnumMemberName("owner.asked")]
    OwnersAsk,

    [JsonStringEnumMemberName("offer.accept")]
    OfferAccept,

    [JsonStringEnumMemberName("offer.decline")]
    OfferDecline,

    [JsonStringEnumMemberName("offer.withdraw")]
    OfferWithdraw,

    [JsonStringEnumMemberName("site.move-to-attic")]
    SiteMoveToAttic,

    [JsonStringEnumMemberName("attic.stop")]
    AtticStop,

    [JsonStringEnumMemberName("site.restore")]
    SiteRestore,

    [JsonStringEnumMemberName("hold.place")]
    HoldPlace,

    [JsonStringEnumMemberName("hold.release")]
    HoldRelease,

    [JsonStringEnumMemberName("exception.grant")]
    ExceptionGrant,

    [JsonStringEnumMemberName("exception.end")]
    ExceptionEnd,

    [JsonStringEnumMemberName("question.answer")]
    QuestionAnswer,

    [JsonStringEnumMemberName("question.ask-again")]
    QuestionAskAgain,

    [JsonStringEnumMemberName("decision.put-off")]
    DecisionPutOff,

    [JsonStringEnumMemberName("decision.take-up")]
    DecisionTakeUp,

    [JsonStringEnumMemberName("twins.both-right")]
    TwinsBothRight,

    [JsonStringEnumMemberName("twins.open-again")]
    TwinsOpenAgain,

    /// <summary>A message to the holder of an address, whom the sender may not see.</summary>
    [JsonStringEnumMemberName("address.ask")]
    AddressAsk,

    [JsonStringEnumMemberName("request.make")]
    RequestMake,

    [JsonStringEnumMemberName("request.grant")]
    RequestGrant,

    [JsonStringEnumMemberName("request.refuse")]
    RequestRefuse,

    [JsonStringEnumMemberName("request.withdraw")]
    RequestWithdraw,

    [JsonStringEnumMemberName("making.resume")]
    MakingResume,

    [JsonStringEnumMemberName("making.give-up")]
    MakingGiveUp,

    /// <summary>A person reports that a site was made by hand.</summary>
    [JsonStringEnumMemberName("making.report")]
    MakingReport,

    /// <summary>A batch that ends the findings of a cause: each of its sites has an action of its own.</summary>
    [JsonStringEnumMemberName("findings.remedy")]
    FindingsRemedy,

    [JsonStringEnumMemberName("approval.approve")]
    ApprovalApprove,

    [JsonStringEnumMemberName("approval.decline")]
    ApprovalDecline,

    [JsonStringEnumMemberName("approval.withdraw")]
    ApprovalWithdraw,

    [JsonStringEnumMemberName("batch.start")]
    BatchStart,

    [JsonStringEnumMemberName("batch.stop")]
    BatchStop,

    [JsonStringEnumMemberName("batch.resume")]
    BatchResume,

    [JsonStringEnumMemberName("task.picture")]
    TaskPicture,

    [JsonStringEnumMemberName("task.done")]
    TaskDone,

    [JsonStringEnumMemberName("task.failed")]
    TaskFailed,

    [JsonStringEnumMemberName("task.check")]
    TaskCheck,

    [JsonStringEnumMemberName("task.reassign")]
    TaskReassign,

    [JsonStringEnumMemberName("task.cancel")]
    TaskCancel,

    [JsonStringEnumMemberName("site.moved")]
    SiteMoved,

    [JsonStringEnumMemberName("site.not-moved")]
    SiteNotMoved,

    [JsonStringEnumMemberName("facts.set")]
    FactsSet,

    [JsonStringEnumMemberName("facts.undo")]
    FactsUndo,

    [JsonStringEnumMemberName("vocabulary.change")]
    VocabularyChange,

    [JsonStringEnumMemberName("vocabulary.undo")]
    VocabularyUndo,

    [JsonStringEnumMemberName("rule.write")]
    RuleWrite,

    [JsonStringEnumMemberName("rule.undo")]
    RuleUndo,

    [JsonStringEnumMemberName("rules.import")]
    RulesImport,

    [JsonStringEnumMemberName("procedure.set")]
    ProcedureSet,

    [JsonStringEnumMemberName("sites.import")]
    SitesImport,

    [JsonStringEnumMemberName("sites.import-undo")]
    SitesImportUndo,

    [JsonStringEnumMemberName("people.import")]
    PeopleImport,

    [JsonStringEnumMemberName("people.import-undo")]
    PeopleImportUndo,

    [JsonStringEnumMemberName("source.confirm-missing")]
    SourceConfirmMissing,

    [JsonStringEnumMemberName("source.sync")]
    SourceSync,

    [JsonStringEnumMemberName("account.change")]
    AccountChange,

    [JsonStringEnumMemberName("session.end")]
    SessionEnd,

    [JsonStringEnumMemberName("view.save")]
    ViewSave,

    [JsonStringEnumMemberName("view.delete")]
    ViewDelete,

    [JsonStringEnumMemberName("calendar.revoke")]
    CalendarRevoke,

    [JsonStringEnumMemberName("clock.move")]
    ClockMove,
}

public static class ActionNames
{
    private static readonly Dictionary<ActionName, string> Texts = Enum.GetValues<ActionName>()
        .ToDictionary(
            name => name,
            name => typeof(ActionName).GetField(name.ToString())!.GetCustomAttribute<JsonStringEnumMemberNameAttribute>()!.Name
        );

    private static readonly Dictionary<string, ActionName> ByText = Texts.ToDictionary(pair => pair.Value, pair => pair.Key);

    /// <summary>The stored name: <c>site.restrict</c>.</summary>
    public static string Text(this ActionName name) => Texts[name];

    /// <summary>The action of a stored name.</summary>
    /// <exception cref="InvalidOperationException">This version does not know it.</exception>
    public static ActionName Read(string text) =>
        ByText.TryGetValue(text, out var name)
            ? name
            : throw new InvalidOperationException($"\"{text}\" is not an action that this version knows.");
}
