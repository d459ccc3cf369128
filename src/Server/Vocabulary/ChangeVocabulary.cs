using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Vocabulary;

/// <summary>The vocabulary before and after a change.</summary>
/// <param name="UndoOf">The journal entry that it undoes.</param>
internal sealed record ChangedTerms(IReadOnlyList<Term> Before, IReadOnlyList<Term> After, long? UndoOf = null)
{
    /// <returns>The number of the journal entry, by which it can be undone, is the place.</returns>
    public async Task<Written<ActionDone>> Write(Change change, Viewer viewer)
    {
        await change.SetTerms(After);
        var numbers = await change.Append([VocabularyActions.Entry(Before, After, viewer.Person, UndoOf)]);
        return ActionDone.Written(numbers[0]);
    }
}

/// <summary>Changes the vocabulary.</summary>
internal sealed class ChangeVocabulary(VocabularyRequest request, Viewer viewer) : RequestedAction<ChangedTerms, ActionDone>
{
    public override ActionName Name => ActionName.VocabularyChange;

    /// <summary>The same request on the same vocabulary has the same effect.</summary>
    public static string FingerprintOf(VocabularyRequest request, Organisation organisation) =>
        Head.HashOf($"{request} {JsonSerializer.Serialize(organisation.Terms)}");

    public override async Task<Decided<ChangedTerms>> Decide(FactReader facts)
    {
        var organisation = await facts.Connection.Organisation();
        var today = (await facts.Time()).DayOf(facts.Now);
        var plan = VocabularyActions.Plan(request, organisation, RuleActions.FromOn(await facts.Connection.AllRules(), today));
        return plan.Refused is { } why
            ? Decided<ChangedTerms>.Refuse(why)
            : new Decided<ChangedTerms>.Planned(
                new ChangedTerms(organisation.Terms, plan.Terms),
                FingerprintOf(request, organisation)
            );
    }

    public override Task<Written<ActionDone>> Write(Change change, ChangedTerms plan) => plan.Write(change, viewer);
}

/// <summary>Undoes a change of the vocabulary by its journal entry.</summary>
internal sealed class UndoVocabulary(long entry, Viewer viewer) : RequestedAction<ChangedTerms, ActionDone>
{
    public override ActionName Name => ActionName.VocabularyUndo;

    public override async Task<Decided<ChangedTerms>> Decide(FactReader facts)
    {
        if (await facts.Connection.JournalEntry(entry) is not { } row || row.Known != JournalAction.VocabularyChanged)
        {
            return new Decided<ChangedTerms>.NotSeen("change of the vocabulary");
        }

        var terms = (await facts.Connection.Organisation()).Terms;
        using var text = JsonDocument.Parse(row.Text);
        return
            VocabularyActions.Back(
                terms,
                Terms(text.RootElement.GetProperty("before")),
                Terms(text.RootElement.GetProperty("after"))
            )
                is { } back
            ? new Decided<ChangedTerms>.Planned(new ChangedTerms(terms, back, entry), "")
            : Decided<ChangedTerms>.Refuse(new TermsChanged());
    }

    public override Task<Written<ActionDone>> Write(Change change, ChangedTerms plan) => plan.Write(change, viewer);

    private static List<Term> Terms(JsonElement written) =>
        [
            .. written
                .EnumerateArray()
                .Select(term => new Term(
                    Enum.Parse<ClaimedFact>(term.GetProperty("fact").GetString()!, ignoreCase: true),
                    term.GetProperty("code").GetString()!,
                    term.GetProperty("name").GetString()!,
                    [.. term.GetProperty("words").EnumerateArray().Select(word => word.GetString()!)]
                )),
        ];
}
