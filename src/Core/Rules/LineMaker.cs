using AtticLedger.Core.People;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;

namespace AtticLedger.Core.Rules;

/// <summary>
/// Computes and judges lines so that a site that cannot be computed costs its own line alone: that line says so, with its
/// facts unknown, and all others stand.
/// </summary>
/// <param name="failed">Hears of each site that could not be computed; from several threads.</param>
public sealed class LineMaker(House house, Roll roll, RuleBook rules, Action<SiteFacts, Exception>? failed = null)
{
    public IReadOnlyList<JudgedLine> Of(IReadOnlyList<SiteFacts> sites)
    {
        // Of some it was found as they were read.
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

    /// <summary>The sheet with these lines in it.</summary>
    public JudgedSheet Put(JudgedSheet sheet, IReadOnlyList<JudgedLine> lines)
    {
        try
        {
            return sheet.With(lines);
        }
        catch (Exception fault) when (fault is not OutOfMemoryException)
        {
            return sheet.With([.. lines.Select(line => Alone(line.Line.Site))]);
        }
    }

    private IReadOnlyList<JudgedLine> Judged(IReadOnlyList<SiteFacts> sites) =>
        rules.Judge([.. sites.Select(site => new SiteLine(site, house, roll))]);

    private JudgedLine Alone(SiteFacts site)
    {
        try
        {
            // In a sheet of its own every attribute is asked of it too.
            var line = Judged([site])[0];
            _ = JudgedSheet.Empty.With([line]);
            return line;
        }
        catch (Exception fault) when (fault is not OutOfMemoryException)
        {
            failed?.Invoke(site, fault);
            return Judged([site.Faulty(fault.Message)])[0];
        }
    }
}
