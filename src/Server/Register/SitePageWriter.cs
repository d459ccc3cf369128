using AtticLedger.Core.Access;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.Classification;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Attic;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;

namespace AtticLedger.Server.Register;

/// <summary>The parent and children of a site, within the viewer's scope.</summary>
internal sealed record Family(SiteFacts? Parent, IReadOnlyList<SiteFacts> Children, int HiddenChildren);

/// <summary>Writes a site's page, from its row in the index and its changes.</summary>
internal static class SitePageWriter
{
    private const int MostOrders = 20;

    public static SitePage SitePage(
        JudgedSite judged,
        LedgerState state,
        IReadOnlyList<HostChange> hostChanges,
        IReadOnlyDictionary<ChangeId, ManualTask> manualTasks,
        IEnumerable<Hold> holds,
        Family family,
        Since since,
        IReadOnlyList<OwnerQuestion> questions,
        Viewer viewer,
        Uri? front,
        DateTimeOffset now
    )
    {
        var (line, row) = (judged.Line, RuleEvidence.RowOf(judged));
        var site = line.Site;
        var directory = state.PeopleDirectory;
        return new SitePage(
            RegisterRowWriter.Line(row, state, since),
            site.Classification.Has(out var named) ? named : null,
            site.Kind.Has(out var kind) ? kind : null,
            site.Created.Has(out var created) ? created : null,
            site.LastVisit.Has(out var visit) ? visit : null,
            site.Visits.Has(out var visits) ? visits : null,
            [.. UnknownFact.Of(site)],
            [.. line.UnitChain.Select(unit => new UnitResponse(unit.Value, directory.Find(unit)?.Name ?? unit.Value))],
            [.. Powers.Limited.Where(power => !line.Inside(power).IsNone).Select(power => AccessPathOf(line, power, directory))],
            [.. line.Owners.Holders.Select(holder => Holder(holder, directory))],
            site.Sharing.Has(out var sharing)
                ? [.. sharing.Grants.OrderByDescending(grant => grant.Power).Select(grant => Grant(grant, directory))]
                : [],
            [
                .. judged
                    .Findings.OrderByDescending(finding => finding.Verdict == Verdict.Breaks)
                    .ThenBy(finding => finding.Verdict)
                    .ThenBy(finding => finding.Rule.Level)
                    .Select(finding => Explained(finding, judged, row, state, since, questions, hostChanges)),
            ],
            viewer.MayAct && viewer.Actor().As != Capacity.Owner,
            [
                .. hostChanges
                    .Reverse()
                    .Take(MostOrders)
                    .Select(hostChange => HostChangeOf(hostChange, manualTasks.GetValueOrDefault(hostChange.Id), directory, now)),
            ],
            RestrictReach.Remedy(line) is var remedy && remedy.Has(out var limits) ? Limits.Of(limits) : null,
            HandOver.NotFromHere(site, state.Organisation, directory) is { } cannot ? RemarkResponse.Of(cannot) : null,
            viewer.MayAct,
            front is not null && IsShown(line) && site.Address.Has(out var address)
                ? new Uri(front, address[(address.IndexOf('/', StringComparison.Ordinal) + 1)..]).ToString()
                : null,
            site.SeenAt,
            site.NoLongerReported,
            site.Existence,
            AtticEntryWriter.InForce(holds, directory, now),
            Content(line, family, directory, viewer),
            [.. Sources(site)],
            site.Purpose.Has(out var purpose)
                ? SetFact
                    .Choices(ClaimedFact.Purpose, state.Organisation, directory)
                    .FirstOrDefault(choice => choice.Code == purpose)
                    .Name
                    ?? purpose
                : null,
            [.. ClaimsOf(site, state, viewer)],
            site.Tags.IsUnknown
                ? null
                : new SiteTags(
                    [
                        .. SetFact
                            .Choices(ClaimedFact.Tags, state.Organisation, directory)
                            .Where(choice => line.Tags.Contains(choice.Code))
                            .Select(choice => choice.Name),
                    ],
                    line.UnmappedTags
                ),
            new SiteNames(
                site.ShownName.Has(out var shown) ? shown : null,
                site.HomeTitle.Has(out var home) ? home : null,
                [.. Enum.GetValues<VisibleName>().Where(met => NameDrift.Of(site, met) == Truth.Yes)]
            ),
            site.Language.Has(out var language) ? language : null,
            FactResponse.Of(site.Facts)
        );
    }

    private static IEnumerable<FactClaim> ClaimsOf(SiteFacts site, LedgerState state, Viewer viewer)
    {
        var disputed = site.Disputed();
        foreach (var fact in site.Claims.GroupBy(claim => claim.Fact))
        {
            var names = SetFact
                .Choices(fact.Key, state.Organisation, state.PeopleDirectory)
                .ToDictionary(choice => choice.Code, choice => choice.Name);
            string Words(string value) =>
                fact.Key == ClaimedFact.Tags
                    ? string.Join(TagWords.Separator, TagWords.Split(value).Select(word => names.GetValueOrDefault(word, word)))
                    : names.GetValueOrDefault(value, value);
            var stands = site.Of(fact.Key).Has(out var value) ? value : null;
            yield return new FactClaim(
                fact.Key,
                disputed.Contains(fact.Key),
                fact.Key.IsDecidedHere() && viewer.Role == Store.Role.Administrator,
                [
                    .. fact.Select(claim => new ClaimResponse(
                        claim.Source == Claims.Organisation ? null : claim.Source,
                        claim.Value,
                        claim.Value is null ? "none" : Words(claim.Value),
                        claim.Since,
                        claim.By is { } by ? PersonResponse.Of(by, state.PeopleDirectory) : null,
                        claim.Value == stands
                    )),
                ]
            );
        }
    }

    private static ContentResponse Content(ComputedSite line, Family family, PeopleDirectory directory, Viewer viewer)
    {
        var site = line.Site;
        var ownUnit = line.Site.Unit.Has(out var unit) ? directory.OfUnit(unit) : PeopleSet.Empty;
        (OptionalFact Fact, bool IsUnknown)[] optional =
        [
            (OptionalFact.Plan, site.Plan.IsUnknown),
            (OptionalFact.Owed, site.Obligations.IsUnknown),
            (OptionalFact.Signals, site.Signals.IsUnknown),
            (OptionalFact.Sections, site.Sections.IsUnknown),
            (OptionalFact.Joining, site.Joining.IsUnknown),
            (OptionalFact.Shared, site.Shared.IsUnknown),
        ];
        return new ContentResponse(
            family.Parent is { } parent ? Related(parent) : null,
            site.Parent.IsUnknown ? null : !site.Parent.IsNone,
            [
                .. family
                    .Children.OrderBy(child => child.Existence)
                    .ThenBy(child => child.Title, StringComparer.OrdinalIgnoreCase)
                    .Select(Related),
            ],
            family.HiddenChildren,
            [.. site.Editing.Or([]).Select(person => PersonResponse.Of(person, directory))],
            site.Plan.Has(out var plan)
                ? new SitePlanResponse(plan.Name, plan.Cost, plan.Next, plan.Through, plan.Renews, plan.Sites)
                : null,
            [.. site.Obligations.Or([]).Select(one => Phrases.Obligation(one.Count, one.What, one.Through))],
            [.. site.Signals.Or([]).Select(signal => new SignalResponse(signal.Kind, signal.Evidence))],
            [
                .. line.Sections.Select(section => new Section(
                    section.Section.Name,
                    section.Section.Tie,
                    AccessSet(section.View, line.AccessPath(Power.View).LevelsOf(section.View), directory),
                    section.IsAjar
                )),
            ],
            site.Joining.Has(out var joining)
                ? new JoiningResponse(
                    joining.Way,
                    joining.Waiting,
                    joining.Since,
                    line.Owners.ActiveAtMost == 0,
                    joining.Members.Has(out var members) ? members : null
                )
                : null,
            [
                .. site
                    .Shared.Or([])
                    .Select(shared => new SharedPiece(
                        shared.What,
                        shared.In.Count,
                        viewer.Role is Store.Role.Administrator or Store.Role.Auditor ? shared.In : []
                    )),
            ],
            [.. optional.Where(fact => !fact.IsUnknown).Select(fact => fact.Fact)]
        );
    }

    private static Related Related(SiteFacts site) =>
        new(
            site.Id.Value,
            site.Title,
            site.Address.Has(out var address) ? address : null,
            site.Existence,
            site.Pages.Has(out var pages) ? pages : null,
            site.Bytes.Has(out var bytes) ? bytes : null
        );

    // Access can be newer than the rest, because a host's response to a change reports it too.
    private static IEnumerable<FactSource> Sources(SiteFacts site)
    {
        yield return new FactSource("name, address, status, content", $"reported by {site.Host}", site.SeenAt);
        yield return new FactSource("whether it is in use or deleted", $"reported by {site.Host}", site.StandsAt);
        if (site.Sharing.Has(out var sharing))
        {
            yield return new FactSource(
                "who has access",
                sharing.Source == SharingSource.Read ? $"reported by {site.Host}" : $"confirmed by {site.Host}",
                sharing.At
            );
        }
    }

    public static SiteOwnerResponse Holder(Core.Ownership.SiteOwner holder, PeopleDirectory directory) =>
        new(
            PersonResponse.Of(holder.Person.Id, directory),
            holder.IsActive,
            holder.Why.Any(why =>
                why
                    is Core.Ownership.InactiveReason.Left
                        or Core.Ownership.InactiveReason.Outside
                        or Core.Ownership.InactiveReason.Service
            ),
            holder.Standing == Standing.Left,
            Explanation.Reason(holder, directory),
            holder.Through
        );

    private static AccessPathResponse AccessPathOf(ComputedSite line, Power power, PeopleDirectory directory)
    {
        var accessPath = line.AccessPath(power);
        AccessResponse Of(AccessBounds bounds) => AccessSet(bounds, accessPath.LevelsOf(bounds), directory);
        return new AccessPathResponse(
            power,
            Of(accessPath.SetAccess),
            [
                .. accessPath.Steps.Select(step => new StepResponse(
                    step.Layer.Kind,
                    step.Layer.Name,
                    step.Layer.Enforcer,
                    step.Limit.Has(out var limit) ? limit.Inside.Word() : null,
                    step.Limit.Has(out limit) ? limit.Widest.Word() : null,
                    step.Limit.Has(out limit) ? limit.LeastSignIn.Word() : null,
                    [.. step.Bindings.Where(binding => binding.IsCertain).Select(binding => AxisWord(binding.Axis))],
                    [.. step.Bindings.Where(binding => !binding.IsCertain).Select(binding => AxisWord(binding.Axis))],
                    Of(step.Behind)
                )),
            ],
            Of(accessPath.Effective),
            Of(accessPath.Allowed),
            line.ExcessOf(power),
            accessPath.Excess.Inside,
            accessPath.Excess.Outside
        );
    }

    private static string AxisWord(Axis axis) =>
        axis switch
        {
            Axis.Inside => "inside",
            Axis.Who => "outside",
            _ => "sign-in",
        };

    private static AccessResponse AccessSet(AccessBounds bounds, Span inside, PeopleDirectory directory)
    {
        var outside = new Span((int)bounds.AtLeast.Doors.Widest, (int)bounds.AtMost.Doors.Widest);
        var outsideLabels = RegisterRowWriter.Words(outside, value => ((OutsideLevel)value).Word());
        if (
            outside.AtLeast == outside.AtMost
            && bounds.AtLeast.Doors.WeakestSignIn is { } visitorSignIn and not VisitorSignIn.None
        )
        {
            outsideLabels = $"{outsideLabels}, {visitorSignIn.Word()}";
        }

        return new AccessResponse(
            new Bounds((int)inside.AtLeast, (int)inside.AtMost),
            new Bounds((int)outside.AtLeast, (int)outside.AtMost),
            RegisterRowWriter.Words(inside, value => ((InsideLevel)value).Word()),
            outsideLabels,
            Counted(bounds.AtLeast.Inside, directory),
            Counted(bounds.AtMost.Inside, directory),
            bounds.AtLeast.Guests.Count
        );
    }

    // Service accounts pass limits and are never counted.
    private static int Counted(PeopleSet people, PeopleDirectory directory) =>
        people.Places().Count(place => directory.People[place].Kind != PersonKind.Service);

    private static GrantResponse Grant(Grant grant, PeopleDirectory directory)
    {
        var expansion = grant.Subject is Subject.OneGroup(var group) ? directory.Expand(group) : default;
        var detail = grant.Subject switch
        {
            Subject.OnePerson(var person) => directory.Find(person)?.Mail ?? "",
            Subject.OneGroup => expansion.Complete
                ? $"group, {expansion.People.Count} people"
                : $"group, at least {expansion.People.Count} people; reported only in part",
            Subject.WholeUnit(var unit) => $"unit, {directory.OfUnit(unit).Count} people",
            Subject.AllStaff => $"{directory.Staff.Count} people",
            _ => grant.VisitorSignIn.Word(),
        };
        return new GrantResponse(
            GrantText.Who(grant, directory),
            grant.Power,
            grant.Through is { } through ? $"{detail}; link until {Explanation.Date(through, directory)}" : detail,
            grant.Subject is Subject.Anonymous or Subject.Partners
                || (grant.Subject is Subject.OnePerson(var one) && directory.Find(one)?.IsOutside == true),
            grant.Subject is Subject.OnePerson(var named) ? named.Value : null,
            grant.Subject is Subject.OneGroup(var of) ? of.Value : null,
            grant.Subject is Subject.OnePerson(var gone)
                && directory.PlaceOf(gone) is { } place
                && directory.Standings[place] == Core.People.Standing.Left
        );
    }

    // Anonymous visitors may be able to open it: it is in use, published for all that is known, and no host layer certainly stops them.
    private static bool IsShown(ComputedSite line) =>
        line.Site is { Existence: Existence.InUse, NoLongerReported: false }
        && AccessPaths.IsPublished(line.Site.Status) != Truth.No
        && line.AccessPath(Power.View).Effective.AtMost.Doors.Widest == OutsideLevel.Anonymous;

    private static Explained Explained(
        Finding finding,
        JudgedSite judged,
        RegisterRow row,
        LedgerState state,
        Since since,
        IReadOnlyList<OwnerQuestion> questions,
        IReadOnlyList<HostChange> hostChanges
    )
    {
        var line = judged.Line;
        var explanation = RuleEvidence.Explained(finding, judged, row, state);
        var outcome =
            finding.Verdict == Verdict.Breaks
                ? Remedies.Try(
                    new ActionFacts(line.Site, hostChanges, state.Organisation, state.Rules, state.PeopleDirectory),
                    finding.Rule
                )
                : null;
        return new Explained(
            RegisterRowWriter.Finding(finding.Site, finding.Rule, finding.IsUntold, since),
            explanation.Headline,
            explanation.Detail,
            finding.Verdict == Verdict.Excepted,
            outcome?.Remedies ?? [],
            outcome?.Clears,
            outcome is null ? [] : RemarkSentence.Of(outcome.Left),
            ExceptionInForce.Of(finding, line, state),
            questions.FirstOrDefault(question => question.Rule == finding.Rule.Id) is { } asked
                ? QuestionResponse.Of(asked, state.PeopleDirectory)
                : null
        );
    }

    private static HostChangeResponse HostChangeOf(
        HostChange hostChange,
        ManualTask? manualTask,
        PeopleDirectory directory,
        DateTimeOffset now
    )
    {
        var before = hostChange.Before.ToDictionary(change => change.Key, change => change.Wanted);
        return new HostChangeResponse(
            hostChange.Id.Value,
            hostChange.State,
            hostChange.IsOverdue(now),
            [
                .. hostChange.WantedState.Grants.Select(change => new GrantChangeResponse(
                    GrantText.Who((change.Wanted ?? before[change.Key])!, directory),
                    before.GetValueOrDefault(change.Key)?.Power,
                    change.Wanted?.Power
                )),
            ],
            PersonResponse.Of(hostChange.By, directory),
            hostChange.Reason,
            hostChange.RequestedAt,
            hostChange.SentAt,
            hostChange.ConfirmedAt,
            hostChange.SeenAt,
            hostChange.DueAt,
            hostChange.NextTry,
            hostChange.Attempts,
            hostChange.Words,
            hostChange.UndoOf?.Value,
            UndoHostChange.IsPossible(hostChange),
            hostChange.Purpose,
            manualTask is null ? null : PersonResponse.Of(manualTask.To, directory),
            FieldChangeResponse.Of(hostChange)
        );
    }
}
