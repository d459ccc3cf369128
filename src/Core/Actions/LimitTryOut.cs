using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>What a limit that is tried out changes on one site.</summary>
/// <param name="Powers">Who effectively gains and loses: what gains was set before and waited.</param>
/// <param name="Exceeds">True if access exceeds policy then, and <paramref name="Exceeded"/> if it does now.</param>
public sealed record LimitOnSite(
    SiteFacts Site,
    IReadOnlyList<PowerChange> Powers,
    Truth Exceeded,
    Truth Exceeds,
    IReadOnlyList<RuleId> Cleared,
    IReadOnlyList<RuleId> Opened
);

/// <summary>A limit tried out over many sites, from judging each of them before and after. Nothing is stored.</summary>
public sealed class LimitTryOut(PeopleDirectory directory)
{
    private readonly List<LimitOnSite> changed = [];

    /// <summary>The number of sites that were compared.</summary>
    public int Compared { get; private set; }

    /// <summary>The sites on which something changes.</summary>
    public IReadOnlyList<LimitOnSite> Changed => changed;

    /// <summary>The people who gain a power at a site at least.</summary>
    public PeopleSet Gaining { get; private set; } = PeopleSet.Empty;

    public PeopleSet Losing { get; private set; } = PeopleSet.Empty;

    public void Add(JudgedSite before, JudgedSite after)
    {
        Compared++;
        var powers = Predict.Between(before.Line, after.Line, directory);
        var (broken, then) = (Broken(before), Broken(after));
        var (cleared, opened) = (broken.Except(then).ToList(), then.Except(broken).ToList());
        if (powers.Count == 0 && cleared.Count == 0 && opened.Count == 0 && before.Line.Excess == after.Line.Excess)
        {
            return;
        }

        foreach (var change in powers)
        {
            Gaining = Gaining.Union(Places(change.Gain));
            Losing = Losing.Union(Places(change.Lose));
        }

        changed.Add(new LimitOnSite(after.Line.Site, powers, before.Line.Excess, after.Line.Excess, cleared, opened));
    }

    private static List<RuleId> Broken(JudgedSite site) =>
        [.. site.Findings.Where(finding => finding.Verdict == Verdict.Breaks).Select(finding => finding.Rule.Id)];

    private PeopleSet Places(IReadOnlyList<PersonId> people) =>
        PeopleSet.Of(people.Select(person => directory.PlaceOf(person)).OfType<int>().Order());
}
