using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;

namespace AtticLedger.Core.Rules;

/// <summary>Computes and judges rows so that a site that cannot be computed affects only its own row: that row says so, with
/// unknown facts.
/// </summary>
/// <param name="failed">Called for each site that could not be computed, from several threads.</param>
public sealed class SiteJudge(
    Organisation organisation,
    PeopleDirectory directory,
    RuleBook rules,
    Action<SiteFacts, Exception>? failed = null
)
{
    public IReadOnlyList<JudgedSite> Of(IReadOnlyList<SiteFacts> sites)
    {
        // Some faults were found when the rows were read.
        foreach (var site in sites.Where(site => site.Fault is not null))
        {
            failed?.Invoke(site, new FormatException(site.Fault));
        }

        try
        {
            return Judged(sites);
        }
        catch (Exception fault) when (fault is not OutOfMemoryException)
        {
            return [.. sites.Select(Alone)];
        }
    }

    /// <summary>The index with these rows.</summary>
    public RegisterIndex Put(RegisterIndex index, IReadOnlyList<JudgedSite> lines)
    {
        try
        {
            return index.With(lines);
        }
        catch (Exception fault) when (fault is not OutOfMemoryException)
        {
            return index.With([.. lines.Select(line => Alone(line.Line.Site))]);
        }
    }

    private IReadOnlyList<JudgedSite> Judged(IReadOnlyList<SiteFacts> sites) =>
        rules.Judge([.. sites.Select(site => new ComputedSite(site, organisation, directory))]);

    private JudgedSite Alone(SiteFacts site)
    {
        try
        {
            // A separate index also computes every attribute of it.
            var line = Judged([site])[0];
            _ = RegisterIndex.Empty.With([line]);
            return line;
        }
        catch (Exception fault) when (fault is not OutOfMemoryException)
        {
            failed?.Invoke(site, fault);
            return Judged([site.Faulty(fault.Message)])[0];
        }
    }
}
