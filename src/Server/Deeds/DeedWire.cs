using AtticLedger.Core.Deeds;
using AtticLedger.Core.Doors;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Deeds;

/// <summary>How far one power may reach, as a wish.</summary>
public sealed record LimitWire(InsideWord Inside, OutsideLevel Outside, Proof Proof);

public enum InsideWord
{
    Staff,
    Unit,
    Named,
    NamedInUnit,
    Nobody,
}

public sealed record LimitsWire(LimitWire View, LimitWire Preview, LimitWire Edit)
{
    public PowerLimits ToLimits() => new(Limit(View), Limit(Preview), Limit(Edit));

    public static LimitsWire Of(PowerLimits limits) =>
        new(Wire(limits.For(Power.View)), Wire(limits.For(Power.Preview)), Wire(limits.For(Power.Edit)));

    private static LimitWire Wire(Limit limit) =>
        new(Enum.Parse<InsideWord>(limit.Inside.ToString()), limit.Widest, limit.LeastProof);

    private static Limit Limit(LimitWire wire) =>
        new(Enum.Parse<InsideLimit>(wire.Inside.ToString()), wire.Outside, wire.Proof, Voucher.AnyOwner);
}

/// <param name="Target">The widest that the site may ask for.</param>
public sealed record NarrowPlanWire(LimitsWire Target, string? Reason = null);

/// <param name="Fingerprint">Of the plan that was previewed: another effect is not carried out.</param>
public sealed record NarrowWire(LimitsWire Target, string Fingerprint, string? Reason = null);

public sealed record UndoWire(string Fingerprint, string? Reason = null);

public sealed record PersonWire(long Id, string Name, string Mail, bool IsOutside)
{
    public static PersonWire Of(PersonId id, Roll roll) =>
        roll.Find(id) is { } person
            ? new PersonWire(id.Value, person.Name, person.Mail, person.IsOutside)
            : new PersonWire(id.Value, "unknown", "", true);
}

/// <param name="From">The power before, or null for none; <paramref name="To"/> likewise after.</param>
public sealed record GrantChangeWire(string Who, Power? From, Power? To);

public sealed record PowerChangeWire(
    Power Power,
    IReadOnlyList<PersonWire> Gain,
    IReadOnlyList<PersonWire> Lose,
    IReadOnlyList<string> Opened,
    IReadOnlyList<string> Shut
);

public sealed record RuleWire(string Id, string Title, string Short, Level Level)
{
    public static RuleWire Of(RuleId id, RuleBook rules) =>
        rules.Find(id) is { } rule
            ? new RuleWire(rule.Id.Value, rule.Title, rule.Short, rule.Level)
            : new RuleWire(id.Value, id.Value, id.Value, Level.Look);
}

/// <summary>All that goes with a site that is put away; null where it is not known.</summary>
/// <param name="Group">The group that goes with it.</param>
/// <param name="Opened">Other sites that this group opens, and how many people lose them.</param>
/// <param name="HiddenOpened">How many other sites the group opens that the viewer may not see.</param>
/// <param name="LookAlikes">Other sites whose names say the same.</param>
/// <param name="HostKeepsThrough">The last day on which the host itself can bring it back.</param>
/// <param name="IsOurs">Whether the host deletes for good, so that the site is only shut there.</param>
/// <param name="Cost">What goes on being paid for it, and what comes next; null where nothing is known to be.</param>
/// <param name="Shared">Pieces of it that stand in other sites too.</param>
/// <param name="Records">How many records it holds that must be kept; null where none or not known.</param>
public sealed record LossWire(
    int? Pages,
    long? Bytes,
    IReadOnlyList<string> Domains,
    string? Group,
    IReadOnlyList<OpenedWire> Opened,
    int? Visits,
    IReadOnlyList<string> LookAlikes,
    DateOnly KeptThrough,
    string KeptBecause,
    DateOnly? HostKeepsThrough,
    bool IsOurs,
    string? Cost,
    string? MailAlias,
    int? Records,
    IReadOnlyList<SharedLossWire> Shared,
    int HiddenOpened
)
{
    public static LossWire Of(Loss loss) =>
        new(
            loss.Pages.Has(out var pages) ? pages : null,
            loss.Bytes.Has(out var bytes) ? bytes : null,
            loss.Domains,
            loss.Group,
            [.. loss.Opened.Select(site => new OpenedWire(site.Site.Value, site.Name, site.People))],
            loss.Visits.Has(out var visits) ? visits : null,
            loss.LookAlikes,
            loss.KeptThrough,
            loss.KeptBecause,
            loss.HostKeepsThrough,
            loss.IsOurs,
            loss.Plan is { } plan ? $"{plan.Name}: {plan.Cost}; {plan.Next}" : null,
            loss.MailAlias,
            loss.Records.Has(out var records) ? records : null,
            [.. (loss.Shared ?? []).Select(shared => new SharedLossWire(shared.What, shared.In.Count))],
            loss.HiddenOpened
        );
}

/// <param name="Sites">How many other sites it goes from too.</param>
public sealed record SharedLossWire(string What, int Sites);

public sealed record OpenedWire(long Site, string Name, int People);

/// <param name="Along">What goes along without a deed of its own.</param>
/// <param name="Sure">How sure the deed wants to be.</param>
/// <param name="StopMinutes">For how long an owner's deletion can be stopped; null where it goes at once.</param>
/// <param name="NeedsSecond">Why a second person has to agree, or null.</param>
/// <param name="ByHand">Who gets it to do, where its host has no writer; null where it has.</param>
/// <param name="VisitsAffected">Measured visits in seven days that the shut doors served, or null where not measured.</param>
public sealed record PlanWire(
    string Fingerprint,
    IReadOnlyList<GrantChangeWire> Changes,
    IReadOnlyList<PowerChangeWire> Powers,
    IReadOnlyList<RuleWire> Cleared,
    IReadOnlyList<RuleWire> Opened,
    IReadOnlyList<string> Remains,
    int? VisitsAffected,
    IReadOnlyList<string> Along,
    Sureness Sure,
    string? NeedsSecond,
    LossWire? Loss,
    int? StopMinutes,
    string? ByHand
)
{
    public static PlanWire Of(Decision.Plan plan, DeedFacts facts)
    {
        var before = facts.Site.Expected.Or([]).ToDictionary(grant => grant.Key);
        return new PlanWire(
            plan.Fingerprint,
            [
                .. plan.Effect.Grants.Select(change => new GrantChangeWire(
                    GrantWords.Who(change.Wanted ?? before[change.Key], facts.Roll),
                    before.GetValueOrDefault(change.Key)?.Power,
                    change.Wanted?.Power
                )),
            ],
            [
                .. plan.Effect.Powers.Select(change => new PowerChangeWire(
                    change.Power,
                    [.. change.Gain.Select(person => PersonWire.Of(person, facts.Roll))],
                    [.. change.Lose.Select(person => PersonWire.Of(person, facts.Roll))],
                    [.. change.Opened.Select(Words)],
                    [.. change.Shut.Select(Words)]
                )),
            ],
            [.. plan.Effect.Cleared.Select(rule => RuleWire.Of(rule, facts.Rules))],
            [.. plan.Effect.Opened.Select(rule => RuleWire.Of(rule, facts.Rules))],
            plan.Remains,
            plan.Effect.VisitsAffected.Has(out var visits) ? visits : null,
            plan.Along,
            plan.Sure,
            plan.NeedsSecond,
            plan.Loss is { } loss ? LossWire.Of(loss) : null,
            plan.Stay?.StoppableUntil is { } until ? (int)(until - facts.Now).TotalMinutes : null,
            plan.Orders.LastOrDefault(order => order.State == OrderState.Asked) is { } asked
                ? Core.Deeds.ByHand.Foretold(facts.Site, facts.House, asked.By, facts.Roll)
                : null
        );
    }

    private static string Words(Door door) =>
        door.Proof == Proof.None ? door.Who.Word() : $"{door.Who.Word()}, {door.Proof.Word()}";
}

/// <summary>What a deed would come to: a plan, or else every reason why not.</summary>
public sealed record PreviewWire(PlanWire? Plan, IReadOnlyList<string> Refused);

/// <param name="Order">The order that was asked of the host, or withdrawn; null where the deed needs none.</param>
/// <param name="Offer">The offer that was made or answered.</param>
/// <param name="Approval">What waits for a second person: nothing else was done yet.</param>
public sealed record DeedDoneWire(long Place, Guid? Order, Guid? Offer, Guid? Approval);

public sealed record RefusalWire(IReadOnlyList<string> Reasons);
