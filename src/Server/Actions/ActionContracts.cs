using AtticLedger.Core.Access;
using AtticLedger.Core.Actions;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Actions;

/// <summary>The access limit of one power.</summary>
/// <param name="GuestInviter">Who may invite new guests; it matters for limits and not for the access of a site.</param>
public sealed record LimitResponse(
    InsideWord Inside,
    OutsideLevel Outside,
    VisitorSignIn VisitorSignIn,
    GuestInviter GuestInviter = GuestInviter.AnyOwner
);

public enum InsideWord
{
    Staff,
    Unit,
    Named,
    NamedInUnit,
    Nobody,
}

public sealed record Limits(LimitResponse View, LimitResponse Preview, LimitResponse Edit)
{
    public PowerLimits ToLimits() => new(Limit(View), Limit(Preview), Limit(Edit));

    public static Limits Of(PowerLimits limits) =>
        new(ToResponse(limits.For(Power.View)), ToResponse(limits.For(Power.Preview)), ToResponse(limits.For(Power.Edit)));

    private static LimitResponse ToResponse(Limit limit) =>
        new(Enum.Parse<InsideWord>(limit.Inside.ToString()), limit.Widest, limit.LeastSignIn, limit.GuestInviter);

    private static Limit Limit(LimitResponse limit) =>
        new(Enum.Parse<InsideLimit>(limit.Inside.ToString()), limit.Outside, limit.VisitorSignIn, limit.GuestInviter);
}

/// <param name="Target">The widest access that policy allows the site to set.</param>
public sealed record RestrictPlanRequest(Limits Target, string? Reason = null);

/// <param name="Person">Whose access is removed; <paramref name="Group"/>: the group whose access is removed. One of the two.</param>
public sealed record RemoveAccessPlanRequest(long? Person = null, long? Group = null, string? Reason = null);

/// <param name="Person">Whose access is removed; <paramref name="Group"/>: the group whose access is removed. One of the two.</param>
public sealed record StartRemoveAccessRequest(string Fingerprint, long? Person = null, long? Group = null, string? Reason = null);

/// <param name="Person">Who gets the power; or the <paramref name="Group"/>, the unit with the code <paramref name="Unit"/>, or many
/// people by <paramref name="All"/>. One of the four.</param>
/// <param name="SignIn">What partners and anonymous visitors have to prove.</param>
public sealed record GrantAccessPlanRequest(
    Power Power,
    long? Person = null,
    long? Group = null,
    string? Unit = null,
    WideSubject? All = null,
    VisitorSignIn SignIn = VisitorSignIn.Account,
    string? Reason = null
);

/// <param name="Fingerprint">The fingerprint of the previewed plan: a different effect is refused.</param>
public sealed record StartGrantAccessRequest(
    Power Power,
    string Fingerprint,
    long? Person = null,
    long? Group = null,
    string? Unit = null,
    WideSubject? All = null,
    VisitorSignIn SignIn = VisitorSignIn.Account,
    string? Reason = null
)
{
    /// <summary>The same without the fingerprint.</summary>
    internal GrantAccessPlanRequest Planned => new(Power, Person, Group, Unit, All, SignIn, Reason);
}

/// <param name="Fingerprint">The fingerprint of the previewed plan: a different effect is refused.</param>
public sealed record StartRestrictRequest(Limits Target, string Fingerprint, string? Reason = null);

public sealed record UndoChangeRequest(string Fingerprint, string? Reason = null);

/// <param name="From">The power before, null for none; <paramref name="To"/> after.</param>
public sealed record GrantChangeResponse(string Who, Power? From, Power? To);

public sealed record PowerChangeResponse(
    Power Power,
    IReadOnlyList<PersonResponse> Gain,
    IReadOnlyList<PersonResponse> Lose,
    IReadOnlyList<string> Opened,
    IReadOnlyList<string> Shut
);

/// <summary>Everything removed together with a site that is moved to the attic; null if unknown.</summary>
/// <param name="Group">The group removed with it.</param>
/// <param name="Opened">Other sites that this group gives access to, with the number of people who lose that access.</param>
/// <param name="HiddenOpened">The number of other sites of the group outside the viewer's scope.</param>
/// <param name="LookAlikes">Other sites with an equivalent name.</param>
/// <param name="HostKeepsThrough">The last day on which the host can restore it.</param>
/// <param name="IsOurs">True if the host deletes irrevocably, so that the site is only shut there.</param>
/// <param name="Cost">The payments that continue, and their next date; null if none are known.</param>
/// <param name="Shared">Pages of it that other sites show too.</param>
/// <param name="Records">The number of records that must be kept; null if none or unknown.</param>
public sealed record LossResponse(
    int? Pages,
    long? Bytes,
    IReadOnlyList<string> Domains,
    string? Group,
    IReadOnlyList<AlsoOpenedSite> Opened,
    int? Visits,
    IReadOnlyList<string> LookAlikes,
    DateOnly KeptThrough,
    string KeptBecause,
    DateOnly? HostKeepsThrough,
    bool IsOurs,
    string? Cost,
    string? MailAlias,
    int? Records,
    IReadOnlyList<SharedLoss> Shared,
    int HiddenOpened
)
{
    public static LossResponse Of(Loss loss) =>
        new(
            loss.Pages.Has(out var pages) ? pages : null,
            loss.Bytes.Has(out var bytes) ? bytes : null,
            loss.Domains,
            loss.Group,
            [.. loss.Opened.Select(site => new AlsoOpenedSite(site.Site.Value, site.Name, site.People))],
            loss.Visits.Has(out var visits) ? visits : null,
            loss.LookAlikes,
            loss.KeptThrough,
            loss.KeptBecause,
            loss.HostKeepsThrough,
            loss.IsOurs,
            loss.Plan is { } plan ? $"{plan.Name}: {plan.Cost}; {plan.Next}" : null,
            loss.MailAlias,
            loss.Records.Has(out var records) ? records : null,
            [.. (loss.Shared ?? []).Select(shared => new SharedLoss(shared.What, shared.In.Count))],
            loss.HiddenOpened
        );
}

/// <param name="Sites">The number of other sites from which it disappears.</param>
public sealed record SharedLoss(string What, int Sites);

public sealed record AlsoOpenedSite(long Site, string Name, int People);

/// <summary>A part of how a site presents itself, before and after; null for none.</summary>
/// <param name="IsBeforeKnown">False if the host does not report it.</param>
public sealed record FieldChangeResponse(LookField Field, string? Before, bool IsBeforeKnown, string? After)
{
    public static FieldChangeResponse Of(FieldChange change) =>
        new(
            change.Field,
            change.Before.Has(out var before) ? before : null,
            !change.Before.IsUnknown,
            change.After.Length == 0 ? null : change.After
        );

    /// <summary>What a change at a host makes different.</summary>
    public static IReadOnlyList<FieldChangeResponse> Of(HostChange hostChange)
    {
        var (wanted, former) = (hostChange.WantedState, hostChange.Former);
        var fields = new List<FieldChangeResponse>();
        if (hostChange.Purpose == ChangePurpose.Address && wanted.Address is { } address)
        {
            fields.Add(new FieldChangeResponse(LookField.Address, former?.Address, true, address));
        }

        if (wanted.Look is { } look)
        {
            Add(LookField.Name, former?.Look?.Name, look.Name);
            Add(LookField.Description, former?.Look?.Description, look.Description);
            Add(LookField.Logo, Text(former?.Look?.Logo), Text(look.Logo));
        }

        return fields;

        void Add(LookField field, string? before, string? after)
        {
            if (after is not null)
            {
                fields.Add(
                    new FieldChangeResponse(
                        field,
                        string.IsNullOrEmpty(before) ? null : before,
                        before is not null,
                        after.Length == 0 ? null : after
                    )
                );
            }
        }
    }

    private static string? Text(WantedLogo? logo) => logo is null ? null : FieldChange.LogoText(logo.Source, logo.From);
}

/// <param name="Links">Sites in the viewer's scope with pages that link to the old address.</param>
/// <param name="HiddenLinking">The number of others.</param>
/// <param name="Unread">The number of sites whose pages could not be read, so that links on them are not known.</param>
/// <param name="Visits">In the last seven days; null if not measured.</param>
/// <param name="ForwardThrough">The last day on which the old address forwards to the new one; null if it does not.</param>
/// <param name="Former">Addresses that forward to the site already, and do so to the new address from then on.</param>
/// <param name="SwapWith">The site that gets the old address for the new one.</param>
public sealed record AddressImpactResponse(
    IReadOnlyList<LinkingSiteResponse> Links,
    int HiddenLinking,
    int Unread,
    int? Visits,
    DateOnly? ForwardThrough,
    IReadOnlyList<ForwardResponse> Former,
    string? SwapWith
)
{
    public static AddressImpactResponse Of(AddressImpact impact, OrganisationTime time) =>
        new(
            [.. impact.Links.Select(link => new LinkingSiteResponse(link.Site.Value, link.Title, link.Pages))],
            impact.HiddenLinking,
            impact.Unread,
            impact.Visits.Has(out var visits) ? visits : null,
            impact.ForwardThrough,
            [.. impact.Former.Select(forward => ForwardResponse.Of(forward, time))],
            impact.SwapWith
        );
}

/// <param name="Pages">The number of its pages that link.</param>
public sealed record LinkingSiteResponse(long Id, string Title, int Pages);

/// <param name="Through">The last day on which it forwards.</param>
public sealed record ForwardResponse(string Address, DateOnly Through)
{
    public static ForwardResponse Of(Forward forward, OrganisationTime time) =>
        new(forward.Address, time.DayOf(forward.Until.AddTicks(-1)));
}

/// <param name="SideEffects">Side effects, which need no action of their own.</param>
/// <param name="Fields">What becomes different of how the site presents itself.</param>
/// <param name="Address">What a changed address means for others; null where none changes.</param>
/// <param name="Advice">What else is to know before it is carried out.</param>
/// <param name="HiddenBorrowers">The number of sites outside the viewer's scope that show the logo that changes or vanishes.</param>
/// <param name="Confirmation">The confirmation that the action requires.</param>
/// <param name="StopMinutes">How long an owner's deletion can be stopped; null if it happens at once.</param>
/// <param name="NeedsSecond">Why a second person has to agree; null if not needed.</param>
/// <param name="ManualTaskFor">The assignee, if the host has no connector that writes; null if it has one.</param>
/// <param name="VisitsAffected">Visits in seven days through the access that is closed; null if not measured.</param>
public sealed record PlanResponse(
    string Fingerprint,
    IReadOnlyList<GrantChangeResponse> Changes,
    IReadOnlyList<PowerChangeResponse> Powers,
    IReadOnlyList<RuleResponse> Cleared,
    IReadOnlyList<RuleResponse> Opened,
    IReadOnlyList<string> Unaffected,
    int? VisitsAffected,
    IReadOnlyList<string> SideEffects,
    ConfirmationLevel Confirmation,
    string? NeedsSecond,
    LossResponse? Loss,
    int? StopMinutes,
    string? ManualTaskFor,
    IReadOnlyList<FieldChangeResponse> Fields,
    AddressImpactResponse? Address,
    IReadOnlyList<string> Advice,
    int HiddenBorrowers
)
{
    public static PlanResponse Of(Decision.Plan plan, ActionFacts facts)
    {
        if (plan.Newcomer is { } newcomer)
        {
            facts = facts with { PeopleDirectory = facts.PeopleDirectory.With(newcomer) };
        }

        var before = facts.Site.Expected.Or([]).ToDictionary(grant => grant.Key);
        return new PlanResponse(
            plan.Fingerprint,
            [
                .. plan.Effect.Grants.Select(change => new GrantChangeResponse(
                    GrantText.Who(change.Wanted ?? before[change.Key], facts.PeopleDirectory),
                    before.GetValueOrDefault(change.Key)?.Power,
                    change.Wanted?.Power
                )),
            ],
            [
                .. plan.Effect.Powers.Select(change => new PowerChangeResponse(
                    change.Power,
                    [.. change.Gain.Select(person => PersonResponse.Of(person, facts.PeopleDirectory))],
                    [.. change.Lose.Select(person => PersonResponse.Of(person, facts.PeopleDirectory))],
                    [.. change.Opened.Select(Words)],
                    [.. change.Shut.Select(Words)]
                )),
            ],
            [.. plan.Effect.Cleared.Select(rule => RuleResponse.Of(rule, facts.Rules))],
            [.. plan.Effect.Opened.Select(rule => RuleResponse.Of(rule, facts.Rules))],
            RemarkSentence.Of(plan.Unaffected),
            plan.Effect.VisitsAffected.Has(out var visits) ? visits : null,
            plan.SideEffects,
            plan.Confirmation,
            plan.NeedsSecond is { } second ? RemarkSentence.Of(second) : null,
            plan.Loss is { } loss ? LossResponse.Of(loss) : null,
            plan.AtticEntry?.StoppableUntil is { } until ? (int)(until - facts.Now).TotalMinutes : null,
            plan.HostChanges.LastOrDefault(hostChange => hostChange.State == ChangeState.Queued) is { } asked
                ? Core.Actions.ManualTaskSteps.PreviewText(facts.Site, facts.Organisation, asked.By, facts.PeopleDirectory)
                : null,
            [.. plan.Fields.Select(FieldChangeResponse.Of)],
            plan.AddressImpact is { } impact ? AddressImpactResponse.Of(impact, facts.PeopleDirectory.Time) : null,
            RemarkSentence.Of(plan.Advice),
            plan.HiddenBorrowers
        );
    }

    private static string Words(Door door) =>
        door.VisitorSignIn == VisitorSignIn.None ? door.Who.Word() : $"{door.Who.Word()}, {door.VisitorSignIn.Word()}";
}

/// <summary>The preview of an action: a plan, or every reason why not.</summary>
public sealed record Preview(PlanResponse? Plan, IReadOnlyList<RemarkResponse> Refused);

/// <param name="HostChange">The change that was queued for the host or withdrawn; null where the action needs none.</param>
/// <param name="Offer">The offer that was made or answered.</param>
/// <param name="Approval">The request that waits for a second person: nothing has been done yet.</param>
public sealed record ActionDone(long Place, Guid? HostChange = null, Guid? Offer = null, Guid? Approval = null)
{
    /// <summary>What the executor returns for an action whose answer is only its place.</summary>
    public static Written<ActionDone> Written(long place) => new(place, new ActionDone(place));
}
