using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Sources;

/// <summary>Sets the manual procedure of a host without a connector.</summary>
/// <param name="connected">The names of the hosts with a connector.</param>
internal sealed class SetManualProcedure(
    string name,
    ManualProcedureSettings request,
    IReadOnlyList<string> connected,
    Viewer viewer
) : RequestedAction<ManualProcedure, ActionDone>
{
    private const int LongestName = 40;

    public override ActionName Name => ActionName.ProcedureSet;

    public override async Task<Decided<ManualProcedure>> Decide(FactReader facts)
    {
        var directory = await facts.PeopleDirectory();
        List<Remark> faults = [.. Faults()];
        PersonId? assignee = null;
        if (!string.IsNullOrWhiteSpace(request.Assignee))
        {
            assignee = directory.MemberOfStaff(request.Assignee);
            if (assignee is null)
            {
                faults.Add(new StaffMissing(request.Assignee.Trim()));
            }
        }

        return faults.Count > 0
            ? new Decided<ManualProcedure>.Refused(faults)
            : new Decided<ManualProcedure>.Planned(
                new ManualProcedure(
                    assignee,
                    request.Account.Trim(),
                    request.Support.Trim(),
                    request.Days,
                    request.Reach,
                    request.Owners,
                    request.MoveToAttic,
                    request.Restore,
                    request.Look
                ),
                ""
            );
    }

    public override async Task<Written<ActionDone>> Write(Change change, ManualProcedure plan)
    {
        await change.Declare(name, wanted: false);
        IReadOnlyList<Draft> entries = await change.SetCapabilities(name, Capabilities(plan))
            ?
            [
                new Draft(JournalAction.HostProcedureSet, viewer.InJournal, EntrySubject.OfSource(name))
                {
                    After = JournalValue.Of(
                        ("assignee", JournalValue.Of(plan.Assignee is { } set ? EntryActor.Of(set) : null)),
                        ("days", JournalValue.Of(plan.Days)),
                        ("account", JournalValue.Of(plan.Account))
                    ),
                },
            ]
            : [];
        return ActionDone.Written(await change.AppendOrHead(entries));
    }

    // All changes there are manual tasks; a site that is moved to the attic is shut and stays.
    public static HostCapabilities Capabilities(ManualProcedure kept) =>
        new()
        {
            Deletes = Deletion.ForGood,
            ManualProcedure = kept,
            Notes =
            [
                "Has no connector: its facts come from imported lists.",
                $"Changes become manual tasks for a person, with {kept.Days.Counted("day")} to do one; the next import or a second person verifies it.",
                "Has no bin: a site in the attic is only shut there.",
            ],
        };

    private IEnumerable<Remark> Faults()
    {
        if (name.Trim() != name || name.Length is 0 or > LongestName || name.Any(char.IsControl))
        {
            yield return new HostNameInvalid(LongestName);
        }

        if (name.Equals(Claims.Organisation, StringComparison.OrdinalIgnoreCase))
        {
            yield return new HostNameReserved(Claims.Organisation);
        }

        if (name == StaffList.SourceName || connected.Contains(name, StringComparer.OrdinalIgnoreCase))
        {
            yield return new HostConnected(name);
        }

        if (request.Days is < 1 or > ManualProcedure.MostDays)
        {
            yield return new TaskDaysOutOfRange(ManualProcedure.MostDays);
        }

        if (request.Look.Length > ManualProcedure.LongestSteps || request.Look.Contains('\0', StringComparison.Ordinal))
        {
            yield return new ProcedureTextTooLong(ProcedureText.Look, request.Look.Length, ManualProcedure.LongestSteps);
        }

        foreach (var (what, text) in new[] { (ProcedureText.Account, request.Account), (ProcedureText.Support, request.Support) })
        {
            if (text.Length > ManualTask.LongestText || text.Contains('\0', StringComparison.Ordinal))
            {
                yield return new ProcedureTextTooLong(what, text.Length, ManualTask.LongestText);
            }
        }

        foreach (
            var (what, text) in new[]
            {
                (ProcedureText.Reach, request.Reach),
                (ProcedureText.Owners, request.Owners),
                (ProcedureText.MoveToAttic, request.MoveToAttic),
                (ProcedureText.Restore, request.Restore),
            }
        )
        {
            if (string.IsNullOrWhiteSpace(text))
            {
                yield return new ProcedureTextMissing(what);
            }
            else if (text.Length > ManualProcedure.LongestSteps || text.Contains('\0', StringComparison.Ordinal))
            {
                yield return new ProcedureTextTooLong(what, text.Length, ManualProcedure.LongestSteps);
            }
        }
    }
}
