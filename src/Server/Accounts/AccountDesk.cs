using AtticLedger.Core.Journal;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Deeds;
using AtticLedger.Store;

namespace AtticLedger.Server.Accounts;

public enum AccountChangeKind
{
    /// <summary>Gives somebody an account, or their account another role.</summary>
    Role,

    /// <summary>Ends all sessions of an account.</summary>
    EndSessions,
    Remove,
}

/// <param name="Mail">Whose account it is.</param>
/// <param name="Role">With <see cref="AccountChangeKind.Role"/>.</param>
/// <param name="Part">A steward's unit, by its code.</param>
public sealed record AccountWish(string Mail, AccountChangeKind Change, Role? Role = null, string? Part = null);

/// <summary>What a change of an account comes to: what follows in sentences, or every reason why not.</summary>
/// <param name="Fingerprint">The same for the same effect; null where it is refused.</param>
public sealed record AccountPlan(string? Fingerprint, IReadOnlyList<string> Follows, IReadOnlyList<string> Refused);

/// <summary>What became of a change: done at a place of the feed, or the plan as it is by now.</summary>
public sealed record AccountResult(long? Place, AccountPlan Plan);

/// <summary>Who has an account and as what. Each change is decided by one function, shown first, and decided again as it is carried out.</summary>
public sealed class AccountDesk(Database database)
{
    private sealed record Facts(
        PersonId? Person,
        string Name,
        AccountRow? Account,
        bool IsHere,
        string? UnitName,
        string? UnitBefore,
        int OtherAdministrators,
        int Batches
    );

    public Task<AccountPlan> Plan(AccountWish wish, Viewer viewer) =>
        database.Read(async connection => Decide(wish, await Read(connection, wish, database.Now), viewer));

    public Task<AccountResult> Carry(AccountWish wish, string fingerprint, Viewer viewer) =>
        database.Change(async change =>
        {
            await change.AskStill(viewer);
            var facts = await Read(change.Connection, wish, change.Now);
            var plan = Decide(wish, facts, viewer);
            if (plan.Fingerprint is null || plan.Fingerprint != fingerprint)
            {
                return new AccountResult(null, plan);
            }

            var entry = await Write(change, wish, facts, viewer);
            return new AccountResult((await change.Append([entry]))[0], plan);
        });

    private static AccountPlan Decide(AccountWish wish, Facts facts, Viewer viewer)
    {
        var (name, account) = (facts.Name, facts.Account?.Account);
        List<string> refused = [];
        if (facts.Person is null)
        {
            return new AccountPlan(
                null,
                [],
                [
                    $"Nobody on the register has the address {wish.Mail}. Take it from the staff list or from a list of people first.",
                ]
            );
        }

        var stays = wish is { Change: AccountChangeKind.EndSessions } or { Role: Role.Administrator };
        if (account?.Role == Role.Administrator && !stays && facts.OtherAdministrators == 0)
        {
            refused.Add($"{name} is the last administrator who can sign in. Make somebody else an administrator first.");
        }

        if (wish.Change == AccountChangeKind.Role)
        {
            refused.AddRange(RoleFaults(wish, facts));
        }
        else if (account is null)
        {
            refused.Add($"{name} has no account.");
        }

        if (wish.Change == AccountChangeKind.Remove && facts.Person == viewer.Person)
        {
            refused.Add("Somebody else has to remove your own account.");
        }

        List<string> follows = refused.Count > 0 ? [] : [.. Follows(wish, facts)];
        return refused.Count > 0
            ? new AccountPlan(null, [], refused)
            : new AccountPlan(
                Head.HashOf(
                    JournalValue
                        .Of(
                            ("who", JournalValue.Of(facts.Person.Value.Value)),
                            ("follows", JournalValue.Of(follows.Select(sentence => JournalValue.Of(sentence))))
                        )
                        .Canonical()
                ),
                follows,
                []
            );
    }

    private static IEnumerable<string> RoleFaults(AccountWish wish, Facts facts)
    {
        var account = facts.Account?.Account;
        if (!facts.IsHere)
        {
            yield return $"{facts.Name} is not on the staff list any more, so an account would let nobody in.";
        }

        if (wish.Role is not { } role)
        {
            yield return "Choose a role.";
        }
        else if (role == Role.Steward && facts.UnitName is null)
        {
            yield return wish.Part is null
                ? "Choose the unit of which they are to be steward."
                : $"There is no unit {wish.Part}.";
        }
        else if (role != Role.Steward && wish.Part is not null)
        {
            yield return "Only a steward has a unit.";
        }
        else if (account is not null && account.Role == role && account.Part?.Value == wish.Part)
        {
            yield return $"{facts.Name} has this role already.";
        }
    }

    private static IEnumerable<string> Follows(AccountWish wish, Facts facts)
    {
        var sessions = facts.Account?.Sessions ?? 0;
        switch (wish.Change)
        {
            case AccountChangeKind.Role:
                yield return facts.Account is { } before
                    ? $"{facts.Name}, now {Word(before.Account.Role, facts.UnitBefore)}, becomes {Word(wish.Role!.Value, facts.UnitName)}."
                    : $"{facts.Name} gets an account as {Word(wish.Role!.Value, facts.UnitName)}. They choose a password by the link that they are mailed.";
                yield return wish.Role switch
                {
                    Role.Administrator => "They see the whole register and may do everything; some of it takes a second person.",
                    Role.Steward => $"They see the sites of {facts.UnitName} and of the units below it, and nothing outside.",
                    Role.Auditor => "They see everything and may change nothing.",
                    _ => "They see the sites that they own.",
                };
                break;
            case AccountChangeKind.Remove:
                yield return $"{facts.Name} can no longer sign in as {Word(facts.Account!.Account.Role, facts.UnitBefore)}. Their saved views and the link of their calendar go with the account; what they did stays in the journal.";
                yield return "Everybody on the staff list may choose a password anew and then sees their own sites.";
                break;
        }

        if (facts.Account is not null)
        {
            yield return sessions switch
            {
                0 => "They are not signed in anywhere.",
                1 => "Their one session ends at once.",
                _ => $"Their {sessions} sessions end at once.",
            };
        }

        if (wish.Change != AccountChangeKind.EndSessions && facts.Batches > 0)
        {
            yield return facts.Batches == 1
                ? "A batch that they started and that is under way stops."
                : $"{facts.Batches} batches that they started and that are under way stop.";
        }
    }

    private static async Task<Draft> Write(Change change, AccountWish wish, Facts facts, Viewer viewer)
    {
        var before = facts.Account?.Account;
        JournalValue Of(Role? role, string? part) =>
            role is null
                ? JournalValue.Null
                : JournalValue.Of(
                    ("person", JournalValue.Of($"person:{facts.Person!.Value.Value}")),
                    ("role", JournalValue.Of(role.Value.ToString())),
                    ("part", JournalValue.Of(part))
                );
        switch (wish.Change)
        {
            case AccountChangeKind.Role when before is null:
                await change.PutAccount(
                    facts.Person!.Value,
                    wish.Role!.Value,
                    wish.Part is { } unit ? new UnitCode(unit) : null,
                    null
                );
                await change.Write(
                    [LinkEndpoints.PasswordLetter(facts.Person.Value, $"password:given:{change.Now.UtcTicks}", change.Now)],
                    await change.Connection.HouseTime()
                );
                return new Draft(
                    "account.given",
                    viewer.InJournal,
                    $"account:{(await change.Connection.AccountOf(facts.Person.Value))!.Id}"
                )
                {
                    After = Of(wish.Role, wish.Part),
                };
            case AccountChangeKind.Role:
                await change.SetRole(before!.Id, wish.Role!.Value, wish.Part is { } code ? new UnitCode(code) : null);
                await change.RevokeAll(before.Id);
                return new Draft("account.changed", viewer.InJournal, $"account:{before.Id}")
                {
                    Before = Of(before.Role, before.Part?.Value),
                    After = Of(wish.Role, wish.Part),
                };
            case AccountChangeKind.EndSessions:
                var ended = await change.RevokeAll(before!.Id);
                await change.ForgetBrowsers(before.Id);
                return new Draft("session.revoked", viewer.InJournal, $"account:{before.Id}")
                {
                    After = JournalValue.Of(("sessions", JournalValue.Of(ended))),
                };
            default:
                await change.RemoveAccount(before!.Id);
                return new Draft("account.removed", viewer.InJournal, $"account:{before.Id}")
                {
                    Before = Of(before.Role, before.Part?.Value),
                };
        }
    }

    private async Task<Facts> Read(Npgsql.NpgsqlConnection connection, AccountWish wish, DateTimeOffset now)
    {
        var time = await connection.HouseTime();
        var roll = await database.Rolls.Of(connection, now, time);
        PersonId? person = roll.ByMail.TryGetValue(wish.Mail.Trim().ToLowerInvariant(), out var id) ? id : null;
        var accounts = await connection.Accounts(now, SignIn.IdleTime);
        var own = accounts.Find(row => row.Account.Person == person);
        return new Facts(
            person,
            person is { } known ? roll.Find(known)?.Name ?? wish.Mail : wish.Mail,
            own,
            person is { } here && roll.MaySignIn(here),
            wish.Part is { } code ? roll.Find(new UnitCode(code))?.Name : null,
            own?.Account.Part is { } before ? roll.Find(before)?.Name ?? before.Value : null,
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
        role switch
        {
            Role.Administrator => "administrator",
            Role.Steward => $"steward of {unit}",
            Role.Auditor => "auditor",
            _ => "owner of sites",
        };
}
