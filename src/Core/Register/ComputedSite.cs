using AtticLedger.Core.Access;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Register;

/// <summary>One site with everything computed for it: the source of the index's columns.</summary>
public sealed class ComputedSite
{
    private static readonly string[] DriftWords = ["shown", "home", "address"];
    private readonly IReadOnlyList<AccessPath> byPower;
    private readonly Known<Span>[] inside;
    private readonly Known<Span>[] outside;
    private readonly PeopleDirectory directory;
    private IReadOnlyList<Person>? leftWithAccess;

    public ComputedSite(SiteFacts site, Organisation organisation, PeopleDirectory directory)
    {
        this.directory = directory;
        Site = site = organisation.Words.Read(site);
        PlanEnds = site.Plan.Select(plan => directory.Time.EndOf(plan.Through));
        var accessPaths = AccessPaths.Of(site, organisation, directory);
        byPower = accessPaths.OfAll(site.Sharing.Select(sharing => sharing.Grants), site.Joining);

        // Filters need these of every row, so they are computed once.
        inside = new Known<Span>[byPower.Count];
        outside = new Known<Span>[byPower.Count];
        for (var i = 0; i < inside.Length; i++)
        {
            // A stronger power often has the same reach, by the same grants; not as the view of a site that is offline.
            var isAsBefore =
                (i > 1 || (i == 1 && AccessPaths.IsPublished(site.Status) == Truth.Yes))
                && ReferenceEquals(byPower[i].Effective.AtLeast, byPower[i - 1].Effective.AtLeast)
                && ReferenceEquals(byPower[i].Effective.AtMost, byPower[i - 1].Effective.AtMost);
            inside[i] =
                isAsBefore && inside[i - 1].Has(out _)
                    ? inside[i - 1]
                    : OfPower(byPower[i], static accessPath => accessPath.Inside);
            outside[i] =
                isAsBefore && outside[i - 1].Has(out _)
                    ? outside[i - 1]
                    : OfPower(byPower[i], static accessPath => accessPath.Outside);
        }

        Excess = Truth.No;
        foreach (var power in Powers.Limited)
        {
            Excess = Excess.Or(ExcessOf(power));
        }

        var editors = byPower[Place(Power.Edit)].Effective;
        EditorCount = ReferenceEquals(editors.AtLeast, editors.AtMost)
            ? Span.Exactly(editors.AtLeast.CountPeople(directory))
            : new Span(editors.AtLeast.CountPeople(directory), editors.AtMost.CountPeople(directory));
        Owners = SiteOwners.Of(site, directory, organisation.ActiveDays);
        Sections = SectionReach.Of(site, byPower[Place(Power.View)], byPower[Place(Power.Preview)]);
        (Tags, UnmappedTags) = organisation.Words.Tags(site.Tags);
        Exceptions =
            site.Exceptions.Count == 0
                ? []
                : [.. site.Exceptions.Where(exception => exception.IsInForce(directory.Now, directory.Time))];
        UnitChain = site.Unit.Has(out var unit) ? directory.CodesOf(unit) : [];
    }

    /// <summary>In the vocabulary.</summary>
    public SiteFacts Site { get; }

    /// <summary>The first instant after the period of its paid plan.</summary>
    public Known<DateTimeOffset> PlanEnds { get; }

    public SiteOwners Owners { get; }

    /// <summary>The people who have left and certainly still have access, against policy; in the sequence of the directory.</summary>
    public IReadOnlyList<Person> LeftWithAccess =>
        leftWithAccess ??= LeftAndExceeding() is { IsEmpty: false } left
            ? [.. left.Places().Select(place => directory.People[place])]
            : [];

    /// <summary>True if access certainly exceeds policy also without the people who have left.</summary>
    public bool ExceedsOtherwise => Exceeding().Any(power => AccessPath(power).Excess.IsMoreThan(directory.Left));

    /// <summary>Its tags that are mapped to a term, by code.</summary>
    public IReadOnlyList<string> Tags { get; }

    /// <summary>Its unmapped tags.</summary>
    public IReadOnlyList<string> UnmappedTags { get; }

    /// <summary>Its sections with their own access settings, if the host reports them.</summary>
    public IReadOnlyList<SectionReach> Sections { get; }

    /// <summary>The exceptions in force. The rule decides whether one covers the current facts.</summary>
    public IReadOnlyList<RuleException> Exceptions { get; }

    /// <summary>The site's unit and its parents, the root first.</summary>
    public IReadOnlyList<UnitCode> UnitChain { get; }

    /// <summary>The names whose meaning differs from the stored one, as filters call them.</summary>
    public Listed<string> Drift
    {
        get
        {
            var (drifted, complete) = (new List<string>(), true);
            for (var met = VisibleName.Shown; met <= VisibleName.Address; met++)
            {
                var truth = NameDrift.Of(Site, met);
                complete &= truth != Truth.Unknown;
                if (truth == Truth.Yes)
                {
                    drifted.Add(DriftWords[(int)met]);
                }
            }

            return new(drifted, complete);
        }
    }

    /// <summary>The number of people who can effectively edit, by name or group.</summary>
    public Span EditorCount { get; }

    /// <summary>The effective reach of a power inside. View of a site that was never published is none, not nobody.</summary>
    public Known<Span> Inside(Power power) => inside[Place(power)];

    public Known<Span> Outside(Power power) => outside[Place(power)];

    /// <summary>True if the effective reach of any power exceeds policy.</summary>
    public Truth Excess { get; }

    public AccessPath AccessPath(Power power) => byPower[Place(power)];

    /// <summary>A site that visitors cannot open exceeds nothing.</summary>
    public Truth ExcessOf(Power power) =>
        power != Power.View
            ? AccessPath(power).Excess.IsSo
            : AccessPaths.IsPublished(Site.Status).And(AccessPath(power).Excess.IsSo);

    // Policy allows people who have left nothing, so all of their access exceeds it.
    private PeopleSet LeftAndExceeding()
    {
        var (left, before) = (PeopleSet.Empty, AccessSet.None);
        foreach (var power in Exceeding())
        {
            var effective = AccessPath(power).Effective.AtLeast;
            left = ReferenceEquals(effective, before) ? left : left.Union(effective.Among(directory.Left));
            before = effective;
        }

        return left;
    }

    // The powers whose access certainly exceeds policy.
    private IEnumerable<Power> Exceeding() => Powers.Limited.Where(power => ExcessOf(power) == Truth.Yes);

    // The powers above edit inherit its limits.
    private static int Place(Power power) => Math.Min((int)power, (int)Power.Edit);

    private Known<Span> OfPower(AccessPath accessPath, Func<AccessPath, Span> reach) =>
        accessPath.Power != Power.View
            ? Known.Of(reach(accessPath))
            : AccessPaths.IsPublished(Site.Status) switch
            {
                Truth.Yes => Known.Of(reach(accessPath)),
                // The host refuses everybody while a site is offline; one that was never published has nothing to view.
                Truth.No => Site.Status.Or(Status.NeverPublished) == Status.Offline
                    ? Known.Of(Span.Exactly(0))
                    : Known<Span>.None,
                _ => Known<Span>.Unknown,
            };
}
