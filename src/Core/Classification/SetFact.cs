using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Classification;

/// <summary>Sets a fact of a site: confirms a proposal, chooses a value, or undoes that.</summary>
public static class SetFact
{
    /// <summary>The values that can be chosen, with their names.</summary>
    public static IReadOnlyList<(string Code, string Name)> Choices(
        ClaimedFact fact,
        Organisation organisation,
        PeopleDirectory directory
    )
    {
        if (fact == ClaimedFact.Unit)
        {
            return [.. directory.Units.Select(unit => (unit.Code.Value, unit.Name))];
        }

        var terms = organisation.Terms.Where(term => term.Fact == fact).Select(term => (term.Code, term.Name)).ToList();
        var limited =
            fact == ClaimedFact.Classification
                ? organisation
                    .Limits.Where(limit =>
                        limit.Kind == LayerKind.Classification && terms.TrueForAll(term => term.Code != limit.Code)
                    )
                    .Select(limit => (limit.Code, limit.Code))
                : [];
        return [.. terms, .. limited];
    }

    /// <summary>Why a value cannot be set, or null.</summary>
    public static Remark? NotChosen(ClaimedFact fact, string? value, Organisation organisation, PeopleDirectory directory) =>
        !fact.IsDecidedHere() ? new FactOfHost(fact)
        : Parts(fact, value).FirstOrDefault(part => Choices(fact, organisation, directory).All(choice => choice.Code != part))
            is not { } other
            ? null
        : Choices(fact, organisation, directory) is var choices && choices.Count == 0 ? new NoTerms(fact, other)
        : new NoSuchTerm(fact, other, [.. choices.Take(30).Select(choice => choice.Code)], choices.Count > 30);

    /// <summary>The site with the set fact, and the journal entry; null if it is set so already.</summary>
    /// <param name="value">Unknown undoes the setting.</param>
    /// <param name="why">The evidence, if a proposal is confirmed.</param>
    public static (SiteFacts Site, Draft Entry)? Decide(
        SiteFacts site,
        ClaimedFact fact,
        Known<string> value,
        PersonId by,
        string? why,
        DateTimeOffset at
    )
    {
        var decided = site.Claims.FirstOrDefault(claim => claim.Fact == fact && claim.Source == Claims.Organisation);
        if (
            decided is null
                ? value.IsUnknown
                : !value.IsUnknown
                    && decided.Value == (value.Has(out var same) ? same : null)
                    && site.Disputed().All(disputed => disputed != fact)
        )
        {
            return null;
        }

        var said = site.WithClaim(fact, Claims.Organisation, value, at, by);
        return (
            said,
            new Draft(JournalAction.SiteFactsSet, EntryActor.Of(by), EntrySubject.Of(site.Id))
            {
                Before = Of(fact, site.Of(fact), null),
                After = Of(fact, said.Of(fact), value.IsUnknown ? null : at),
                Reason = why,
            }.Telling(site, said)
        );
    }

    /// <summary>The effect on rules: the number of sites that can now be decided, and the findings that clear or open per
    /// rule.</summary>
    public static SetFactEffect Effect(IReadOnlyList<JudgedSite> before, IReadOnlyList<JudgedSite> after)
    {
        int Count(IReadOnlyList<JudgedSite> lines, Verdict verdict, Rule rule) =>
            lines.Count(line => line.Findings.Any(finding => finding.Verdict == verdict && finding.Rule.Id == rule.Id));
        var rules = before
            .Concat(after)
            .SelectMany(line => line.Findings)
            .Select(finding => finding.Rule)
            .DistinctBy(rule => rule.Id)
            .OrderBy(rule => rule.Id.Value, StringComparer.Ordinal);
        return new SetFactEffect(
            before.Zip(after).Count(pair => IsUnsure(pair.First) && !IsUnsure(pair.Second)),
            [
                .. rules
                    .Select(rule =>
                        (rule, Before: Count(before, Verdict.Breaks, rule), After: Count(after, Verdict.Breaks, rule))
                    )
                    .Where(one => one.Before != one.After),
            ]
        );
    }

    // A site can have several tags.
    private static IReadOnlyList<string> Parts(ClaimedFact fact, string? value) =>
        value is null ? []
        : fact == ClaimedFact.Tags ? TagWords.Split(value)
        : [value];

    private static string Word(ClaimedFact fact) => fact == ClaimedFact.Tags ? "tag" : fact.ToString().ToLowerInvariant();

    private static bool IsUnsure(JudgedSite line) => line.Findings.Any(finding => finding.Verdict == Verdict.CannotTell);

    private static JournalValue Of(ClaimedFact fact, Known<string> value, DateTimeOffset? together) =>
        JournalValue.Of(
            ("fact", JournalValue.Of(fact.ToString().ToLowerInvariant())),
            (
                "value",
                value.Has(out var text) ? JournalValue.Of(text)
                : value.IsNone ? JournalValue.Null
                : JournalValue.Unknown
            ),
            ("together", together is { } at ? JournalValue.Of(at) : JournalValue.Null)
        );
}

/// <param name="Settled">The number of sites without a rule that cannot tell.</param>
/// <param name="Rules">Rules whose number of findings among these sites changes.</param>
public sealed record SetFactEffect(int Settled, IReadOnlyList<(Rule Rule, int Before, int After)> Rules);
