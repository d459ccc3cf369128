using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.Store;

namespace AtticLedger.Server.People;

/// <summary>Undoes an import of people: each person who has not changed since is again as before.</summary>
internal sealed class UndoPeopleImport(long peopleImport, Viewer viewer) : RequestedAction<UndoPeopleImport.Planned, ImportDone>
{
    /// <param name="People">The people who are as before again.</param>
    public sealed record Planned(UndoImportPlan Shown, IReadOnlyList<PersonId> People, PeopleDirectory Before);

    public override ActionName Name => ActionName.PeopleImportUndo;

    public override async Task<Decided<Planned>> Decide(FactReader facts)
    {
        var all = await facts.Connection.PeopleImports();
        if (all.Find(one => one.Id == peopleImport) is not { } its)
        {
            return new Decided<Planned>.NotSeen("import, or it is too old to be undone");
        }

        if (!PeopleImportUndo.MayUndo(its, all))
        {
            return Decided<Planned>.Refuse(
                its.UndoneAt is not null ? new ImportUndone()
                : its.People == 0 ? new ImportChangedNothing()
                : new ImportIsNotLast()
            );
        }

        var directory = await facts.PeopleDirectory();
        var people = await facts.Connection.ImportedPeople(peopleImport);
        var back = people.FindAll(person => person.IsAsLeft);
        var plan = UndoImportPlan.Of(
            [.. back.Select(person => person.Person.Value)],
            back.Count(person => person.IsNew),
            [.. people.Where(person => !person.IsAsLeft).Select(person => directory.Find(person.Person)?.Name ?? "")]
        );
        return new Decided<Planned>.Planned(
            new Planned(plan, [.. back.Select(person => person.Person)], directory),
            plan.Fingerprint
        );
    }

    public override async Task<Written<ImportDone>> Write(Change change, Planned plan)
    {
        await change.UndoPeople(peopleImport, plan.People);
        var after = await FactReader.Of(change).PeopleDirectory();
        var numbers = await change.Append([
            .. await change.EndSessionsOfLeft(),
            .. plan.People.Select(person => PeopleLists.Entry(plan.Before.Find(person), after.Find(person)!, viewer.InJournal)),
            new Draft(JournalAction.PeopleUndone, viewer.InJournal, EntrySubject.OfSource(PeopleImportActions.SourceName))
            {
                After = JournalValue.Of(
                    ("import", JournalValue.Of(peopleImport)),
                    ("people", JournalValue.Of(plan.People.Count))
                ),
            },
        ]);
        return new Written<ImportDone>(numbers[^1], new ImportDone(numbers[^1]));
    }
}
