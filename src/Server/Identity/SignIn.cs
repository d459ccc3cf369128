using System.Security.Cryptography;
using System.Text;
using AtticLedger.Core.Journal;
using AtticLedger.Store;
using Microsoft.AspNetCore.Identity;

namespace AtticLedger.Server.Identity;

/// <summary>The result of an attempt to sign in. An unknown address, a wrong password and a person who has left give the same
/// response in the same time.</summary>
public abstract record SignInResult
{
    /// <param name="Browser">What the browser stores, so that attempts by strangers do not lock it out.</param>
    public sealed record In(string SessionId, DateTimeOffset Expires, string Browser) : SignInResult;

    public sealed record Wrong : SignInResult;

    public sealed record Throttled(TimeSpan After) : SignInResult;
}

/// <summary>Where a request comes from.</summary>
/// <param name="Address">The network address; a proxy's information is trusted only if the proxy is configured.</param>
/// <param name="Browser">What a browser stored at an earlier sign-in; null otherwise.</param>
public sealed record Caller(string Address, string? Browser, string Agent)
{
    public const string BrowserCookie = "attic-browser";

    public static Caller Of(HttpContext context) =>
        new(
            context.Connection.RemoteIpAddress?.ToString() ?? "",
            context.Request.Cookies[BrowserCookie] is { Length: > 0 and < 200 } browser ? browser : null,
            context.Request.Headers.UserAgent.ToString()
        );
}

/// <summary>Signs in and out. Attempts are counted in the database before the password is checked, so all servers count
/// together, even simultaneous ones: after a few, pauses grow, for the address and for the caller.
/// </summary>
public sealed class SignIn(Database database)
{
    /// <summary>A session ends after this time without use.</summary>
    public static readonly TimeSpan IdleTime = TimeSpan.FromHours(2);
    public static readonly TimeSpan SessionTime = TimeSpan.FromHours(12);
    public const int FreeOfMail = 5;
    public const int FreeOfCaller = 30;
    public static readonly TimeSpan LongestPause = TimeSpan.FromMinutes(15);
    private const int FreeMails = 30;
    private static readonly TimeSpan Forgotten = TimeSpan.FromHours(1);
    private static readonly TimeSpan BrowserTime = TimeSpan.FromDays(90);
    private const int LongestMail = 320;
    private const int LongestPassword = 1000;

    // Verified if there is no account, so that the time reveals nothing.
    private static readonly string NobodysHash = Passwords.Hash("nobody's password");

    /// <summary>The minimum time for which throttling data is kept.</summary>
    public static TimeSpan KeepTries => Forgotten;

    public async Task<SignInResult> Try(string mail, string password, Caller caller)
    {
        var account = IsPossible(mail, LongestMail)
            ? await database.Read(connection => connection.AccountByMail(mail.Trim()))
            : null;
        var keys = await KeysOf(account, mail, caller);
        if (await database.Atomically(connection => connection.CountTry(keys, database.Now, LongestPause, Forgotten)) is { } wait)
        {
            return new SignInResult.Throttled(wait);
        }

        if (!IsPossible(password, LongestPassword))
        {
            account = null;
            password = "";
        }

        var fits = Passwords.Verify(account?.PasswordHash ?? NobodysHash, password, out var isWeak);
        var time = await database.Read(connection => connection.OrganisationTime());
        if (account?.PasswordHash is null || !fits || !account.IsOpen(database.Now, time))
        {
            await database.Change(change => change.AddFailure(KeyHash("caller", caller.Address), toGather: true));
            return new SignInResult.Wrong();
        }

        await database.Atomically(connection =>
            connection.Succeeded(keys[0].KeyHash, keys is [_, var ofCaller] ? ofCaller.KeyHash : null)
        );
        var (id, browser) = (NewToken(), caller.Browser ?? NewToken());
        return await database.Change<SignInResult>(async change =>
        {
            // A person who has left meanwhile, or has a new password, is not admitted by outdated data.
            if (
                await change.Connection.Account(account.Id) is not { } now
                || now.PasswordHash != account.PasswordHash
                || !now.IsOpen(change.Now, time)
            )
            {
                return new SignInResult.Wrong();
            }

            if (isWeak)
            {
                await change.SetPassword(account.Id, Passwords.Hash(password));
            }

            var session = new SessionRow(
                Guid.NewGuid(),
                account.Id,
                change.Now,
                change.Now + SessionTime,
                change.Now,
                Cut(caller.Agent)
            );
            await change.AddSession(SessionHandler.HashOf(id), session);
            await change.AddKnownBrowser(KeyHash("browser", browser), account.Id, change.Now + BrowserTime);
            await change.Append([
                new Draft(JournalAction.SessionBegan, EntryActor.Of(account.Person), new EntrySubject.Account(account.Id))
                {
                    After = JournalValue.Of(("session", JournalValue.Of(session.PublicId.ToString()))),
                },
            ]);
            return new SignInResult.In(id, session.Expires, browser);
        });
    }

    /// <summary>Counts an attempt of an anonymous caller: with a link, or for a mail.</summary>
    /// <returns>How long to wait; null if allowed.</returns>
    public Task<TimeSpan?> Count(string what, string caller) =>
        database.Atomically(connection =>
            connection.CountTry([(KeyHash(what, caller), FreeMails)], database.Now, LongestPause, Forgotten)
        );

    /// <summary>Records a failed anonymous attempt; the journal collects them per minute.</summary>
    public Task Failed(string caller) => database.Change(change => change.AddFailure(KeyHash("caller", caller), toGather: true));

    /// <summary>A signed-in person confirms their password. Attempts count like those of signing in.</summary>
    public async Task<bool> Confirms(Viewer viewer, string password)
    {
        var key = KeyHash("confirm", viewer.InJournal.Text);
        if (
            await database.Atomically(connection =>
                connection.CountTry([(key, FreeOfMail)], database.Now, LongestPause, Forgotten)
            )
                is null
            && IsPossible(password, LongestPassword)
            && (await database.Read(connection => connection.AccountOf(viewer.Person)))?.PasswordHash is { } hash
            && Passwords.Verify(hash, password, out _)
        )
        {
            await database.Atomically(connection => connection.Succeeded(key, null));
            return true;
        }

        await database.Change(change =>
            change.Append([
                new Draft(JournalAction.Refused, viewer.InJournal, new EntrySubject.Account(viewer.Account))
                {
                    Reason = "the password did not confirm who it is",
                },
            ])
        );
        return false;
    }

    /// <summary>Replaces the password that was just confirmed; the account's other sessions end.</summary>
    public Task ChangePassword(Viewer viewer, string password) =>
        database.Change(async change =>
        {
            await change.SetPassword(viewer.Account, Passwords.Hash(password));
            var ended = await change.RevokeAll(viewer.Account, but: viewer.Session);
            await change.ForgetBrowsers(viewer.Account);
            await change.Append([
                new Draft(JournalAction.PasswordChosen, viewer.InJournal, new EntrySubject.Account(viewer.Account))
                {
                    After = JournalValue.Of(("sessionsEnded", JournalValue.Of(ended))),
                },
            ]);
        });

    /// <summary>The entry that a person has ended one of their sessions.</summary>
    public static Draft Ended(Viewer by, Guid session) =>
        new(JournalAction.SessionRevoked, by.InJournal, new EntrySubject.Account(by.Account))
        {
            Before = JournalValue.Of(("session", JournalValue.Of(session.ToString()))),
        };

    /// <summary>Signs out; false if the session has ended already.</summary>
    public Task<bool> Revoke(Guid session, Viewer by) =>
        database.Change(async change =>
        {
            var ended = await change.Revoke(by.Account, session);
            if (ended)
            {
                await change.Append([Ended(by, session)]);
            }

            return ended;
        });

    // First the account, then the network. A person who has signed in with this browser before waits only for their own
    // attempts, not for those of strangers.
    private async Task<IReadOnlyList<(byte[] KeyHash, int Free)>> KeysOf(Account? account, string mail, Caller caller)
    {
        if (
            account is not null
            && caller.Browser is { } token
            && KeyHash("browser", token) is var browser
            && await database.Read(connection => connection.IsKnownBrowser(browser, account.Id, database.Now))
        )
        {
            return [(browser, FreeOfMail)];
        }

        return [(KeyHash("mail", mail.Trim().ToLowerInvariant()), FreeOfMail), (KeyHash("caller", caller.Address), FreeOfCaller)];
    }

    private static string NewToken() => Convert.ToBase64String(RandomNumberGenerator.GetBytes(32));

    private static string Cut(string agent) =>
        agent.Replace('\0', '\uFFFD') is var clean && clean.Length > 200 ? clean[..200] : clean;

    // The database cannot store NUL in a text.
    private static bool IsPossible(string text, int longest) =>
        text.Length <= longest && !text.Contains('\0', StringComparison.Ordinal);

    private static byte[] KeyHash(string kind, string key) => SHA256.HashData(Encoding.UTF8.GetBytes($"{kind}:{key}"));
}
