using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>Facts of a site that others than its host may say: what it is for, whose it is, how sensitive, what it is tagged with.</summary>
public enum SaidFact : byte
{
    Unit,
    Class,
    Purpose,
    Tags,

    /// <summary>What the host itself calls it: what else is said of it is never decided here, but corrected at its source.</summary>
    Name,
    Address,
}

/// <summary>What a source says of one fact of a site.</summary>
/// <param name="Source">The host, a list, or <see cref="Statements.House"/>: somebody here decided it.</param>
/// <param name="Value">Null where it says that there is none.</param>
/// <param name="Since">Since when it has said just this.</param>
/// <param name="By">Who decided it here.</param>
public sealed record Statement(SaidFact Fact, string Source, string? Value, DateTimeOffset Since, PersonId? By = null);

/// <summary>
/// Sources that disagree are both kept, with times; the more direct wins: what was decided here, then the host itself, then
/// lists. A decision settles what had been said until then: whatever a source says anew disputes it again. Of a fact that
/// the host alone speaks of no statement is kept: the fact itself is one.
/// </summary>
public static class Statements
{
    public const string House = "house";
    private static readonly SaidFact[] Facts = Enum.GetValues<SaidFact>();

    public static Known<string> Of(this SiteFacts site, SaidFact fact) =>
        fact switch
        {
            SaidFact.Unit => site.Unit.Select(unit => unit.Value),
            SaidFact.Class => site.Class,
            SaidFact.Purpose => site.Purpose,
            SaidFact.Tags => site.Tags,
            SaidFact.Name => site.Name,
            _ => site.Address,
        };

    public static SiteFacts With(this SiteFacts site, SaidFact fact, Known<string> value) =>
        fact switch
        {
            SaidFact.Unit => site with { Unit = value.Select(code => new UnitCode(code)) },
            SaidFact.Class => site with { Class = value },
            SaidFact.Purpose => site with { Purpose = value },
            SaidFact.Tags => site with { Tags = value },
            SaidFact.Name => site with { Name = value },
            _ => site with { Address = value },
        };

    /// <summary>What the host says now, beside what others say: the facts are those of the most direct.</summary>
    /// <param name="seen">As the host alone describes it.</param>
    public static SiteFacts Beside(this SiteFacts seen, IReadOnlyList<Statement> said, DateTimeOffset at) =>
        Facts.Aggregate(seen with { Said = said }, (site, fact) => site.Heard(fact, site.Host, seen.Of(fact), at, null));

    /// <summary>The site with what a source says of a fact; unknown takes back what it had said.</summary>
    public static SiteFacts Heard(
        this SiteFacts site,
        SaidFact fact,
        string source,
        Known<string> value,
        DateTimeOffset at,
        PersonId? by
    )
    {
        var before = site.Said.Where(statement => statement.Fact == fact).ToList();

        // The host's own word stood as the fact alone.
        if (before.Count == 0 && source != site.Host && !site.Of(fact).IsUnknown)
        {
            before.Add(new Statement(fact, site.Host, site.Of(fact).Has(out var own) ? own : null, site.SeenAt));
        }

        var kept = before.Where(statement => statement.Source != source).ToList();
        if (!value.IsUnknown)
        {
            var text = value.Has(out var said) ? said : null;
            kept.Add(
                before.Find(statement => statement.Source == source && statement.Value == text && source != House)
                    ?? new Statement(fact, source, text, at, by)
            );
        }

        var most = kept.MinBy(statement => (Distance(statement.Source, site.Host), -statement.Since.UtcTicks, statement.Source));
        var told = site.With(
            fact,
            most is null ? Known<string>.Unknown
                : most.Value is { } winner ? Known.Of(winner)
                : Known<string>.None
        );
        return told with
        {
            Said = kept.TrueForAll(statement => statement.Source == site.Host)
                ? [.. site.Said.Where(statement => statement.Fact != fact)]
                :
                [
                    .. site
                        .Said.Where(statement => statement.Fact != fact)
                        .Concat(kept)
                        .OrderBy(statement => statement.Fact)
                        .ThenBy(statement => statement.Source, StringComparer.Ordinal),
                ],
        };
    }

    /// <summary>What a list says of a site that has another host; the same said twice changes nothing.</summary>
    public static SiteFacts Listed(
        this SiteFacts site,
        string list,
        IReadOnlyDictionary<SaidFact, Known<string>> facts,
        DateTimeOffset at
    ) => facts.Aggregate(site, (told, fact) => told.Heard(fact.Key, list, fact.Value, at, null));

    /// <summary>Whether somebody here can decide it.</summary>
    public static bool IsDecidedHere(this SaidFact fact) => fact is not (SaidFact.Name or SaidFact.Address);

    /// <summary>The facts of which a source says something else than what stands, and said so after the last decision.</summary>
    public static IReadOnlyList<SaidFact> Disputed(this SiteFacts site) =>
        site.Said.Count == 0
            ? []
            :
            [
                .. Facts.Where(fact =>
                {
                    var said = site.Said.Where(statement => statement.Fact == fact).ToList();
                    var decided = said.Find(statement => statement.Source == House)?.Since;
                    var stands = site.Of(fact).Has(out var value) ? value : null;
                    return said.Exists(statement =>
                        statement.Source != House && statement.Value != stands && !(statement.Since <= decided)
                    );
                }),
            ];

    private static int Distance(string source, string host) =>
        source == House ? 0
        : source == host ? 1
        : 2;
}
