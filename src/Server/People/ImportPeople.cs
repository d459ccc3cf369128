using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sources;
using AtticLedger.Store;

namespace AtticLedger.Server.People;

/// <summary>Imports a list of people, in one transaction.</summary>
internal sealed class ImportPeople(ReadPeople read, PeopleImportActions desk, Viewer viewer)
    : RequestedAction<PeoplePlan, ImportDone>
{
    public override ActionName Name => ActionName.PeopleImport;

    public override async Task<Decided<PeoplePlan>> Decide(FactReader facts)
    {
        if (await read.How.Words.Taken(facts.Connection) is { } taken)
        {
            return Decided<PeoplePlan>.Refuse(taken);
        }

        var plan = await desk.Plan(read, viewer, facts.Connection);
        return new Decided<PeoplePlan>.Planned(plan, plan.Fingerprint);
    }

    public override async Task<Written<ImportDone>> Write(Change change, PeoplePlan plan)
    {
        var added = await read.How.Words.AddUnits(change, viewer.InJournal);
        var changed = plan.Taken.Where(one => one.Before is not null).ToList();
        var peopleImport = await change.BeginPeopleImport(viewer.Person, [.. changed.Select(one => one.Before!.Id)]);
        foreach (var one in changed)
        {
            await change.UpdatePerson(one.After);
        }

        var brought = new List<Person>();
        foreach (var one in plan.Taken.Where(one => one.Before is null))
        {
            brought.Add(one.After with { Id = await change.AddPerson(one.After) });
        }

        await change.SetByHand([.. changed.Select(one => one.After.Id), .. brought.Select(person => person.Id)], true);
        await change.EndPeopleImport(peopleImport, [.. brought.Select(person => person.Id)]);
        await change.SetListReading(PeopleImportActions.SourceName, read.How.Reading);
        var numbers = await change.Append([
            .. added,
            .. await change.EndSessionsOfLeft(),
            .. changed.Select(one => PeopleLists.Entry(one.Before, one.After, viewer.InJournal)),
            .. brought.Select(person => PeopleLists.Entry(null, person, viewer.InJournal)),
            new Draft(JournalAction.PeopleImported, viewer.InJournal, EntrySubject.OfSource(PeopleImportActions.SourceName))
            {
                After = JournalValue.Of(
                    ("import", JournalValue.Of(peopleImport)),
                    ("changed", JournalValue.Of(changed.Count)),
                    ("new", JournalValue.Of(brought.Count)),
                    ("effect", JournalValue.Of(plan.Fingerprint))
                ),
            },
        ]);
        return new Written<ImportDone>(numbers[^1], new ImportDone(numbers[^1]));
    }
}
