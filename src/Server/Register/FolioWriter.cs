using AtticLedger.Core.Attic;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Doors;
using AtticLedger.Core.Filters;
using AtticLedger.Core.FirstWeek;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Attic;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Store;

namespace AtticLedger.Server.Register;

/// <summary>The site above one and those below it, as far as the viewer may see them.</summary>
internal sealed record Family(SiteFacts? Parent, IReadOnlyList<SiteFacts> Children, int HiddenChildren);

/// <summary>One site's page, from its line in the sheet and its orders.</summary>
internal static class FolioWriter
{
    private const int MostOrders = 20;

    public static FolioWire Folio(
        JudgedLine judged,
        LedgerState state,
        IReadOnlyList<Order> orders,
        IReadOnlyDictionary<OrderId, HandOrder> hands,
        IEnumerable<Hold> holds,
        Family family,
        Since since,
        Viewer viewer,
        Uri? front,
        DateTimeOffset now
    )
    {
        var line = judged.Line;
        var site = line.Site;
        var roll = state.Roll;
        return new FolioWire(
            LineWriter.Line(JudgedSheet.Empty.With([judged]).Seen(new Sight.Everything()).Find(site.Id)!.Value, state, since),
            site.Class.Has(out var named) ? named : null,
            site.Kind.Has(out var kind) ? kind : null,
            site.Created.Has(out var created) ? created : null,
            site.LastVisit.Has(out var visit) ? visit : null,
            site.Visits.Has(out var visits) ? visits : null,
            [.. Unknowns(site)],
            [.. line.UnitChain.Select(unit => new UnitWire(unit.Value, roll.Find(unit)?.Name ?? unit.Value))],
            [.. Powers.Limited.Where(power => !line.Inside(power).IsNone).Select(power => PassageOf(line, power, roll))],
            [.. line.Keys.Holders.Select(holder => Holder(holder, roll))],
            site.Sharing.Has(out var sharing)
                ? [.. sharing.Grants.OrderByDescending(grant => grant.Power).Select(grant => Grant(grant, roll))]
                : [],
            [
                .. judged
                    .Findings.OrderByDescending(finding => finding.Verdict == Verdict.Breaks)
                    .ThenBy(finding => finding.Verdict)
                    .ThenBy(finding => finding.Rule.Level)
                    .Select(finding => Explained(finding, line, state, since)),
            ],
            viewer.MayAct && viewer.Doer().As != Capacity.Owner,
            [.. orders.Reverse().Take(MostOrders).Select(order => OrderOf(order, hands.GetValueOrDefault(order.Id), roll, now))],
            NarrowReach.Remedy(line) is var remedy && remedy.Has(out var limits) ? LimitsWire.Of(limits) : null,
            HandOver.NotFromHere(site, state.House, roll),
            viewer.MayAct,
            front is not null && site.Host == SlipwayHost.HostName && site.Address.Has(out var address)
                ? new Uri(front, address[(address.IndexOf('/', StringComparison.Ordinal) + 1)..]).ToString()
                : null,
            site.SeenAt,
            site.Vanished,
            site.Existence,
            StayWriter.InForce(holds, roll, now),
            Content(line, family, roll, viewer),
            [.. Sources(site)],
            site.Purpose.Has(out var purpose)
                ? Say.Choices(SaidFact.Purpose, state.House, roll).FirstOrDefault(choice => choice.Code == purpose).Name
                    ?? purpose
                : null,
            [.. Said(site, state, viewer)],
            site.Tags.IsUnknown
                ? null
                : new TagsWire(
                    [
                        .. Say.Choices(SaidFact.Tags, state.House, roll)
                            .Where(choice => line.Tags.Contains(choice.Code))
                            .Select(choice => choice.Name),
                    ],
                    line.LooseWords
                ),
            new NamesWire(
                site.Content.ShownName.Has(out var shown) ? shown : null,
                site.Content.HomeTitle.Has(out var home) ? home : null,
                [.. Enum.GetValues<MetName>().Where(met => NameDrift.Of(site, met) == Truth.Yes)]
            ),
            site.Content.Description.Has(out var description) ? description : null,
            site.Content.Language.Has(out var language) ? language : null
        );
    }

    private static IEnumerable<FactSaidWire> Said(SiteFacts site, LedgerState state, Viewer viewer)
    {
        var disputed = site.Disputed();
        foreach (var fact in site.Said.GroupBy(statement => statement.Fact))
        {
            var names = Say.Choices(fact.Key, state.House, state.Roll).ToDictionary(choice => choice.Code, choice => choice.Name);
            string Words(string value) =>
                fact.Key == SaidFact.Tags
                    ? string.Join(TagWords.Separator, TagWords.Split(value).Select(word => names.GetValueOrDefault(word, word)))
                    : names.GetValueOrDefault(value, value);
            var stands = site.Of(fact.Key).Has(out var value) ? value : null;
            yield return new FactSaidWire(
                fact.Key,
                disputed.Contains(fact.Key),
                fact.Key.IsDecidedHere() && viewer.Role == Store.Role.Administrator,
                [
                    .. fact.Select(statement => new StatementWire(
                        statement.Source == Statements.House ? null : statement.Source,
                        statement.Value,
                        statement.Value is null ? "none" : Words(statement.Value),
                        statement.Since,
                        statement.By is { } by ? PersonWire.Of(by, state.Roll) : null,
                        statement.Value == stands
                    )),
                ]
            );
        }
    }

    private static ContentWire Content(SiteLine line, Family family, Roll roll, Viewer viewer)
    {
        var content = line.Site.Content;
        var ownUnit = line.Site.Unit.Has(out var unit) ? roll.OfUnit(unit) : PeopleSet.Empty;
        (string Name, bool IsUnknown)[] facts =
        [
            ("pages", content.Pages.IsUnknown),
            ("storage", content.Bytes.IsUnknown),
            ("web domains", content.Domains.IsUnknown),
            ("the site above it", content.Parent.IsUnknown),
            ("who edits it now", content.Editing.IsUnknown),
        ];
        (RarerFact Fact, bool IsUnknown)[] rarer =
        [
            (RarerFact.Plan, content.Plan.IsUnknown),
            (RarerFact.MailAlias, content.MailAlias.IsUnknown),
            (RarerFact.Owed, content.Obligations.IsUnknown),
            (RarerFact.Records, content.Records.IsUnknown),
            (RarerFact.Signals, content.Signals.IsUnknown),
            (RarerFact.Sections, content.Sections.IsUnknown),
            (RarerFact.Joining, content.Joining.IsUnknown),
            (RarerFact.Shared, content.Shared.IsUnknown),
        ];
        return new ContentWire(
            content.Pages.Has(out var pages) ? pages : null,
            content.Bytes.Has(out var bytes) ? bytes : null,
            content.Domains.Or([]),
            family.Parent is { } parent ? Related(parent) : null,
            content.Parent.IsUnknown ? null : !content.Parent.IsNone,
            [
                .. family
                    .Children.OrderBy(child => child.Existence)
                    .ThenBy(child => child.Title, StringComparer.OrdinalIgnoreCase)
                    .Select(Related),
            ],
            family.HiddenChildren,
            [.. content.Editing.Or([]).Select(person => PersonWire.Of(person, roll))],
            content.Plan.Has(out var plan)
                ? new SitePlanWire(plan.Name, plan.Cost, plan.Next, plan.Through, plan.Renews, plan.Sites)
                : null,
            content.MailAlias.Has(out var alias) ? alias : null,
            [.. content.Obligations.Or([]).Select(obligation => obligation.Words)],
            content.Records.Has(out var records) ? records : null,
            [.. content.Signals.Or([]).Select(signal => new SignalWire(signal.Kind, signal.Evidence))],
            [
                .. line.Sections.Select(section => new SectionWire(
                    section.Section.Name,
                    section.Section.Tie,
                    Access(section.View, line.Passage(Power.View).LevelsOf(section.View), roll),
                    section.IsAjar
                )),
            ],
            content.Joining.Has(out var joining)
                ? new JoiningWire(
                    joining.Way,
                    joining.Waiting,
                    joining.Since,
                    line.Keys.FitAtMost == 0,
                    joining.Members.Has(out var members) ? members : null
                )
                : null,
            [
                .. content
                    .Shared.Or([])
                    .Select(shared => new SharedWire(
                        shared.What,
                        shared.In.Count,
                        viewer.Role is Store.Role.Administrator or Store.Role.Auditor ? shared.In : []
                    )),
            ],
            [.. rarer.Where(fact => !fact.IsUnknown).Select(fact => fact.Fact)],
            [.. facts.Where(fact => fact.IsUnknown).Select(fact => fact.Name)]
        );
    }

    private static RelatedWire Related(SiteFacts site) =>
        new(
            site.Id.Value,
            site.Title,
            site.Address.Has(out var address) ? address : null,
            site.Existence,
            site.Content.Pages.Has(out var pages) ? pages : null,
            site.Content.Bytes.Has(out var bytes) ? bytes : null
        );

    // Who is let in may be newer than the rest: a host's answer to an order says it too.
    private static IEnumerable<SourcedWire> Sources(SiteFacts site)
    {
        yield return new SourcedWire("name, address, stage, content", $"read from {site.Host}", site.SeenAt);
        yield return new SourcedWire("whether it is in use or deleted", $"read from {site.Host}", site.StandsAt);
        if (site.Sharing.Has(out var sharing))
        {
            yield return new SourcedWire(
                "who is let in",
                sharing.Source == SharingSource.Read ? $"read from {site.Host}" : $"confirmed by {site.Host}",
                sharing.At
            );
        }
    }

    public static KeyHolderWire Holder(Core.Keys.KeyHolder holder, Roll roll) =>
        new(
            PersonWire.Of(holder.Person.Id, roll),
            holder.IsFit,
            holder.Why.Any(why => why is Core.Keys.Unfit.Left or Core.Keys.Unfit.Outside or Core.Keys.Unfit.Service),
            Explanation.Reason(holder, roll),
            holder.Through
        );

    private static IEnumerable<string> Unknowns(SiteFacts site)
    {
        (string Name, bool IsUnknown)[] facts =
        [
            ("name", site.Name.IsUnknown),
            ("address", site.Address.IsUnknown),
            ("unit", site.Unit.IsUnknown),
            ("class", site.Class.IsUnknown),
            ("kind", site.Kind.IsUnknown),
            ("stage", site.Stage.IsUnknown),
            ("when it was made", site.Created.IsUnknown),
            ("last edit", site.LastEdit.IsUnknown),
            ("visits", site.Visits.IsUnknown),
            ("who is let in", site.Sharing.IsUnknown),
        ];
        return facts.Where(fact => fact.IsUnknown).Select(fact => fact.Name);
    }

    private static PassageWire PassageOf(SiteLine line, Power power, Roll roll)
    {
        var passage = line.Passage(power);
        AccessWire Of(AccessBounds bounds) => Access(bounds, passage.LevelsOf(bounds), roll);
        return new PassageWire(
            power,
            Of(passage.Asked),
            [
                .. passage.Steps.Select(step => new StepWire(
                    step.Layer.Kind,
                    step.Layer.Name,
                    step.Layer.Enforcer,
                    step.Limit.Has(out var limit) ? limit.Inside.Word() : null,
                    step.Limit.Has(out limit) ? limit.Widest.Word() : null,
                    step.Limit.Has(out limit) ? limit.LeastProof.Word() : null,
                    [.. step.Bindings.Where(binding => binding.IsCertain).Select(binding => AxisWord(binding.Axis))],
                    [.. step.Bindings.Where(binding => !binding.IsCertain).Select(binding => AxisWord(binding.Axis))],
                    Of(step.Behind)
                )),
            ],
            Of(passage.Actual),
            Of(passage.Allowed),
            line.BeyondOf(power),
            passage.Beyond.Inside,
            passage.Beyond.Outside
        );
    }

    private static string AxisWord(Axis axis) =>
        axis switch
        {
            Axis.Inside => "inside",
            Axis.Who => "outside",
            _ => "proof",
        };

    private static AccessWire Access(AccessBounds bounds, Span inside, Roll roll)
    {
        var outside = new Span((int)bounds.AtLeast.Doors.Widest, (int)bounds.AtMost.Doors.Widest);
        var outsideWords = LineWriter.Words(outside, value => ((OutsideLevel)value).Word());
        if (outside.AtLeast == outside.AtMost && bounds.AtLeast.Doors.WeakestProof is { } proof and not Proof.None)
        {
            outsideWords = $"{outsideWords}, {proof.Word()}";
        }

        return new AccessWire(
            new BoundsWire((int)inside.AtLeast, (int)inside.AtMost),
            new BoundsWire((int)outside.AtLeast, (int)outside.AtMost),
            LineWriter.Words(inside, value => ((InsideLevel)value).Word()),
            outsideWords,
            Counted(bounds.AtLeast.Inside, roll),
            Counted(bounds.AtMost.Inside, roll),
            bounds.AtLeast.Guests.Count
        );
    }

    // Service accounts pass limits and are never counted.
    private static int Counted(PeopleSet people, Roll roll) =>
        people.Places().Count(place => roll.People[place].Kind != PersonKind.Service);

    private static GrantWire Grant(Grant grant, Roll roll)
    {
        var expansion = grant.Subject is Subject.OneGroup(var group) ? roll.Expand(group) : default;
        var detail = grant.Subject switch
        {
            Subject.OnePerson(var person) => roll.Find(person)?.Mail ?? "",
            Subject.OneGroup => expansion.Complete
                ? $"group, {expansion.People.Count} people"
                : $"group, at least {expansion.People.Count} people; read only in part",
            Subject.WholeUnit(var unit) => $"unit, {roll.OfUnit(unit).Count} people",
            Subject.AllStaff => $"{roll.Staff.Count} people",
            _ => grant.Proof.Word(),
        };
        return new GrantWire(
            GrantWords.Who(grant, roll),
            grant.Power,
            grant.Through is { } through ? $"{detail}; link until {Explanation.Date(through, roll)}" : detail,
            grant.Subject is Subject.PassersBy or Subject.Partners
                || (grant.Subject is Subject.OnePerson(var one) && roll.Find(one)?.IsOutside == true)
        );
    }

    private static ExplainedWire Explained(Finding finding, SiteLine line, LedgerState state, Since since)
    {
        var explanation = Explanation.Of(finding, line, state.Roll);
        return new ExplainedWire(
            LineWriter.Finding(finding.Site, finding.Rule, finding.Verdict == Verdict.CannotTell, since),
            explanation.Headline,
            explanation.Detail,
            finding.Verdict == Verdict.Excused,
            ExcuseWire.Of(finding.Rule, line, state)
        );
    }

    private static OrderWire OrderOf(Order order, HandOrder? hand, Roll roll, DateTimeOffset now)
    {
        var before = order.Before.ToDictionary(change => change.Key, change => change.Wanted);
        return new OrderWire(
            order.Id.Value,
            order.State,
            order.IsOverdue(now),
            [
                .. order.Wish.Grants.Select(change => new GrantChangeWire(
                    GrantWords.Who((change.Wanted ?? before[change.Key])!, roll),
                    before.GetValueOrDefault(change.Key)?.Power,
                    change.Wanted?.Power
                )),
            ],
            PersonWire.Of(order.By, roll),
            order.Reason,
            order.AskedAt,
            order.SentAt,
            order.ConfirmedAt,
            order.SeenAt,
            order.DueAt,
            order.NextTry,
            order.Attempts,
            order.Words,
            order.UndoOf?.Value,
            order.Purpose == OrderPurpose.Reach
                && (OrderStates.After(order.State, OrderEvent.Withdraw) is not null || order.State.HadEffect()),
            order.Purpose,
            hand is null ? null : PersonWire.Of(hand.To, roll)
        );
    }
}
