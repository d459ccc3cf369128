using System.Text;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.RuleBooks;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Rules;

/// <summary>The versions that the rules of a file make, in the sequence of the file.</summary>
internal sealed record PlannedBook(IReadOnlyList<(RuleOfFile Rule, RulePlan Plan)> Rules)
{
    public static PlannedBook Of(IReadOnlyList<RuleOfFile> file, string? reason, IReadOnlyList<Rule> versions, Today today)
    {
        // A plan of one rule does not depend on the others, except on how many there are.
        var planned = file.Select(rule =>
                (rule, RuleActions.FromFile(new RuleId(rule.Id), rule.Text, rule.From, reason, versions, today))
            )
            .ToList();
        var ids = versions.Select(rule => rule.Id.Value).Concat(file.Select(rule => rule.Id)).Distinct(StringComparer.Ordinal);
        return new PlannedBook(
            ids.Count() <= RuleActions.MostRules
                ? planned
                :
                [
                    .. planned.Select(pair =>
                        pair.Item2.Before is null
                            ? (pair.rule, new RulePlan(null, null, [new RuleBookFull(RuleActions.MostRules)]))
                            : pair
                    ),
                ]
        );
    }

    public IReadOnlyList<Remark> Refused => [.. Rules.SelectMany(pair => pair.Plan.Refused)];
}

/// <summary>Imports a rule book: all of its rules, or none if one is refused.</summary>
/// <param name="again">What has to be looked at again before.</param>
internal sealed class ImportRules(string book, string reason, Viewer viewer, IReadOnlyList<Remark> again)
    : RequestedAction<PlannedBook, RulesImported>
{
    public override ActionName Name => ActionName.RulesImport;

    /// <summary>The same file on the same rule book has the same effect.</summary>
    public static string FingerprintOf(string book, IReadOnlyList<Rule> versions) =>
        Head.HashOf($"{Head.HashOf(book)} {WriteRule.BookOf(versions)}");

    /// <exception cref="RuleBookError">It is no rule book.</exception>
    public static IReadOnlyList<RuleOfFile> Read(string book) => RuleBookFile.Read(Encoding.UTF8.GetBytes(book));

    public override async Task<Decided<PlannedBook>> Decide(FactReader facts)
    {
        var versions = await facts.Connection.AllRules();
        var planned = PlannedBook.Of(Read(book), reason, versions, Today.At(facts.Now, await facts.Time()));
        return planned.Refused.Count > 0 ? new Decided<PlannedBook>.Refused(planned.Refused)
            : again.Count > 0 ? new Decided<PlannedBook>.Refused(again)
            : new Decided<PlannedBook>.Planned(planned, FingerprintOf(book, versions));
    }

    public override async Task<Written<RulesImported>> Write(Change change, PlannedBook plan)
    {
        var written = plan.Rules.Select(pair => pair.Plan).Where(one => one.Next is not null).ToList();
        foreach (var one in written)
        {
            await change.AddRule(one.Next!, reason.Trim(), viewer.Person);
        }

        var place =
            written.Count == 0
                ? (await change.Connection.JournalHead()).Number
                : (await change.Append([.. written.Select(one => RuleActions.Entry(one, viewer.Person, reason))]))[^1];
        return new Written<RulesImported>(
            place,
            new RulesImported(place, written.Count(one => one.Before is null), written.Count(one => one.Before is not null))
        );
    }
}
