using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Starting;

/// <summary>Who can view the published copy beside owners and editors.</summary>
public sealed record ViewReachResponse(InsideLevel Inside, OutsideLevel Outside, VisitorSignIn SignIn)
{
    public static ViewReachResponse Of(ViewReach reach) => new(reach.Inside, reach.Outside, reach.SignIn);

    public ViewReach ToReach() => new(Inside, Outside, SignIn);
}

/// <summary>A kind of site that can be started, and what it implies.</summary>
/// <param name="AddressBefore">The fixed part of an address before the chosen one; <paramref name="AddressAfter"/>: after it.</param>
/// <param name="MayStart">True if the viewer may ask for one.</param>
/// <param name="MakesGroup">True if a group of its editors is made with it and removed with it.</param>
/// <param name="AliasDomain">The domain of its mail alias; null if it gets none.</param>
/// <param name="AlwaysAllStaff">True if all of the staff can always view it.</param>
/// <param name="Most">The widest reach that it can have; null if that depends on facts that are not known.</param>
/// <param name="Limits">What limits that, by name.</param>
/// <param name="IsByHand">True if a person makes it at the host.</param>
public sealed record OfferedKind(
    string Kind,
    string Name,
    string Host,
    string Describes,
    string AddressBefore,
    string AddressAfter,
    StartedBy StartedBy,
    bool MayStart,
    bool MakesGroup,
    string? AliasDomain,
    IReadOnlyList<string> StarterPages,
    bool AlwaysAllStaff,
    ViewReachResponse? Most,
    IReadOnlyList<string> Limits,
    bool IsByHand
);

/// <summary>A purpose, and the reach that it expects.</summary>
public sealed record PurposeToChoose(string Code, string Name, ViewReachResponse Reach);

/// <param name="Words">Its spellings, which also find it.</param>
public sealed record TermToChoose(string Code, string Name, IReadOnlyList<string> Words);

/// <summary>What can be chosen when a site is started.</summary>
/// <param name="Unit">The viewer's own unit; null if not known.</param>
/// <param name="RequestDays">For how many days a request waits for its answer.</param>
public sealed record StartChoices(
    IReadOnlyList<OfferedKind> Kinds,
    IReadOnlyList<PurposeToChoose> Purposes,
    IReadOnlyList<TermToChoose> Classifications,
    IReadOnlyList<TermToChoose> Tags,
    IReadOnlyList<UnitResponse> Units,
    string? Unit,
    PersonResponse You,
    int RequestDays
);

/// <summary>A request as it is filled in; empty texts are not filled in yet.</summary>
/// <param name="Kind">The code of the kind.</param>
/// <param name="Address">The part of the address that is its own.</param>
/// <param name="Alias">The part of the mail alias before the "@"; empty for the address.</param>
/// <param name="Unit">The code of its unit; <paramref name="Purpose"/>, <paramref name="Classification"/> and
/// <paramref name="Tags"/> are codes of the vocabulary.</param>
/// <param name="Language">A tag of BCP 47.</param>
/// <param name="Ends">The last day on which it is needed.</param>
/// <param name="Owners">Mail addresses; <paramref name="Editors"/>: of the other people who can edit it.</param>
public sealed record NewSiteRequest(
    string Kind,
    string Name,
    string Address,
    string Alias,
    string? Unit,
    string? Purpose,
    string? Classification,
    IReadOnlyList<string> Tags,
    string? Language,
    string? Description,
    string? ContentNotice,
    DateOnly? Ends,
    IReadOnlyList<string> Owners,
    IReadOnlyList<string> Editors,
    ViewReachResponse Reach
)
{
    /// <summary>People who are not in the register get an id that nobody has.</summary>
    public NewSite ToSite(PeopleDirectory directory) =>
        new()
        {
            Kind = Kind,
            Name = Clean(Name) ?? "",
            Address = Clean(Address) ?? "",
            Alias = Clean(Alias) ?? "",
            Unit = Clean(Unit) is { } unit ? new UnitCode(unit) : null,
            Purpose = Clean(Purpose),
            Classification = Clean(Classification),
            Tags = [.. Tags.OfType<string>().Distinct(StringComparer.Ordinal)],
            Language = Clean(Language),
            Description = Clean(Description),
            ContentNotice = Clean(ContentNotice),
            Ends = Ends,
            Owners = [.. People(Owners, directory)],
            Editors = [.. People(Editors, directory)],
            Reach = Reach.ToReach(),
        };

    /// <summary>The person with a mail address, however it is written; null if nobody in the register has it.</summary>
    public static PersonId? PersonOf(string mail, PeopleDirectory directory) =>
        directory.ByMail.TryGetValue(mail.Trim().ToLowerInvariant(), out var person) ? person : null;

    private static IEnumerable<PersonId> People(IEnumerable<string> mails, PeopleDirectory directory) =>
        mails.OfType<string>().Select(mail => PersonOf(mail, directory) ?? default).Distinct();

    /// <summary>Without what the database cannot store in a text; null if nothing is left.</summary>
    public static string? Clean(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Replace('\0', '\uFFFD').Trim();
}

/// <summary>What a remark about a field means for the request.</summary>
public enum RemarkWeight
{
    /// <summary>It is not allowed.</summary>
    Refusal,

    /// <summary>An administrator decides.</summary>
    Decision,

    /// <summary>It is granted otherwise than asked.</summary>
    Change,
    Advice,
}

public sealed record RemarkOnField(StartField Field, RemarkWeight Weight, RemarkResponse Remark)
{
    public static IReadOnlyList<RemarkOnField> Of(StartVerdict verdict) =>
        [
            .. Of(verdict.Refusals, RemarkWeight.Refusal),
            .. Of(verdict.Because, RemarkWeight.Decision),
            .. Of(verdict.Changes, RemarkWeight.Change),
            .. Of(verdict.Advice, RemarkWeight.Advice),
        ];

    private static IEnumerable<RemarkOnField> Of(IEnumerable<FieldRemark> remarks, RemarkWeight weight) =>
        remarks.Select(one => new RemarkOnField(one.Field, weight, RemarkResponse.Of(one.Remark)));
}

/// <summary>Who holds an address, as far as the viewer may know.</summary>
/// <param name="Site">The site; null if the viewer does not see it, and for a request.</param>
/// <param name="As">In which state the holder is.</param>
/// <param name="Until">The last day on which a site in the attic can be restored.</param>
/// <param name="Ask">Active owners who can be asked; empty if the viewer does not see the holder.</param>
public sealed record AddressHolder(SiteNameResponse? Site, HeldAs As, DateOnly? Until, IReadOnlyList<PersonResponse> Ask);

/// <summary>The address as typed, or as the name suggests it.</summary>
/// <param name="Suggested">The address that the name suggests; null if nothing of the name is left.</param>
/// <param name="Whole">With its fixed parts; null without a kind.</param>
/// <param name="IsFree">False if it is held, reserved or malformed.</param>
/// <param name="Alternatives">Free ones, the best first; empty if it is free.</param>
public sealed record AddressVerdict(
    string? Suggested,
    string? Whole,
    bool IsFree,
    IReadOnlyList<AddressHolder> Holders,
    IReadOnlyList<string> Alternatives
);

/// <param name="Kind">The code of the kind, which says on which host; <paramref name="Address"/>: the part that is its own.</param>
/// <param name="Message">At most 1,000 characters. The holder reads it with the name and mail address of the sender.</param>
public sealed record AskHolderRequest(string Kind, string Address, string Message);

public sealed record AddressAsked(long Place);

/// <summary>A person as written, and the account behind it.</summary>
/// <param name="Person">Null if nobody in the register has the mail address.</param>
public sealed record NamedPerson(string Mail, PersonResponse? Person);

/// <summary>Who would get in once it is published.</summary>
/// <param name="People">The number of people inside and guests who can view it.</param>
/// <param name="Editors">The number of people who can edit it.</param>
public sealed record ProspectReach(ViewReachResponse Reach, int People, int Editors);

/// <summary>The verdict on a request as it is filled in.</summary>
/// <param name="Fingerprint">Sent back with the request: another verdict is not carried out.</param>
/// <param name="SameNames">Sites in the viewer's scope with an equivalent name.</param>
/// <param name="Reach">Null without a kind.</param>
public sealed record StartCheck(
    Granting Granting,
    string Fingerprint,
    IReadOnlyList<RemarkOnField> Fields,
    AddressVerdict Address,
    IReadOnlyList<NamedPerson> People,
    IReadOnlyList<SiteNameResponse> SameNames,
    ProspectReach? Reach
);

public sealed record StartSiteRequest(NewSiteRequest Site, string Fingerprint);

/// <param name="Request">The request that was made.</param>
public sealed record StartDone(long Place, Guid Request, SiteRequestState State);

/// <summary>The verdict is another than the one that was shown: nothing was done.</summary>
public sealed record AnotherVerdict(string Fingerprint, IReadOnlyList<RemarkOnField> Fields)
{
    public static AnotherVerdict Of(StartVerdict verdict) => new(verdict.Fingerprint(), RemarkOnField.Of(verdict));
}

/// <summary>A request in a list.</summary>
/// <param name="Address">The whole address.</param>
/// <param name="Step">The step that is being made or has stopped; null otherwise.</param>
/// <param name="Done">How many of <paramref name="Steps"/> are done.</param>
/// <param name="IsByHand">True if a person makes it at the host.</param>
/// <param name="MayAnswer">True if the viewer may grant or refuse it.</param>
/// <param name="Site">The site in the register, once it was read back, if the viewer sees it.</param>
public sealed record SiteRequestLine(
    Guid Id,
    SiteRequestState State,
    string Name,
    string Kind,
    string Host,
    string Address,
    PersonResponse By,
    DateTimeOffset RequestedAt,
    DateOnly Through,
    MakingStep? Step,
    int Done,
    int Steps,
    bool IsByHand,
    bool MayAnswer,
    long? Site
);

/// <param name="Open">Open requests that the viewer may see; <paramref name="Ended"/>: those that ended in the last 14 days. Both
/// the newest first.</param>
public sealed record SiteRequestsResponse(IReadOnlyList<SiteRequestLine> Open, IReadOnlyList<SiteRequestLine> Ended);

/// <summary>One step of making the site.</summary>
public sealed record StepOfMaking(MakingStep Step, bool IsDone);

/// <summary>A request with everything that was filled in, the verdict as of now, and what the viewer may do.</summary>
/// <param name="Fields">The verdict of today, while it waits for an answer.</param>
/// <param name="Answer">The reason for the answer.</param>
/// <param name="Message">The latest message of the host, verbatim.</param>
/// <param name="NextTry">When the current step is tried again, if it waits.</param>
/// <param name="Actions">What the viewer may do now.</param>
/// <param name="WasWider">True if the host had set more access than was granted, which is being restricted.</param>
/// <param name="ByHand">Who makes it at the host and how; null if the product does.</param>
public sealed record SiteRequestResponse(
    SiteRequestLine Line,
    NewSiteRequest Wanted,
    IReadOnlyList<NamedPerson> People,
    ProspectReach? Reach,
    Granting Granting,
    IReadOnlyList<RemarkOnField> Fields,
    string Fingerprint,
    PersonResponse? AnsweredBy,
    DateTimeOffset? AnsweredAt,
    string? Answer,
    IReadOnlyList<StepOfMaking> Steps,
    int Attempts,
    DateTimeOffset? NextTry,
    string? Message,
    IReadOnlyList<RequestActionKind> Actions,
    bool WasWider,
    ByHandResponse? ByHand
);

/// <param name="Account">The account that can make it; <paramref name="Support"/>: whom to ask at the host. Empty if nobody has
/// said.</param>
public sealed record ByHandResponse(PersonResponse? Assignee, string Account, string Support);

public enum RequestActionKind
{
    Grant,
    Refuse,
    Withdraw,
    Resume,
    GiveUp,
    Report,
}

/// <param name="Fingerprint">The fingerprint of the verdict that was shown.</param>
/// <param name="Reason">A few words for the requester and the journal; null for none.</param>
public sealed record GrantSiteRequest(string Fingerprint, string? Reason = null);

/// <param name="Reason">Why; the requester reads it.</param>
public sealed record RefuseSiteRequest(string? Reason);

public sealed record SteerSiteRequest(string? Reason = null);
