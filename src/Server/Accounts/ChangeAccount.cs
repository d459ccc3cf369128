using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Mail;
using AtticLedger.Server.Sentences;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.Accounts;

public enum AccountChangeKind
{
    /// <summary>Gives a person an account, or their account another role.</summary>
    Role,

    /// <summary>Ends all sessions of an account.</summary>
    EndSessions,
    Remove,
}

/// <param name="Mail">The person whose account it is.</param>
/// <param name="Role">The new role, where the change is one of role.</param>
/// <param name="Part">The code of a steward's unit.</param>
public sealed record AccountRequest(string Mail, AccountChangeKind Change, Role? Role = null, string? Part = null);

/// <summary>The effect of a change of an account, in sentences; or every reason why it is refused.</summary>
/// <param name="Fingerprint">Equal for equal effects; null if refused.</param>
public sealed record AccountPlan(string? Fingerprint, IReadOnlyList<string> Follows, IReadOnlyList<RemarkResponse> Refused);

/// <summary>Changes an account: its role, its sessions, or that there is one.</summary>
internal sealed class ChangeAccount(AccountRequest request, Viewer viewer) : RequestedAction<ChangeAccount.Planned, AccountPlan>
{
    /// <summary>The plan, with the facts on which it was decided.</summary>
    public sealed record Planned(AccountPlan Plan, Facts Facts);

    public sealed record Facts(
        PersonId? Person,
        string Name,
        AccountRow? Account,
        bool IsHere,
        string? UnitName,
        string? UnitBefore,
        int OtherAdministrators,
        int Batches
    );

    public override ActionName Name => ActionName.AccountChange;

    public override async Task<Decided<Planned>> Decide(FactReader source)
    {
        var facts = await Read(source);
        List<Remark> refused = [.. Refusals(request, facts, viewer)];
        if (refused.Count > 0)
        {
            return new Decided<Planned>.Refused(refused);
        }

        List<string> follows = [.. Follows(request, facts)];
        var fingerprint = Head.HashOf(
            JournalValue
                .Of(
                    ("who", JournalValue.Of(facts.Person!.Value.Value)),
                    ("follows", JournalValue.Of(follows.Select(sentence => JournalValue.Of(sentence))))
                )
                .Canonical()
        );
        return new Decided<Planned>.Planned(new Planned(new AccountPlan(fingerprint, follows, []), facts), fingerprint);
    }

    public override async Task<Written<AccountPlan>> Write(Change change, Planned plan)
    {
        var entry = await Write(change, plan.Facts);
        return new Written<AccountPlan>((await change.Append([entry]))[0], plan.Plan);
    }

    public override IReadOnlyList<WorkKind> Wakes => [WorkKind.Mail];

    private static IEnumerable<Remark> Refusals(AccountRequest request, Facts facts, Viewer viewer)
    {
        var account = facts.Account?.Account;
        if (facts.Person is null)
        {
            yield return new PersonMissing(request.Mail);
            yield break;
        }

        var staysAdministrator = request is { Change: AccountChangeKind.EndSessions } or { Role: Role.Administrator };
        if (account?.Role == Role.Administrator && !staysAdministrator && facts.OtherAdministrators == 0)
        {
            yield return new LastAdministrator(facts.Name);
        }

        if (request.Change == AccountChangeKind.Role)
        {
            foreach (var fault in RoleFaults(request, facts))
            {
                yield return fault;
            }
        }
        else if (account is null)
        {
            yield return new AccountMissing(facts.Name);
        }

        if (request.Change == AccountChangeKind.Remove && facts.Person == viewer.Person)
        {
            yield return new AccountOfViewer();
        }
    }

    private static IEnumerable<Remark> RoleFaults(AccountRequest request, Facts facts)
    {
        var account = facts.Account?.Account;
        if (!facts.IsHere)
        {
            yield return new AccountHolderLeft(facts.Name);
        }

        if (request.Role is not { } role)
        {
            yield return new RoleMissing();
        }
        else if (role == Role.Steward && facts.UnitName is null)
        {
            yield return request.Part is null ? new RoleNeedsUnit() : new UnitMissing(request.Part);
        }
        else if (role != Role.Steward && request.Part is not null)
        {
            yield return new RoleHasNoUnit();
        }
        else if (account is not null && account.Role == role && account.Part?.Value == request.Part)
        {
            yield return new RoleHeldAlready(facts.Name);
        }
    }

    private static IEnumerable<string> Follows(AccountRequest request, Facts facts)
    {
        var sessions = facts.Account?.Sessions ?? 0;
        switch (request.Change)
        {
            case AccountChangeKind.Role:
                yield return facts.Account is { } before
                    ? $"{facts.Name}, now {Word(before.Account.Role, facts.UnitBefore)}, becomes {Word(request.Role!.Value, facts.UnitName)}."
                    : $"{facts.Name} gets an account as {Word(request.Role!.Value, facts.UnitName)}. They get a mail with a link to choose a password.";
                yield return request.Role switch
                {
                    Role.Administrator => "They see the whole register and may do everything; some actions need a second person.",
                    Role.Steward => $"They see the sites of {facts.UnitName} and of the units below it, and no others.",
                    Role.Auditor => "They see everything and cannot change anything.",
                    _ => "They see the sites that they own.",
                };
                break;
            case AccountChangeKind.Remove:
                yield return $"{facts.Name} can no longer sign in as {Word(facts.Account!.Account.Role, facts.UnitBefore)}. Their saved views and their calendar link are deleted; the journal keeps their actions.";
                yield return "Everybody on the staff list can choose a password again and then sees their own sites.";
                break;
        }

        if (facts.Account is not null)
        {
            yield return sessions switch
            {
                0 => "They have no open session.",
                1 => "Their session ends at once.",
                _ => $"Their {sessions} sessions end at once.",
            };
        }

        if (request.Change != AccountChangeKind.EndSessions && facts.Batches > 0)
        {
            yield return facts.Batches == 1
                ? "A running batch that they started stops."
                : $"{facts.Batches} running batches that they started stop.";
        }
    }

    private async Task<Draft> Write(Change change, Facts facts)
    {
        var before = facts.Account?.Account;
        JournalValue Of(Role? role, string? part) =>
            role is null
                ? JournalValue.Null
                : JournalValue.Of(
                    ("person", JournalValue.Of(EntryActor.Of(facts.Person!.Value))),
                    ("role", JournalValue.Of(role.Value.ToString())),
                    ("part", JournalValue.Of(part))
                );
        switch (request.Change)
        {
            case AccountChangeKind.Role when before is null:
                await change.PutAccount(
                    facts.Person!.Value,
                    request.Role!.Value,
                    request.Part is { } unit ? new UnitCode(unit) : null,
                    null
                );
                await change.Write(
                    [LinkEndpoints.PasswordNotification(facts.Person.Value, $"password:given:{change.Now.UtcTicks}", change.Now)],
                    await change.Connection.OrganisationTime()
                );
                return new Draft(
                    JournalAction.AccountAdded,
                    viewer.InJournal,
                    new EntrySubject.Account((await change.Connection.AccountOf(facts.Person.Value))!.Id)
                )
                {
                    After = Of(request.Role, request.Part),
                };
            case AccountChangeKind.Role:
                await change.SetRole(before!.Id, request.Role!.Value, request.Part is { } code ? new UnitCode(code) : null);
                await change.RevokeAll(before.Id);
                return new Draft(JournalAction.AccountChanged, viewer.InJournal, new EntrySubject.Account(before.Id))
                {
                    Before = Of(before.Role, before.Part?.Value),
                    After = Of(request.Role, request.Part),
                };
            case AccountChangeKind.EndSessions:
                var ended = await change.RevokeAll(before!.Id);
                await change.ForgetBrowsers(before.Id);
                return new Draft(JournalAction.SessionRevoked, viewer.InJournal, new EntrySubject.Account(before.Id))
                {
                    After = JournalValue.Of(("sessions", JournalValue.Of(ended))),
                };
            default:
                await change.RemoveAccount(before!.Id);
                return new Draft(JournalAction.AccountRemoved, viewer.InJournal, new EntrySubject.Account(before.Id))
                {
                    Before = Of(before.Role, before.Part?.Value),
                };
        }
    }

    private async Task<Facts> Read(FactReader source)
    {
        var (connection, now, time) = (source.Connection, source.Now, await source.Time());
        var directory = await source.PeopleDirectory();
        PersonId? person = directory.ByMail.TryGetValue(request.Mail.Trim().ToLowerInvariant(), out var id) ? id : null;
        var accounts = await connection.Accounts(now, SignIn.IdleTime);
        var own = accounts.Find(row => row.Account.Person == person);
        return new Facts(
            person,
            person is { } known ? directory.Find(known)?.Name ?? request.Mail : request.Mail,
            own,
            person is { } here && directory.MaySignIn(here),
            request.Part is { } code ? directory.Find(new UnitCode(code))?.Name : null,
            own?.Account.Part is { } before ? directory.Find(before)?.Name ?? before.Value : null,
            accounts.Count(row =>
                row.Account.Role == Role.Administrator
                && row.Account.Person != person
                && row.Account.PasswordHash is not null
                && row.Account.IsOpen(now, time)
            ),
            person is null ? 0 : (await connection.RunningBatches()).Count(batch => batch.By == person)
        );
    }

    private static string Word(Role role, string? unit) =>
        role == Role.Steward ? $"{Labels.Of(role)} of {unit}" : Labels.Of(role);
}
