using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Classification;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Sentences;

/// <summary>The labels of enumerations, in lower case: the only place where one is written. The API document has them, and the
/// web's are generated from there.
/// </summary>
public static class Labels
{
    private static readonly Dictionary<Type, Func<object, string>> ByType = new();

    static Labels()
    {
        Add<AtticState>(Of);
        Add<Status>(Of);
        Add<Role>(Of);
        Add<InactiveReason>(Of);
        Add<LinkPurpose>(Of);
        Add<BatchOutcome>(Of);
        Add<ClaimedFact>(Of);
        Add<EvidenceKind>(Of);
        Add<Strength>(Of);
        Add<Level>(Of);
        Add<Remedy>(Of);
        Add<QuestionAnswer>(Of);
        Add<EnforcementKind>(Of);
        Add<SiteRequestState>(Of);
        Add<MakingStep>(Of);
        Add<HeldAs>(Of);
        Add<LookField>(Of);
        Add<LogoSource>(Of);
    }

    /// <summary>The label of each value of an enumeration; null if it has none.</summary>
    public static IReadOnlyList<(object Value, string Label)>? All(Type type) =>
        ByType.TryGetValue(Nullable.GetUnderlyingType(type) ?? type, out var label)
            ? [.. Enum.GetValues(Nullable.GetUnderlyingType(type) ?? type).Cast<object>().Select(value => (value, label(value)))]
            : null;

    public static string Of(AtticState state) =>
        state switch
        {
            AtticState.Announced => "announced",
            AtticState.MovingToAttic => "being moved to the attic",
            AtticState.InAttic => "in the attic",
            AtticState.Due => "due to be erased",
            AtticState.Restoring => "being restored",
            AtticState.Restored => "in use again",
            AtticState.Stopped => "stopped before the move",
            AtticState.NotDone => "refused by the host",
            _ => "erased",
        };

    public static string Of(Existence existence) =>
        existence switch
        {
            Existence.InUse => "in use",
            Existence.Attic => "in the attic",
            _ => "erased",
        };

    public static string Of(Status status) =>
        status switch
        {
            Status.NeverPublished => "never published",
            Status.UnpublishedChanges => "published, with unpublished changes",
            Status.Offline => "offline",
            _ => "published",
        };

    public static string Of(Role role) =>
        role switch
        {
            Role.Administrator => "administrator",
            Role.Steward => "steward",
            Role.Auditor => "auditor",
            _ => "owner of sites",
        };

    public static string Of(InactiveReason reason) =>
        reason switch
        {
            InactiveReason.Outside => "from outside",
            InactiveReason.Service => "a service account",
            InactiveReason.Left => "left",
            InactiveReason.Leaving => "leaving",
            InactiveReason.Absent => "absent",
            _ => "mail fails",
        };

    public static string Of(LinkPurpose purpose) =>
        purpose switch
        {
            LinkPurpose.Password => "choose a password",
            LinkPurpose.Offer => "an offer of ownership",
            LinkPurpose.Stop => "moving a site to the attic",
            LinkPurpose.Yours => "your sites",
            _ => "a manual task",
        };

    public static string Of(QuestionAnswer answer) =>
        answer switch
        {
            QuestionAnswer.Fixed => "it is fixed",
            QuestionAnswer.NeedsException => "it needs an exception",
            _ => "it is not mine",
        };

    public static string Of(EnforcementKind kind) =>
        kind switch
        {
            EnforcementKind.Report => "report only",
            EnforcementKind.AskOwners => "ask the owners",
            _ => "ask the owners, then restrict access",
        };

    public static string Of(BatchOutcome outcome) =>
        outcome switch
        {
            BatchOutcome.Waiting => "queued",
            BatchOutcome.UnderWay => "under way",
            BatchOutcome.Done => "done",
            BatchOutcome.AsksSecond => "waits for a second person",
            BatchOutcome.Changed => "skipped: the facts have changed",
            BatchOutcome.Refused => "not possible",
            BatchOutcome.HostRefused => "refused by the host",
            BatchOutcome.Contradicted => "the host reports something else",
            BatchOutcome.LeftOut => "left out",
            _ => "withdrawn",
        };

    public static string Of(ClaimedFact fact) =>
        fact switch
        {
            ClaimedFact.Unit => "unit",
            ClaimedFact.Classification => "classification",
            ClaimedFact.Purpose => "purpose",
            ClaimedFact.Tags => "tags",
            ClaimedFact.Name => "name",
            _ => "address",
        };

    public static string Of(EvidenceKind kind) =>
        kind switch
        {
            EvidenceKind.Owners => "their owners",
            EvidenceKind.Parent => "the site above",
            EvidenceKind.Word => "words in the names of other sites",
            EvidenceKind.Neighbours => "sites like them",
            _ => "the meaning of a word",
        };

    public static string Of(Strength strength) =>
        strength switch
        {
            Strength.Sure => "sure",
            Strength.Likely => "likely",
            _ => "evidence differs",
        };

    public static string Of(Level level) =>
        level switch
        {
            Level.Critical => "critical",
            Level.Warning => "warning",
            _ => "note",
        };

    public static string Of(Remedy remedy) =>
        remedy switch
        {
            Remedy.Restrict => "restrict to policy",
            Remedy.AddOwner => "add an owner",
            Remedy.SetFact => "set the fact",
            Remedy.MoveToAttic => "move to the attic",
            Remedy.Rename => "rename",
            Remedy.Present => "change the description or the logo",
            Remedy.TellApart => "tell near names apart",
            _ => "remove the access of people who have left",
        };

    public static string Of(SiteRequestState state) =>
        state switch
        {
            SiteRequestState.Requested => "waits for an answer",
            SiteRequestState.BeingMade => "being made",
            SiteRequestState.Stopped => "stopped",
            SiteRequestState.InUse => "in use",
            SiteRequestState.Refused => "refused",
            _ => "given up",
        };

    public static string Of(MakingStep step) =>
        step switch
        {
            MakingStep.Site => "the site at its address",
            MakingStep.Group => "its group",
            MakingStep.People => "owners, editors and who can view it",
            MakingStep.Tags => "tags",
            MakingStep.StarterPages => "starter pages",
            _ => "settings read back and compared",
        };

    public static string Of(LookField field) => field.ToString().ToLowerInvariant();

    public static string Of(LogoSource source) =>
        source switch
        {
            LogoSource.KeptWithSite => "kept with the site",
            LogoSource.Borrowed => "borrowed from another site",
            _ => "linked",
        };

    public static string Of(HeldAs held) =>
        held switch
        {
            HeldAs.InUse => "in use",
            HeldAs.NeverPublished => "never published",
            HeldAs.Offline => "offline",
            HeldAs.NoLongerReported => "no longer reported",
            HeldAs.MoveToAttic => "in the attic",
            HeldAs.Listed => "in this list",
            HeldAs.Forwarding => "forwarding",
            _ => "asked for",
        };

    private static void Add<TEnum>(Func<TEnum, string> label)
        where TEnum : struct, Enum => ByType.Add(typeof(TEnum), value => label((TEnum)value));
}
